/** Source text → sections and colours, through the tree-sitter grammars. The parser sits behind this one file. */
import { createRequire } from "node:module";
import path from "node:path";
import { Edit, Language, type Node, Parser, type Tree } from "web-tree-sitter";
import type { ParsedTree } from "@/core/phrasebook/code-pattern";
import { highlight, type Span } from "@/core/source/highlight";
import { findLanguage } from "@/core/source/languages/index";
import type { FoundSection, Import, Section, SourceLanguage, TreeNodes } from "@/core/source/section";
import { findStatements, putProbes, statementLines, statementNodes } from "@/core/source/statements";
import { findUses } from "@/core/source/uses";
import { HEADERS } from "@/core/survey/c-headers";
import { codeWords } from "@/core/survey/code-words";
import type { FileFacts } from "@/core/survey/file-facts";
import { snagNames, snagSyntax } from "@/core/survey/snags/index";
import { packageRoot } from "@/engine/package-root";

/** A file taken apart; lines count from 1. */
export type ParsedSource = {
  readonly lines: readonly string[];
  readonly sections: readonly Section[];
  readonly imports: readonly Import[];
  /** Lines on which a statement begins; empty if the language does not report them. */
  readonly statementLines: readonly number[];
  /** Line of the first place that could not be parsed, from 1; null when all could. */
  readonly errorLine: number | null;
};

let started: Promise<void> | undefined;
const parsers = new Map<string, Promise<Parser>>();

async function parserFor(grammar: string): Promise<Parser> {
  started ??= Parser.init();
  await started;
  const known = parsers.get(grammar);
  if (known) return known;
  const loading = Language.load(grammarFile(grammar)).then((language) => new Parser().setLanguage(language));
  parsers.set(grammar, loading);
  return loading;
}

/** Collects the nodes of all requested types in one walk, since each walk costs a share of the parsing time. */
function gather(root: Node, source: string, types: readonly string[]): TreeNodes {
  const wanted = [...new Set(types)];
  const byType = new Map<string, Node[]>();
  for (const node of wanted.length > 0 ? root.descendantsOfType(wanted) : []) {
    if (!node) continue;
    const list = byType.get(node.type);
    if (list) list.push(node);
    else byType.set(node.type, [node]);
  }
  const find = (...of: readonly string[]) => {
    const lists = of.flatMap((type) => byType.get(type) ?? []);
    return of.length > 1
      ? lists.sort((one, other) => one.startIndex - other.startIndex || other.endIndex - one.endIndex)
      : lists;
  };
  return { root, source, find };
}

const statementTypesOf = ({ statements, statementTypes = [] }: SourceLanguage): readonly string[] =>
  statements ? statementNodes(statements) : statementTypes;

/** Lines of statements, and those among them that loading the file runs where the language's rules tell. */
type Statements = Pick<ParsedSource, "statementLines"> & { readonly loadLines: readonly number[] };

function statementLinesOf({ statements, findStatementLines }: SourceLanguage, nodes: TreeNodes): Statements {
  if (!statements) return { statementLines: findStatementLines?.(nodes) ?? [], loadLines: [] };
  const found = findStatements(nodes.find, statements);
  return { statementLines: statementLines(found), loadLines: statementLines(found.filter(({ isTop }) => isTop)) };
}

/** A text with a call before each statement, and the statements' lines; null for a language without rules for them. */
export function probeSource(
  root: Node,
  text: string,
  languageName: string,
  probe: (index: number) => string,
): { readonly text: string; readonly lines: readonly number[] } | null {
  const rules = findLanguage(languageName)?.statements;
  if (!rules) return null;
  const statements = findStatements(gather(root, text, statementNodes(rules)).find, rules);
  return { text: putProbes(text, statements, probe), lines: statements.map(({ line }) => line) };
}

/** Branch nodes; a keyword token such as `if` is not one, nor is `&&` of a C++ reference. */
const isBranch = (node: Node): boolean =>
  node.type === "&&"
    ? !/reference_declarator$/.test(node.parent?.type ?? "")
    : node.type.includes("_") || !/^[a-z]+$/.test(node.type) || WORDS.has(node.type) || node.isNamed;

/** Tokens that are words, and no types of nodes. */
const WORDS = new Set(["and", "or"]);

/** `name.wasm` is of the package of grammars; `package/name.wasm` of one of its own. */
function grammarFile(grammar: string): string {
  const require = createRequire(path.join(packageRoot(), "package.json"));
  const [owner = "", file] = grammar.includes("/")
    ? grammar.split("/")
    : ["@vscode/tree-sitter-wasm", `wasm/${grammar}`];
  return path.join(path.dirname(require.resolve(`${owner}/package.json`)), file ?? "");
}

/** Lines of a text without their endings; a final line ending makes no empty line. */
export function splitLines(text: string): string[] {
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.at(-1) === "") lines.pop();
  return lines;
}

/** Parses a file's text; a language that is not read gives lines without sections. Cost: linear in the text. */
export async function parseSource(text: string, languageName: string | null): Promise<ParsedSource> {
  const lines = splitLines(text);
  const language = languageName === null ? null : findLanguage(languageName);
  if (!language) return { lines, sections: [], imports: [], statementLines: [], errorLine: null };
  const parser = await parserFor(language.grammar);
  const tree = parser.parse(text);
  if (!tree) return { lines, sections: [], imports: [], statementLines: [], errorLine: 1 };
  try {
    const { rootNode } = tree;
    const { branches, importTypes } = language;
    const nodes = gather(rootNode, text, [...branches, ...importTypes, ...statementTypesOf(language)]);
    return {
      lines,
      sections: withComplexity(language.findSections(rootNode), nodes.find(...branches).filter(isBranch)),
      imports: language.findImports(nodes),
      statementLines: statementLinesOf(language, nodes).statementLines,
      errorLine: rootNode.hasError ? firstError(rootNode) : null,
    };
  } finally {
    // The tree lives outside the JavaScript heap and is not collected by itself.
    tree.delete();
  }
}

/** The statements of a text: none for a language without rules for them. Cost: linear in the text. */
export async function readStatements(text: string, languageName: string | null): Promise<Statements> {
  const language = languageName === null ? null : findLanguage(languageName);
  const tree = language && (await parserFor(language.grammar)).parse(text);
  if (!tree) return { statementLines: [], loadLines: [] };
  try {
    return statementLinesOf(language, gather(tree.rootNode, text, statementTypesOf(language)));
  } finally {
    tree.delete();
  }
}

/** The colours of a text, one list of spans a line; none for a language that is not read. Cost: linear in the text. */
export async function colourSource(
  lines: readonly string[],
  languageName: string | null,
): Promise<readonly (readonly Span[])[]> {
  const language = languageName === null ? null : findLanguage(languageName);
  const tree = language && (await parserFor(language.grammar)).parse(lines.join("\n"));
  if (!tree) return lines.map(() => []);
  try {
    return highlight(tree.rootNode, lines, language.colours);
  } finally {
    tree.delete();
  }
}

/**
 * Reads the facts of a file for the survey, without keeping its text. Null for unsupported languages. Linear in the
 * text.
 */
export async function readFileFacts(path: string, text: string, languageName: string): Promise<FileFacts | null> {
  const language = findLanguage(languageName);
  if (!language) return null;
  const parser = await parserFor(language.grammar);
  const tree = parser.parse(text);
  if (!tree) return null;
  try {
    const { rootNode } = tree;
    const { uses, branches, importTypes } = language;
    const syntax = snagSyntax(languageName);
    const scopes = uses.declares ? (uses.scopes ?? []) : [];
    const types = [...branches, ...importTypes, ...statementTypesOf(language), ...syntax, ...uses.imports, ...scopes];
    const nodes = gather(rootNode, text, types);
    const imports = language.findImports(nodes);
    const isC = languageName === "c" || languageName === "cpp";
    const names = [
      ...imports.flatMap(({ bindings }) => bindings.map(({ local }) => local)),
      ...(uses.roots ?? []),
      ...snagNames(languageName),
      ...(isC ? HEADERS.keys() : []),
    ];
    const isSeen = language.sharesFolder || language.findNamespace !== undefined;
    return {
      path,
      language: languageName,
      lines: splitLines(text).length,
      sections: withComplexity(language.findSections(rootNode), nodes.find(...branches).filter(isBranch)),
      imports,
      statementLines: statementLinesOf(language, nodes).statementLines,
      uses: findUses(nodes, names, uses),
      syntax: nodes.find(...syntax).map(({ type, startPosition }) => ({ type, line: startPosition.row + 1 })),
      namespace: language.findNamespace?.(rootNode) ?? null,
      words: isSeen ? codeWords(text, language) : [],
      isGenerated: GENERATED.test(text.slice(0, 2000)),
      errorLine: rootNode.hasError ? firstError(rootNode) : null,
    };
  } finally {
    tree.delete();
  }
}

/** Headers that generators write. */
const GENERATED = /@generated|\b(auto-?generated|code generated|do not edit|generated by)\b/i;

/** Each section's branches are those on its lines. Cost: sections and branches, sorted once. */
function withComplexity(sections: readonly FoundSection[], branches: readonly Node[]): Section[] {
  const rows = branches.map((node) => node.startPosition.row + 1).sort((one, other) => one - other);
  const before = (line: number) => {
    let [low, high] = [0, rows.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((rows[middle] ?? 0) < line) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return sections.map((section) => {
    const isCode = section.kind !== "constant";
    return { ...section, complexity: isCode ? 1 + before(section.to + 1) - before(section.from) : 1 };
  });
}

function firstError(node: Node): number {
  for (const child of node.children) {
    if (!child) continue;
    if (child.isError || child.isMissing) return child.startPosition.row + 1;
    if (child.hasError) return firstError(child);
  }
  return node.startPosition.row + 1;
}

/** Grammars of languages whose sections are not read. */
const OTHER_GRAMMARS: Readonly<Record<string, string>> = {
  css: "tree-sitter-css.wasm",
  bash: "tree-sitter-bash.wasm",
};

/** A parser of several languages that answers at once; null for a language without a grammar. The caller frees each tree. */
export async function loadParser(
  languages: Iterable<string>,
): Promise<(text: string, language: string) => ParsedTree | null> {
  const loaded = new Map<string, Parser>();
  for (const name of new Set(languages)) {
    const grammar = findLanguage(name)?.grammar ?? OTHER_GRAMMARS[name];
    if (grammar) loaded.set(name, await parserFor(grammar));
  }
  return (text, language) => {
    const parser = loaded.get(language);
    const tree = parser?.parse(text);
    return parser && tree ? parsedTree(parser, tree) : null;
  };
}

const parsedTree = (parser: Parser, tree: Tree): ParsedTree => ({
  root: tree.rootNode,
  free: () => tree.delete(),
  copy: () => parsedTree(parser, tree.copy()),
  edit: (source, edits) => {
    const ends = lineEndsOf(source);
    // From the last on, so that the places of those before stay.
    for (const { from, to, text } of [...edits].reverse()) {
      const start = pointAt(ends, from);
      const lines = text.split("\n");
      const last = lines.at(-1)?.length ?? 0;
      tree.edit(
        new Edit({
          startIndex: from,
          oldEndIndex: to,
          newEndIndex: from + text.length,
          startPosition: start,
          oldEndPosition: pointAt(ends, to),
          newEndPosition:
            lines.length === 1
              ? { row: start.row, column: start.column + last }
              : { row: start.row + lines.length - 1, column: last },
        }),
      );
    }
  },
  reparse: (text) => {
    const next = parser.parse(text, tree);
    tree.delete();
    return next && parsedTree(parser, next);
  },
});

/** Offsets of the line feeds. */
function lineEndsOf(source: string): number[] {
  const ends: number[] = [];
  for (let at = source.indexOf("\n"); at >= 0; at = source.indexOf("\n", at + 1)) ends.push(at);
  return ends;
}

/** Row and column of an offset, from 0; columns in units of UTF-16. Cost: logarithmic in the lines. */
function pointAt(ends: readonly number[], offset: number): { row: number; column: number } {
  let [low, high] = [0, ends.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((ends[middle] ?? 0) < offset) low = middle + 1;
    else high = middle;
  }
  return { row: low, column: offset - (low === 0 ? 0 : (ends[low - 1] ?? 0) + 1) };
}
