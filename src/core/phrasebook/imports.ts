/** Imports of a file after all phrases: those that nothing uses any more go, those that are lacking come (formats, 19.8). */
import type { Node } from "web-tree-sitter";
import type { Phrase } from "@/core/formats/phrasebook";
import { isMember, leavesOf } from "@/core/phrasebook/free-names";
import { type ImportForm, isSameModule, parseImport, withoutNames } from "@/core/phrasebook/import-lines";
import { isCommentType, type Range } from "@/core/phrasebook/syntax";
import { lineEndOf } from "@/core/phrasebook/tracked-text";

const IMPORT_TYPES = [
  "import_statement",
  "import_from_statement",
  "import_declaration",
  "import_spec",
  "preproc_include",
  "use_declaration",
  "namespace_use_declaration",
  "using_directive",
];

type Statement = Range & { readonly form: ImportForm };

/** From one point of a text to another. */
type Points = readonly [from: Node["startPosition"], to: Node["endPosition"]];

/** The import statements of a tree, in the order of the text; with `between` those that meet that part of it. */
export function importsOf(root: Node, source: string, language: string, between?: Points): Statement[] {
  const wanted = language === "ruby" ? ["call"] : language === "css" ? ["import_statement"] : IMPORT_TYPES;
  const nodes = root.descendantsOfType(
    language.startsWith("java") && language !== "java"
      ? [...wanted, "lexical_declaration", "variable_declaration"]
      : wanted,
    ...(between ?? []),
  );
  const found: Statement[] = [];
  for (const node of nodes) {
    if (!node || (node.type === "import_declaration" && language === "go")) continue;
    const text = source.slice(node.startIndex, node.endIndex);
    const form =
      /^(?:call|lexical_declaration|variable_declaration)$/.test(node.type) && !/\brequire/.test(text)
        ? null
        : parseImport(text, language);
    if (form) found.push({ from: node.startIndex, to: trimmedEnd(source, node.startIndex, node.endIndex), form });
  }
  return found;
}

/** Root of a tree → its imports: looking for them walks the whole tree. */
const known = new WeakMap<Node, readonly Range[]>();

/** Ranges in which nothing is a place of code: import statements, whole. Found once a tree. */
export function importRanges(root: Node, source: string, language: string): readonly Range[] {
  const before = known.get(root);
  if (before) return before;
  const found = rangesOf(root, source, language);
  known.set(root, found);
  return found;
}

/** Whether a range meets an import statement. Cost: the nodes of that range. */
export function meetsImport(root: Node, { from, to }: Range, source: string, language: string): boolean {
  const [first, last] = [root.descendantForIndex(from), root.descendantForIndex(Math.max(from, to - 1))];
  if (!first || !last) return false;
  const found = rangesOf(root, source, language, [first.startPosition, last.endPosition]);
  return found.some((range) => range.from < to && from < range.to);
}

function rangesOf(root: Node, source: string, language: string, between?: Points): Range[] {
  const blocks = language === "go" ? root.descendantsOfType(["import_declaration"], ...(between ?? [])) : [];
  return [
    ...importsOf(root, source, language, between),
    ...blocks.flatMap((node) => (node ? [{ from: node.startIndex, to: node.endIndex }] : [])),
  ];
}

const trimmedEnd = (source: string, from: number, to: number): number => from + source.slice(from, to).trimEnd().length;

export type ImportEdit = Range & { readonly text: string };

/**
 * The edits of a file's imports. `phrases` are those with a changed place in it, in their order; `stays` is whether a
 * place or mention of any phrase that drops an import without names is left in the file. Empty where nothing changes.
 */
export function importEdits(
  root: Node,
  source: string,
  terms: {
    readonly language: string;
    readonly phrases: readonly Phrase[];
    readonly stays: (drop: string) => boolean;
  },
): ImportEdit[] {
  const { language, phrases } = terms;
  const statements = importsOf(root, source, language);
  const lineEnd = lineEndOf(source);
  const edits: { from: number; to: number; text: string; lines: string[] }[] = [];
  const gone = new Map<Statement, Set<string>>();
  const wholly = new Set<Statement>();
  /** Statement → where what comes for it goes. */
  for (const phrase of phrases) {
    for (const drop of phrase.imports?.drop ?? []) {
      const wanted = parseImport(drop, language);
      if (!wanted) continue;
      for (const statement of statements) {
        if (!isSameModule(statement.form, wanted)) continue;
        if (wanted.names === null) {
          if (!terms.stays(drop)) wholly.add(statement);
          continue;
        }
        const names = wanted.names.map(({ name }) => name);
        for (const { name, local } of statement.form.names ?? []) {
          if (!names.includes(name) || isUsed(root, source, local, statements)) continue;
          gone.set(statement, (gone.get(statement) ?? new Set()).add(name));
        }
      }
    }
  }
  const removed = new Map<Statement, { lines: string[] }>();
  for (const statement of statements) {
    const names = gone.get(statement);
    const left = wholly.has(statement)
      ? null
      : names
        ? withoutNames(source.slice(statement.from, statement.to), statement.form, names)
        : undefined;
    if (left === undefined) continue;
    const edit = { from: statement.from, to: statement.to, text: left ?? "", lines: [] };
    if (left === null) removed.set(statement, edit);
    edits.push(edit);
  }
  const kept = statements.filter((statement) => !removed.has(statement)).map(({ form }) => form);
  const atEnd: string[] = [];
  for (const phrase of phrases) {
    const place = [...removed].find(([{ form }]) =>
      (phrase.imports?.drop ?? []).some((drop) => {
        const wanted = parseImport(drop, language);
        return (
          wanted &&
          isSameModule(form, wanted) &&
          (wanted.names === null || wanted.names.some(({ name }) => form.names?.some((own) => own.name === name)))
        );
      }),
    )?.[1];
    for (const add of phrase.imports?.add ?? []) {
      const form = parseImport(add, language);
      if (form ? kept.some((own) => covers(own, form)) : source.includes(add)) continue;
      if (form) kept.push(form);
      (place?.lines ?? atEnd).push(add);
    }
  }
  const last = statements.at(-1);
  // Where the last import itself goes, what comes after it takes its line.
  const lastGone = last && removed.get(last);
  if (lastGone && lastGone.lines.length === 0) lastGone.lines.push(...atEnd.splice(0));
  const whole = edits.map((edit) => {
    if (edit.text !== "") return edit;
    if (edit.lines.length > 0) return { ...edit, text: edit.lines.join(`${lineEnd}${indentAt(source, edit.from)}`) };
    return { ...wholeLines(source, edit.from, edit.to), text: "" };
  });
  if (atEnd.length === 0) return whole;
  const at = last ? last.to + (/^[ \t]*;/.exec(source.slice(last.to))?.[0].length ?? 0) : headEnd(root, source);
  const indent = last ? indentAt(source, last.from) : "";
  const text = last
    ? atEnd.map((line) => `${lineEnd}${indent}${line}`).join("")
    : `${atEnd.map((line) => `${line}${lineEnd}`).join("")}${at < source.length && !/^\s*\n/.test(source.slice(at)) ? lineEnd : ""}`;
  const rest = whole.filter(({ from, to }) => !(from < at && at < to));
  return [
    ...rest,
    { from: endOfLine(source, at, last !== undefined), to: endOfLine(source, at, last !== undefined), text },
  ].sort((a, b) => a.from - b.from || a.to - b.to);
}

/** After a comment behind the last import. */
function endOfLine(source: string, at: number, isAfter: boolean): number {
  if (!isAfter) return at;
  const rest = /^[^\r\n]*/.exec(source.slice(at))?.[0] ?? "";
  return at + rest.trimEnd().length;
}

const covers = (own: ImportForm, wanted: ImportForm): boolean =>
  own.module === wanted.module &&
  (wanted.names === null
    ? own.names === null || own.names.length >= 0
    : wanted.names.every(({ name, local }) =>
        own.names?.some((entry) => entry.name === name && entry.local === local),
      ));

/** Whether any code outside of imports uses a name. Members and keys of that name do not count. */
function isUsed(root: Node, source: string, name: string, statements: readonly Range[]): boolean {
  return leavesOf(root, source, name).some(
    (leaf) =>
      !isMember(leaf) &&
      !/string_content|string_fragment/.test(leaf.type) &&
      !statements.some(({ from, to }) => from <= leaf.startIndex && leaf.endIndex <= to),
  );
}

const indentAt = (source: string, at: number): string => {
  const start = source.lastIndexOf("\n", at - 1) + 1;
  return /^[ \t]*/.exec(source.slice(start, at))?.[0] ?? "";
};

/** The lines of a range with their end, where nothing else is on them; else the range alone. */
export function wholeLines(source: string, from: number, to: number): Range {
  const start = source.lastIndexOf("\n", from - 1) + 1;
  const end = source.indexOf("\n", to);
  const [before, after] = [source.slice(start, from), source.slice(to, end < 0 ? source.length : end)];
  if (before.trim() !== "" || !/^\s*;?\s*$/.test(after)) return { from, to };
  return { from: start, to: end < 0 ? source.length : end + 1 };
}

/** Where the first import of a file goes: after its head of comments, a docstring, a package clause. */
function headEnd(root: Node, source: string): number {
  let at = 0;
  for (const [index, child] of root.namedChildren.entries()) {
    if (!child) continue;
    const isDocstring = index <= 1 && child.type === "expression_statement" && /^["']{1,3}/.test(child.text);
    const isHead =
      isCommentType(child.type) ||
      isDocstring ||
      /^(?:package_clause|package_declaration|php_tag|hash_bang_line)$/.test(child.type);
    if (!isHead) break;
    const end = source.indexOf("\n", child.endIndex - 1);
    at = end < 0 ? source.length : end + 1;
  }
  return at;
}
