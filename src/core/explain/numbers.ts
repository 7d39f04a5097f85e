/** Numeric tests shared by several causes. */
import { bestOf, type Finding, findingFrom } from "@/core/explain/cause";
import {
  answersOf,
  type CaseFacts,
  type Facets,
  inputOf,
  leavesOf,
  type NumberPair,
  toNumeric,
} from "@/core/explain/facets";

/** Equal but for what dividing and subtracting doubles loses. */
export const sameNumber = (one: number, other: number): boolean =>
  one === other || Math.abs(one - other) <= 1e-9 * Math.max(1e-6, Math.abs(one), Math.abs(other));

/** Returns the value of a measure that at least four in five pairs share; null if there is none. */
export function shared<P>(pairs: readonly P[], measure: (pair: P) => number): number | null {
  const values = pairs.map(measure).filter((value) => Number.isFinite(value));
  for (const candidate of values.slice(0, 5)) {
    const like = values.filter((value) => sameNumber(value, candidate)).length;
    if (like >= 0.8 * pairs.length) return candidate;
  }
  return null;
}

/** Whether both are integers at that many digits, one unit in the last digit apart. */
export function differByUnit(pair: NumberPair, digits: number): boolean {
  const unit = 10 ** -digits;
  const [one, other] = [pair.original.value / unit, pair.twin.value / unit];
  const isWhole = (value: number) => Math.abs(value - Math.round(value)) < 1e-6 && Math.abs(value) < 1e12;
  if (!isWhole(one) || !isWhole(other)) return false;
  // One pair cannot distinguish tens from units, but a finer unit would not be one step.
  return Math.abs(Math.round(one) - Math.round(other)) === 1;
}

/** Whether a number's decimal notation ends in a 5 right after that many digits. */
export function isTie(value: number | undefined, digits: number): boolean {
  if (value === undefined || !Number.isFinite(value)) return false;
  if (digits < 0) return Math.abs(value / 10 ** -digits - Math.trunc(value / 10 ** -digits)) === 0.5;
  const fraction = /\.(\d+)$/.exec(String(value))?.[1] ?? "";
  return fraction.length === digits + 1 && fraction.endsWith("5");
}

/** The numbers among a case's arguments, in their order. */
export const numericInputs = (facts: CaseFacts): number[] =>
  inputOf(facts.item)
    .flatMap((item) => leavesOf(item))
    .flatMap((leaf) => toNumeric(leaf)?.value ?? []);

/** Whether the path of a pair, or the called section, mentions something. */
export function speaksOf(pair: { readonly at: string; readonly facts: CaseFacts }, words: RegExp): boolean {
  const { item } = pair.facts;
  if (words.test(pair.at)) return true;
  if ("call" in item) return words.test(item.call);
  const step = "steps" in item ? item.steps[Number(/^steps\.(\d+)/.exec(pair.at)?.[1])] : undefined;
  return step !== undefined && words.test("call" in step ? step.call : "get" in step ? step.get : "");
}

/** One side keeps that many bits of the other, signed or unsigned. */
export function examineWrap({ numbers, controls }: Facets, bits: number): Finding | null {
  const limit = 2n ** BigInt(bits - 1);
  const wrapped = (whole: bigint | null, kept: bigint | null) =>
    whole !== null &&
    kept !== null &&
    whole !== kept &&
    (BigInt.asIntN(bits, whole) === kept || BigInt.asUintN(bits, whole) === kept);
  const beyond = controls.filter((facts) =>
    answersOf(facts).some((leaf) => {
      const exact = toNumeric(leaf)?.exact ?? 0n;
      return exact >= limit * 2n || exact < -limit;
    }),
  ).length;
  const terms = { weight: 0.98, contradicted: beyond };
  // A float that is too large to be exact has lost the bits that the other side keeps.
  const isLost = (whole: number, kept: bigint | null) =>
    Math.abs(whole) > Number.MAX_SAFE_INTEGER && kept !== null && kept >= -limit && kept < limit * 2n;
  const isIn = (whole: "original" | "twin", kept: "original" | "twin") => {
    const isExact = (pair: NumberPair) => wrapped(pair[whole].exact, pair[kept].exact);
    const hasExact = numbers.some(isExact);
    return findingFrom(numbers, (pair) => isExact(pair) || (hasExact && isLost(pair[whole].value, pair[kept].exact)), {
      ...terms,
      evidence: `${kept} = ${whole} mod 2^${bits}`,
    });
  };
  return bestOf([isIn("original", "twin"), isIn("twin", "original")]);
}
