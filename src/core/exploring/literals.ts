/** The numbers and texts that a piece of code compares with, looks up or puts together: good inputs are near them. */

import { escapePattern } from "@/core/values/escape-pattern";

const MAX_LITERALS = 200;
const MAX_TEXT = 40;

/**
 * Numbers and texts in the code, in the order of their first place; long texts and those of comments aside. `comments` are the delimiters
 * of the language, `[start, end]`, an empty end for the end of the line: Python divides by what begins a comment elsewhere. Linear in it.
 */
export function literalsOf(
  code: string,
  comments: readonly (readonly [string, string])[],
): { readonly numbers: number[]; readonly texts: string[] } {
  let plain = code.replace(/"""[\s\S]*?"""|'''[\s\S]*?'''/g, " ");
  for (const [start, end] of comments)
    plain = plain.replace(
      end === ""
        ? new RegExp(`(^|\\s)${escapePattern(start)}.*$`, "gm")
        : new RegExp(`${escapePattern(start)}[\\s\\S]*?${escapePattern(end)}`, "g"),
      " ",
    );
  const numbers = new Set<number>();
  const texts = new Set<string>();
  for (const [whole, , text] of plain.matchAll(
    /(["'`])((?:\\.|(?!\1)[^\\\n])*)\1|(?<![\w.$])\d[\d_]*(?:\.\d+)?(?:e-?\d+)?(?![\w$])/g,
  )) {
    if (text !== undefined) {
      if (text.length <= MAX_TEXT && text !== "") texts.add(unescaped(text));
    } else numbers.add(Number(whole.replaceAll("_", "")));
    if (numbers.size + texts.size > MAX_LITERALS) break;
  }
  return { numbers: [...numbers].filter(Number.isFinite), texts: [...texts] };
}

const SIGNS: Readonly<Record<string, string>> = { n: "\n", t: "\t", r: "\r", "0": "\0" };
const unescaped = (text: string): string => text.replace(/\\(.)/g, (_all, sign: string) => SIGNS[sign] ?? sign);
