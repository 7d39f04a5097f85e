import type { Node } from "web-tree-sitter";
import { exportsOf } from "@/core/source/languages/javascript-exports";
import { findSections } from "@/core/source/languages/javascript-sections";
import {
  type Binding,
  callsOf,
  childrenOf,
  type Import,
  joinFrom,
  placeOf,
  SLASH_COMMENTS,
  type SourceLanguage,
  type TreeNodes,
  textOf,
  unquote,
} from "@/core/source/section";

const BRANCHES = [
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
];
/** Nodes at which execution can start: statements, declarations and class members. */
const STATEMENTS = [
  "expression_statement",
  "variable_declaration",
  "lexical_declaration",
  "function_declaration",
  "generator_function_declaration",
  "class_declaration",
  "abstract_class_declaration",
  "enum_declaration",
  "method_definition",
  "export_statement",
  "if_statement",
  "for_statement",
  "for_in_statement",
  "while_statement",
  "do_statement",
  "try_statement",
  "switch_statement",
  "return_statement",
  "throw_statement",
  "break_statement",
  "continue_statement",
  "labeled_statement",
  "with_statement",
  "debugger_statement",
];
/** Type-only exports disappear at run time. */
const NOT_RUN = new Set([
  "interface_declaration",
  "type_alias_declaration",
  "ambient_declaration",
  "function_signature",
  "empty_statement",
]);

export const javascript: SourceLanguage = {
  name: "javascript",
  title: "JavaScript",
  endings: ["js", "mjs", "cjs", "jsx"],
  makers: ["constructor"],
  hasOneNumber: true,
  grammar: "tree-sitter-javascript.wasm",
  colours: {
    texts: ["string", "template_string", "regex"],
    inserted: ["template_substitution"],
    numbers: ["number"],
    types: [],
    words: ["null", "undefined", "true", "false", "this", "super"],
  },
  findSections,
  statementTypes: [...STATEMENTS, "ambient_declaration"],
  findStatementLines,
  importTypes: ["import_statement", "export_statement"],
  findImports,
  importCandidates,
  branches: BRANCHES,
  outside: (specifier) => {
    if (/^[./]/.test(specifier) || specifier === "") return null;
    if (specifier.startsWith("node:")) return { package: specifier, inside: [] };
    const parts = specifier.split("/");
    const length = specifier.startsWith("@") ? 2 : 1;
    return { package: parts.slice(0, length).join("/"), inside: parts.slice(length) };
  },
  uses: {
    imports: ["import_statement", "export_clause", "namespace_export"],
    names: ["identifier", "type_identifier", "shorthand_property_identifier"],
    members: {
      member_expression: { object: "object", member: "property" },
      nested_type_identifier: { object: "module", member: "name" },
      nested_identifier: { object: "object", member: "property" },
    },
    notUses: {
      function_declaration: ["name"],
      generator_function_declaration: ["name"],
      class_declaration: ["name"],
      variable_declarator: ["name"],
      formal_parameters: ["*"],
      pair_pattern: ["value"],
      array_pattern: ["*"],
      required_parameter: ["pattern"],
      optional_parameter: ["pattern"],
      type_alias_declaration: ["name"],
      interface_declaration: ["name"],
    },
    scopes: [
      "function_declaration",
      "function_expression",
      "arrow_function",
      "method_definition",
      "generator_function_declaration",
      "catch_clause",
    ],
    declares: {
      formal_parameters: ["*"],
      arrow_function: ["parameter"],
      catch_clause: ["parameter"],
      variable_declarator: ["name"],
      for_in_statement: ["left"],
      function_declaration: ["name"],
      generator_function_declaration: ["name"],
      class_declaration: ["name"],
    },
    patterns: {
      object_pattern: ["*"],
      array_pattern: ["*"],
      rest_pattern: ["*"],
      pair_pattern: ["value"],
      assignment_pattern: ["left"],
      object_assignment_pattern: ["left"],
      required_parameter: ["pattern"],
      optional_parameter: ["pattern"],
    },
    // Names bound by `require` are bindings of the file.
    isBinding: (node) => node.type === "variable_declarator" && /^require\b/.test(textOf(node, "value")),
  },
  comments: SLASH_COMMENTS,
  exportsOf,
};

function findImports(tree: TreeNodes): Import[] {
  const calls = callsOf(tree, ["require", "import"], "call_expression");
  const nodes = [...tree.find("import_statement", "export_statement"), ...calls];
  return nodes
    .sort((one, other) => one.startIndex - other.startIndex)
    .flatMap((node) => {
      const called = node.type === "call_expression" ? textOf(node, "function") : undefined;
      if (node.type === "call_expression" && called !== "require" && called !== "import") return [];
      const given = childrenOf(node.childForFieldName("arguments"))[0];
      // `import a = require("b")` of TypeScript holds its source in a clause.
      const clause = childrenOf(node).find((child) => child.type === "import_require_clause");
      const source = called ? given : (node.childForFieldName("source") ?? clause?.childForFieldName("source"));
      if (source?.type !== "string") return [];
      const specifier = unquote(source.text);
      const bindings = called ? requiredNames(node, specifier) : importedNames(node, specifier);
      const names = bindings.length > 0 ? bindings.map(({ path }) => path.join(".") || "*") : exportedNames(node);
      return [{ specifier, names, ...placeOf(statementOf(node)), bindings }];
    });
}

/** The statement around a call of `require`. */
function statementOf(node: Node): Node {
  let at = node;
  while (at.parent && !/(statement|declaration)$/.test(at.type)) at = at.parent;
  return at;
}

function importedNames(node: Node, root: string): Binding[] {
  return childrenOf(node).flatMap((clause): Binding[] => {
    if (clause.type === "import_require_clause")
      return [{ local: clause.namedChildren[0]?.text ?? "", root, path: [] }];
    if (clause.type !== "import_clause") return [];
    return childrenOf(clause).flatMap((entry): Binding[] => {
      if (entry.type === "identifier") return [{ local: entry.text, root, path: ["default"] }];
      if (entry.type === "namespace_import") return [{ local: entry.namedChildren[0]?.text ?? "", root, path: [] }];
      return childrenOf(entry)
        .filter((one) => one.type === "import_specifier")
        .map((one) => ({ local: textOf(one, "alias") || textOf(one, "name"), root, path: [textOf(one, "name")] }));
    });
  });
}

/** `const x = require("a")`, `const { b: c } = require("a")`, `const x = require("a").b`. */
function requiredNames(call: Node, root: string): Binding[] {
  const path: string[] = [];
  let at: Node | null = call;
  while (at?.parent && /^(member_expression|await_expression|parenthesized_expression)$/.test(at.parent.type)) {
    if (at.parent.type === "member_expression") path.push(textOf(at.parent, "property"));
    at = at.parent;
  }
  const holder = at?.parent;
  if (holder?.type !== "variable_declarator") return [];
  const target = holder.childForFieldName("name");
  if (target?.type === "identifier") return [{ local: target.text, root, path }];
  if (target?.type !== "object_pattern") return [];
  return childrenOf(target).flatMap((entry): Binding[] => {
    if (entry.type === "shorthand_property_identifier_pattern")
      return [{ local: entry.text, root, path: [...path, entry.text] }];
    if (entry.type !== "pair_pattern") return [];
    return [{ local: textOf(entry, "value"), root, path: [...path, textOf(entry, "key")] }];
  });
}

/** Re-exports: `export { a as b } from`, `export * from`. */
function exportedNames(node: Node): string[] {
  if (node.type !== "export_statement") return [];
  const clause = childrenOf(node).find((child) => child.type === "export_clause");
  return clause ? childrenOf(clause).map((entry) => textOf(entry, "name")) : ["*"];
}

const ENDINGS = ["", ".ts", ".tsx", ".mts", ".cts", ".js", ".mjs", ".cjs", ".jsx", ".d.ts"];
const INDEXES = ["/index.ts", "/index.tsx", "/index.mts", "/index.js", "/index.mjs", "/index.cjs", "/index.jsx"];

function importCandidates({ specifier }: Pick<Import, "specifier">, file: string): string[] {
  return /^\.{1,2}(\/|$)/.test(specifier) ? fileCandidates(joinFrom(file, specifier)) : [];
}

/** Candidate files for a path without extension; a JavaScript extension may refer to a TypeScript source. */
export const fileCandidates = (stem: string): string[] => [
  ...ENDINGS.map((ending) => stem + ending),
  ...INDEXES.map((ending) => (stem === "" ? ending.slice(1) : stem + ending)),
  ...(/\.[mc]?jsx?$/.test(stem) ? [stem.replace(/\.([mc]?)jsx?$/, ".$1ts"), stem.replace(/\.[mc]?jsx?$/, ".tsx")] : []),
];

/** Statements and class members that leave something to run; types and imports are gone by then. */
function findStatementLines({ find }: TreeNodes): number[] {
  const ambient = find("ambient_declaration");
  const lines = new Set<number>();
  for (const node of find(...STATEMENTS)) {
    if (node.type === "export_statement" && NOT_RUN.has(node.childForFieldName("declaration")?.type ?? "")) continue;
    const isDeclaredOnly = ambient.some(
      ({ startIndex, endIndex }) => startIndex <= node.startIndex && node.endIndex <= endIndex,
    );
    if (!isDeclaredOnly) lines.add(node.startPosition.row + 1);
  }
  return [...lines].sort((one, other) => one - other);
}
