/** Paths into an answer: keys and indices joined by `.`; a key containing a dot is in brackets: `value["a.b"]`. */

/** A key or an index. */
export type PathPart = string | number;

/** Adds one part to a written path. */
export function joinPath(path: string, part: PathPart): string {
  if (typeof part === "number") return `${path}.${part}`;
  return /[.[\]"*]/.test(part) || part === "" ? `${path}[${JSON.stringify(part)}]` : `${path}.${part}`;
}

/** Splits a written path or pattern into its parts; the inverse of `joinPath`. */
export function splitPath(path: string): string[] {
  const parts: string[] = [];
  let at = 0;
  while (at < path.length) {
    if (path[at] === ".") at++;
    if (path[at] === "[" && path[at + 1] === '"') {
      const end = endOfQuoted(path, at + 1);
      parts.push(unquote(path.slice(at + 1, end)));
      at = end + 1;
      continue;
    }
    let end = at;
    while (end < path.length && path[end] !== "." && !(path[end] === "[" && path[end + 1] === '"')) end++;
    parts.push(path.slice(at, end));
    at = end;
  }
  return parts;
}

function endOfQuoted(path: string, from: number): number {
  let at = from + 1;
  while (at < path.length && path[at] !== '"') at += path[at] === "\\" ? 2 : 1;
  return at + 1;
}

function unquote(quoted: string): string {
  try {
    return String(JSON.parse(quoted));
  } catch {
    // A pattern written by hand may be unbalanced; it then names no key, which is the harmless reading.
    return quoted;
  }
}

/** Whether a path matches a pattern: `*` is one part, `**` any number including none; within a part `*` is any text. */
export function matchesPath(path: readonly string[], pattern: readonly string[]): boolean {
  const [head, ...rest] = pattern;
  if (head === undefined) return path.length === 0;
  if (head === "**") {
    for (let skip = 0; skip <= path.length; skip++) if (matchesPath(path.slice(skip), rest)) return true;
    return false;
  }
  const first = path[0];
  return first !== undefined && matchesGlob(first, head) && matchesPath(path.slice(1), rest);
}

/** Whether a name matches a pattern in which `*` matches any text. */
export function matchesGlob(name: string, pattern: string): boolean {
  if (pattern === "*" || pattern === name) return true;
  if (!pattern.includes("*")) return false;
  const pieces = pattern.split("*").map((piece) => piece.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return new RegExp(`^${pieces.join("[^]*")}$`).test(name);
}
