/** Texts that may differ in blanks, line endings, letter case, Unicode form, by replacements, or in the numbers inside. */
import { mostNeeded, type Needed } from "@/core/allowances/needed";
import { neededTolerance } from "@/core/allowances/number-tolerance";
import type { Allow, NumberTolerance, TextLoosening } from "@/core/formats/allowance";

/**
 * Returns what two texts needed to be equal once loosened, or null. `text: true` alone loosens blanks, line endings and
 * Unicode form.
 */
export function neededLoosening(original: string, twin: string, allow: Allow): Needed | null {
  const loosening: TextLoosening =
    allow.text === true || allow.text === undefined
      ? allow.number
        ? {}
        : { trim: true, lineEndings: true, unicode: true }
      : allow.text;
  const [one, other] = [loosen(original, loosening), loosen(twin, loosening)];
  if (one === other) return {};
  return allow.number === undefined ? null : neededForNumbers(one, other, allow.number);
}

function loosen(text: string, how: TextLoosening): string {
  let loosened = text;
  if (how.lineEndings) loosened = loosened.replace(/\r\n?/g, "\n");
  if (how.trim) loosened = loosened.replace(/[^\S\n]+(?=\n|$)/g, "").trim();
  if (how.unicode) loosened = loosened.normalize("NFC");
  if (how.case) loosened = loosened.toLowerCase();
  for (const { pattern, with: replacement } of how.replace ?? []) {
    loosened = loosened.replace(new RegExp(pattern, "gu"), replacement);
  }
  return loosened;
}

const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?/g;

function neededForNumbers(original: string, twin: string, tolerance: NumberTolerance): Needed | null {
  if (original.replace(NUMBER, "#") !== twin.replace(NUMBER, "#")) return null;
  const twinNumbers = twin.match(NUMBER) ?? [];
  let most: Needed = {};
  for (const [index, number] of (original.match(NUMBER) ?? []).entries()) {
    const needed = neededTolerance(Number(number), Number(twinNumbers[index]), tolerance);
    if (needed === null) return null;
    most = mostNeeded(most, needed);
  }
  return most;
}
