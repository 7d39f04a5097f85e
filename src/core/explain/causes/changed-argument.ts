import { type Cause, findingFrom } from "@/core/explain/cause";

export const changedArgument: Cause = {
  name: "changed-argument",
  title: "Only one side modifies its argument",
  note: "Sorting, filling or popping works in place on one side and on a copy on the other. Fix: copy before changing, or change in place as the original does.",
  inCode: {
    strength: "slight",
    twin: {
      any: /\.(sort|reverse|push|pop|shift|unshift|splice|fill|append|extend|insert|remove|clear|update|add|delete)\(|\]\s*[-+*]?=[^=]|\.\w+\s*[-+*]?=[^=]/,
    },
  },
  examine: ({ all }) =>
    findingFrom(all, (pair) => /^(steps\.\d+\.)?(args|kwargs)\b/.test(pair.at), {
      weight: 0.99,
      evidence: "an argument is another after the call",
    }),
  fires: [
    [{ original: { "~after": [[1, 2]] }, twin: { "~after": [[2, 1]] }, args: [[2, 1]] }],
    [{ original: { "~after": [[1]] }, twin: { "~after": [[1, 9]] }, args: [[1]] }],
  ],
  staysQuiet: [[{ original: [1, 2], twin: [2, 1] }], [{ original: 1, twin: 2 }]],
};
