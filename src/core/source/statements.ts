/** Statements of languages with blocks: their lines are the executable ones, and probes are put before them. */
import type { Node } from "web-tree-sitter";

/** How a language's syntax trees hold statements. */
export type StatementRules = {
  /** Nodes whose children are statements. */
  readonly blocks: readonly string[];
  /** The block of a whole file, whose statements run when it is loaded. */
  readonly top?: string;
  /** Nodes whose children are statements, except for these fields, such as a case's value. */
  readonly clauses: Readonly<Record<string, readonly string[]>>;
  /** Node → fields that may hold a single statement without a block; `*` is the last child. */
  readonly bodies: Readonly<Record<string, readonly string[]>>;
  /** Nodes other than blocks that contain clauses, such as a switch body. */
  readonly holders?: readonly string[];
  /** Labelled statements. */
  readonly labels: readonly string[];
  /** Children of blocks that are not executable. */
  readonly skipped: readonly string[];
  /** True for a node that is not executable, such as a declaration without an initialiser. */
  readonly isIdle?: (node: Node) => boolean;
  /** Nodes that precede the statement they belong to: attributes. */
  readonly heads?: readonly string[];
  /** Nodes that must not contain added calls, such as code evaluated at compile time. */
  readonly without?: { readonly types: readonly string[]; readonly test: (node: Node) => boolean };
};

/** A statement: start and end offsets, line from 1, whether it is an unbraced body, and whether loading the file runs it. */
export type Statement = {
  readonly from: number;
  readonly to: number;
  readonly line: number;
  readonly isBody: boolean;
  readonly isTop: boolean;
};

/** The types of nodes that `findStatements` asks for. */
export const statementNodes = (rules: StatementRules): string[] => [
  ...rules.blocks,
  ...Object.keys(rules.clauses),
  ...Object.keys(rules.bodies),
  ...rules.labels,
  ...(rules.without?.types ?? []),
];

type Find = (...types: readonly string[]) => readonly Node[];

/** All statements in the order of the text. `find` gives nodes by type. Cost: linear in the nodes found. */
export function findStatements(find: Find, rules: StatementRules): Statement[] {
  const untouched = (rules.without ? find(...rules.without.types) : []).filter((node) => rules.without?.test(node));
  const skipped = new Set(rules.skipped);
  const labels = new Set(rules.labels);
  const heads = new Set(rules.heads ?? []);
  const blocks = new Set(rules.blocks);
  // After a syntax error the tree inside the block is unreliable.
  const unread = find(...rules.blocks).filter((node) => node.hasError);
  const left = [...untouched, ...unread].map(({ startIndex, endIndex }) => [startIndex, endIndex] as const);
  const found = new Map<number, Statement>();
  const add = (node: Node, head: Node | null, { isBody = false, isTop = false }) => {
    if (skipped.has(node.type) || rules.isIdle?.(node) || labels.has(node.type)) return;
    const from = (head ?? node).startIndex;
    if (found.has(from) || left.some(([start, end]) => from >= start && from < end)) return;
    found.set(from, { from, to: node.endIndex, line: node.startPosition.row + 1, isBody, isTop });
  };
  const addChildren = (children: readonly Node[], isTop = false) => {
    let head: Node | null = null;
    for (const child of children) {
      if (heads.has(child.type)) head ??= child;
      else {
        add(child, head, { isTop });
        head = null;
      }
    }
  };
  for (const block of find(...rules.blocks)) addChildren(namedOf(block), block.type === rules.top);
  // A clause or label that is an unbraced body cannot take a second statement.
  const holds = new Set([...rules.blocks, ...Object.keys(rules.clauses), ...(rules.holders ?? [])]);
  for (const [type, fields] of Object.entries(rules.clauses)) {
    for (const clause of find(type)) {
      if (!holds.has(clause.parent?.type ?? "")) continue;
      const aside = new Set(fields.flatMap((field) => clause.childrenForFieldName(field).map((node) => node?.id)));
      addChildren(namedOf(clause).filter(({ id }) => !aside.has(id)));
    }
  }
  for (const [type, fields] of Object.entries(rules.bodies)) {
    for (const node of find(type)) {
      for (const field of fields) {
        const body = field === "*" ? namedOf(node).at(-1) : node.childForFieldName(field);
        if (body && !blocks.has(body.type)) add(body, null, { isBody: true });
      }
    }
  }
  for (const node of rules.labels.length > 0 ? find(...rules.labels) : []) {
    if (!holds.has(node.parent?.type ?? "")) continue;
    const inner = namedOf(node).at(-1);
    if (inner && inner.startIndex > node.startIndex && !blocks.has(inner.type)) add(inner, null, {});
  }
  return [...found.values()].sort((left, right) => left.from - right.from);
}

const namedOf = (node: Node): Node[] => node.namedChildren.filter((child) => child !== null);

/** Lines on which a statement begins, ascending. */
export const statementLines = (statements: readonly Statement[]): number[] =>
  [...new Set(statements.map(({ line }) => line))].sort((left, right) => left - right);

/**
 * A text with a call before each statement; lines stay where they are. `probe` gives the call's text for the number of a
 * statement; a statement without a block gets one, between `{` and `}`.
 */
export function putProbes(text: string, statements: readonly Statement[], probe: (index: number) => string): string {
  const additions = statements.flatMap(({ from, to, isBody }, index) => [
    { at: from, isEnd: false, text: `${isBody ? "{ " : ""}${probe(index)} ` },
    ...(isBody ? [{ at: to, isEnd: true, text: " }" }] : []),
  ]);
  additions.sort((left, right) => left.at - right.at || Number(right.isEnd) - Number(left.isEnd));
  let made = "";
  let done = 0;
  for (const addition of additions) {
    made += text.slice(done, addition.at) + addition.text;
    done = addition.at;
  }
  return made + text.slice(done);
}
