/** Source text → sections and colours, through the tree-sitter grammars. The parser sits behind this one file. */
import { createRequire } from "node:module";
import path from "node:path";
import { Language, Parser } from "web-tree-sitter";
import { highlight, type Span } from "@/core/source/highlight";
import { findLanguage } from "@/core/source/languages/index";
import type { Import, Section } from "@/core/source/section";
import { packageRoot } from "@/engine/files/package-root";

export type ParsedSource = {
  readonly lines: readonly string[];
  readonly sections: readonly Section[];
  readonly imports: readonly Import[];
  /** Lines on which a statement begins; empty where the language does not tell. */
  readonly statementLines: readonly number[];
  readonly spans: readonly (readonly Span[])[];
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
  const loading = (async () => {
    const require = createRequire(path.join(packageRoot(), "package.json"));
    const folder = path.dirname(require.resolve("@vscode/tree-sitter-wasm/package.json"));
    const language = await Language.load(path.join(folder, "wasm", grammar));
    return new Parser().setLanguage(language);
  })();
  parsers.set(grammar, loading);
  return loading;
}

/** Lines of a text without their endings; a final line ending makes no empty line. */
function splitLines(text: string): string[] {
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.at(-1) === "") lines.pop();
  return lines;
}

/** Parses a file's text; a language that is not read gives lines without sections. Cost: linear in the text. */
export async function parseSource(
  text: string,
  languageName: string | null,
  options = { colours: true },
): Promise<ParsedSource> {
  const lines = splitLines(text);
  const language = languageName === null ? null : findLanguage(languageName);
  if (!language)
    return { lines, sections: [], imports: [], statementLines: [], spans: lines.map(() => []), errorLine: null };
  const parser = await parserFor(language.grammar);
  const tree = parser.parse(text);
  if (!tree) return { lines, sections: [], imports: [], statementLines: [], spans: lines.map(() => []), errorLine: 1 };
  try {
    const { rootNode } = tree;
    return {
      lines,
      sections: language.findSections(rootNode),
      imports: language.findImports(rootNode),
      statementLines: language.findStatementLines?.(rootNode) ?? [],
      spans: options.colours ? highlight(rootNode, lines) : [],
      errorLine: rootNode.hasError ? firstError(rootNode) : null,
    };
  } finally {
    // The tree lives outside the JavaScript heap and is not collected by itself.
    tree.delete();
  }
}

type TreeNode = Parameters<typeof highlight>[0];

function firstError(node: TreeNode): number {
  for (const child of node.children) {
    if (!child) continue;
    if (child.isError || child.isMissing) return child.startPosition.row + 1;
    if (child.hasError) return firstError(child);
  }
  return node.startPosition.row + 1;
}
