/** Where the counting loops of two sections begin and end, as far as the way they are written shows it. */
import type { SectionCode, SideCode } from "@/core/explain/code";

/** Null for a start that is not a plain number. */
type LoopBounds = { readonly from: number | null; readonly isInclusive: boolean };

/** `sign` is `<` or `<=`: whether the end is included. In `range` it never is. */
const CLASSIC = /\bfor\b[^;]*?[=:]\s*(?<from>[^;=]+);\s*[$\w]+\s*(?<sign><=?)\s*(?<to>[^;]+);/;
const RANGE = /\brange\(\s*(?:(?<from>[^,()]+),\s*)?(?<to>[^,]+?)\s*(?:,\s*1\s*)?\)\s*(?::|\)|\]|$)/;
const RUST = /\bin\s+\(?(?<from>[\w+ -]+)\.\.(?<sign>=?)(?<to>[\w+ .()-]+)/;
const RUBY =
  /\(?(?<from>\w+)\.\.(?<open>\.?)(?<to>[\w+ .-]+)\)?\.(?:each|map|sum|reduce|inject|to_a)|\bin\s+\(?(?<from2>\w+)\.\.(?<open2>\.?)(?<to2>[\w+ .-]+)/;

const toNumber = (text: string | undefined): number | null => (text && /^\s*\d+\s*$/.test(text) ? Number(text) : null);

function boundsIn(text: string, language: string): LoopBounds | null {
  const pattern = language === "python" ? RANGE : language === "rust" ? RUST : language === "ruby" ? RUBY : CLASSIC;
  const found = pattern.exec(text)?.groups;
  if (!found) return null;
  const to = found.to ?? found.to2 ?? "";
  const from = found.from ?? found.from2;
  const isThrough =
    pattern === RUBY ? (found.open ?? found.open2) === "" : pattern !== RANGE && /=$/.test(found.sign ?? "");
  // `< n + 1` ends where `<= n` does.
  const isInclusive = isThrough ? !/-\s*1\s*$/.test(to) : /\+\s*1\s*$/.test(to);
  return { from: from === undefined ? 0 : toNumber(from), isInclusive };
}

const loopsOf = ({ lines, language }: SideCode): LoopBounds[] =>
  lines.flatMap(({ text }) => boundsIn(text, language) ?? []);

/** How the first counting loop with other bounds differs, in words; null where none does, or the sections loop otherwise. */
export function otherBounds(code: SectionCode): string | null {
  const [originals, twins] = [loopsOf(code.original), loopsOf(code.twin)];
  if (originals.length === 0 || originals.length !== twins.length) return null;
  for (const [index, original] of originals.entries()) {
    const twin = twins[index];
    if (!twin) return null;
    if (original.isInclusive !== twin.isInclusive && original.from === twin.from)
      return `the twin's loop ends one ${twin.isInclusive ? "later" : "earlier"}`;
    if (original.isInclusive === twin.isInclusive && original.from !== null && twin.from !== null) {
      const step = twin.from - original.from;
      if (Math.abs(step) === 1) return `the twin's loop starts one ${step > 0 ? "later" : "earlier"}`;
    }
  }
  return null;
}

/** Whether a loop of the twin counts as often as the original's, but from one more or less: `1..=n` beside `0..n`. */
export function isShifted(code: SectionCode): boolean {
  const [originals, twins] = [loopsOf(code.original), loopsOf(code.twin)];
  return originals.some((original, index) => {
    const twin = twins[index];
    const isApart = original.from !== null && twin?.from !== null && Math.abs((twin?.from ?? 0) - original.from) === 1;
    return isApart && original.isInclusive !== twin?.isInclusive;
  });
}
