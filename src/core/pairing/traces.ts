/** Literal fingerprint of code in any language: its texts, numbers and called names. */
import { wordsOf } from "@/core/pairing/words";

/** The literal fingerprint of a section. */
export type Trace = {
  /** Texts without their quotes and numbers of some length, each once. */
  readonly literals: ReadonlySet<string>;
  /** Called names without their style: `fare_for` and `fareFor` are one. */
  readonly calls: ReadonlySet<string>;
};

const TOKENS =
  /"""[\s\S]*?"""|'''[\s\S]*?'''|"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|`(?:[^`\\]|\\.)*`|\/\/.*|\/\*[\s\S]*?\*\/|#.*|\b\d[\d_]*(?:\.\d+)?\b|[\p{L}_$][\p{L}\p{N}_$]*(?=\s*\()/gu;
/** Words before a bracket that call nothing. */
const NO_CALLS = new Set(
  "if for while switch catch return function def elif and or not in print with match await new".split(" "),
);
/** The texts of formats and the numbers 0 to 9 are in everything. */
const MIN_DIGITS = 2;

/** Cost: linear in the text. */
export function traceOf(text: string): Trace {
  const [literals, calls] = [new Set<string>(), new Set<string>()];
  for (const [token] of text.matchAll(TOKENS)) {
    const first = token[0] ?? "";
    if (/\d/.test(first)) {
      const plain = token.replaceAll("_", "");
      if (plain.length >= MIN_DIGITS) literals.add(String(Number(plain)));
    } else if (/["'`]/.test(first)) {
      // Templates and format texts are written differently: compare their literal parts.
      for (const part of token.replace(/^["'`]+|["'`]+$/g, "").split(/\$?\{[^}]*\}|%[-\d.]*[a-z]/))
        if (part.trim().length > 1) literals.add(part.trim());
    } else if (/[\p{L}_$]/u.test(first) && !NO_CALLS.has(token)) calls.add(wordsOf(token).join(""));
  }
  return { literals, calls };
}

/** How much two sets share, from 0 to 1 (Dice 1945); null when both are empty. */
export function dice(one: ReadonlySet<string>, other: ReadonlySet<string>): number | null {
  if (one.size + other.size === 0) return null;
  let shared = 0;
  for (const item of one) if (other.has(item)) shared++;
  return (2 * shared) / (one.size + other.size);
}

/** Formats what two fingerprints share: quoted texts, numbers, called names. */
export function sharedOf(one: Trace, other: Trace): string[] {
  const isShared = (set: ReadonlySet<string>) => (item: string) => set.has(item);
  const literals = [...one.literals].filter(isShared(other.literals));
  const calls = [...one.calls].filter(isShared(other.calls));
  return [
    ...literals.map((item) => (/^[\d.e+]+$/.test(item) ? item : `"${item.slice(0, 40)}"`)),
    ...calls.map((item) => `${item}()`),
  ];
}

/** The likeness of two traces by all that they hold, and how much that is; null when neither holds anything. */
export function likenessOf(one: Trace, other: Trace): { readonly score: number; readonly weight: number } | null {
  const parts = [
    { score: dice(one.literals, other.literals), size: one.literals.size + other.literals.size },
    { score: dice(one.calls, other.calls), size: one.calls.size + other.calls.size },
  ].flatMap(({ score, size }) => (score === null ? [] : [{ score, size }]));
  const weight = parts.reduce((sum, { size }) => sum + size, 0);
  if (weight === 0) return null;
  return { score: parts.reduce((sum, { score, size }) => sum + score * size, 0) / weight, weight };
}
