import { C_STATEMENTS, c, includes, sectionsIn } from "@/core/source/languages/c";
import { childrenOf, type Import, placeOf, type SourceLanguage } from "@/core/source/section";

/** The trees of C++ hold those of C, with classes, namespaces and templates around. */
export const cpp: SourceLanguage = {
  ...c,
  methodsAreFunctions: false,
  name: "cpp",
  title: "C++",
  endings: ["cc", "cpp", "cxx", "hpp", "hh", "hxx", "inl", "ipp", "tpp"],
  grammar: "tree-sitter-cpp.wasm",
  colours: {
    texts: ["string_literal", "raw_string_literal", "char_literal", "system_lib_string"],
    numbers: ["number_literal"],
    types: ["type_identifier", "primitive_type", "sized_type_specifier", "placeholder_type_specifier"],
    words: ["null", "nullptr", "true", "false", "this", "preproc_directive"],
  },
  statements: {
    ...C_STATEMENTS,
    bodies: { ...C_STATEMENTS.bodies, for_range_loop: ["body"] },
    // Code that may be evaluated at compile time cannot call the probe.
    without: {
      types: ["function_definition", "lambda_expression"],
      test: (node) =>
        /^[^({]*\b(constexpr|consteval)\b|^\[[^{]*\)\s*(constexpr|consteval)\b/.test(node.text.slice(0, 400)),
    },
  },
  findSections: (root) => sectionsIn(root, ""),
  branches: [...c.branches, "for_range_loop", "catch_clause", "and", "or"],
  importTypes: ["preproc_include", "using_declaration"],
  findImports: (tree) => [
    ...includes(tree),
    ...tree.find("using_declaration").flatMap((node): Import[] => {
      // In a class it takes what its base has.
      if (node.parent?.type === "field_declaration_list") return [];
      const named = childrenOf(node).find((child) => child.type === "qualified_identifier");
      const [first = "", ...rest] = (named?.text ?? "").split("::");
      if (rest.length === 0) return [];
      const local = rest.at(-1) ?? "";
      return [
        { specifier: first, names: [rest.join(".")], ...placeOf(node), bindings: [{ local, root: first, path: rest }] },
      ];
    }),
  ],
  uses: {
    ...c.uses,
    names: ["identifier", "type_identifier", "namespace_identifier"],
    members: { qualified_identifier: { object: "scope", member: "name" } },
    notUses: { ...c.uses.notUses, using_declaration: ["*"], namespace_definition: ["name"] },
    roots: ["std"],
  },
};
