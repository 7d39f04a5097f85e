/** The names of the old way that a phrase is about (formats, 19.13). */
import type { Phrase } from "@/core/formats/phrasebook";

/** A name of `from` that is called, read or declared there, and that `to` does not say. Names of a `name` phrase: the dotted one. */
export function oldNames(phrase: Phrase): string[] {
  if (phrase.kind === "name") return [phrase.from];
  // Properties of style sheets are words of every text.
  if (phrase.kind !== "code" || phrase.language === "css") return [];
  const bare = (text: string) =>
    text.replace(/\(:\w+(?:\.\.)?:\)/g, " \u0001 ").replace(/"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g, '""');
  const words = (text: string) =>
    [...bare(text).matchAll(/[\p{L}_$][\p{L}\p{N}_$]*/gu)].map((match) => ({ word: match[0], index: match.index }));
  const kept = new Set(words(phrase.to).map(({ word }) => word));
  const from = bare(phrase.from);
  return [
    ...new Set(
      words(phrase.from)
        // The name of a named argument, a key or an attribute is neither called nor read.
        .filter(
          ({ word, index }) =>
            !KEYWORDS.has(word) &&
            !kept.has(word) &&
            !/^\s*(?:=(?!=)|:(?!:))/.test(from.slice(index + word.length)) &&
            !(STANDARD_HOLDERS.has(word) && /^\s*(?:\.|::)/.test(from.slice(index + word.length))),
        )
        .map(({ word }) => word),
    ),
  ];
}

/** Namespaces of the languages themselves: `Math.floor` is not a mention of `Math.round`. */
const STANDARD_HOLDERS = new Set(
  "Math JSON Object Array String Number Boolean Promise Reflect Date console process window document globalThis System Arrays Collections Objects Integer Long Double Character std".split(
    " ",
  ),
);

/** Words that no phrase is about. */
const KEYWORDS = new Set(
  "if else elif for while do switch case default break continue return in of not and or is None null nil undefined true false True False new delete try catch except finally throw raise import from export class struct enum union interface extends implements public private protected static final const let var def fn func function lambda async await yield this self super void int long short char float double bool boolean string byte unsigned signed auto typedef sizeof package use using namespace mut pub match where impl trait type with as pass end then unless until begin rescue ensure module require echo print".split(
    " ",
  ),
);
