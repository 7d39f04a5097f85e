/**
 * Compiles a text that differs from a compiled one within a single top-level function, class or constant: only this piece
 * is compiled, and put into the code of the rest. Trying small changes of a long file takes a fraction of the time so.
 */
import vm from "node:vm";

/** Where a piece begins: a declaration at the start of a line. */
const HEAD = /^(?:export +)?(?:(?:async +)?function\*? +|class +|const +|let +|var +)([\p{L}_$][\p{L}\p{N}_$]*)/u;
const CUT = "side twin: a piece";
/** Code that is not the same in a piece alone: what the compiler rewrites, and types that become code. */
const BOUND = /\bimport\b|\bexport +default\b|\b(?:enum|namespace)\b|@[\p{L}_$]/u;
const MAX_KEPT = 64;

/**
 * `compileWhole` and `compilePiece` take a file and a text and return code; the second's text has no imports or exports.
 * Returns a function that compiles `source`, or returns null where it is not known to differ from `base` in one piece.
 */
export function createPieces({ compileWhole, compilePiece }) {
  /** File, base and piece → the code around it; null where it has none. */
  const around = new Map();

  return function compile(file, base, source) {
    if (base === source) return null;
    const piece = pieceOf(base, source);
    if (!piece || BOUND.test(piece.text) || BOUND.test(piece.before)) return null;
    const key = `${file}\0${piece.from}\0${piece.to}\0${base}`;
    let code = around.get(key);
    if (code === undefined) {
      if (around.size >= MAX_KEPT) around.clear();
      code = codeAround(file, base, piece);
      around.set(key, code);
    }
    return code && code.head + compilePiece(file, piece.text) + code.tail;
  };

  function codeAround(file, base, { from, to, name, before }) {
    const imported = [...base.matchAll(/^import\b([^;"']*)/gm)].flatMap(
      ([, names]) => names.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu) ?? [],
    );
    if (
      imported.some((word) =>
        new RegExp(`(?<![\\p{L}\\p{N}_$])${word.replaceAll("$", "\\$")}(?![\\p{L}\\p{N}_$])`, "u").test(before),
      )
    )
      return null;
    const isExported = /^export\b/.test(base.slice(from));
    const whole = `${base.slice(0, from)}${isExported ? "export " : ""}let ${name} = ${JSON.stringify(CUT)};\n${base.slice(to)}`;
    try {
      const code = compileWhole(file, whole);
      const cut = new RegExp(`^let ${name.replaceAll("$", "\\$")} = ${JSON.stringify(CUT)};$`, "m").exec(code);
      if (!cut) return null;
      const made = { head: code.slice(0, cut.index), tail: code.slice(cut.index + cut[0].length) };
      // A wrong guess at where the piece ends shows in the text that is known to compile.
      new vm.Script(`(function () {${made.head}${compilePiece(file, before)}${made.tail}\n})`);
      return made;
    } catch {
      return null;
    }
  }
}

/** The piece of the base in which two texts differ, without `export`; null where they differ in more. */
function pieceOf(base, source) {
  let start = 0;
  const shorter = Math.min(base.length, source.length);
  while (start < shorter && base.charCodeAt(start) === source.charCodeAt(start)) start++;
  let same = 0;
  while (
    same < shorter - start &&
    base.charCodeAt(base.length - 1 - same) === source.charCodeAt(source.length - 1 - same)
  )
    same++;
  const end = base.length - same;
  let from = base.lastIndexOf("\n", Math.max(0, start - 1)) + 1;
  while (from > 0 && !HEAD.test(lineAt(base, from))) from = base.lastIndexOf("\n", from - 2) + 1;
  const head = HEAD.exec(lineAt(base, from));
  // The declared name must be the same: others use it.
  if (!head || start < from + head[0].length) return null;
  let to = base.indexOf("\n", Math.max(end, start)) + 1;
  while (to > 0 && to < base.length && !/^[^\s})\]]/.test(base.slice(to, to + 1))) to = base.indexOf("\n", to) + 1;
  if (to <= 0) to = base.length;
  const plain = (text) => text.replace(/^export +/, "");
  const text = plain(source.slice(from, source.length - (base.length - to)));
  return { from, to, name: head[1], before: plain(base.slice(from, to)), text };
}

function lineAt(text, from) {
  const end = text.indexOf("\n", from);
  return text.slice(from, end === -1 ? text.length : end);
}
