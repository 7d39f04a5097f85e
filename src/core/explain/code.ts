/** What the code of a section says for or against a cause: the calls and operators that bring it about. */

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

/** Signs of a cause in the code of either side; a side without an entry says nothing. */
export type CodeSigns = {
  readonly original?: Signs;
  readonly twin?: Signs;
  /** Each side has a number that the other lacks. */
  readonly numbers?: true;
  /** `slight` for signs that much code has without the fault. */
  readonly strength?: "slight";
};

/** A place in the twin. */
export type CodePlace = { readonly file: string; readonly line: number };

/** How the code bears on a cause. */
export type CodeFinding = {
  /** The share of what is missing to certainty that the code adds, or takes from the score where negative. */
  readonly weight: number;
  /** In words, for the evidence; empty where the code says nothing for it. */
  readonly says: string;
  readonly place?: CodePlace;
};

/** Both sides have a sign of it: a call that does just this, or one that much code has. */
const BOTH = 0.35;
const SLIGHT = 0.1;
/** The twin has none, though the cause has signs in its language. It may hide in what the section calls elsewhere. */
const NONE = -0.15;

/** Null where the cause has no signs in these languages. */
export function readSigns(signs: CodeSigns | undefined, code: SectionCode | undefined): CodeFinding | null {
  if (!signs || !code) return null;
  if (signs.numbers) return readNumbers(code, signs.strength === "slight" ? SLIGHT : BOTH);
  const twin = signs.twin ? firstSign(signs.twin, code.twin) : null;
  if (twin === null) return null;
  if (twin === undefined) return { weight: NONE, says: "" };
  const { file, line, text } = twin;
  const original = signs.original && firstSign(signs.original, code.original);
  if (original === undefined && signs.original) return { weight: 0, says: "", place: { file, line } };
  const beside = original && original.text !== text ? `${original.text} beside ${text}` : text;
  return {
    weight: signs.strength === "slight" ? SLIGHT : BOTH,
    says: `${beside} in ${file}:${line}`,
    place: { file, line },
  };
}

/** Numbers that say little: they come and go with the way in which a thing is said. */
const COMMON: ReadonlySet<number> = new Set([0, 1, 2, 10, 100]);

/** Null where the numbers are the same, or one side alone has more of them. */
function readNumbers({ original, twin }: SectionCode, weight: number): CodeFinding | null {
  const [one, other] = [numbersOf(original), numbersOf(twin)];
  const lacking = one.find(({ value }) => !COMMON.has(value) && !other.some((entry) => entry.value === value));
  const odd = other.find(({ value }) => !COMMON.has(value) && !one.some((entry) => entry.value === value));
  if (!lacking || !odd) return null;
  const { file, line } = odd;
  return { weight, says: `${lacking.value} beside ${odd.value} in ${file}:${line}`, place: { file, line } };
}

function numbersOf({ language, lines }: SideCode): (CodePlace & { readonly value: number })[] {
  const comments = findLanguage(language)?.comments ?? [];
  return lines.flatMap(({ file, line, text }) =>
    literalsOf(text, comments).numbers.map((value) => ({ file, line, value })),
  );
}

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
