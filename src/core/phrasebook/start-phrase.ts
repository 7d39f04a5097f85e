/** A first phrase from a piece of the original and the piece of the twin that it became: equal parts become blanks. */

/** `from` and `to` of a phrase, to be corrected by a person. */
export type StartedPhrase = { readonly from: string; readonly to: string };

type Token = { readonly text: string; readonly space: string };

const TOKEN = /(\s*)("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'|[\p{L}_$][\p{L}\p{N}_$]*|\d[\w.]*|\(:\w+:\)|.)/gsu;
const PAIRS: Readonly<Record<string, string>> = { "(": ")", "[": "]", "{": "}" };
const MAX_TOKENS = 400;

/**
 * Turns expressions that both texts have into blanks, the longest first; what is called, and members, stay. Texts that
 * are not code come back with fewer blanks, never with none of their words lost. Cost: grows with the square of the
 * tokens, of which at most 400 a side are looked at.
 */
export function startPhrase(original: string, twin: string): StartedPhrase {
  let [from, to] = [tokensOf(original), tokensOf(twin)];
  if (from.length > MAX_TOKENS || to.length > MAX_TOKENS) return { from: original.trim(), to: twin.trim() };
  const used = new Set<string>();
  for (;;) {
    const run = longestShared(from, to);
    if (!run) break;
    const name = nameFor(run, used);
    used.add(name);
    from = replaceRuns(from, run, `(:${name}:)`);
    to = replaceRuns(to, run, `(:${name}:)`);
  }
  return { from: textOf(from), to: textOf(to) };
}

const tokensOf = (text: string): Token[] =>
  [...text.trim().matchAll(TOKEN)].map(([, space = "", token = ""]) => ({ space, text: token }));

const textOf = (tokens: readonly Token[]): string =>
  tokens
    .map(({ space, text }) => space + text)
    .join("")
    .trim();

/** The longest run that may be one expression on both sides. */
function longestShared(from: readonly Token[], to: readonly Token[]): string[] | null {
  let best: string[] | null = null;
  for (let start = 0; start < from.length; start++)
    for (let other = 0; other < to.length; other++) {
      let length = 0;
      while (from[start + length] && from[start + length]?.text === to[other + length]?.text) length++;
      for (; length > (best?.length ?? 0); length--) {
        // A name with the same member on both sides is usually a module or a class.
        const isOwner = from[start + length]?.text === "." && to[other + length]?.text === ".";
        if (isOwner || !isExpression(from, start, length) || !isExpression(to, other, length)) continue;
        best = from.slice(start, start + length).map(({ text }) => text);
        break;
      }
    }
  return best;
}

/** Whether a run of tokens is a complete expression: balanced brackets, no comma outside them, no called name or member. */
function isExpression(tokens: readonly Token[], start: number, length: number): boolean {
  const run = tokens.slice(start, start + length).map(({ text }) => text);
  const [first = "", last = ""] = [run[0], run.at(-1)];
  if (!isOperand(first) && !(first in PAIRS && first !== "{")) return false;
  if (!isOperand(last) && !/^[)\]]$/.test(last)) return false;
  if (!run.some(isOperand) || run.some((text) => text.startsWith("(:"))) return false;
  const [before, after] = [tokens[start - 1]?.text ?? "", tokens[start + length]?.text ?? ""];
  if (before === "." || after === "(" || after === "[") return false;
  // The brackets of a call are not an expression by themselves.
  if (first in PAIRS && (isOperand(before) || /^[)\]]$/.test(before))) return false;
  const open: string[] = [];
  for (const text of run) {
    const close = PAIRS[text];
    if (close) open.push(close);
    else if (/^[)\]}]$/.test(text) && open.pop() !== text) return false;
    else if (open.length === 0 && /^[,;]$/.test(text)) return false;
  }
  return open.length === 0;
}

const WORDS = new Set([
  "return",
  "if",
  "else",
  "for",
  "while",
  "new",
  "await",
  "const",
  "let",
  "var",
  "def",
  "not",
  "in",
]);

const isOperand = (text: string): boolean => /^["'\p{L}\p{N}_$]/u.test(text) && !WORDS.has(text);

/** The word itself where the run is one; else the next letter. */
function nameFor(run: readonly string[], used: ReadonlySet<string>): string {
  const [word = ""] = run;
  if (run.length === 1 && /^[a-z]\w*$/i.test(word) && !used.has(word)) return word;
  for (let at = 0; ; at++) {
    const name = String.fromCharCode(97 + (at % 26)) + (at < 26 ? "" : String(Math.floor(at / 26)));
    if (!used.has(name)) return name;
  }
}

function replaceRuns(tokens: readonly Token[], run: readonly string[], blank: string): Token[] {
  const replaced: Token[] = [];
  for (let at = 0; at < tokens.length; ) {
    const token = tokens[at];
    if (!token) break;
    if (run.every((text, index) => tokens[at + index]?.text === text) && isExpression(tokens, at, run.length)) {
      replaced.push({ space: token.space, text: blank });
      at += run.length;
    } else {
      replaced.push(token);
      at++;
    }
  }
  return replaced;
}
