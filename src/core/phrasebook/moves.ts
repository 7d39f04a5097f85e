/** Files that move or get another name, and the relative imports that follow them (formats, 19.11). */

import type { Node } from "web-tree-sitter";
import type { Phrase } from "@/core/formats/phrasebook";
import { convertName } from "@/core/pairing/naming";
import { fitsText, type TestPattern } from "@/core/phrasebook/blanks";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { importsOf } from "@/core/phrasebook/imports";
import { parseTemplate } from "@/core/phrasebook/template";

export type Move = { readonly phrase: string; readonly from: string; readonly to: string };

/** Matches a path; returns the content of its blanks, or null where the path does not fit. */
export function matchPath(file: string, pattern: string): ReadonlyMap<string, string> | null {
  const seen = new Set<string>();
  const body = parseTemplate(pattern)
    .map((part) => {
      if (part.kind === "text") return part.text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
      if (part.name === "_") return part.isList ? ".+?" : "[^/]+?";
      if (seen.has(part.name)) return `\\k<${part.name}>`;
      seen.add(part.name);
      return `(?<${part.name}>${part.isList ? ".+?" : "[^/]+?"})`;
    })
    .join("");
  const match = new RegExp(`^${body}$`, "u").exec(file);
  return match ? new Map(Object.entries(match.groups ?? {})) : null;
}

/** Where a file goes; null where the phrase does not match it, and the reason where a blank has no turn. */
export function targetOf(
  file: string,
  phrase: Phrase,
  test: TestPattern,
): { readonly to: string } | { readonly open: string } | null {
  const held = matchPath(file, phrase.from);
  if (!held || ![...held].every(([name, text]) => fitsText(phrase, name, text, test))) return null;
  let to = "";
  for (const part of parseTemplate(phrase.to)) {
    if (part.kind === "text") {
      to += part.text;
      continue;
    }
    let text = held.get(part.name) ?? "";
    const blank = phrase.blanks[part.name];
    if (blank?.turn) {
      const turned = Object.hasOwn(blank.turn, text) ? blank.turn[text] : undefined;
      if (turned === undefined) return { open: `no turn for ${text}` };
      text = turned;
    } else {
      if (blank?.strip !== undefined && text.startsWith(blank.strip)) text = text.slice(blank.strip.length);
      else if (blank?.strip !== undefined && text.endsWith(blank.strip)) text = text.slice(0, -blank.strip.length);
      if (blank?.style !== undefined)
        text = text
          .split("/")
          .map((name) => convertName(name, blank.style ?? "same"))
          .join("/");
    }
    to += text;
  }
  return { to };
}

/** Whether a file holds what a phrase asks for: markup, a type of node, or a text. */
export function hasContent(disk: string, language: string | null, wanted: string, parse: ParseText): boolean {
  const tree =
    language === null ? null : parse(disk, language === "javascript" || language === "typescript" ? "tsx" : language);
  if (!tree) return wanted !== "markup" && disk.includes(wanted);
  try {
    if (wanted === "markup") return hasType(tree.root, /^jsx_|^element$|markup/);
    if (/^[a-z_]+$/.test(wanted) && hasType(tree.root, new RegExp(`^${wanted}$`))) return true;
    return disk.includes(wanted);
  } finally {
    tree.free();
  }
}

function hasType(root: Node, types: RegExp): boolean {
  const open = [root];
  for (let node = open.pop(); node; node = open.pop()) {
    if (types.test(node.type)) return true;
    for (const child of node.namedChildren) if (child) open.push(child);
  }
  return false;
}

const SCRIPT_ENDINGS = [".js", ".jsx", ".mjs", ".cjs", ".ts", ".tsx", ".mts", ".cts", ".json", ".css"];

const folderOf = (file: string): string => file.slice(0, Math.max(0, file.lastIndexOf("/")));

function resolve(folder: string, specifier: string): string {
  const parts = folder === "" ? [] : folder.split("/");
  for (const part of specifier.split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  return parts.join("/");
}

function relative(folder: string, file: string): string {
  const [from, to] = [folder === "" ? [] : folder.split("/"), file.split("/")];
  let shared = 0;
  while (shared < from.length && from[shared] === to[shared]) shared++;
  const up = "../".repeat(from.length - shared);
  return `${up === "" ? "./" : up}${to.slice(shared).join("/")}`;
}

/** The edits of a file's relative imports: `was` and `is` are its own path before and after. */
export function importsAfterMoves(
  disk: string,
  language: string | null,
  at: { readonly was: string; readonly is: string },
  terms: {
    readonly moves: ReadonlyMap<string, string>;
    readonly files: ReadonlySet<string>;
    readonly parse: ParseText;
  },
): { readonly from: number; readonly to: number; readonly text: string }[] {
  const tree = language === null ? null : terms.parse(disk, language);
  if (!tree || language === null) return [];
  try {
    const places = [...importsOf(tree.root, disk, language), ...callsOf(tree.root)];
    const edits = new Map<number, { from: number; to: number; text: string }>();
    for (const place of places) {
      const text = disk.slice(place.from, place.to);
      for (const match of text.matchAll(/(["'`<])([^"'`<>\n]+)(["'`>])/g)) {
        const specifier = match[2] ?? "";
        const isBare =
          language === "c" ||
          language === "cpp" ||
          (language === "ruby" && /require_relative/.test(text)) ||
          language === "css";
        if (!specifier.startsWith(".") && !isBare) continue;
        const changed = follow(specifier, at, terms);
        if (changed === null) continue;
        const from = place.from + match.index + 1;
        const spelled = isBare && !specifier.startsWith(".") ? changed.replace(/^\.\//, "") : changed;
        edits.set(from, { from, to: from + specifier.length, text: spelled });
      }
    }
    return [...edits.values()].sort((a, b) => a.from - b.from);
  } finally {
    tree.free();
  }
}

/** `import("./a")`, `require("./a")` within code. */
function callsOf(root: Node): { readonly from: number; readonly to: number }[] {
  return root.descendantsOfType(["call_expression", "call"]).flatMap((node) => {
    if (!node) return [];
    const callee = node.childForFieldName("function")?.text ?? node.childForFieldName("method")?.text ?? "";
    return /^(?:import|require|require_relative|jest\.mock|vi\.mock)$/.test(callee)
      ? [{ from: node.startIndex, to: node.endIndex }]
      : [];
  });
}

/** The specifier after the moves; null where it stays. A path without an ending stays so. */
function follow(
  specifier: string,
  at: { readonly was: string; readonly is: string },
  { moves, files }: { readonly moves: ReadonlyMap<string, string>; readonly files: ReadonlySet<string> },
): string | null {
  const plain = resolve(folderOf(at.was), specifier);
  const target = files.has(plain)
    ? { file: plain, ending: null as string | null, index: "" }
    : candidates(plain).find(({ file }) => files.has(file));
  if (!target) return null;
  const moved = moves.get(target.file) ?? target.file;
  if (moved === target.file && folderOf(at.was) === folderOf(at.is)) return null;
  const [before, after] = [endingOf(target.file), endingOf(moved)];
  let path = relative(folderOf(at.is), moved);
  if (target.ending !== null) path = path.slice(0, path.length - after.length);
  // TypeScript is imported under the ending that its JavaScript has.
  else if (/^\.[cm]?jsx?$/.test(before) && /^\.[cm]?tsx?$/.test(after))
    path = `${path.slice(0, path.length - after.length)}${before}`;
  if (target.index !== "" && path.endsWith(target.index)) path = path.slice(0, path.length - target.index.length);
  return path === specifier ? null : path;
}

const endingOf = (file: string): string => /\.[^./]+$/.exec(file)?.[0] ?? "";

/** Files that a path without an ending, or with that of compiled code, may mean. */
function candidates(plain: string): { file: string; ending: string | null; index: string }[] {
  const compiled = /^(.*)\.([cm]?)jsx?$/.exec(plain);
  return [
    ...SCRIPT_ENDINGS.map((ending) => ({ file: `${plain}${ending}`, ending: ending as string | null, index: "" })),
    ...SCRIPT_ENDINGS.map((ending) => ({
      file: `${plain}/index${ending}`,
      ending: ending as string | null,
      index: "/index",
    })),
    ...(compiled
      ? [`${compiled[1]}.${compiled[2]}ts`, `${compiled[1]}.tsx`].map((file) => ({ file, ending: null, index: "" }))
      : []),
    { file: `${plain}.rb`, ending: ".rb", index: "" },
  ];
}
