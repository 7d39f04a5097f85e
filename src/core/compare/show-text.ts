/** Excerpts of differing texts and bytes, around the first difference, with invisible characters named. */

/** Characters before the first difference, and after it, of a text that is too long to be shown whole. */
const BEFORE = 60;
const AFTER = 240;
const BYTES_A_LINE = 16;
/** Lines of bytes shown around the first difference. */
const LINES_BEFORE = 1;
const LINES_SHOWN = 8;

const NAMES: ReadonlyMap<number, string> = new Map([
  [0x00a0, "no-break space"],
  [0x00ad, "soft hyphen"],
  [0x061c, "Arabic letter mark"],
  [0x200b, "zero-width space"],
  [0x200c, "zero-width non-joiner"],
  [0x200d, "zero-width joiner"],
  [0x200e, "left-to-right mark"],
  [0x200f, "right-to-left mark"],
  [0x2028, "line separator"],
  [0x2029, "paragraph separator"],
  [0x202a, "left-to-right embedding"],
  [0x202b, "right-to-left embedding"],
  [0x202c, "end of direction"],
  [0x202d, "left-to-right override"],
  [0x202e, "right-to-left override"],
  [0x202f, "narrow no-break space"],
  [0x2060, "word joiner"],
  [0x2066, "left-to-right isolate"],
  [0x2067, "right-to-left isolate"],
  [0x2068, "first-strong isolate"],
  [0x2069, "end of isolate"],
  [0x3000, "ideographic space"],
  [0xfeff, "byte order mark"],
]);

/** Tabs and line ends have a look or an escape of their own. A joiner within an emoji is part of one sign. */
const INVISIBLE = /(?!\p{Extended_Pictographic}\u200d)[\p{Cc}\p{Cf}\p{Zl}\p{Zp}\u00a0\u202f\u3000]/gu;
const PLAIN = new Set(["\t", "\n", "\r"]);

/** A text with invisible letters and direction marks as `⟨U+202E right-to-left override⟩`, so that they cannot turn the line round. */
export const visibleText = (text: string): string =>
  text.replace(INVISIBLE, (letter, at: number) =>
    PLAIN.has(letter) || (letter === "\u200d" && isInsideEmoji(text, at)) ? letter : nameOf(letter),
  );

const isInsideEmoji = (text: string, at: number): boolean =>
  /\p{Extended_Pictographic}\ufe0f?$/u.test(text.slice(0, at)) &&
  /^\p{Extended_Pictographic}/u.test(text.slice(at + 1));

function nameOf(letter: string): string {
  const point = letter.codePointAt(0) ?? 0;
  const name = NAMES.get(point);
  return `⟨U+${point.toString(16).toUpperCase().padStart(4, "0")}${name ? ` ${name}` : ""}⟩`;
}

/** Both texts for a person: where they differ by normal form alone, combining marks are named too. */
export function visiblePair(original: string, twin: string): { original: string; twin: string } {
  const isFormAlone = original !== twin && original.normalize("NFC") === twin.normalize("NFC");
  const show = (text: string) =>
    visibleText(isFormAlone ? (text.normalize("NFC") === text ? text : text.replace(/\p{M}/gu, nameOf)) : text);
  return { original: show(original), twin: show(twin) };
}

/** A piece of both texts around the first difference; `from` counts characters from 1, null where both are shown whole. */
export type TextWindow = { readonly original: string; readonly twin: string; readonly from: number | null };

/** Texts of up to `max` UTF-16 units are shown whole. Linear in their length. */
export function windowOf(original: string, twin: string, max: number): TextWindow {
  if (original.length <= max && twin.length <= max) return { original, twin, from: null };
  let at = 0;
  while (at < original.length && at < twin.length && original[at] === twin[at]) at++;
  let from = Math.max(0, at - BEFORE);
  // Half of a letter beyond the first plane is none.
  if (/[\udc00-\udfff]/.test(original[from] ?? twin[from] ?? "")) from--;
  const cut = (text: string) =>
    `${from > 0 ? "…" : ""}${text.slice(Math.max(0, from), at + AFTER)}${text.length > at + AFTER ? "…" : ""}`;
  return { original: cut(original), twin: cut(twin), from: at + 1 };
}

/** A line of bytes: its place, and both sides as `48 65 6c  Hel`; null where a side has ended. */
export type ByteLine = {
  readonly at: number;
  readonly original: string | null;
  readonly twin: string | null;
  readonly differs: boolean;
};

/** Lines of 16 bytes around the first difference; `more` bytes of the longer side are not shown behind them. */
export function byteLines(original: Uint8Array, twin: Uint8Array): { lines: ByteLine[]; more: number } {
  const length = Math.max(original.length, twin.length);
  let at = 0;
  while (at < length && original[at] === twin[at]) at++;
  const first = Math.max(0, Math.floor(at / BYTES_A_LINE) - LINES_BEFORE);
  const lines: ByteLine[] = [];
  for (let line = first; line < first + LINES_SHOWN && line * BYTES_A_LINE < length; line++) {
    const from = line * BYTES_A_LINE;
    const [one, other] = [hexLine(original, from), hexLine(twin, from)];
    lines.push({ at: from, original: one, twin: other, differs: one !== other });
  }
  return { lines, more: Math.max(0, length - (first + LINES_SHOWN) * BYTES_A_LINE) };
}

function hexLine(bytes: Uint8Array, from: number): string | null {
  const part = [...bytes.subarray(from, from + BYTES_A_LINE)];
  if (part.length === 0) return null;
  const letters = part.map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : "·")).join("");
  return `${part.map((byte) => byte.toString(16).padStart(2, "0")).join(" ")}  ${letters}`;
}
