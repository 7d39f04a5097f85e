/** Drafts from Python into JavaScript and TypeScript. */
import type { Node } from "web-tree-sitter";
import { type Kind, NONE, UNKNOWN } from "@/core/drafting/kinds";
import type { DraftPair, PairInput, Translated } from "@/core/drafting/pair";
import { express } from "@/core/drafting/pairs/python-javascript/expressions";
import { helpersFor } from "@/core/drafting/pairs/python-javascript/helpers";
import { type Facts, Scope } from "@/core/drafting/pairs/python-javascript/scope";
import { annotated, comment, functionLines, paramsOf } from "@/core/drafting/pairs/python-javascript/statements";
import { childrenOf, textOf } from "@/core/source/section";

export const pythonJavascript: DraftPair = {
  from: "python",
  to: ["javascript", "typescript"],
  rename: (section) => section.replace(/\.__init__$/, ".constructor"),
  translate,
};

/** Each pass starts from the result and attribute types found by the one before. Most files need three. */
const MAX_PASSES = 12;

/** Translates only what is certain. Cost: a few passes over the text. */
function translate(input: PairInput): Translated {
  const facts: Facts = { callables: new Map(), attributes: new Map(), constants: new Map(), imported: new Map() };
  const lines = input.root.text.split("\n");
  declareAll(input.root, facts);
  let known = "";
  for (let pass = 1; pass < MAX_PASSES; pass++) {
    fileLines(new Scope(input, facts, lines));
    const now = JSON.stringify([facts.callables, facts.attributes, facts.constants].map((map) => [...map]));
    if (now === known) break;
    known = now;
  }
  const scope = new Scope(input, facts, lines);
  const text = fileLines(scope);
  return {
    text: `${text.join("\n")}\n`,
    unsaid: [...scope.unsaid]
      .sort((left, right) => left.line - right.line)
      .map(({ line, text: own, why }) => ({ line, text: own, why })),
    helpers: helpersFor(input.language),
  };
}

const definitionOf = (node: Node): Node =>
  node.type === "decorated_definition" ? (node.childForFieldName("definition") ?? node) : node;

function declareAll(root: Node, facts: Facts): void {
  for (const node of childrenOf(root)) {
    const own = definitionOf(node);
    const name = textOf(own, "name");
    if (own.type === "function_definition") declareFunction(own, name, facts);
    if (own.type !== "class_definition") continue;
    const methods = childrenOf(own.childForFieldName("body")).map(definitionOf);
    for (const method of methods.filter(({ type }) => type === "function_definition"))
      declareFunction(method, `${name}.${textOf(method, "name")}`, facts);
    const params = facts.callables.get(`${name}.__init__`)?.params ?? [];
    facts.callables.set(name, { params, returns: UNKNOWN, isPromised: true, isClass: true });
  }
}

function declareFunction(node: Node, name: string, facts: Facts): void {
  const params = (paramsOf(node) ?? []).map((param) => param.name);
  const returns = annotated(node.childForFieldName("return_type")?.text ?? null);
  facts.callables.set(name, {
    params: name.includes(".") ? params.slice(1) : params,
    returns,
    isPromised: returns.k !== "unknown",
    isClass: false,
  });
}

function fileLines(scope: Scope): string[] {
  const made: string[] = [];
  let end = -1;
  for (const node of childrenOf(scope.input.root)) {
    const lines = topLevel(node, scope);
    if (lines.length === 0) continue;
    // A blank line where the original has one.
    if (end !== -1 && node.startPosition.row > end + 1) made.push("");
    made.push(...lines);
    end = node.endPosition.row;
  }
  return made;
}

function topLevel(node: Node, scope: Scope): string[] {
  switch (node.type) {
    case "comment":
      return [`//${node.text.slice(1)}`];
    case "import_statement":
    case "import_from_statement":
      return imports(node, scope);
    case "function_definition":
      return sectionLines(node, "export ", scope);
    case "class_definition":
      return classLines(node, scope);
    case "decorated_definition":
      return left(node, "its decorator", scope);
    case "expression_statement": {
      const [only] = childrenOf(node);
      if (only?.type === "string") return comment(only);
      if (only?.type === "assignment") return constant(only, scope);
    }
  }
  return left(node, "what is run when the module is loaded", scope);
}

/** Untranslatable top-level code stays as a comment: a throw there would keep the whole file from loading. */
function left(node: Node, why: string, scope: Scope): string[] {
  scope.leave(node, why);
  const definition = definitionOf(node);
  const lines = node.text.split("\n").map((line) => `// not ported: ${line}`.trimEnd());
  if (definition.type !== "function_definition") return lines;
  const name = scope.spell(textOf(definition, "name"));
  const args = scope.input.language === "typescript" ? "..._args: any[]" : "..._args";
  const any = scope.input.language === "typescript" ? ": any" : "";
  return [
    ...lines,
    `export function ${name}(${args})${any} {`,
    `  notPorted(${JSON.stringify(textOf(definition, "name"))});`,
    "}",
  ];
}

function imports(node: Node, scope: Scope): string[] {
  const { imported } = scope.facts;
  if (node.type === "import_statement") {
    return childrenOf(node).flatMap((item) => {
      const name = item.type === "aliased_import" ? textOf(item, "alias") : item.text;
      imported.set(name, { isModule: true });
      return [];
    });
  }
  const from = textOf(node, "module_name");
  const named = node.childrenForFieldName("name").filter((item): item is Node => item !== null);
  return named.flatMap((item) => {
    const name = item.type === "aliased_import" ? textOf(item, "name") : item.text;
    const alias = item.type === "aliased_import" ? textOf(item, "alias") : name;
    const asModule = scope.input.importOf(/\.$/.test(from) ? `${from}${name}` : `${from}.${name}`, null);
    if (asModule !== null) {
      imported.set(alias, { isModule: true });
      return [`import * as ${scope.spell(alias)} from "${asModule}";`];
    }
    const file = scope.input.importOf(from, name);
    if (file === null) return [];
    imported.set(alias, { isModule: false });
    const [original, local] = [scope.spell(name), scope.spell(alias)];
    return [`import { ${original}${original === local ? "" : ` as ${local}`} } from "${file}";`];
  });
}

function constant(node: Node, scope: Scope): string[] {
  const [target, value] = [node.childForFieldName("left"), node.childForFieldName("right")];
  if (target?.type !== "identifier" || !value) return left(node, "what is given several values", scope);
  const before = scope.unsaid.length;
  const { code, kind } = express(value, scope);
  if (scope.unsaid.length > before) return left(node, scope.unsaid.at(-1)?.why ?? "its value", scope);
  scope.facts.constants.set(target.text, kind);
  const type = scope.input.language === "typescript" && kind.k === "dict" ? ": Record<string, any>" : "";
  return [`export const ${scope.spell(target.text)}${type} = ${code};`];
}

function sectionLines(node: Node, head: string, scope: Scope): string[] {
  const name = textOf(node, "name");
  const isAsync = node.children[0]?.type === "async";
  const lines = functionLines(node, `${head}${isAsync ? "async " : ""}function ${scope.spell(name)}`, name, scope);
  learn(name, scope.returned, scope);
  return lines;
}

function learn(name: string, returned: Kind | undefined, scope: Scope): void {
  const known = scope.facts.callables.get(name);
  if (known && !known.isPromised) scope.facts.callables.set(name, { ...known, returns: returned ?? NONE });
}

function classLines(node: Node, scope: Scope): string[] {
  const name = textOf(node, "name");
  const bases = childrenOf(node.childForFieldName("superclasses"));
  const members = childrenOf(node.childForFieldName("body"));
  const isPlain = members.every(
    (member, index) =>
      /^(function_definition|comment|pass_statement)$/.test(member.type) ||
      wordOf(member) !== null ||
      (index === 0 && member.type === "expression_statement"),
  );
  const isError =
    bases.length === 1 && /^(Exception|ValueError|RuntimeError|KeyError|LookupError)$/.test(bases[0]?.text ?? "");
  if (!isPlain || (bases.length > 0 && !(isError && members.every(({ type }) => type !== "function_definition"))))
    return left(node, "such a class has no sure counterpart", scope);
  if (isError) return [`export class ${scope.spell(name)} extends Error {`, `  name = "${name}";`, "}"];
  scope.className = name;
  const attributes = attributesOf(members, scope);
  const lines = members.flatMap((member): string[] => {
    const method = definitionOf(member);
    if (method.type !== "function_definition") return member.type === "comment" ? [`  //${member.text.slice(1)}`] : [];
    const own = textOf(method, "name");
    const head = own === "__init__" ? "constructor" : `${wordOf(member) ?? ""}${scope.spell(own)}`;
    const made = functionLines(method, head, `${name}.${own}`, scope);
    learn(`${name}.${own}`, scope.returned, scope);
    return ["", ...made.map((line) => (line === "" ? "" : `  ${line}`))];
  });
  scope.className = null;
  const fields = scope.input.language === "typescript" ? attributes.map((field) => `  ${field}: any;`) : [];
  return [
    `export class ${scope.spell(name)} {`,
    ...fields,
    ...(fields.length > 0 ? lines : lines.slice(lines[0] === "" ? 1 : 0)),
    "}",
  ];
}

/** Translates a decorated method; null for decorators without a counterpart. */
function wordOf(member: Node): string | null {
  const decorators = member.children.filter((child) => child?.type === "decorator").map((child) => child?.text.trim());
  return decorators.length === 1 && decorators[0] === "@property" ? "get " : null;
}

function attributesOf(members: readonly Node[], scope: Scope): string[] {
  const found = new Set<string>();
  for (const member of members)
    for (const made of member.descendantsOfType("assignment")) {
      const target = made?.childForFieldName("left");
      if (target?.type === "attribute" && textOf(target, "object") === "self")
        found.add(scope.spell(textOf(target, "attribute")));
    }
  return [...found];
}
