/** Probes in JavaScript and TypeScript sources, for recording a program's calls (record-run.mjs takes what they tell). */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { Node } from "web-tree-sitter";
import { languageIn } from "@/core/source/language-of";
import { childrenOf, fieldOf } from "@/core/source/section";
import { loadParser } from "@/engine/source/parse";

/** A file's text as it is on disk, and with its probes. */
export type ProbedFile = { readonly before: string; readonly after: string };

/** Probes for those of `files`, relative to `root`, that have functions; others are left out. Full path → its texts. */
export async function probeFiles(root: string, files: readonly string[]): Promise<Record<string, ProbedFile>> {
  const parse = await loadParser(["javascript", "typescript", "tsx"]);
  const found: Record<string, ProbedFile> = {};
  for (const file of files) {
    const full = path.join(root, file);
    const before = await readFile(full, "utf8").catch(() => null);
    const language = before === null ? null : languageIn(file, before);
    const tree = before === null || language === null ? null : parse(before, /x$/.test(file) ? "tsx" : language);
    if (!tree || before === null) continue;
    try {
      const after = tree.root.hasError ? null : probeText(tree.root, before, file);
      if (after !== null) found[full] = { before, after };
    } finally {
      tree.free();
    }
  }
  return found;
}

type Section = {
  readonly name: string;
  readonly kind: "call" | "new" | "method" | "get";
  readonly owner: string | null;
  readonly isGenerator: boolean;
};

/** A text to put in at an offset; those at one offset come in the order of their making. */
type Insertion = { readonly at: number; readonly text: string };

const PROBES = "__sideTwinProbes";
const CALL = "__sideTwinCall";
const END = "__sideTwinEnd";

/** The text with probes, on the same lines; null where there is no function to record. */
export function probeText(root: Node, text: string, file: string): string | null {
  const probes = new Probes();
  for (const node of childrenOf(root)) probes.statement(node);
  if (probes.sections.length === 0) return null;
  const list = probes.sections.map(({ name, kind, owner, isGenerator }) => [name, kind, owner, isGenerator]);
  const head = `const ${PROBES}=process.__sideTwin?.(${JSON.stringify(file)},${JSON.stringify(list)}),${END}=(call,value)=>{if(call!==null)call.end(value);return value};`;
  const insertions = [{ at: startOf(root, text), text: head }, ...probes.insertions];
  let made = "";
  let from = 0;
  // Offsets of the tree count UTF-16 units, as those of the text do.
  for (const { at, text: put } of insertions.sort((left, right) => left.at - right.at)) {
    made += text.slice(from, at) + put;
    from = at;
  }
  return made + text.slice(from);
}

/** Behind a line for the shell and directives, which must stay first. */
function startOf(root: Node, text: string): number {
  const shell = /^\uFEFF?#![^\n]*\n/.exec(text)?.[0].length ?? 0;
  const directives = childrenOf(root).filter(({ type }) => type !== "comment" && type !== "hash_bang_line");
  return afterDirectives(directives, shell);
}

function afterDirectives(statements: readonly Node[], start: number): number {
  let at = start;
  for (const node of statements) {
    if (node.type !== "expression_statement" || node.namedChildren[0]?.type !== "string") break;
    at = node.endIndex;
  }
  return at;
}

class Probes {
  readonly sections: Section[] = [];
  readonly insertions: Insertion[] = [];

  private put(at: number, text: string): void {
    this.insertions.push({ at, text });
  }

  private add(name: string, kind: Section["kind"], owner: string | null, isGenerator = false): number {
    return this.sections.push({ name, kind, owner, isGenerator }) - 1;
  }

  statement(node: Node): void {
    switch (node.type) {
      case "export_statement": {
        const inner = node.childForFieldName("declaration");
        if (inner) this.statement(inner);
        return;
      }
      case "function_declaration":
      case "generator_function_declaration":
        this.functionNamed(node.childForFieldName("name")?.text, node);
        return;
      case "lexical_declaration":
      case "variable_declaration":
        for (const child of childrenOf(node))
          this.valueNamed(child.childForFieldName("name")?.text, child.childForFieldName("value"));
        return;
      case "class_declaration":
        this.classBody(node);
        return;
      case "expression_statement":
        this.assignment(node.namedChildren[0]);
        return;
    }
  }

  /** `exports.f = …`, `module.exports = { f, … }`. */
  private assignment(node: Node | null | undefined): void {
    if (node?.type !== "assignment_expression") return;
    const left = node.childForFieldName("left")?.text ?? "";
    const right = node.childForFieldName("right");
    const name = /^(?:module\.)?exports\.([\w$]+)$/.exec(left)?.[1];
    if (name !== undefined) this.valueNamed(name, right);
    if (left !== "module.exports" || right?.type !== "object") return;
    for (const child of childrenOf(right)) {
      if (child.type === "pair")
        this.valueNamed(child.childForFieldName("key")?.text, child.childForFieldName("value"));
      if (child.type === "method_definition") this.functionNamed(child.childForFieldName("name")?.text, child);
    }
  }

  private valueNamed(name: string | undefined, value: Node | null): void {
    if (value?.type === "class") this.classBody(value, name);
    else if (value && /^(arrow_function|function_expression|generator_function)$/.test(value.type))
      this.functionNamed(name, value);
  }

  private functionNamed(name: string | undefined, node: Node): void {
    if (name === undefined || !/^[\w$]+$/.test(name)) return;
    const given = node.type === "arrow_function" ? namesOf(node) : "arguments";
    if (given === null) return;
    this.body(node, this.add(name, "call", null, isGenerator(node)), `${given},null`);
  }

  private classBody(node: Node, named?: string): void {
    const owner = node.childForFieldName("name")?.text ?? named;
    const body = node.childForFieldName("body");
    if (owner === undefined || !body) return;
    const methods = childrenOf(body).filter(({ type }) => type === "method_definition");
    for (const method of methods) this.method(owner, method);
    if (methods.some((method) => method.childForFieldName("name")?.text === "constructor")) return;
    const index = this.add(`${owner}.constructor`, "new", owner);
    const entry = `const ${CALL}=${enter(index, "__given,new.target")};`;
    const parent = childrenOf(node).some(({ type }) => type === "class_heritage") ? "super(...__given);" : "";
    this.put(body.startIndex + 1, `constructor(...__given){${entry}${parent}${MADE}}`);
  }

  private method(owner: string, node: Node): void {
    const name = node.childForFieldName("name")?.text ?? "";
    const words = new Set((node.children ?? []).map((child) => child?.type));
    const body = node.childForFieldName("body");
    if (!/^[\w$]+$/.test(name) || words.has("set") || !body) return;
    if (name === "constructor") {
      if (returnsOf(body).length > 0) return;
      const index = this.add(`${owner}.constructor`, "new", owner);
      this.put(entryOf(body), `const ${CALL}=${enter(index, "arguments,new.target")};`);
      this.put(body.endIndex - 1, `;${MADE}`);
      return;
    }
    if (words.has("static")) {
      this.body(node, this.add(`${owner}.${name}`, "call", owner, isGenerator(node)), "arguments,null");
    } else if (!isGenerator(node)) {
      this.body(node, this.add(`${owner}.${name}`, words.has("get") ? "get" : "method", owner), "arguments,this");
    }
  }

  /** Results pass through the probe; a missing result means an error was thrown. Errors are not rethrown, so their place is kept. */
  private body(node: Node, index: number, given: string): void {
    const body = node.childForFieldName("body");
    if (!body) return;
    const entry = `const ${CALL}=${enter(index, given)};`;
    const left = `}finally{${CALL}?.leave()}`;
    if (body.type !== "statement_block") {
      this.put(body.startIndex, `{${entry}try{return ${END}(${CALL},(`);
      this.put(body.endIndex, `))${left}}`);
      return;
    }
    if (this.sections[index]?.isGenerator) {
      this.put(entryOf(body), entry);
      return;
    }
    this.put(entryOf(body), `${entry}try{`);
    for (const statement of returnsOf(body)) {
      const value = childrenOf(statement).find(({ type }) => type !== "comment");
      if (value) {
        this.put(value.startIndex, `${END}(${CALL},(`);
        this.put(value.endIndex, "))");
      } else this.put(statement.startIndex + "return".length, ` ${END}(${CALL},undefined)`);
    }
    this.put(body.endIndex - 1, `;${CALL}?.end(undefined);${left}`);
  }
}

const enter = (index: number, given: string): string => `${PROBES}?${PROBES}.enter(${index},${given}):null`;
const MADE = `${CALL}?.made(this);`;

const isGenerator = (node: Node): boolean =>
  node.type.startsWith("generator_") || (node.children ?? []).some((child) => child?.type === "*");

/** Offset at which a body's first statement can be inserted. */
const entryOf = (body: Node): number => afterDirectives(childrenOf(body), body.startIndex + 1);

const NESTED =
  /^(function_declaration|generator_function_declaration|function_expression|generator_function|arrow_function|method_definition|class|class_declaration)$/;

/** The `return` statements of a function itself. */
function returnsOf(body: Node): Node[] {
  return childrenOf(body).flatMap((node) => {
    if (NESTED.test(node.type)) return [];
    return node.type === "return_statement" ? [node] : returnsOf(node);
  });
}

/** The parameters of an arrow function, which has no `arguments`; null where one of them has no name. */
function namesOf(node: Node): string | null {
  const single = node.childForFieldName("parameter");
  if (single) return `[${single.text}]`;
  const names = childrenOf(node.childForFieldName("parameters"))
    .filter(({ type }) => type !== "comment")
    .map(parameterName);
  return names.includes(null) ? null : `[${names.join(",")}]`;
}

function parameterName(node: Node): string | null {
  if (node.type === "identifier") return node.text;
  if (node.type === "assignment_pattern") return plainName(node.childForFieldName("left"));
  if (node.type === "rest_pattern") return plainName(node.namedChildren[0], "...");
  if (node.type !== "required_parameter" && node.type !== "optional_parameter") return null;
  const [pattern] = fieldOf(node, "pattern");
  return pattern ? parameterName(pattern) : null;
}

const plainName = (node: Node | null | undefined, before = ""): string | null =>
  node?.type === "identifier" ? `${before}${node.text}` : null;
