import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";
import { isNothing } from "@/core/explain/values";

export const notPortedBranch: Cause = {
  name: "not-ported-branch",
  title: "A branch of the original was not carried over",
  note: "For some inputs the twin gives nothing, or always the same: the branch that deals with them is not there yet. Fix: look for the lines of the original that these cases run and the others do not.",
  examine: ({ all, controls }) => {
    const says = JSON.stringify;
    const isNone = ({ original, twin, kind }: AnyPair) =>
      kind !== "missing" &&
      kind !== "extra" &&
      isNothing(twin) &&
      original !== undefined &&
      !isNothing(original) &&
      original !== "" &&
      !(Array.isArray(original) && original.length === 0);
    const worded = ({ twin }: AnyPair) =>
      /not (yet )?(implemented|ported|supported)|unsupported|unknown|todo/i.test(says(twin) ?? "") &&
      /"~obj":"thrown"/.test(says(twin) ?? "");
    const twins = new Set(all.map((pair) => says(pair.twin)));
    const originals = new Set(all.map((pair) => says(pair.original)));
    const isConstant = twins.size === 1 && originals.size > 1 && all.every((pair) => pair.kind !== "length");
    return bestOf([
      findingFrom(all, worded, { weight: 0.98, says: "the twin says that it cannot do this" }),
      findingFrom(all, isNone, { weight: 0.95, says: "the twin gives nothing" }),
      isConstant
        ? findingFrom(all, ({ twin }) => twin !== undefined, {
            weight: controls.length > 0 ? 0.84 : 0.7,
            says: `the twin always gives ${[...twins][0]?.slice(0, 60)}`,
          })
        : null,
    ]);
  },
  fires: [
    [
      { original: "big", twin: null },
      { original: 12, twin: null },
    ],
    [
      { original: 5, twin: 0 },
      { original: 9, twin: 0 },
    ],
  ],
  staysQuiet: [[{ original: 5, twin: 6 }], [{ original: null, twin: 4 }]],
};
