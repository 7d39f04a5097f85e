/** Texts that may differ in blanks, line endings, letter case, Unicode form, by replacements, or in the numbers inside. */
import { withinTolerance } from "@/core/allowances/number-tolerance";
import type { Allow, TextLoosening } from "@/core/formats/allowance";

/** Whether two texts are the same once loosened. `text: true` alone loosens blanks, line endings and Unicode form. */
export function sameLoosened(original: string, twin: string, allow: Allow): boolean {
  const loosening: TextLoosening =
    allow.text === true || allow.text === undefined
      ? allow.number
        ? {}
        : { trim: true, lineEndings: true, unicode: true }
      : allow.text;
  const [one, other] = [loosen(original, loosening), loosen(twin, loosening)];
  if (one === other) return true;
  return allow.number !== undefined && sameButForNumbers(one, other, allow.number);
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

function sameButForNumbers(original: string, twin: string, tolerance: Parameters<typeof withinTolerance>[2]): boolean {
  if (original.replace(NUMBER, "#") !== twin.replace(NUMBER, "#")) return false;
  const twinNumbers = twin.match(NUMBER) ?? [];
  return (original.match(NUMBER) ?? []).every((number, index) =>
    withinTolerance(Number(number), Number(twinNumbers[index]), tolerance),
  );
}
