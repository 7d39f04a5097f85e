import type { Node } from "web-tree-sitter";
import {
  childrenOf,
  type FoundSection,
  type Import,
  joinFrom,
  linesOf,
  placeOf,
  SLASH_COMMENTS,
  type SourceLanguage,
  type TreeNodes,
  textOf,
} from "@/core/source/section";
import type { StatementRules } from "@/core/source/statements";

/** Node types in a block of C or C++ that are not executable. */
const IDLE: readonly string[] = [
  "comment",
  "case_statement",
  "function_definition",
  "type_definition",
  "struct_specifier",
  "union_specifier",
  "enum_specifier",
  "class_specifier",
  "using_declaration",
  "alias_declaration",
  "static_assert_declaration",
  "namespace_alias_definition",
  "preproc_include",
  "preproc_def",
  "preproc_function_def",
  "preproc_call",
  "preproc_if",
  "preproc_ifdef",
  "ERROR",
];

/** An empty statement, or a declaration without a value. */
const isIdleStatement = (node: Node): boolean =>
  (node.type === "expression_statement" && node.namedChildCount === 0) ||
  (node.type === "declaration" && !node.namedChildren.some((child) => child?.type === "init_declarator"));

/** How trees of C and C++ hold statements. */
export const C_STATEMENTS: StatementRules = {
  blocks: ["compound_statement"],
  clauses: { case_statement: ["value"] },
  bodies: {
    if_statement: ["consequence"],
    else_clause: ["*"],
    for_statement: ["body"],
    while_statement: ["body"],
    do_statement: ["body"],
  },
  labels: ["labeled_statement"],
  skipped: IDLE,
  isIdle: isIdleStatement,
};

export const c: SourceLanguage = {
  name: "c",
  title: "C",
  endings: ["c", "h"],
  methodsAreFunctions: true,
  grammar: "tree-sitter-c/tree-sitter-c.wasm",
  colours: {
    texts: ["string_literal", "char_literal", "system_lib_string"],
    numbers: ["number_literal"],
    types: ["type_identifier", "primitive_type", "sized_type_specifier"],
    words: ["null", "true", "false", "preproc_directive"],
  },
  findSections: (root) => sectionsIn(root, ""),
  branches: [
    "if_statement",
    "for_statement",
    "while_statement",
    "do_statement",
    "case_statement",
    "conditional_expression",
    "&&",
    "||",
  ],
  importTypes: ["preproc_include"],
  findImports: includes,
  importCandidates: ({ specifier }, file) => [
    joinFrom(file, specifier),
    specifier,
    `include/${specifier}`,
    `src/${specifier}`,
  ],
  outside: (specifier) => ({ package: specifier, inside: [] }),
  uses: {
    imports: ["preproc_include"],
    names: ["identifier", "type_identifier"],
    members: {},
    notUses: {
      function_declarator: ["declarator"],
      init_declarator: ["declarator"],
      parameter_declaration: ["declarator"],
      pointer_declarator: ["declarator"],
      preproc_def: ["name"],
      preproc_function_def: ["name"],
      declaration: ["declarator"],
    },
  },
  statements: C_STATEMENTS,
  comments: SLASH_COMMENTS,
};

/** Finds `#include` lines; quoted ones are looked up beside the file. */
export function includes({ find }: TreeNodes): Import[] {
  return find("preproc_include").flatMap((node) => {
    const path = node?.childForFieldName("path");
    if (!path || !/^["<]/.test(path.text)) return [];
    return [{ specifier: path.text.slice(1, -1), names: [], ...placeOf(node), bindings: [] }];
  });
}

/** Nodes that hold others without being a section: conditional parts, `extern "C"`, namespaces, templates. */
const HOLDERS = new Set([
  "translation_unit",
  "preproc_if",
  "preproc_ifdef",
  "preproc_else",
  "preproc_elif",
  "linkage_specification",
  "declaration_list",
  "namespace_definition",
  "template_declaration",
]);

/** Sections of C and C++ alike; `owner` is the class around. */
export function sectionsIn(node: Node, owner: string): FoundSection[] {
  return childrenOf(node).flatMap((child) => sectionsAt(child, child, owner));
}

function sectionsAt(node: Node, whole: Node, owner: string): FoundSection[] {
  if (HOLDERS.has(node.type)) {
    // A template belongs to the declaration that follows it.
    if (node.type === "template_declaration")
      return childrenOf(node).flatMap((child) => sectionsAt(child, node, owner));
    return sectionsIn(node, owner);
  }
  switch (node.type) {
    case "function_definition":
      return functionAt(node, whole, owner);
    case "struct_specifier":
    case "union_specifier":
    case "class_specifier":
    case "enum_specifier":
      return classAt(node, whole, owner);
    case "type_definition":
      return typedefAt(node, owner);
    case "declaration":
    case "field_declaration":
      return declarationAt(node, owner);
    case "preproc_def":
      // A macro without a value is an include guard or a flag.
      if (!node.childForFieldName("value")) return [];
      return [{ name: textOf(node, "name"), kind: "constant", ...linesOf(node), params: [] }];
    case "preproc_function_def": {
      const params = childrenOf(node.childForFieldName("parameters")).map(({ text }) => text);
      return [{ name: textOf(node, "name"), kind: "function", ...linesOf(node), params }];
    }
    default:
      return [];
  }
}

function functionAt(node: Node, whole: Node, owner: string): FoundSection[] {
  const declarator = functionDeclarator(node);
  if (!declarator) return conversionAt(node, whole, owner);
  const written = textOf(declarator, "declarator").replace(/\s+/g, "");
  // Keeps the last two parts of `space::Class::method`, without namespaces, which start lower-case by convention.
  const parts = written.split("::").map((part) => part.replace(/<.*>$/, ""));
  const scope = parts.slice(0, -1).filter((part) => /^[A-Z_]/.test(part) || parts.length === 2);
  const name = [owner, ...scope.slice(-1), parts.at(-1) ?? ""].filter(Boolean).join(".");
  const kind = owner !== "" || scope.length > 0 ? "method" : "function";
  return [{ name, kind, ...linesOf(whole), params: parameters(declarator) }];
}

/** `operator T()` of a class: its name is the type that it gives. */
function conversionAt(node: Node, whole: Node, owner: string): FoundSection[] {
  const cast = node.childForFieldName("declarator");
  if (cast?.type !== "operator_cast") return [];
  const name = [owner, `operator ${textOf(cast, "type")}`].filter(Boolean).join(".");
  return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(whole), params: [] }];
}

/** The innermost declarator with parameters, behind pointers and references: a function may return one of another. */
function functionDeclarator(node: Node): Node | null {
  let found: Node | null = null;
  for (let at = node.childForFieldName("declarator"); at; ) {
    if (at.type === "function_declarator") found = at;
    if (/identifier$|_name$/.test(at.type)) break;
    at =
      at.childForFieldName("declarator") ?? (at.type === "function_declarator" ? null : (at.namedChildren[0] ?? null));
  }
  return found;
}

function parameters(declarator: Node): string[] {
  return childrenOf(declarator.childForFieldName("parameters")).flatMap((parameter) => {
    // The older style lists names alone, and declares them after.
    let at = parameter.type === "identifier" ? parameter : parameter.childForFieldName("declarator");
    while (at && at.type !== "identifier") at = at.childForFieldName("declarator") ?? at.namedChildren[0] ?? null;
    return at ? [at.text] : [];
  });
}

function classAt(node: Node, whole: Node, owner: string, given = ""): FoundSection[] {
  const plain = textOf(node, "name") || given;
  const body = node.childForFieldName("body");
  if (plain === "" || !body) return [];
  const name = [owner, plain.replace(/<.*>$/, "")].filter(Boolean).join(".");
  const members = node.type === "enum_specifier" ? [] : sectionsIn(body, name);
  return [{ name, kind: "class", ...linesOf(whole), params: [] }, ...members];
}

function typedefAt(node: Node, owner: string): FoundSection[] {
  const type = node.childForFieldName("type");
  if (!type?.childForFieldName("body")) return [];
  return classAt(type, node, owner, textOf(node, "declarator"));
}

/** Globals, and `const` class members. Function prototypes are skipped. */
function declarationAt(node: Node, owner: string): FoundSection[] {
  const type = node.childForFieldName("type");
  const inner = type?.childForFieldName("body") ? classAt(type, node, owner) : [];
  const isFixed = childrenOf(node).some((child) => child.type === "type_qualifier" && /const/.test(child.text));
  if (owner !== "" && !isFixed) return inner;
  const isOutside = childrenOf(node).some(
    (child) => child.type === "storage_class_specifier" && child.text === "extern",
  );
  if (isOutside) return inner;
  const constants = node.childrenForFieldName("declarator").flatMap((declarator): FoundSection[] => {
    let at: Node | null = declarator;
    while (at && !/identifier$/.test(at.type)) {
      if (at.type === "function_declarator") return [];
      at = at.childForFieldName("declarator") ?? at.namedChildren[0] ?? null;
    }
    const name = [owner, at?.text ?? ""].filter(Boolean).join(".");
    return at ? [{ name, kind: "constant", ...linesOf(node), params: [] }] : [];
  });
  return [...inner, ...constants];
}
