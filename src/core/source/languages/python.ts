import type { Node } from "web-tree-sitter";
import { complexityOf, type Import, linesOf, type Section, type SourceLanguage } from "@/core/source/section";

const BRANCHES = new Set([
  "if_statement",
  "elif_clause",
  "for_statement",
  "while_statement",
  "except_clause",
  "conditional_expression",
  "boolean_operator",
  "for_in_clause",
  "if_clause",
  "case_clause",
  "assert_statement",
]);

export const python: SourceLanguage = {
  name: "python",
  title: "Python",
  grammar: "tree-sitter-python.wasm",
  findImports,
  importCandidates,
  findSections: (root) => root.namedChildren.flatMap((node) => (node ? sectionsAt(node, "") : [])),
};

/** Sections of a statement at module level or in a class body; conditional definitions are looked into. */
function sectionsAt(node: Node, owner: string): Section[] {
  switch (node.type) {
    case "decorated_definition": {
      const inner = node.childForFieldName("definition");
      return inner ? definition(inner, node, owner) : [];
    }
    case "function_definition":
    case "class_definition":
      return definition(node, node, owner);
    case "expression_statement":
      return owner === "" ? constants(node) : [];
    case "if_statement":
    case "try_statement":
    case "else_clause":
    case "except_clause":
    case "block":
      return node.namedChildren.flatMap((child) => (child ? sectionsAt(child, owner) : []));
    default:
      return [];
  }
}

function definition(node: Node, whole: Node, owner: string): Section[] {
  const plain = node.childForFieldName("name")?.text ?? "";
  const name = owner === "" ? plain : `${owner}.${plain}`;
  const complexity = complexityOf(node, BRANCHES);
  if (node.type === "function_definition") {
    return [
      { name, kind: owner === "" ? "function" : "method", ...linesOf(whole), complexity, params: parameters(node) },
    ];
  }
  const body = node.childForFieldName("body");
  const inner = body?.namedChildren.flatMap((child) => (child ? sectionsAt(child, name) : [])) ?? [];
  return [{ name, kind: "class", ...linesOf(whole), complexity, params: [] }, ...inner];
}

function parameters(node: Node): string[] {
  const list = node.childForFieldName("parameters")?.namedChildren ?? [];
  return list.flatMap((parameter) => {
    const name = parameter?.type === "identifier" ? parameter.text : parameter?.childForFieldName("name")?.text;
    const typed = parameter?.type === "typed_parameter" ? parameter.namedChildren[0]?.text : undefined;
    const found = name ?? typed;
    return found && found !== "self" && found !== "cls" ? [found] : [];
  });
}

function constants(node: Node): Section[] {
  const assignment = node.namedChildren[0];
  if (assignment?.type !== "assignment") return [];
  const target = assignment.childForFieldName("left");
  const names = target?.type === "identifier" ? [target.text] : [];
  return names
    .filter((name) => !/^__.*__$/.test(name))
    .map((name) => ({ name, kind: "constant", ...linesOf(node), complexity: 1, params: [] }));
}

function findImports(root: Node): Import[] {
  return root.descendantsOfType(["import_statement", "import_from_statement"]).flatMap((node) => {
    if (!node) return [];
    const plain = (name: Node | null) =>
      (name?.type === "aliased_import" ? name.childForFieldName("name")?.text : name?.text) ?? "";
    const names = node.childrenForFieldName("name").map(plain);
    if (node.type === "import_statement") return names.map((specifier) => ({ specifier, names: [] }));
    return [{ specifier: node.childForFieldName("module_name")?.text ?? "", names }];
  });
}

/** `from .a import b` may mean the module a, or b inside the package a. */
function importCandidates({ specifier, names }: Import, file: string): string[] {
  const dots = /^\.*/.exec(specifier)?.[0].length ?? 0;
  const folder = dots === 0 ? "" : `${[...file.split("/").slice(0, -dots)].join("/")}/`.replace(/^\/$/, "");
  const own = file.split("/").slice(0, -1).join("/");
  const inside = specifier.slice(dots).split(".").filter(Boolean).join("/");
  const starts = dots > 0 ? [folder] : ["", own === "" ? "" : `${own}/`];
  return starts.flatMap((start) => {
    const base = `${start}${inside}`.replace(/\/$/, "");
    const submodules = names.map((name) => [base, name].filter(Boolean).join("/"));
    return [...submodules, base].filter(Boolean).flatMap((stem) => [`${stem}.py`, `${stem}/__init__.py`]);
  });
}
