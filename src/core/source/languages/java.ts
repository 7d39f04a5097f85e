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
  "enum_declaration",
  "record_declaration",
  "annotation_type_declaration",
]);

export const java: SourceLanguage = {
  name: "java",
  title: "Java",
  endings: ["java"],
  grammar: "tree-sitter-java.wasm",
  colours: {
    texts: ["string_literal", "character_literal"],
    inserted: ["string_interpolation"],
    numbers: [
      "decimal_integer_literal",
      "hex_integer_literal",
      "octal_integer_literal",
      "binary_integer_literal",
      "decimal_floating_point_literal",
      "hex_floating_point_literal",
    ],
    types: ["type_identifier", "integral_type", "floating_point_type", "boolean_type", "void_type"],
    words: ["null_literal", "true", "false", "this", "super"],
  },
  findSections: (root) => childrenOf(root).flatMap((node) => sectionsAt(node, "")),
  branches: [
    "if_statement",
    "for_statement",
    "enhanced_for_statement",
    "while_statement",
    "do_statement",
    "switch_label",
    "catch_clause",
    "ternary_expression",
    "&&",
    "||",
  ],
  importTypes: ["import_declaration"],
  findImports: ({ find }) => find("import_declaration").map(importAt),
  importCandidates: ({ specifier, names }) => {
    const [name = ""] = names;
    const folders = specifier.replaceAll(".", "/");
    // A static import names a member of the class that the specifier ends with.
    return name === "*" ? [] : [`${folders}/${name}.java`, `${folders}.java`];
  },
  outside: (specifier) => ({ package: specifier, inside: [] }),
  uses: {
    imports: ["import_declaration", "package_declaration"],
    names: ["identifier", "type_identifier"],
    members: {
      method_invocation: { object: "object", member: "name" },
      field_access: { object: "object", member: "field" },
      method_reference: { object: "object", member: "method" },
    },
    notUses: {
      variable_declarator: ["name"],
      formal_parameter: ["name"],
      class_declaration: ["name"],
      method_declaration: ["name"],
    },
  },
  statements: {
    blocks: ["block", "constructor_body"],
    clauses: { switch_block_statement_group: [] },
    holders: ["switch_block"],
    bodies: {
      if_statement: ["consequence", "alternative"],
      for_statement: ["body"],
      enhanced_for_statement: ["body"],
      while_statement: ["body"],
      do_statement: ["body"],
    },
    // A label must directly precede its loop.
    labels: [],
    skipped: [
      "line_comment",
      "block_comment",
      "switch_label",
      "explicit_constructor_invocation",
      "class_declaration",
      "interface_declaration",
      "enum_declaration",
      "record_declaration",
      "identifier",
    ],
    isIdle: (node) =>
      node.type === "local_variable_declaration" &&
      !node.childrenForFieldName("declarator").some((one) => one?.childForFieldName("value")),
  },
  comments: SLASH_COMMENTS,
  sharesFolder: true,
  findNamespace: (root) => {
    const declared = childrenOf(root).find((node) => node.type === "package_declaration");
    return declared?.namedChildren.at(-1)?.text ?? null;
  },
};

function sectionsAt(node: Node, owner: string): FoundSection[] {
  const name = [owner, textOf(node, "name")].filter(Boolean).join(".");
  if (CLASSES.has(node.type)) {
    const body = node.childForFieldName("body");
    const inner = childrenOf(body).flatMap((child) =>
      child.type === "enum_body_declarations" ? childrenOf(child) : [child],
    );
    return [
      { name, kind: "class", ...linesOf(node), params: [] },
      ...inner.flatMap((child) => sectionsAt(child, name)),
    ];
  }
  if (
    node.type === "method_declaration" ||
    node.type === "constructor_declaration" ||
    node.type === "compact_constructor_declaration"
  )
    return [{ name, kind: "method", ...linesOf(node), params: parameters(node) }];
  if (node.type === "field_declaration" || node.type === "constant_declaration") return constants(node, owner);
  return [];
}

function parameters(node: Node): string[] {
  return childrenOf(node.childForFieldName("parameters")).flatMap((parameter) => {
    if (parameter.type === "formal_parameter") return [textOf(parameter, "name")];
    const declarator = childrenOf(parameter).find((child) => child.type === "variable_declarator");
    return parameter.type === "spread_parameter" && declarator ? [textOf(declarator, "name")] : [];
  });
}

function constants(node: Node, owner: string): FoundSection[] {
  const modifiers = childrenOf(node).find((child) => child.type === "modifiers")?.text ?? "";
  const isConstant =
    node.type === "constant_declaration" || (/\bstatic\b/.test(modifiers) && /\bfinal\b/.test(modifiers));
  if (!isConstant) return [];
  return node.childrenForFieldName("declarator").map((declarator) => ({
    name: `${owner}.${textOf(declarator, "name")}`,
    kind: "constant",
    ...linesOf(node),
    params: [],
  }));
}

function importAt(node: Node): Import {
  const path =
    childrenOf(node).find((child) => child.type === "scoped_identifier" || child.type === "identifier")?.text ?? "";
  const isStar = childrenOf(node).some((child) => child.type === "asterisk");
  const parts = path.split(".");
  const name = isStar ? "*" : (parts.pop() ?? "");
  const specifier = parts.join(".");
  const bindings = isStar ? [] : [{ local: name, root: specifier, path: [name] }];
  return { specifier, names: [name], ...placeOf(node), bindings };
}
