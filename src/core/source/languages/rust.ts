import type { Node } from "web-tree-sitter";
import {
  type Binding,
  childrenOf,
  type FoundSection,
  type Import,
  linesOf,
  placeOf,
  SLASH_COMMENTS,
  type SourceLanguage,
  type TreeNodes,
  textOf,
} from "@/core/source/section";

export const rust: SourceLanguage = {
  name: "rust",
  title: "Rust",
  endings: ["rs"],
  grammar: "tree-sitter-rust.wasm",
  colours: {
    texts: ["string_literal", "raw_string_literal", "char_literal"],
    numbers: ["integer_literal", "float_literal"],
    types: ["type_identifier", "primitive_type"],
    words: ["boolean_literal", "self", "super", "crate", "mutable_specifier"],
  },
  findSections: (root) => childrenOf(root).flatMap((node) => sectionsAt(node, "")),
  branches: [
    "if_expression",
    "for_expression",
    "while_expression",
    "loop_expression",
    "match_arm",
    "try_expression",
    "&&",
    "||",
  ],
  importTypes: ["use_declaration", "mod_item", "extern_crate_declaration"],
  findImports,
  importCandidates,
  outside: (specifier) => {
    const [first = "", ...inside] = specifier.split("::");
    return /^(crate|super|self)$/.test(first) || first === "" ? null : { package: first, inside };
  },
  uses: {
    imports: ["use_declaration", "extern_crate_declaration"],
    names: ["identifier", "type_identifier"],
    members: {
      scoped_identifier: { object: "path", member: "name" },
      scoped_type_identifier: { object: "path", member: "name" },
    },
    notUses: {
      mod_item: ["name"],
      function_item: ["name"],
      struct_item: ["name"],
      parameter: ["pattern"],
      field_expression: ["field"],
    },
    scopes: ["function_item", "closure_expression"],
    declares: {
      parameter: ["pattern"],
      closure_parameters: ["*"],
      let_declaration: ["pattern"],
      for_expression: ["pattern"],
    },
    patterns: { mut_pattern: ["*"], ref_pattern: ["*"], reference_pattern: ["*"], tuple_pattern: ["*"] },
    roots: ["std", "core", "alloc"],
  },
  statements: {
    blocks: ["block"],
    clauses: {},
    bodies: { else_clause: ["*"] },
    labels: [],
    skipped: [
      "line_comment",
      "block_comment",
      "empty_statement",
      "inner_attribute_item",
      "function_item",
      "const_item",
      "static_item",
      "struct_item",
      "enum_item",
      "use_declaration",
      "impl_item",
      "trait_item",
      "type_item",
      "mod_item",
      "macro_definition",
      "label",
    ],
    heads: ["attribute_item"],
    isIdle: (node) => node.type === "let_declaration" && node.childForFieldName("value") === null,
    // Code evaluated at compile time cannot call the probe.
    without: {
      types: ["function_item", "const_item", "static_item", "const_block"],
      test: (node) =>
        node.type !== "function_item" ||
        /^[^(]*\bconst\s+(unsafe\s+)?(extern\s+"\w+"\s+)?fn\b/.test(node.text.slice(0, 200)),
    },
  },
  comments: SLASH_COMMENTS,
};

function sectionsAt(node: Node, owner: string): FoundSection[] {
  const name = [owner, textOf(node, "name")].filter(Boolean).join(".");
  switch (node.type) {
    case "function_item":
    case "function_signature_item":
      return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(node), params: parameters(node) }];
    case "struct_item":
    case "enum_item":
    case "union_item":
      return [{ name, kind: "class", ...linesOf(node), params: [] }];
    case "trait_item":
      return [{ name, kind: "class", ...linesOf(node), params: [] }, ...membersOf(node, name)];
    case "impl_item":
      return membersOf(node, textOf(node, "type").replace(/<.*>$/s, "").split("::").at(-1) ?? "");
    case "mod_item":
      return membersOf(node, owner);
    case "const_item":
    case "static_item":
      return [{ name, kind: "constant", ...linesOf(node), params: [] }];
    case "macro_definition":
      return [{ name, kind: "function", ...linesOf(node), params: [] }];
    default:
      return [];
  }
}

const membersOf = (node: Node, owner: string): FoundSection[] =>
  childrenOf(node.childForFieldName("body")).flatMap((child) => sectionsAt(child, owner));

const parameters = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).flatMap((parameter) =>
    parameter.type === "parameter" ? [textOf(parameter, "pattern").replace(/^mut /, "")] : [],
  );

function findImports(tree: TreeNodes): Import[] {
  const { find } = tree;
  const uses = find("use_declaration").flatMap((node) => {
    const argument = node.childForFieldName("argument");
    return argument ? importsOf(leavesOf(argument, []), node) : [];
  });
  const modules = find("mod_item").flatMap((node): Import[] => {
    if (node.childForFieldName("body")) return [];
    return [{ specifier: `self::${textOf(node, "name")}`, names: [], ...placeOf(node), bindings: [] }];
  });
  const crates = find("extern_crate_declaration").flatMap((node): Import[] => {
    const name = textOf(node, "name");
    const local = textOf(node, "alias") || name;
    return [{ specifier: name, names: [], ...placeOf(node), bindings: [{ local, root: name, path: [] }] }];
  });
  const written = [...uses, ...modules, ...crates];
  return [...written, ...pathsInPlace(tree, written)].sort((one, other) => one.line - other.line);
}

const PATH = /(?<![\w:])([a-z_]\w*)((?:::\w+)+)/g;
const PRIMITIVE = /^([iu](8|16|32|64|128|size)|f(32|64)|bool|char|str|std|core|alloc)$/;

/** `serde_json::to_string(…)` and `crate::money::of(…)` where they are used: a path needs no import. Each once. */
function pathsInPlace({ root, source, find }: TreeNodes, written: readonly Import[]): Import[] {
  const bound = new Set([
    ...written.flatMap(({ bindings }) => bindings.map(({ local }) => local)),
    ...find("mod_item").map((node) => textOf(node, "name")),
  ]);
  const inUse = find("use_declaration");
  const found = new Map<string, Import>();
  for (const match of source.matchAll(PATH)) {
    const [path, head = "", rest = ""] = match;
    const isOwn = /^(crate|super|self)$/.test(head);
    const key = isOwn ? path : head;
    if (found.has(key) || PRIMITIVE.test(head) || (!isOwn && bound.has(head))) continue;
    const at = root.descendantForIndex(match.index, match.index + head.length);
    const isPath = /^scoped_(type_)?identifier$/.test(at?.parent?.type ?? "") && at?.text === head;
    if (!at || !isPath || inUse.some((use) => use.startIndex <= at.startIndex && at.endIndex <= use.endIndex)) continue;
    const place = { line: at.startPosition.row + 1, text: path };
    const parts = [head, ...rest.split("::").filter(Boolean)];
    found.set(
      key,
      isOwn
        ? { specifier: parts.slice(0, -1).join("::"), names: parts.slice(-1), ...place, bindings: [] }
        : { specifier: head, names: [], ...place, bindings: [{ local: head, root: head, path: [] }] },
    );
  }
  return [...found.values()];
}

type Leaf = { readonly path: readonly string[]; readonly local: string };

/** Every name that a use brings in, with its whole path. */
function leavesOf(node: Node, before: readonly string[]): Leaf[] {
  const split = (text: string) => text.split("::").filter(Boolean);
  switch (node.type) {
    case "scoped_use_list": {
      const path = [...before, ...split(textOf(node, "path"))];
      return childrenOf(node.childForFieldName("list")).flatMap((child) => leavesOf(child, path));
    }
    case "use_list":
      return childrenOf(node).flatMap((child) => leavesOf(child, before));
    case "use_as_clause": {
      const path = [...before, ...split(textOf(node, "path"))];
      return [{ path, local: textOf(node, "alias") }];
    }
    case "use_wildcard":
      return [{ path: [...before, ...split(node.namedChildren[0]?.text ?? ""), "*"], local: "" }];
    case "self":
      return [{ path: before, local: before.at(-1) ?? "" }];
    default: {
      const path = [...before, ...split(node.text)];
      return [{ path, local: path.at(-1) ?? "" }];
    }
  }
}

/** One import per path: names below one module are listed together. */
function importsOf(leaves: readonly Leaf[], node: Node): Import[] {
  const bySpecifier = new Map<string, Leaf[]>();
  for (const leaf of leaves) {
    const specifier = leaf.path.slice(0, -1).join("::") || (leaf.path[0] ?? "");
    bySpecifier.set(specifier, [...(bySpecifier.get(specifier) ?? []), leaf]);
  }
  return [...bySpecifier].map(([specifier, list]) => ({
    specifier,
    names: list.map(({ path }) => path.at(-1) ?? ""),
    ...placeOf(node),
    bindings: list
      .filter(({ local }) => local !== "" && local !== "_")
      .map(({ path, local }): Binding => ({ local, root: path[0] ?? "", path: path.slice(1) })),
  }));
}

/** `crate::a::b` may be a module's file, or a name in the module above it. */
function importCandidates({ specifier, names }: Pick<Import, "specifier" | "names">, file: string): string[] {
  const folder = file.split("/").slice(0, -1);
  const isRoot = /(^|\/)(lib|main|mod)\.rs$/.test(file);
  const own = isRoot ? folder : [...folder, (file.split("/").at(-1) ?? "").replace(/\.rs$/, "")];
  const parts = specifier.split("::");
  let base: string[];
  if (parts[0] === "crate") base = crateFolder(folder);
  else if (parts[0] === "self") base = own;
  else if (parts[0] === "super") base = own.slice(0, -1);
  // A path may begin with a module beside this one.
  else return relativeCandidates([...own, ...parts], names);
  let rest = parts.slice(1);
  while (rest[0] === "super") {
    base = base.slice(0, -1);
    rest = rest.slice(1);
  }
  const paths = [...names.filter((name) => name !== "*").map((name) => [...rest, name]), rest, rest.slice(0, -1)];
  return paths
    .filter((path) => path.length > 0)
    .flatMap((path) => {
      const stem = [...base, ...path].join("/");
      return [`${stem}.rs`, `${stem}/mod.rs`];
    })
    .concat(
      rest.length === 0
        ? [`${base.join("/")}.rs`, `${base.join("/")}/mod.rs`, `${base.join("/")}/lib.rs`].map((name) =>
            name.replace(/^\//, ""),
          )
        : [],
    );
}

function relativeCandidates(path: readonly string[], names: readonly string[]): string[] {
  const stems = [...names.filter((name) => name !== "*").map((name) => [...path, name]), path].map((parts) =>
    parts.join("/"),
  );
  return stems.flatMap((stem) => [`${stem}.rs`, `${stem}/mod.rs`]);
}

/** The folder with the crate's root: the nearest `src`, or the file's own. */
function crateFolder(folder: readonly string[]): string[] {
  const src = folder.lastIndexOf("src");
  return src === -1 ? [] : folder.slice(0, src + 1);
}
