import type { Node } from "web-tree-sitter";
import {
  childrenOf,
  type FoundSection,
  type Import,
  linesOf,
  placeOf,
  SLASH_COMMENTS,
  type SourceLanguage,
  textOf,
} from "@/core/source/section";

const CLASSES = new Set([
  "class_declaration",
  "interface_declaration",
  "struct_declaration",
  "record_declaration",
  "enum_declaration",
]);
const METHODS = new Set([
  "method_declaration",
  "constructor_declaration",
  "operator_declaration",
  "conversion_operator_declaration",
  "destructor_declaration",
  "indexer_declaration",
  "local_function_statement",
]);

export const csharp: SourceLanguage = {
  name: "csharp",
  title: "C#",
  endings: ["cs"],
  namedArguments: true,
  grammar: "tree-sitter-c-sharp.wasm",
  colours: {
    texts: [
      "string_literal",
      "verbatim_string_literal",
      "raw_string_literal",
      "interpolated_string_expression",
      "character_literal",
    ],
    inserted: ["interpolation"],
    numbers: ["integer_literal", "real_literal"],
    types: ["predefined_type", "type_parameter"],
    words: ["null_literal", "boolean_literal", "this", "base"],
  },
  findSections: (root) => childrenOf(root).flatMap((node) => sectionsAt(node, "")),
  branches: [
    "if_statement",
    "for_statement",
    "foreach_statement",
    "while_statement",
    "do_statement",
    "switch_section",
    "switch_expression_arm",
    "catch_clause",
    "conditional_expression",
    "&&",
    "||",
    "??",
  ],
  importTypes: ["using_directive"],
  findImports: ({ find }) => find("using_directive").map(importAt),
  importCandidates: ({ specifier }) => [`${specifier.replaceAll(".", "/")}.cs`],
  outside: (specifier) => ({ package: specifier, inside: [] }),
  uses: {
    imports: ["using_directive"],
    names: ["identifier"],
    members: {
      member_access_expression: { object: "expression", member: "name" },
      qualified_name: { object: "qualifier", member: "name" },
    },
    notUses: {
      variable_declarator: ["name"],
      parameter: ["name"],
      class_declaration: ["name"],
      method_declaration: ["name"],
      namespace_declaration: ["name"],
      property_declaration: ["name"],
    },
  },
  comments: SLASH_COMMENTS,
  findNamespace: (root) => {
    const [declared] = root.descendantsOfType(["namespace_declaration", "file_scoped_namespace_declaration"]);
    return declared ? textOf(declared, "name") : null;
  },
};

function sectionsAt(node: Node, owner: string): FoundSection[] {
  if (node.type === "namespace_declaration")
    return childrenOf(node.childForFieldName("body")).flatMap((child) => sectionsAt(child, owner));
  if (node.type === "file_scoped_namespace_declaration")
    return childrenOf(node).flatMap((child) => sectionsAt(child, owner));
  if (node.type === "global_statement") return childrenOf(node).flatMap((child) => sectionsAt(child, owner));
  const name = [owner, plainName(node)].filter(Boolean).join(".");
  if (CLASSES.has(node.type)) {
    const inner = childrenOf(node.childForFieldName("body")).flatMap((child) => sectionsAt(child, name));
    return [{ name, kind: "class", ...linesOf(node), params: [] }, ...inner];
  }
  if (METHODS.has(node.type))
    return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(node), params: parameters(node) }];
  if (node.type === "property_declaration" && isComputed(node))
    return [{ name, kind: "method", ...linesOf(node), params: [] }];
  return node.type === "field_declaration" ? constants(node, owner) : [];
}

/** Members without a name are called by what they are written as. */
function plainName(node: Node): string {
  switch (node.type) {
    case "operator_declaration":
    case "conversion_operator_declaration":
      return /\boperator\s*([^\s(]+)/.exec(node.text)?.[0].replace(/\s+/, " ") ?? "operator";
    case "indexer_declaration":
      return "this[]";
    case "destructor_declaration":
      return `~${textOf(node, "name")}`;
    default:
      return textOf(node, "name");
  }
}

/** A property with code of its own, and not one that only holds a value. */
const isComputed = (node: Node): boolean =>
  node.childForFieldName("value")?.type === "arrow_expression_clause" ||
  childrenOf(node.childForFieldName("accessors")).some((accessor) => accessor.childForFieldName("body") !== null);

const parameters = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).flatMap((parameter) => textOf(parameter, "name") || []);

function constants(node: Node, owner: string): FoundSection[] {
  const modifiers = childrenOf(node)
    .filter((child) => child.type === "modifier")
    .map(({ text }) => text);
  if (!modifiers.includes("const") && !(modifiers.includes("static") && modifiers.includes("readonly"))) return [];
  const declared = childrenOf(node).find((child) => child.type === "variable_declaration");
  return childrenOf(declared)
    .filter((child) => child.type === "variable_declarator")
    .map((child) => ({ name: `${owner}.${textOf(child, "name")}`, kind: "constant", ...linesOf(node), params: [] }));
}

function importAt(node: Node): Import {
  const alias = textOf(node, "name");
  const path = childrenOf(node).findLast((child) => /name$|identifier/.test(child.type))?.text ?? "";
  const bindings = alias === "" ? [] : [{ local: alias, root: path, path: [] }];
  return { specifier: path, names: [], ...placeOf(node), bindings };
}
