/** The tokens of a piece of code, so that comments and layout do not count; the indentation does where it is the grammar. */
import { findLanguage } from "@/core/source/languages/index";

const WORD = String.raw`[\p{L}_$@][\p{L}\p{N}_$]*`;
const NUMBER = String.raw`\d[\w.]*`;
const QUOTED = [
  String.raw`"""[\s\S]*?"""`,
  String.raw`'''[\s\S]*?'''`,
  String.raw`"(?:[^"\\\n]|\\[\s\S])*"`,
  String.raw`'(?:[^'\\\n]|\\[\s\S])*'`,
  "`(?:[^`\\\\]|\\\\[\\s\\S])*`",
];

type TokenGrammar = { readonly pattern: RegExp; readonly isComment: (token: string) => boolean };

const grammars = new Map<string | null, TokenGrammar>();

/** Made once a language. */
function grammarOf(languageName: string | null): TokenGrammar {
  const known = grammars.get(languageName);
  if (known) return known;
  const comments = (languageName === null ? undefined : findLanguage(languageName)?.comments) ?? [];
  const literal = (part: string) => part.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");
  const skipped = comments.map(([start, end]) =>
    end === "" ? `${literal(start)}.*` : `${literal(start)}[\\s\\S]*?${literal(end)}`,
  );
  const parts = [...QUOTED.slice(0, 2), ...skipped, ...QUOTED.slice(2), WORD, NUMBER, String.raw`[^\s]`];
  const made = {
    pattern: new RegExp(parts.join("|"), "gu"),
    isComment: (token: string) => comments.some(([start]) => token.startsWith(start)) && !/^["'`]/.test(token),
  };
  grammars.set(languageName, made);
  return made;
}

/** Joined by spaces; two pieces with the same result differ in comments and layout alone. Cost: linear in the text. */
export function tokensOf(text: string, languageName: string | null): string {
  const { pattern, isComment } = grammarOf(languageName);
  const tokens: string[] = [];
  const depths: number[] = [];
  const isIndented = languageName !== null && findLanguage(languageName)?.blocksByIndentation === true;
  let open = 0;
  let line = -1;
  for (const match of text.matchAll(pattern)) {
    const [token] = match;
    if (isComment(token)) continue;
    const start = text.lastIndexOf("\n", match.index) + 1;
    if (isIndented && start !== line) {
      // Inside brackets a line break is not a token.
      if (open === 0) tokens.push(indentation(text.slice(start, match.index), depths));
      line = start;
    }
    if ("([{".includes(token)) open++;
    else if (")]}".includes(token)) open = Math.max(0, open - 1);
    tokens.push(token);
  }
  return tokens.join(" ");
}

/** Returns the nesting depth of a line, independent of the width of its indentation. */
function indentation(blank: string, depths: number[]): string {
  const width = blank.replaceAll("\t", "        ").length;
  while ((depths.at(-1) ?? -1) > width) depths.pop();
  if ((depths.at(-1) ?? -1) < width) depths.push(width);
  return `\u21e5${depths.length}`;
}
