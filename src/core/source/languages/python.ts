import type { Node } from "web-tree-sitter";
import {
  type Binding,
  childrenOf,
  type FoundSection,
  type Import,
  linesOf,
  placeOf,
  type SourceLanguage,
  type TreeNodes,
  textOf,
} from "@/core/source/section";

const BRANCHES = [
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
];

export const python: SourceLanguage = {
  name: "python",
  title: "Python",
  endings: ["py", "pyi"],
  blocksByIndentation: true,
  namedArguments: true,
  makers: ["__init__", "__new__"],
  grammar: "tree-sitter-python.wasm",
  colours: {
    texts: ["string"],
    inserted: ["interpolation"],
    numbers: ["integer", "float"],
    types: ["type"],
    words: ["none", "true", "false", "ellipsis"],
  },
  importTypes: ["import_statement", "import_from_statement"],
  findImports,
  importCandidates,
  findSections: (root) => root.namedChildren.flatMap((node) => (node ? sectionsAt(node, "") : [])),
  branches: BRANCHES,
  outside: (specifier) => {
    const [first = "", ...inside] = specifier.split(".");
    return specifier.startsWith(".") || first === "" ? null : { package: first, inside };
  },
  uses: {
    imports: ["import_statement", "import_from_statement"],
    names: ["identifier"],
    members: { attribute: { object: "object", member: "attribute" } },
    notUses: {
      assignment: ["left"],
      keyword_argument: ["name"],
      function_definition: ["name"],
      class_definition: ["name"],
      parameters: ["*"],
      default_parameter: ["name"],
      typed_parameter: ["*"],
      typed_default_parameter: ["name"],
      lambda_parameters: ["*"],
      global_statement: ["*"],
    },
    scopes: ["function_definition", "lambda", "list_comprehension", "generator_expression"],
    declares: {
      assignment: ["left"],
      augmented_assignment: ["left"],
      for_statement: ["left"],
      for_in_clause: ["left"],
      named_expression: ["name"],
      as_pattern_target: ["*"],
      function_definition: ["name"],
      class_definition: ["name"],
      parameters: ["*"],
      lambda_parameters: ["*"],
      default_parameter: ["name"],
      typed_parameter: ["*"],
      typed_default_parameter: ["name"],
    },
    patterns: {
      pattern_list: ["*"],
      tuple_pattern: ["*"],
      list_pattern: ["*"],
      list_splat_pattern: ["*"],
      dictionary_splat_pattern: ["*"],
    },
    shares: ["global_statement"],
  },
  comments: [["#", ""]],
};

/** Sections of a statement at module level or in a class body; conditional definitions are looked into. */
function sectionsAt(node: Node, owner: string): FoundSection[] {
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

function definition(node: Node, whole: Node, owner: string): FoundSection[] {
  const plain = node.childForFieldName("name")?.text ?? "";
  const name = owner === "" ? plain : `${owner}.${plain}`;
  if (node.type === "function_definition") {
    return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(whole), params: parameters(node) }];
  }
  const body = node.childForFieldName("body");
  const inner = body?.namedChildren.flatMap((child) => (child ? sectionsAt(child, name) : [])) ?? [];
  return [{ name, kind: "class", ...linesOf(whole), params: [] }, ...inner];
}

function parameters(node: Node): string[] {
  const list = node.childForFieldName("parameters")?.namedChildren ?? [];
  return list.flatMap((parameter) => {
    const name = parameter?.type === "identifier" ? parameter.text : parameter?.childForFieldName("name")?.text;
    // `*args` and `**options` cannot be named in a call.
    const first = parameter?.type === "typed_parameter" ? parameter.namedChildren[0] : undefined;
    const typed = first?.type === "identifier" ? first.text : undefined;
    const found = name ?? typed;
    return found && found !== "self" && found !== "cls" ? [found] : [];
  });
}

function constants(node: Node): FoundSection[] {
  const names: string[] = [];
  // `A = B = 1` is an assignment of an assignment, `A, B = 1, 2` one to a list.
  for (let at: Node | null = node.namedChildren[0] ?? null; at?.type === "assignment"; ) {
    const target = at.childForFieldName("left");
    const targets = target?.type === "pattern_list" ? childrenOf(target) : [target];
    names.push(...targets.flatMap((one) => (one?.type === "identifier" ? [one.text] : [])));
    at = at.childForFieldName("right");
  }
  return names
    .filter((name) => !/^__.*__$/.test(name))
    .map((name) => ({ name, kind: "constant", ...linesOf(node), params: [] }));
}

function findImports({ find }: TreeNodes): Import[] {
  return find("import_statement", "import_from_statement").flatMap((node) => {
    const named = node.childrenForFieldName("name").flatMap((entry) => (entry ? [importedName(entry)] : []));
    if (node.type === "import_statement")
      return named.map(({ name, alias }) => ({
        specifier: name,
        names: [],
        ...placeOf(node),
        bindings: [moduleBinding(name, alias)],
      }));
    const specifier = textOf(node, "module_name");
    const isStar = childrenOf(node).some((child) => child.type === "wildcard_import");
    const bindings = named.map(({ name, alias }): Binding => ({ local: alias ?? name, root: specifier, path: [name] }));
    return [{ specifier, names: isStar ? ["*"] : named.map(({ name }) => name), ...placeOf(node), bindings }];
  });
}

function importedName(entry: Node): { name: string; alias: string | null } {
  if (entry.type !== "aliased_import") return { name: entry.text, alias: null };
  return { name: textOf(entry, "name"), alias: textOf(entry, "alias") };
}

/** `import a.b` binds only `a`; `import a.b as c` binds `c`. */
const moduleBinding = (name: string, alias: string | null): Binding =>
  alias === null
    ? { local: name.split(".")[0] ?? name, root: name.split(".")[0] ?? name, path: [] }
    : { local: alias, root: name, path: [] };

/** `from .a import b` may mean the module a, or b inside the package a. */
function importCandidates({ specifier, names }: Pick<Import, "specifier" | "names">, file: string): string[] {
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
