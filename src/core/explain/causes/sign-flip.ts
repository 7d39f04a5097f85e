import { type Cause, findingFrom } from "@/core/explain/cause";

export const signFlip: Cause = {
  name: "sign-flip",
  title: "The sign is turned",
  note: "Two operands changed places, or a direction is counted the other way. Fix: look for a subtraction or comparison with its sides swapped.",
  examine: ({ numbers }) =>
    findingFrom(numbers, (pair) => pair.twin.value === -pair.original.value && pair.original.value !== 0, {
      weight: numbers.length > 1 ? 0.96 : 0.85,
      evidence: "the twin is minus the original",
    }),
  fires: [
    [
      { original: 3, twin: -3 },
      { original: -7.5, twin: 7.5 },
    ],
    [{ original: 120, twin: -120 }],
  ],
  staysQuiet: [[{ original: 3, twin: -2 }], [{ original: 1, twin: 2 }]],
};
