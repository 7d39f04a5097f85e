import type { Node } from "web-tree-sitter";
import { complexityOf, type Import, linesOf, type Section, type SourceLanguage } from "@/core/source/section";

const BRANCHES = new Set([
  "if_statement",
  "for_statement",
  "for_in_statement",
  "while_statement",
  "do_statement",
  "switch_case",
  "catch_clause",
  "ternary_expression",
  "&&",
  "||",
  "??",
]);
const FUNCTIONS = new Set(["arrow_function", "function_expression", "generator_function"]);

const findSections = (root: Node): Section[] =>
  root.namedChildren.flatMap((node) => (node ? sectionsAt(node, node) : []));

export const javascript: SourceLanguage = {
  name: "javascript",
  title: "JavaScript",
  grammar: "tree-sitter-javascript.wasm",
  findSections,
  findStatementLines,
  findImports,
  importCandidates,
};

/** `whole` is the statement that the section's lines are counted from: an export belongs to what it exports. */
export function sectionsAt(node: Node, whole: Node): Section[] {
  switch (node.type) {
    case "export_statement":
    case "ambient_declaration": {
      const inner = node.childForFieldName("declaration") ?? node.childForFieldName("value") ?? node.namedChildren[0];
      return inner ? sectionsAt(inner, node) : [];
    }
    case "function_declaration":
    case "generator_function_declaration":
    case "function_signature":
      return [functionSection(nameOf(node) || "default", node, whole, "function")];
    case "class_declaration":
    case "abstract_class_declaration":
    case "class":
      return classSections(node, whole);
    case "interface_declaration":
    case "enum_declaration":
      return [{ name: nameOf(node), kind: "class", ...linesOf(whole), complexity: 1, params: [] }];
    case "type_alias_declaration":
      return node.childForFieldName("value")?.type === "object_type"
        ? [{ name: nameOf(node), kind: "class", ...linesOf(whole), complexity: 1, params: [] }]
        : [];
    case "lexical_declaration":
    case "variable_declaration":
      return node.namedChildren.flatMap((child) =>
        child?.type === "variable_declarator" ? declared(child, whole) : [],
      );
    case "expression_statement":
      return assigned(node);
    case "arrow_function":
    case "function_expression":
      return [functionSection("default", node, whole, "function")];
    default:
      return [];
  }
}

const nameOf = (node: Node): string => node.childForFieldName("name")?.text ?? "";

function functionSection(name: string, node: Node, whole: Node, kind: "function" | "method"): Section {
  return { name, kind, ...linesOf(whole), complexity: complexityOf(node, BRANCHES), params: parameters(node) };
}

function parameters(node: Node): string[] {
  const single = node.childForFieldName("parameter");
  if (single) return [single.text];
  return (node.childForFieldName("parameters")?.namedChildren ?? []).flatMap((parameter) => {
    if (!parameter || parameter.type === "comment") return [];
    const pattern = parameter.childForFieldName("pattern") ?? parameter.childForFieldName("left") ?? parameter;
    return [
      pattern.type === "identifier" || pattern.type === "shorthand_property_identifier_pattern"
        ? pattern.text
        : "options",
    ];
  });
}

function classSections(node: Node, whole: Node, given?: string): Section[] {
  const name = given ?? (nameOf(node) || "default");
  const members = node.childForFieldName("body")?.namedChildren ?? [];
  const methods = members.flatMap((member) => {
    if (member?.type === "method_definition")
      return [functionSection(`${name}.${nameOf(member)}`, member, member, "method")];
    const value = member?.childForFieldName("value");
    if (member && value && FUNCTIONS.has(value.type)) {
      const field = member.childForFieldName("name") ?? member.childForFieldName("property");
      return [functionSection(`${name}.${field?.text ?? ""}`, value, member, "method")];
    }
    return [];
  });
  return [{ name, kind: "class", ...linesOf(whole), complexity: complexityOf(node, BRANCHES), params: [] }, ...methods];
}

function declared(node: Node, whole: Node): Section[] {
  const target = node.childForFieldName("name");
  const value = node.childForFieldName("value");
  if (target?.type !== "identifier") return [];
  if (value && FUNCTIONS.has(value.type)) return [functionSection(target.text, value, whole, "function")];
  if (value?.type === "class") return classSections(value, whole, target.text);
  // What is brought in from another module is not this module's own.
  if (value?.type === "call_expression" && value.childForFieldName("function")?.text === "require") return [];
  return [{ name: target.text, kind: "constant", ...linesOf(whole), complexity: 1, params: [] }];
}

/** `exports.name = …`, `module.exports = …` and `Name.prototype.method = …` of the older style. */
function assigned(node: Node): Section[] {
  const assignment = node.namedChildren[0];
  if (assignment?.type !== "assignment_expression") return [];
  const target = assignment.childForFieldName("left")?.text ?? "";
  const value = assignment.childForFieldName("right");
  if (!value) return [];
  const method = /^([\w$]+)\.prototype\.([\w$]+)$/.exec(target);
  if (method && FUNCTIONS.has(value.type)) return [functionSection(`${method[1]}.${method[2]}`, value, node, "method")];
  const exported =
    /^(?:module\.)?exports\.([\w$]+)$/.exec(target)?.[1] ?? (target === "module.exports" ? "default" : undefined);
  if (exported === undefined) return [];
  if (FUNCTIONS.has(value.type)) return [functionSection(nameOf(value) || exported, value, node, "function")];
  if (value.type === "class") return classSections(value, node, nameOf(value) || exported);
  return exported === "default" || value.type === "identifier"
    ? []
    : [{ name: exported, kind: "constant", ...linesOf(node), complexity: 1, params: [] }];
}

function findImports(root: Node): Import[] {
  const unquote = (text = "") => text.replace(/^["'`]|["'`]$/g, "");
  return root.descendantsOfType(["import_statement", "export_statement", "call_expression"]).flatMap((node) => {
    if (!node) return [];
    const called = node.type === "call_expression" ? node.childForFieldName("function")?.text : undefined;
    if (node.type === "call_expression" && called !== "require" && called !== "import") return [];
    const source = called ? node.childForFieldName("arguments")?.namedChildren[0] : node.childForFieldName("source");
    return source?.type === "string" ? [{ specifier: unquote(source.text), names: [] }] : [];
  });
}

const ENDINGS = ["", ".ts", ".tsx", ".mts", ".js", ".mjs", ".cjs", ".jsx", "/index.ts", "/index.tsx", "/index.js"];

function importCandidates({ specifier }: Import, file: string): string[] {
  if (!specifier.startsWith(".")) return [];
  const parts = file.split("/").slice(0, -1);
  for (const part of specifier.split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  const stem = parts.join("/");
  return [...ENDINGS.map((ending) => stem + ending), stem.replace(/\.js$/, ".ts"), stem.replace(/\.jsx?$/, ".tsx")];
}

const NOT_RUN = new Set([
  "import_statement",
  "empty_statement",
  "interface_declaration",
  "type_alias_declaration",
  "ambient_declaration",
  "function_signature",
]);

/** Statements and class members that leave something to run; types and imports are gone by then. */
function findStatementLines(root: Node): number[] {
  const lines = new Set<number>();
  const walk = (node: Node) => {
    const exported = node.type === "export_statement" ? node.childForFieldName("declaration")?.type : undefined;
    if (NOT_RUN.has(exported ?? node.type)) return;
    const runs = /_statement$|_declaration$/.test(node.type) || node.type === "method_definition";
    if (runs) lines.add(node.startPosition.row + 1);
    for (const child of node.namedChildren) if (child) walk(child);
  };
  walk(root);
  return [...lines].sort((one, other) => one - other);
}
