/** Evidence in the code of a section for or against a cause: the calls and operators that bring it about. */

import { literalsOf } from "@/core/exploring/literals";
import { findLanguage } from "@/core/source/languages/index";

/** Lines of a section and of those of its module that it calls, its own first. */
export type SideCode = {
  readonly language: string;
  readonly lines: readonly { readonly file: string; readonly line: number; readonly text: string }[];
};

/** A section on both sides. */
export type SectionCode = { readonly original: SideCode; readonly twin: SideCode };

/** Language → what the code has where the cause is at work; `any` for languages without an entry of their own. */
export type Signs = Readonly<Record<string, RegExp>>;

/** Signs of a cause in the code of either side; a side without an entry is not evidence. */
export type CodeSigns = {
  readonly original?: Signs;
  readonly twin?: Signs;
  /** Each side has a number that the other lacks. */
  readonly numbers?: true;
  /** `slight` for signs that much code has without the fault; `needed` for those without which it hardly can be. */
  readonly strength?: "slight" | "needed";
};

/** A place in the twin. */
export type CodePlace = { readonly file: string; readonly line: number };

/** How the code bears on a cause. */
export type CodeFinding = {
  /** The share of what is missing to certainty that the code adds, or takes from the score where negative. */
  readonly weight: number;
  /** In words; empty where the code is not evidence for it. */
  readonly evidence: string;
  readonly place?: CodePlace;
};

/** Both sides have a sign of it: a call that does just this, or one that much code has. */
const BOTH = 0.35;
const SLIGHT = 0.1;
/** The twin has none, though the cause has signs in its language. It may hide in what the section calls elsewhere. */
const NONE = -0.15;
const UNLIKELY = -0.5;

/**
 * Null where the cause has no signs in these languages. Signs are written for a port from Python or a language like it;
 * they are looked for the other way round as well, as the same two idioms meet there.
 */
export function readSigns(signs: CodeSigns | undefined, code: SectionCode | undefined): CodeFinding | null {
  if (!signs || !code) return null;
  const weight = signs.strength === "slight" ? SLIGHT : BOTH;
  if (signs.numbers) return readNumbers(code, weight);
  const found = readTwin(signs, code, weight);
  if (found === null || found.weight > 0 || !signs.twin) return found;
  const original = firstSign(signs.twin, code.original);
  const twin = signs.original ? firstSign(signs.original, code.twin) : null;
  if (!original || twin === undefined) return found;
  const place = twin ? { file: twin.file, line: twin.line } : found.place;
  return {
    weight,
    evidence: describeSigns(original.text, twin?.text, twin ?? original),
    ...(place ? { place } : {}),
  };
}

function readTwin(signs: CodeSigns, code: SectionCode, weight: number): CodeFinding | null {
  const twin = signs.twin ? firstSign(signs.twin, code.twin) : null;
  if (twin === null) return null;
  if (twin === undefined) return { weight: signs.strength === "needed" ? UNLIKELY : NONE, evidence: "" };
  const { file, line, text } = twin;
  const original = signs.original && firstSign(signs.original, code.original);
  if (original === undefined && signs.original) return { weight: 0, evidence: "", place: { file, line } };
  return { weight, evidence: describeSigns(original?.text, text, twin), place: { file, line } };
}

function describeSigns(original: string | undefined, twin: string | undefined, { file, line }: CodePlace): string {
  const words = original && twin && original !== twin ? `${original} beside ${twin}` : (twin ?? original);
  return `${words} in ${file}:${line}`;
}

/** Numbers that are weak evidence: they come and go with the way code is written. */
const COMMON: ReadonlySet<number> = new Set([0, 1, 2, 10, 100]);

/** Null where the twin alone has more of them; where it has none of its own they speak against it. */
function readNumbers({ original, twin }: SectionCode, weight: number): CodeFinding | null {
  const [one, other] = [numbersOf(original), numbersOf(twin)];
  const lacking = one.find(({ value }) => !COMMON.has(value) && !other.some((entry) => entry.value === value));
  const odd = other.find(({ value }) => !COMMON.has(value) && !one.some((entry) => entry.value === value));
  if (!odd) return { weight: NONE, evidence: "" };
  if (!lacking) return null;
  const { file, line } = odd;
  return { weight, evidence: `${lacking.value} beside ${odd.value} in ${file}:${line}`, place: { file, line } };
}

function numbersOf({ language, lines }: SideCode): (CodePlace & { readonly value: number })[] {
  const comments = findLanguage(language)?.comments ?? [];
  return lines.flatMap(({ file, line, text }) =>
    literalsOf(text, comments).numbers.map((value) => ({ file, line, value })),
  );
}

/** The numbers that either side has written. */
export const numbersIn = ({ original, twin }: SectionCode): ReadonlySet<number> =>
  new Set([...numbersOf(original), ...numbersOf(twin)].map(({ value }) => value));

/** Numbers of the original that the twin lacks beside those that only the twin has: each may have become any of the others. */
export function changedNumbers({ original, twin }: SectionCode): [number, number][] {
  const [one, other] = [numbersOf(original), numbersOf(twin)].map((list) => list.map(({ value }) => value));
  const lacking = (one ?? []).filter((value) => !other?.includes(value));
  const odd = (other ?? []).filter((value) => !one?.includes(value));
  return lacking.flatMap((value) => odd.map((entry): [number, number] => [value, entry]));
}

/** Whether an amount is a number of either side, or how far two of them are apart. */
export function isWritten(amount: number, code: SectionCode): boolean {
  const numbers = [...numbersOf(code.original), ...numbersOf(code.twin)].map(({ value }) => value);
  const is = (value: number) => Math.abs(Math.abs(value) - Math.abs(amount)) <= Math.abs(amount) * 1e-9;
  return numbers.some(is) || changedNumbers(code).some(([original, twin]) => is(twin - original));
}

/** Whether the section reads the weekday of a date. */
export const isWeekdayRead = ({ lines }: SideCode): boolean =>
  lines.some(({ text }) => /week_?day|get(UTC)?Day\b|DayOfWeek|\bwday\b|\.weekday|date\('[NwlD]'/i.test(text));

/** Whether the section divides numbers. */
export const divides = ({ lines }: SideCode): boolean =>
  lines.some(({ text }) => /[\w)\]]\s*\/{1,2}\s*[\w(-]|divmod|div\w*\(|\/=/i.test(text));

/** Whether the section rounds or cuts numbers. */
export const rounds = ({ language, lines }: SideCode): boolean =>
  lines.some(({ text }) =>
    (language === "python"
      ? /\/\/|round\(|floor|ceil|\bint\(|trunc/
      : /round|floor|ceil|trunc|parseInt|toFixed|\|\s*0\b|~~/i
    ).test(text),
  );

/** Whether the section sorts by a key or a comparison of its own. */
export const sortsByKey = ({ lines }: SideCode): boolean =>
  lines.some(({ text }) => /(sort\w*|min|max)\(.*(key\s*=|=>|lambda|compar)|sort_by|sortBy|\.sort\(\s*\w/.test(text));

/** Lines that branch, roughly: loops do not count. */
const BRANCH = /\b(if|elif|case|when|unless|switch|match|elsif)\b|\?(?![.?:])[^:]+:/;

/** Numbers and texts of the original that the twin lacks, where fewer of its lines branch; none elsewhere. */
export function missingBranches({ original, twin }: SectionCode): (number | string)[] {
  const branches = ({ lines }: SideCode) => lines.filter(({ text }) => BRANCH.test(text)).length;
  if (branches(original) <= branches(twin)) return [];
  const known = new Set(wordsOf(twin));
  return wordsOf(original).filter((word) => !known.has(word));
}

/** Numbers that tell something, and texts in quotes. */
function wordsOf({ language, lines }: SideCode): (number | string)[] {
  const comments = findLanguage(language)?.comments ?? [];
  return lines.flatMap(({ text }) => {
    const { numbers, texts } = literalsOf(text, comments);
    return [...numbers.filter((value) => !COMMON.has(value)), ...texts];
  });
}

/** Whether any line of the section compares by size. */
export const hasLimits = ({ lines }: SideCode): boolean =>
  lines.some(({ text }) =>
    /[\w)\]]\s*(<=?|>=?)\s*[-\w(]|\b(min|max|clamp|range|slice|\[:)/i.test(text.replace(/=>|->/g, "")),
  );

type Sign = CodePlace & { readonly text: string };

/** Null: no signs for the language. Undefined: none found. */
function firstSign(signs: Signs, { language, lines }: SideCode): Sign | null | undefined {
  const pattern = signs[language] ?? signs.any;
  if (!pattern) return null;
  for (const { file, line, text } of lines) {
    const match = pattern.exec(text);
    if (match) return { file, line, text: match[0].trim() };
  }
  return undefined;
}
