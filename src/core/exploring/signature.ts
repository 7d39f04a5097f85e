/** Parameters as they are written in a section's source: name, type, default. For languages with `name: type = default`. */

/** One parameter. Types and defaults are source text. */
export type Parameter = {
  readonly name: string;
  readonly type: string | null;
  readonly default: string | null;
  /** Given by name only. */
  readonly isNamed: boolean;
  /** Takes all further arguments. */
  readonly isRest: boolean;
};

const OPEN = "([{<";
const CLOSE = ")]}>";

/**
 * Reads the parameters of a function whose text is given, from the first bracket behind `name`; the object that a method is
 * called on is none of them. Null where the text has no parameter list. Cost: linear in the text.
 */
export function readParameters(text: string, name: string): Parameter[] | null {
  if (name === "default") return readParametersBehind(text, /(?:\bfunction\b|=|\bdefault\b)[^(\n]*?\(/);
  const start = new RegExp(`(?<![\\w$])${name.replace(/\$/g, "\\$")}(?![\\w$])[^(\\n]*?\\(`).exec(text);
  const single = new RegExp(`(?<![\\w$])${name.replace(/\$/g, "\\$")}\\s*=\\s*(?:async\\s+)?([\\w$]+)\\s*=>`).exec(
    text,
  )?.[1];
  if (single !== undefined) return [{ name: single, type: null, default: null, isNamed: false, isRest: false }];
  return start ? readFrom(text, start.index + start[0].length) : null;
}

/** Of a section that has no name of its own. */
function readParametersBehind(text: string, head: RegExp): Parameter[] | null {
  const single = /(?:=|\bdefault)\s*(?:async\s+)?([\w$]+)\s*=>/.exec(text)?.[1];
  if (single !== undefined) return [{ name: single, type: null, default: null, isNamed: false, isRest: false }];
  const start = head.exec(text);
  return start ? readFrom(text, start.index + start[0].length) : null;
}

function readFrom(text: string, from: number): Parameter[] {
  let isNamed = false;
  return splitTop(withoutComments(text.slice(from, endOf(text, from))), ",").flatMap((part, index) => {
    const written = part.trim();
    if (written === "*") isNamed = true;
    if (written === "" || written === "*" || written === "/") return [];
    if (index === 0 && /^(self|cls|this)\b/.test(written)) return [];
    const isRest = /^(\*|\.\.\.)/.test(written);
    const found = readParameter(written.replace(/^(\*\*?|\.\.\.)/, ""), isNamed, isRest);
    if (isRest && written.startsWith("*") && !written.startsWith("**")) isNamed = true;
    return [found];
  });
}

function readParameter(written: string, isNamed: boolean, isRest: boolean): Parameter {
  const plain = written.replace(/^(?:(?:public|private|protected|readonly|override)\s+)+/, "");
  const [head = "", ...rest] = splitTop(plain, "=");
  const [name = "", ...type] = splitTop(head, ":");
  return {
    name: name.trim().replace(/\?$/, ""),
    type: type.length > 0 ? type.join(":").trim() : null,
    default: rest.length > 0 ? rest.join("=").trim() : /\?\s*$/.test(name) ? "undefined" : null,
    isNamed,
    isRest,
  };
}

const withoutComments = (text: string): string =>
  text.replace(/\/\*[\s\S]*?\*\//g, "").replace(/(#|\/\/)[^\n"']*$/gm, "");

function endOf(text: string, from: number): number {
  let depth = 1;
  for (let at = from; at < text.length; at++) {
    const sign = text[at] ?? "";
    if (sign === '"' || sign === "'") at = closing(text, at);
    else if ("([{".includes(sign)) depth++;
    else if (")]}".includes(sign) && --depth === 0) return at;
  }
  return text.length;
}

function closing(text: string, from: number): number {
  for (let at = from + 1; at < text.length; at++) {
    if (text[at] === "\\") at++;
    else if (text[at] === text[from]) return at;
  }
  return text.length;
}

/** Splits at a sign that is in no bracket or text; `=>`, `==` and the like are no `=`. */
export function splitTop(text: string, sign: "," | ":" | "=" | "|"): string[] {
  const parts: string[] = [];
  let depth = 0;
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    const here = text[at] ?? "";
    if (here === '"' || here === "'") at = closing(text, at);
    else if (here === "=" && text[at + 1] === ">") at++;
    else if (OPEN.includes(here)) depth++;
    else if (CLOSE.includes(here)) depth--;
    else if (depth === 0 && here === sign) {
      parts.push(text.slice(from, at));
      from = at + 1;
    }
  }
  return [...parts, text.slice(from)];
}
