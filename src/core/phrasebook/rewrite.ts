/** Fills the replacement of a match with the content of its blanks. */
import type { Blank, Phrase, Scale } from "@/core/formats/phrasebook";
import { convertName } from "@/core/pairing/naming";
import { parseTemplate } from "@/core/phrasebook/template";
import type { Piece } from "@/core/phrasebook/tracked-text";

/** The text of a blank as it is to be written, or why the place stays open. */
export type Filled = { readonly pieces: readonly Piece[] } | { readonly open: string };

export type FillTerms = {
  readonly scales: Readonly<Record<string, Scale>>;
  /** The content of a blank; null for an empty list. */
  readonly piecesOf: (name: string) => readonly Piece[] | null;
  /** White space between the braces and a list alone within them, before and after; null for others. */
  readonly spaceAround: (name: string) => readonly [string, string] | null;
  /** Where the place begins on disk. */
  readonly anchor: number;
  /** White space before the first line of the place. */
  readonly indent: string;
  readonly lineEnd: string;
};

/** Fills the replacement of a phrase. Linear in what the blanks hold. */
export function fillReplacement(phrase: Pick<Phrase, "to" | "blanks">, terms: FillTerms): Filled {
  const { anchor, indent, lineEnd } = terms;
  const written = (text: string): Piece => ({ text, origin: null, anchor });
  const parts = parseTemplate(phrase.to);
  const pieces: Piece[] = [];
  let takesComma = false;
  for (const [index, part] of parts.entries()) {
    if (part.kind === "text") {
      // An empty list at the beginning takes the comma after it along.
      let text = takesComma ? part.text.replace(/^\s*,\s*/, "") : part.text;
      takesComma = false;
      const [before, after] = [parts[index - 1], parts[index + 1]];
      if (after?.kind === "blank" && terms.spaceAround(after.name)) text = text.replace(/(?<=\{)\s*$/, "");
      if (before?.kind === "blank" && terms.spaceAround(before.name)) text = text.replace(/^\s*(?=\})/, "");
      pieces.push(written(text.replace(/\r?\n/g, `${lineEnd}${indent}`)));
      continue;
    }
    const held = terms.piecesOf(part.name);
    const around = terms.spaceAround(part.name);
    if (held === null) {
      if (around) pieces.push(written(around.join("")));
      else takesComma = !dropComma(pieces);
      continue;
    }
    const turned = turn(held, phrase.blanks[part.name], terms);
    if ("open" in turned) return turned;
    pieces.push(...(around ? [written(around[0]), ...turned.pieces, written(around[1])] : turned.pieces));
  }
  return { pieces };
}

/** Takes the comma before an empty list away; false where there is none. */
function dropComma(pieces: Piece[]): boolean {
  const last = pieces.at(-1);
  if (!last || last.origin !== null || !/,\s*$/.test(last.text)) return false;
  pieces[pieces.length - 1] = { ...last, text: last.text.replace(/,\s*$/, "") };
  return true;
}

/** `turn` takes the raw text and is final; else unquote, strip, scale, style, quote, in this order. */
function turn(held: readonly Piece[], blank: Blank | undefined, { scales, anchor }: FillTerms): Filled {
  if (!blank || !(blank.turn ?? blank.text ?? blank.strip ?? blank.scale ?? blank.style)) return { pieces: held };
  let text = held.map((piece) => piece.text).join("");
  const done = (result: string): Filled => ({ pieces: [{ text: result, origin: null, anchor }] });
  if (blank.turn) {
    const turned = Object.hasOwn(blank.turn, text) ? blank.turn[text] : undefined;
    return turned === undefined ? { open: `no turn for ${text}` } : done(turned);
  }
  if (blank.text === "unquote") text = unquote(text);
  if (blank.strip !== undefined) text = strip(text, blank.strip);
  if (blank.scale !== undefined) {
    const scale = scales[blank.scale];
    const step = scale ? toStep(text, scale) : null;
    if (step === null) return { open: `${text} is not near a step of the scale "${blank.scale}"` };
    text = step;
  }
  if (blank.style !== undefined) text = convertName(text, blank.style);
  if (blank.text === "quote") text = JSON.stringify(text);
  return done(text);
}

const unquote = (text: string): string => /^[A-Za-z@$]{0,3}("""|'''|["'`])([\s\S]*)\1$/.exec(text)?.[2] ?? text;

function strip(text: string, part: string): string {
  if (text.startsWith(part) && text.length > part.length) return text.slice(part.length);
  return text.endsWith(part) && text.length > part.length ? text.slice(0, -part.length) : text;
}

/** The nearest step, of two equally near ones the smaller; null where the unit is another or no step is near enough. */
export function toStep(text: string, { unit, steps, within }: Scale): string | null {
  const [, amount, found = ""] = /^\s*([-+]?(?:\d+\.?\d*|\.\d+))\s*([a-z%]*)\s*$/i.exec(text) ?? [];
  if (amount === undefined || (found !== unit && !(found === "" && Number(amount) === 0))) return null;
  const value = Number(amount);
  const [nearest] = Object.entries(steps)
    .map(([step, at]) => ({ step, at, distance: Math.abs(at - value) }))
    .sort((a, b) => a.distance - b.distance || a.at - b.at);
  return nearest && nearest.distance <= within + 1e-9 ? nearest.step : null;
}
