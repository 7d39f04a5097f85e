import type { Node } from "web-tree-sitter";
import {
  type Binding,
  childrenOf,
  type FoundSection,
  type Import,
  joinFrom,
  linesOf,
  placeOf,
  type SourceLanguage,
  type TreeNodes,
  textOf,
  unquote,
} from "@/core/source/section";

const CLASSES = new Set(["class_declaration", "interface_declaration", "trait_declaration", "enum_declaration"]);
const INCLUDES = ["require_expression", "require_once_expression", "include_expression", "include_once_expression"];

export const php: SourceLanguage = {
  name: "php",
  title: "PHP",
  endings: ["php"],
  namedArguments: true,
  grammar: "tree-sitter-php.wasm",
  colours: {
    texts: ["string", "encapsed_string", "heredoc", "nowdoc", "shell_command_expression"],
    inserted: ["variable_name", "member_access_expression", "subscript_expression", "dynamic_variable_name"],
    numbers: ["integer", "float"],
    types: ["primitive_type", "named_type"],
    words: ["null", "boolean", "php_tag"],
  },
  findSections: (root) => childrenOf(root).flatMap((node) => sectionsAt(node, "")),
  branches: [
    "if_statement",
    "else_if_clause",
    "for_statement",
    "foreach_statement",
    "while_statement",
    "do_statement",
    "case_statement",
    "match_conditional_expression",
    "catch_clause",
    "conditional_expression",
    "&&",
    "||",
    "??",
  ],
  importTypes: ["namespace_use_declaration", ...INCLUDES],
  findImports: (tree) => [...uses(tree), ...includes(tree)].sort((one, other) => one.line - other.line),
  importCandidates: ({ specifier, names }, file) => {
    if (/\.(php|inc|phtml)$/.test(specifier)) return [joinFrom(file, specifier), specifier.replace(/^\.\//, "")];
    const path = specifier.replaceAll("\\", "/");
    return names.flatMap((name) => [`${path}/${name}.php`, `src/${path}/${name}.php`]);
  },
  outside: (specifier) => {
    if (/\.(php|inc|phtml)$/.test(specifier)) return null;
    const [first = "", ...inside] = specifier.split("\\").filter(Boolean);
    return first === "" ? null : { package: first, inside };
  },
  uses: {
    imports: ["namespace_use_declaration", "namespace_definition"],
    names: ["name"],
    members: {
      scoped_call_expression: { object: "scope", member: "name" },
    },
    notUses: {
      qualified_name: ["*"],
      class_declaration: ["name"],
      function_definition: ["name"],
      method_declaration: ["name"],
      variable_name: ["*"],
      member_call_expression: ["name"],
      member_access_expression: ["name"],
    },
  },
  accessors: ["->", "::"],
  statements: {
    blocks: ["program", "compound_statement", "colon_block"],
    top: "program",
    clauses: { case_statement: ["value"], default_statement: [] },
    holders: ["switch_block"],
    bodies: {
      if_statement: ["body"],
      else_clause: ["body"],
      else_if_clause: ["body"],
      for_statement: ["body"],
      foreach_statement: ["body"],
      while_statement: ["body"],
      do_statement: ["body"],
    },
    labels: [],
    skipped: [
      "comment",
      "empty_statement",
      "text_interpolation",
      "function_definition",
      "class_declaration",
      "interface_declaration",
      "trait_declaration",
      "enum_declaration",
      "namespace_use_declaration",
      "namespace_definition",
      "declare_statement",
      "php_tag",
      "text",
      "named_label_statement",
    ],
  },
  comments: [
    ["//", ""],
    ["#", ""],
    ["/*", "*/"],
  ],
  findNamespace: (root) => {
    const [declared] = root.descendantsOfType("namespace_definition");
    return declared ? textOf(declared, "name") : null;
  },
};

function sectionsAt(node: Node, owner: string): FoundSection[] {
  const name = [owner, textOf(node, "name")].filter(Boolean).join(".");
  if (CLASSES.has(node.type)) {
    const inner = childrenOf(node.childForFieldName("body")).flatMap((child) => sectionsAt(child, name));
    return [{ name, kind: "class", ...linesOf(node), params: [] }, ...inner];
  }
  switch (node.type) {
    case "namespace_definition":
    case "compound_statement":
    case "if_statement":
      return childrenOf(node).flatMap((child) => sectionsAt(child, owner));
    case "function_definition":
    case "method_declaration":
      return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(node), params: parameters(node) }];
    case "const_declaration":
      return childrenOf(node)
        .filter((child) => child.type === "const_element")
        .map((child) => ({
          name: [owner, child.namedChildren[0]?.text ?? ""].filter(Boolean).join("."),
          kind: "constant",
          ...linesOf(node),
          params: [],
        }));
    case "expression_statement": {
      const defined = /^define\(\s*['"]([A-Za-z_]\w*)['"]/.exec(node.text)?.[1];
      return defined && owner === "" ? [{ name: defined, kind: "constant", ...linesOf(node), params: [] }] : [];
    }
    default:
      return [];
  }
}

const parameters = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).flatMap((parameter) => {
    const name = textOf(parameter, "name").replace(/^\$/, "");
    return name === "" ? [] : [name];
  });

/** `use A\B\C as D`, `use A\{B, C}`. */
function uses({ find }: TreeNodes): Import[] {
  return find("namespace_use_declaration").flatMap((node): Import[] => {
    const group = childrenOf(node).find((child) => child.type === "namespace_name")?.text ?? "";
    const clauses = node.descendantsOfType("namespace_use_clause").flatMap((clause) => (clause ? [clause] : []));
    return clauses.map((clause): Import => {
      const alias = textOf(clause, "alias");
      const written = childrenOf(clause)[0]?.text ?? "";
      const parts = [group, written].filter(Boolean).join("\\").split("\\").filter(Boolean);
      const name = parts.pop() ?? "";
      const specifier = parts.join("\\") || name;
      const binding: Binding = { local: alias || name, root: specifier, path: parts.length > 0 ? [name] : [] };
      return { specifier, names: [name], ...placeOf(node), bindings: [binding] };
    });
  });
}

function includes({ find }: TreeNodes): Import[] {
  return find(...INCLUDES).flatMap((node): Import[] => {
    const path = node.descendantsOfType("string")[0];
    if (!path) return [];
    const specifier = unquote(path.text).replace(/^\//, "./");
    return [{ specifier, names: [], ...placeOf(node), bindings: [] }];
  });
}
