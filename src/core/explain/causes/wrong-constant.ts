import { bestOf, type Cause, type Finding, findingFrom } from "@/core/explain/cause";
import { changedNumbers, type SectionCode } from "@/core/explain/code";
import { type CaseFacts, type Facets, inputOf, leavesOf, type NumberPair } from "@/core/explain/facets";
import { numericInputs, sameNumber, shared } from "@/core/explain/numbers";

/** With more changed numbers, one that divides the inputs is chance. */
const MAX_CHANGES = 4;

export const wrongConstant: Cause = {
  name: "wrong-constant",
  title: "A constant of the twin is another one",
  note: "A rate, a limit, a word or an entry of a table was copied wrongly or has changed since. Fix: compare the constants of the two sections.",
  inCode: { numbers: true },
  examine: (facets, code) =>
    bestOf([
      byRatio(facets),
      byArgument(facets),
      byOffset(facets, code),
      byCode(facets, code),
      byLimit(facets, code),
      sameWords(facets),
    ]),
  fires: [
    [
      { original: 10, twin: 12.5 },
      { original: 20, twin: 25 },
      { original: 40, twin: 50 },
    ],
    [
      { original: "near", twin: "close", args: [1] },
      { original: "near", twin: "close", args: [2] },
    ],
  ],
  staysQuiet: [
    [
      { original: 1, twin: 2 },
      { original: 2, twin: 9 },
    ],
    [
      { original: "a", twin: "b" },
      { original: "c", twin: "d" },
    ],
  ],
};

function byRatio({ numbers }: Facets): Finding | null {
  const pairs = numbers.filter((pair) => pair.original.value !== 0);
  const ratio = shared(pairs, (pair) => pair.twin.value / pair.original.value);
  if (ratio === null || Math.abs(ratio) === 1 || new Set(pairs.map((pair) => pair.original.value)).size < 2)
    return null;
  return findingFrom(numbers, (pair) => sameNumber(pair.twin.value / pair.original.value, ratio), {
    weight: 0.88,
    evidence: `the twin is the original × ${Number(ratio.toPrecision(8))}`,
  });
}

/** The difference grows with one argument: its coefficient is another. */
function byArgument({ numbers }: Facets): Finding | null {
  const count = Math.min(...numbers.map((pair) => numericInputs(pair.facts).length), 6);
  for (let place = 0; place < count; place++) {
    const per = (pair: NumberPair) => (pair.twin.value - pair.original.value) / (numericInputs(pair.facts)[place] ?? 0);
    const given = new Set(numbers.map((pair) => numericInputs(pair.facts)[place]));
    const slope = given.size > 2 ? shared(numbers, per) : null;
    if (slope !== null && slope !== 0)
      return findingFrom(numbers, (pair) => sameNumber(per(pair), slope), {
        weight: 0.78,
        evidence: `the difference is ${Number(slope.toPrecision(8))} times number ${place + 1} of the arguments`,
      });
  }
  return null;
}

/** The twin is always the same amount apart, and that is how far a number of its code is from one of the original's. */
function byOffset({ numbers }: Facets, code: SectionCode | undefined): Finding | null {
  const offset = shared(numbers, (pair) => pair.twin.value - pair.original.value);
  if (offset === null || !code || numbers.length < 2) return null;
  const changed = changedNumbers(code).find(([original, twin]) =>
    sameNumber(Math.abs(twin - original), Math.abs(offset)),
  );
  if (!changed) return null;
  return findingFrom(numbers, () => true, { weight: 0.93, evidence: `${changed[0]} has become ${changed[1]}` });
}

/** The code differs in one number, and by a little: whatever is worked out with it differs. */
function byCode({ numbers }: Facets, code: SectionCode | undefined): Finding | null {
  const [changed, ...more] = code ? changedNumbers(code) : [];
  if (!changed || more.length > 0 || numbers.length < 2) return null;
  const [original, twin] = changed;
  const isNear = Math.abs(twin - original) <= Math.abs(original) / 4;
  if (!isNear || Number.isInteger(original) !== Number.isInteger(twin)) return null;
  return findingFrom(numbers, () => true, { weight: 0.86, evidence: `${original} has become ${twin}` });
}

/** Only inputs between a number of the original and the one that it has become differ. */
function byLimit({ all, cases, controls }: Facets, code: SectionCode | undefined): Finding | null {
  const changes = code ? changedNumbers(code) : [];
  if (changes.length > MAX_CHANGES || controls.length === 0) return null;
  for (const changed of changes) {
    const [low, high] = [Math.min(...changed), Math.max(...changed)];
    const has = (test: (value: number) => boolean) => (facts: CaseFacts) =>
      inputOf(facts.item).some((input) => leavesOf(input).some((leaf) => typeof leaf === "number" && test(leaf)));
    const divides = [has((n) => n >= low && n < high), has((n) => n > low && n <= high)].some(
      (isBetween) => cases.every(isBetween) && !controls.some(isBetween),
    );
    if (!divides) continue;
    return findingFrom(all, () => true, {
      weight: 0.97,
      evidence: `${changed[0]} has become ${changed[1]}, and only inputs between them differ`,
    });
  }
  return null;
}

function sameWords({ texts, numbers, cases }: Facets): Finding | null {
  const [first] = texts;
  if (
    first &&
    numbers.length === 0 &&
    cases.length > 1 &&
    texts.every(({ original, twin }) => original === first.original && twin === first.twin)
  )
    return findingFrom(texts, () => true, {
      weight: 0.7,
      evidence: `always ${JSON.stringify(first.original)} against ${JSON.stringify(first.twin)}`,
    });
  const [number] = numbers;
  if (!number || numbers.length < 2) return null;
  const isSame = numbers.every(
    ({ original, twin }) => original.value === number.original.value && twin.value === number.twin.value,
  );
  return isSame
    ? findingFrom(numbers, () => true, {
        weight: 0.66,
        evidence: `always ${number.original.value} against ${number.twin.value}`,
      })
    : null;
}
