/** Texts that match the regular expressions in a piece of code: what it takes apart is given to it. */
import RandExp from "randexp";
import { Random } from "@/core/exploring/random";

const MAX_PATTERNS = 40;
const SAMPLES = 5;
const MAX_REPEATS = 3;
const MAX_TEXT = 80;

/** A literal of JavaScript or Ruby, where a value may begin; `re.compile("…")` of Python and its like; `new RegExp("…")`. */
const LITERAL = /(?<=[=(,:!&|?{;[\n]\s*|\breturn\s+)\/(?![*/])((?:\\.|\[(?:\\.|[^\]\\\n])*\]|[^/\\[\n])+)\/[a-z]*/g;
const CALL =
  /\b(?:re\.\w+|RegExp|Regexp\.new|preg_\w+|regexp\.\w+|Regex::new)\(\s*[rRbBuU]*("""[\s\S]*?"""|'''[\s\S]*?'''|"(?:\\.|[^"\\\n])*"|'(?:\\.|[^'\\\n])*'|`[^`]*`)([^\n]{0,60})/g;

/** Sources of the regular expressions in the code, as JavaScript would write them; each once. */
export function patternsIn(code: string): string[] {
  const found = new Set<string>();
  for (const [, source = ""] of code.matchAll(LITERAL)) found.add(source);
  for (const [whole, quoted = "", rest = ""] of code.matchAll(CALL)) {
    const inner = /^("""|''')/.test(quoted) ? quoted.slice(3, -3) : quoted.slice(1, -1);
    const isRaw = /\(\s*[bBuU]*[rR]|`$/.test(whole.slice(0, whole.indexOf(quoted) + 1)) || quoted.startsWith("`");
    const source = isRaw ? inner : inner.replace(/\\\\/g, "\\");
    found.add(/\bVERBOSE\b|\bre\.X\b|\(\?[a-z]*x/.test(rest + inner) ? withoutComments(source) : source);
  }
  return [...found].slice(0, MAX_PATTERNS);
}

/** A verbose expression of Python without its spaces and comments. */
const withoutComments = (source: string): string =>
  source.replace(/\\.|\[(?:\\.|[^\]\\])*\]|\s+|#[^\n]*/g, (part) => (/^[\s#]/.test(part) ? "" : part));

/** Texts for each of the expressions that can be read, the same for the same code. */
export function textsOfPatterns(code: string): string[] {
  const random = new Random(7);
  const texts = new Set<string>();
  for (const source of patternsIn(code)) {
    try {
      const maker = new RandExp(plain(source));
      maker.max = MAX_REPEATS;
      maker.randInt = (from: number, to: number) => from + random.below(to - from + 1);
      for (let sample = 0; sample < SAMPLES; sample++) {
        const text = maker.gen();
        if (text !== "" && text.length <= MAX_TEXT) texts.add(text);
      }
    } catch {
      // An expression of a kind that is not known: no hint comes of it.
    }
  }
  return [...texts];
}

/** Removes lookaround and flags, and rewrites other spellings of the same to those that the sampler knows. */
const plain = (source: string): string =>
  source
    .replace(/^\(\?[a-zA-Z]+\)/, "")
    .replace(/\(\?[a-zA-Z-]+:/g, "(?:")
    .replace(/\(\?P=\w+\)/g, "")
    .replace(/\(\?P</g, "(?<")
    .replace(/\(\?<([=!])/g, "(?$1")
    .replace(/\(\?>/g, "(?:")
    .replace(/\\[AZz]/g, "")
    .replace(/\\[pP]\{[^}]*\}/g, "[A-Za-zé]")
    .replace(/([*+?}])\+/g, "$1");
