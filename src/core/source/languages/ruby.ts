import type { Node } from "web-tree-sitter";
import {
  callsOf,
  childrenOf,
  type FoundSection,
  type Import,
  joinFrom,
  linesOf,
  placeOf,
  type SourceLanguage,
  textOf,
  unquote,
} from "@/core/source/section";

/** Constant names of Ruby's own libraries; others use their name in CamelCase. */
const CONSTANTS: Readonly<Record<string, readonly string[]>> = {
  json: ["JSON"],
  set: ["Set", "SortedSet"],
  date: ["Date", "DateTime"],
  time: ["Time"],
  csv: ["CSV"],
  yaml: ["YAML"],
  psych: ["Psych"],
  erb: ["ERB"],
  bigdecimal: ["BigDecimal"],
  "bigdecimal/util": ["BigDecimal"],
  fileutils: ["FileUtils"],
  securerandom: ["SecureRandom"],
  digest: ["Digest"],
  open3: ["Open3"],
  optparse: ["OptionParser"],
  pathname: ["Pathname"],
  tempfile: ["Tempfile"],
  tmpdir: ["Dir"],
  uri: ["URI"],
  logger: ["Logger"],
  socket: ["TCPSocket", "TCPServer", "UDPSocket", "Socket"],
  "net/http": ["Net"],
  timeout: ["Timeout"],
  stringio: ["StringIO"],
  ostruct: ["OpenStruct"],
  matrix: ["Matrix", "Vector"],
  prime: ["Prime"],
  benchmark: ["Benchmark"],
  zlib: ["Zlib"],
  rexml: ["REXML"],
  "rexml/document": ["REXML"],
  forwardable: ["Forwardable"],
  singleton: ["Singleton"],
  observer: ["Observable"],
  monitor: ["Monitor"],
  etc: ["Etc"],
  io: ["IO"],
  shellwords: ["Shellwords"],
  tsort: ["TSort"],
  English: [],
};

export const ruby: SourceLanguage = {
  name: "ruby",
  title: "Ruby",
  endings: ["rb"],
  namedArguments: true,
  grammar: "tree-sitter-ruby.wasm",
  colours: {
    texts: [
      "string",
      "bare_string",
      "string_array",
      "symbol_array",
      "simple_symbol",
      "delimited_symbol",
      "hash_key_symbol",
      "regex",
      "subshell",
      "heredoc_beginning",
      "heredoc_body",
      "character",
    ],
    inserted: ["interpolation"],
    numbers: ["integer", "float", "rational", "complex"],
    types: ["constant"],
    words: ["nil", "true", "false", "self", "super"],
  },
  findSections: (root) => childrenOf(root).flatMap((node) => sectionsAt(node, "")),
  branches: [
    "if",
    "elsif",
    "unless",
    "while",
    "until",
    "for",
    "when",
    "in_clause",
    "rescue",
    "conditional",
    "if_modifier",
    "unless_modifier",
    "while_modifier",
    "until_modifier",
    "rescue_modifier",
    "&&",
    "||",
    "and",
    "or",
  ],
  importTypes: [],
  findImports: (tree) =>
    callsOf(tree, ["require", "require_relative", "load", "autoload"], "call").flatMap((node) => {
      const how = textOf(node, "method");
      // For `autoload`, the path follows the constant's name.
      const given = childrenOf(node.childForFieldName("arguments"))[how === "autoload" ? 1 : 0];
      if (given?.type !== "string" || node.childForFieldName("receiver")) return [];
      if (!/^(require|require_relative|load|autoload)$/.test(how)) return [];
      const path = unquote(given.text);
      return [importOf(how === "require_relative" ? relative(path) : path, node)];
    }),
  importCandidates: ({ specifier }, file) => {
    const plain = specifier.replace(/\.rb$/, "");
    if (plain.startsWith(".")) return [`${joinFrom(file, plain)}.rb`];
    return [`lib/${plain}.rb`, `${plain}.rb`, `app/${plain}.rb`];
  },
  outside: (specifier) => (specifier.startsWith(".") ? null : { package: specifier, inside: [] }),
  uses: {
    imports: [],
    names: ["constant"],
    members: {
      call: { object: "receiver", member: "method" },
      scope_resolution: { object: "scope", member: "name" },
    },
    notUses: { class: ["name"], module: ["name"], scope_resolution: ["name"] },
  },
  comments: [
    ["#", ""],
    ["=begin", "=end"],
  ],
};

const relative = (path: string): string => (path.startsWith(".") ? path : `./${path}`);

function importOf(specifier: string, node: Node): Import {
  const called = CONSTANTS[specifier] ?? [inCapitals(specifier.split("/")[0] ?? "")];
  const bindings = specifier.startsWith(".") ? [] : called.map((local) => ({ local, root: specifier, path: [local] }));
  return { specifier, names: [], ...placeOf(node), bindings };
}

const inCapitals = (name: string): string =>
  name.replace(/(^|[_-])([a-z])/g, (_all, _gap: string, letter: string) => letter.toUpperCase());

/** A module is a class for us: it holds methods and constants. */
function sectionsAt(node: Node, owner: string): FoundSection[] {
  switch (node.type) {
    case "class":
    case "module": {
      const name = [owner, textOf(node, "name").replaceAll("::", ".")].filter(Boolean).join(".");
      return [{ name, kind: "class", ...linesOf(node), params: [] }, ...inBody(node, name)];
    }
    case "singleton_class":
      return inBody(node, owner);
    case "method":
    case "singleton_method": {
      const name = [owner, textOf(node, "name")].filter(Boolean).join(".");
      return [{ name, kind: owner === "" ? "function" : "method", ...linesOf(node), params: parameters(node) }];
    }
    case "assignment": {
      const left = node.childForFieldName("left");
      const named = (left?.type === "left_assignment_list" ? childrenOf(left) : [left]).flatMap((target) =>
        target?.type === "constant" ? [[owner, target.text].filter(Boolean).join(".")] : [],
      );
      const made = madeClass(node.childForFieldName("right"));
      if (made && named[0])
        return [{ name: named[0], kind: "class", ...linesOf(node), params: [] }, ...inBody(made, named[0])];
      return named.map((name) => ({ name, kind: "constant", ...linesOf(node), params: [] }));
    }
    case "call":
      // `private def f` holds a definition in its arguments.
      return childrenOf(node.childForFieldName("arguments")).flatMap((child) =>
        /method$/.test(child.type) ? sectionsAt(child, owner) : [],
      );
    default:
      return [];
  }
}

/** The block of `Struct.new(…) do … end` and its like, in which methods are defined. */
function madeClass(value: Node | null): Node | null {
  if (value?.type !== "call" || !/^(Struct|Class|Module|Data)$/.test(textOf(value, "receiver"))) return null;
  return /^(new|define)$/.test(textOf(value, "method")) ? value.childForFieldName("block") : null;
}

const inBody = (node: Node, owner: string): FoundSection[] => {
  const body = node.childForFieldName("body") ?? childrenOf(node).find((child) => child.type === "body_statement");
  return childrenOf(body).flatMap((child) => sectionsAt(child, owner));
};

const parameters = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).map((parameter) =>
    parameter.type === "identifier" ? parameter.text : textOf(parameter, "name") || parameter.text,
  );
