import type { Node } from "web-tree-sitter";
import {
  childrenOf,
  type FoundSection,
  fieldOf,
  type Import,
  linesOf,
  placeOf,
  SLASH_COMMENTS,
  type SourceLanguage,
  textOf,
  unquote,
} from "@/core/source/section";

export const go: SourceLanguage = {
  name: "go",
  title: "Go",
  endings: ["go"],
  grammar: "tree-sitter-go.wasm",
  colours: {
    texts: ["interpreted_string_literal", "raw_string_literal", "rune_literal"],
    numbers: ["int_literal", "float_literal", "imaginary_literal"],
    types: ["type_identifier"],
    words: ["nil", "true", "false", "iota"],
  },
  findSections: (root) => childrenOf(root).flatMap(sectionsAt),
  branches: ["if_statement", "for_statement", "expression_case", "type_case", "communication_case", "&&", "||"],
  importTypes: ["import_spec"],
  findImports: ({ find }) => find("import_spec").map(importAt),
  importCandidates: () => [],
  outside: (specifier) => ({ package: specifier, inside: [] }),
  uses: {
    imports: ["import_spec", "package_clause"],
    names: ["identifier", "package_identifier"],
    members: {
      selector_expression: { object: "operand", member: "field" },
      qualified_type: { object: "package", member: "name" },
    },
    notUses: {
      function_declaration: ["name"],
      parameter_declaration: ["name"],
      keyed_element: ["key"],
    },
    scopes: ["function_declaration", "method_declaration", "func_literal"],
    declares: {
      parameter_declaration: ["name"],
      variadic_parameter_declaration: ["name"],
      short_var_declaration: ["left"],
      range_clause: ["left"],
      var_spec: ["name"],
      const_spec: ["name"],
    },
    patterns: { expression_list: ["*"] },
  },
  statements: {
    blocks: ["statement_list"],
    clauses: {},
    bodies: { if_statement: ["alternative"] },
    // A label must directly precede its loop.
    labels: [],
    skipped: ["comment", "empty_statement", "const_declaration", "type_declaration", "block"],
    isIdle: (node) => node.type === "var_declaration" && !node.text.includes("="),
  },
  comments: SLASH_COMMENTS,
  sharesFolder: true,
};

function sectionsAt(node: Node): FoundSection[] {
  switch (node.type) {
    case "function_declaration":
      return [{ name: textOf(node, "name"), kind: "function", ...linesOf(node), params: parameters(node) }];
    case "method_declaration": {
      const owner = /(\w+)(?:\[[^\]]*\])?\s*\)$/.exec(textOf(node, "receiver"))?.[1] ?? "";
      return [{ name: `${owner}.${textOf(node, "name")}`, kind: "method", ...linesOf(node), params: parameters(node) }];
    }
    case "type_declaration":
      return childrenOf(node)
        .filter(
          (spec) =>
            /^(struct|interface)_type$/.test(spec.childForFieldName("type")?.type ?? "") || spec.type === "type_spec",
        )
        .map((spec) => ({ name: textOf(spec, "name"), kind: "class", ...specLines(node, spec), params: [] }));
    case "const_declaration":
    case "var_declaration":
      return node
        .descendantsOfType(["const_spec", "var_spec"])
        .flatMap((spec) =>
          fieldOf(spec, "name").map(
            (name): FoundSection => ({
              name: name.text,
              kind: "constant",
              ...specLines(node, spec ?? node),
              params: [],
            }),
          ),
        )
        .filter(({ name }) => name !== "" && name !== "_");
    default:
      return [];
  }
}

/** A declaration of one thing is the section as a whole; of several each has its own lines. */
const specLines = (node: Node, spec: Node): { from: number; to: number } =>
  linesOf(/^\w+\s*\(/.test(node.text) ? spec : node);

const parameters = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).flatMap((parameter) =>
    fieldOf(parameter, "name").map((name) => name.text),
  );

/** A package is called by the last part of its path, the number of a version aside. */
function importAt(node: Node): Import {
  const specifier = unquote(textOf(node, "path"));
  const parts = specifier.split("/").filter((part) => !/^v\d+$/.test(part));
  const called = (parts.at(-1) ?? "").replace(/^go-/, "").replace(/\.v\d+$/, "");
  const alias = textOf(node, "name");
  const bindings = alias === "_" || alias === "." ? [] : [{ local: alias || called, root: specifier, path: [] }];
  return { specifier, names: alias === "." ? ["*"] : [], ...placeOf(node), bindings };
}
