import { type Cause, findingFrom } from "@/core/explain/cause";
import { hasLimits, numbersIn } from "@/core/explain/code";
import { type CaseFacts, inputOf, leavesOf, toNumeric, toText } from "@/core/explain/facets";

export const boundary: Cause = {
  name: "boundary",
  title: "Only at a limit",
  note: "A comparison includes its limit on one side and not on the other: < against <=, a range with or without its end. Fix: look for the limit that these inputs share in both sections.",
  examine: ({ all, cases, controls }, code) => {
    // If neither side compares by size, a single differing input proves nothing.
    const share = code && !hasLimits(code.original) && !hasLimits(code.twin) ? 0.5 : 1;
    const equal = equalPlaces(cases, controls);
    if (equal !== null) return findingFrom(all, () => true, { weight: share * 0.9, evidence: equal });
    const written = code ? writtenLimits(cases, controls, numbersIn(code)) : null;
    if (written !== null) return findingFrom(all, () => true, { weight: share * 0.93, evidence: written });
    const places = Math.min(...cases.map((facts) => measuresOf(facts).length));
    for (let place = 0; place < places; place++) {
      const at = (facts: CaseFacts) => measuresOf(facts)[place] ?? Number.NaN;
      const limits = new Set(cases.map(at));
      if (limits.size > Math.max(1, Math.floor(cases.length / 2)) || limits.size > 4) continue;
      const others = controls.map(at).filter((value) => !Number.isNaN(value));
      const isFree = others.every((value) => !limits.has(value));
      const isBetween = [...limits].some(
        (limit) => others.some((value) => value < limit) && others.some((value) => value > limit),
      );
      if (!isFree || !isBetween) continue;
      const shown = [...limits].join(", ");
      return findingFrom(all, () => true, {
        weight: share * (limits.size === 1 ? 0.93 : 0.85),
        evidence: `only where measure ${place + 1} of the arguments is ${shown}; ${others.length} agreeing cases lie on both sides`,
      });
    }
    return null;
  },
  fires: [
    [
      { original: "far", twin: "near", args: [5] },
      { original: "near", twin: "near", args: [4] },
      { original: "far", twin: "far", args: [6] },
    ],
    [
      { original: "heavy", twin: "light", args: [10, 10] },
      { original: "heavy", twin: "light", args: [5, 5] },
      { original: "light", twin: "light", args: [10, 3] },
      { original: "heavy", twin: "heavy", args: [10, 11] },
    ],
    [
      { original: true, twin: false, args: [[1, 2], 10] },
      { original: true, twin: true, args: [[1, 2], 12] },
      { original: false, twin: false, args: [[1, 2], 7] },
    ],
  ],
  staysQuiet: [[{ original: 1, twin: 2, args: [5] }], [{ original: "a", twin: "b", args: ["x"] }]],
};

/** Two quantities that are equal in all of several differing cases, and in no agreeing one; in words, or null. */
function equalPlaces(cases: readonly CaseFacts[], controls: readonly CaseFacts[]): string | null {
  const given = cases.map(measuresOf);
  const others = controls.map(measuresOf);
  const places = Math.min(...[...given, ...others].map((measures) => measures.length));
  for (let left = 0; left < places; left++)
    for (let right = left + 1; right < places; right++) {
      const gap = (measures: readonly number[]) => (measures[left] ?? 0) - (measures[right] ?? 0);
      const kinds = new Set(given.map((measures) => measures[left]));
      const isLimit = kinds.size > 1 && given.every((measures) => gap(measures) === 0);
      const isBetween = others.some((measures) => gap(measures) < 0) && others.some((measures) => gap(measures) > 0);
      if (isLimit && isBetween && !others.some((measures) => gap(measures) === 0))
        return `only where measures ${left + 1} and ${right + 1} of the arguments are equal; agreeing cases lie on both sides`;
    }
  return null;
}

/** Only inputs that are numbers of the code itself differ, several of them, and agreeing ones lie between; in words, or null. */
function writtenLimits(
  cases: readonly CaseFacts[],
  controls: readonly CaseFacts[],
  numbers: ReadonlySet<number>,
): string | null {
  const places = Math.min(...[...cases, ...controls].map((facts) => measuresOf(facts).length));
  for (let place = 0; place < places; place++) {
    const at = (facts: CaseFacts) => measuresOf(facts)[place] ?? Number.NaN;
    const limits = new Set(cases.map(at));
    const isWritten = limits.size > 1 && [...limits].every((limit) => numbers.has(limit) && Math.abs(limit) > 1);
    const isFree = controls.length > 1 && !controls.some((facts) => numbers.has(at(facts)));
    const [low, high] = [Math.min(...limits), Math.max(...limits)];
    if (isWritten && isFree && controls.some((facts) => at(facts) > low && at(facts) < high))
      return `only where measure ${place + 1} of the arguments is a number of the code: ${[...limits].join(", ")}`;
  }
  return null;
}

/** Quantities that a limit can apply to: input numbers, and lengths of texts and lists. */
function measuresOf(facts: CaseFacts): number[] {
  return inputOf(facts.item).flatMap((item): number[] => {
    const numeric = toNumeric(item);
    if (numeric) return [numeric.value];
    const text = toText(item);
    if (text !== null) return [text.length];
    if (Array.isArray(item))
      return [
        item.length,
        ...leavesOf(item)
          .flatMap((leaf) => toNumeric(leaf)?.value ?? [])
          .slice(0, 3),
      ];
    return leavesOf(item).flatMap((leaf) => toNumeric(leaf)?.value ?? []);
  });
}
