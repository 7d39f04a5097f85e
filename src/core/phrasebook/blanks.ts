/** Conditions of blanks, `is` and `matches` (formats, 19.3). */
import { SideTwinError } from "@/core/errors";
import type { Phrase } from "@/core/formats/phrasebook";

/** Tests a person's regular expression within a limit of time; throws SideTwinError when it takes too long. */
export type TestPattern = (pattern: string, text: string) => boolean;

/** Whether the text of a blank matches its `matches`. Throws SideTwinError `bad-input` with the phrase and the key. */
export function matchesBlank(phrase: Phrase, name: string, text: string, test: TestPattern): boolean {
  const pattern = phrase.blanks[name]?.matches;
  if (pattern === undefined) return true;
  try {
    return test(pattern, text);
  } catch (thrown) {
    if (!(thrown instanceof SideTwinError)) throw thrown;
    const { code, what, next } = thrown;
    throw new SideTwinError({ code, what, where: { key: `${phrase.id}.blanks.${name}.matches` }, next }, thrown);
  }
}

/** Shapes of a text outside of code, where there is no syntax tree. */
const SHAPES: Readonly<Record<string, RegExp>> = {
  string: /^(?:"[^"]*"|'[^']*')$/,
  number: /^[-+]?(?:0x[\da-f]+|\d[\d_]*(?:\.\d+)?(?:e[-+]?\d+)?)$/i,
  name: /^[\p{L}_$][\p{L}\p{N}_$]*$/u,
  call: /^[\p{L}_$][\p{L}\p{N}_$.]*\(.*\)$/u,
  any: /^/,
};

/** Whether a blank of a line or a path may hold a text. */
export const fitsText = (phrase: Phrase, name: string, text: string, test: TestPattern): boolean =>
  (phrase.blanks[name]?.is?.some((kind) => SHAPES[kind]?.test(text)) ?? true) && matchesBlank(phrase, name, text, test);
