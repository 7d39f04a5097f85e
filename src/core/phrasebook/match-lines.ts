/** Places of `text` phrases, line by line, and of `name` phrases in texts that have no tree. */

import type { Phrase } from "@/core/formats/phrasebook";
import type { Range } from "@/core/phrasebook/syntax";
import { parseTemplate } from "@/core/phrasebook/template";
import { escapePattern } from "@/core/values/escape-pattern";

export type LineMatch = Range & { readonly held: ReadonlyMap<string, Range> };

/** The pattern as a regular expression over a whole line, outer white space aside; runs of white space are one. */
export function linePattern(from: string): RegExp {
  const seen = new Set<string>();
  const body = parseTemplate(from.trim())
    .map((part) => {
      if (part.kind === "text") return escapePattern(part.text).replace(/\s+/g, "\\s+");
      if (part.name === "_") return part.isList ? ".*?" : ".+?";
      if (seen.has(part.name)) return `\\k<${part.name}>`;
      seen.add(part.name);
      return `(?<${part.name}>${part.isList ? ".*?" : ".+?"})`;
    })
    .join("");
  return new RegExp(`^\\s*(?<zwhole>${body})\\s*$`, "du");
}

/** Longer lines are not looked at: several blanks would take long to fit. */
const MAX_LINE = 5000;

/** Places of a `text` phrase. Linear in the text for a few blanks. */
export function findLineMatches(source: string, phrase: Pick<Phrase, "from">): LineMatch[] {
  const pattern = linePattern(phrase.from);
  const found: LineMatch[] = [];
  for (const match of source.matchAll(/[^\r\n]+/g)) {
    const line = match[0].length > MAX_LINE ? null : pattern.exec(match[0]);
    const groups = line?.indices?.groups;
    const whole = groups?.zwhole;
    if (!groups || !whole) continue;
    const at = (range: readonly [number, number]): Range => ({
      from: match.index + range[0],
      to: match.index + range[1],
    });
    const held = new Map(
      Object.entries(groups).flatMap(([name, range]) =>
        name !== "zwhole" && range ? [[name, at(range)] as const] : [],
      ),
    );
    found.push({ ...at(whole), held });
  }
  return found;
}

/** A dotted name in a text: `from` and all below it. */
export type NameMatch = Range & {
  /** The part that moves. */
  readonly moved: Range;
  /** The whole dotted name, with dots. */
  readonly full: string;
};

const SEGMENT = String.raw`[\p{L}_$][\p{L}\p{N}_$]*`;
const DOT = String.raw`\s*(?:\.|::|\\)\s*`;

/** Whole dotted names that are `from` or begin with it; white space around the dots does not count. */
export function findDottedNames(source: string, from: string): NameMatch[] {
  const parts = from.split(/\.|::|\\/);
  const head = parts.map(escapePattern).join(DOT);
  const pattern = new RegExp(
    String.raw`(?<![\p{L}\p{N}_$])(?<moved>${head})(?<rest>(?:${DOT}${SEGMENT})*)(?![\p{L}\p{N}_$])`,
    "dgu",
  );
  const found: NameMatch[] = [];
  for (const match of source.matchAll(pattern)) {
    const moved = match.indices?.groups?.moved;
    if (!moved || isBelow(source, match.index)) continue;
    const full = match[0].replace(/\s+/g, "").replace(/::|\\/g, ".");
    found.push({ from: match.index, to: match.index + match[0].length, moved: { from: moved[0], to: moved[1] }, full });
  }
  return found;
}

/** Whether a name hangs on another: `c.a` for `a`. */
const isBelow = (source: string, at: number): boolean =>
  /(?:\.|::|\\|->)\s*$/.test(source.slice(Math.max(0, at - 40), at)) &&
  !/(?:\.\.\.|\d\.)\s*$/.test(source.slice(Math.max(0, at - 40), at));

/** Whether `keep` holds a name where it is: `a.b.**` keeps `a.b` and all below. */
export function isKept(full: string, keep: readonly string[]): boolean {
  return keep.some((pattern) => {
    const below = /^(.*)\.\*\*$/.exec(pattern)?.[1];
    if (below !== undefined) return full === below || full.startsWith(`${below}.`);
    if (pattern.endsWith(".*"))
      return full.startsWith(pattern.slice(0, -1)) && !full.slice(pattern.length - 1).includes(".");
    return full === pattern || full.startsWith(`${pattern}.`);
  });
}
