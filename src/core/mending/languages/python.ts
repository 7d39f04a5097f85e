/** Small changes of Python. */
import type { Node } from "web-tree-sitter";
import type { Edit } from "@/core/mending/edit";
import { chained, interpolated, sliceBounds, within32Bits } from "@/core/mending/languages/python-texts";
import { around, Edits, literals, type MendLanguage, namesIn, type Site, suspectNodes } from "@/core/mending/site";
import { childrenOf, textOf } from "@/core/source/section";

const OPERATORS = [
  ["<", "<=", ">=", ">"],
  ["==", "!="],
  ["+", "-", "*"],
  ["*", "/", "//", "%"],
  ["and", "or"],
  ["+=", "-="],
  ["is", "is not"],
  ["in", "not in"],
  ["&", "|", "^"],
  [">>", "<<"],
];
const NAMES = [
  ["min", "max"],
  ["any", "all"],
  ["floor", "trunc", "ceil", "round"],
  ["strip", "rstrip", "lstrip"],
  ["upper", "lower", "title", "capitalize", "casefold"],
  ["startswith", "endswith"],
  ["find", "rfind", "index"],
  ["append", "extend"],
  ["ljust", "rjust", "center"],
  ["keys", "values", "items"],
  ["isoweekday", "weekday"],
];

export const python: MendLanguage = { language: "python", editsOf };

function editsOf(site: Site): Edit[] {
  const edits = new Edits(site);
  for (const node of suspectNodes(site)) edit(node, edits);
  addBranches(site, edits);
  return edits.made;
}

function edit(node: Node, edits: Edits): void {
  switch (node.type) {
    case "integer":
    case "float":
      edits.numbers(node);
      return;
    case "string":
      if (/^['"]/.test(node.text) && !/^('''|""")/.test(node.text)) edits.texts(node, (text) => JSON.stringify(text));
      return;
    case "true":
    case "false":
      edits.swap(node, [["True", "False"]], 0.3);
      return;
    case "comparison_operator":
      for (const child of node.children ?? [])
        if (child && !child.isNamed) edits.swap(child, OPERATORS, edits.likelier(0.45, "boundary", "off-by-one"));
      return;
    case "binary_operator":
      binary(node, edits);
      return;
    case "boolean_operator":
      boolean(node, edits);
      return;
    case "augmented_assignment":
      for (const child of node.children ?? []) if (child && !child.isNamed) edits.swap(child, OPERATORS, 0.35);
      return;
    case "not_operator":
    case "unary_operator":
      edits.replace(node, textOf(node, "argument"), `${node.children[0]?.text} goes`, edits.likelier(0.3, "sign-flip"));
      return;
    case "call":
      call(node, edits);
      chained(node, edits);
      return;
    case "slice":
      sliceBounds(node, edits);
      return;
    case "interpolation":
      interpolated(node, edits);
      return;
    case "assignment": {
      const value = node.childForFieldName("right");
      if (value) within32Bits(value, edits);
      return;
    }
    case "if_statement":
    case "elif_clause":
    case "while_statement": {
      const condition = node.childForFieldName("condition");
      if (condition) edits.replace(condition, `not (${condition.text})`, "the condition is turned round", 0.35);
      return;
    }
    case "conditional_expression": {
      const [yes, condition, no] = childrenOf(node).map(({ text }) => text);
      edits.replace(node, `${no} if ${condition} else ${yes}`, "the two outcomes change places", 0.3);
      return;
    }
    case "expression_statement":
      edits.replace(node, "pass", "the statement goes", edits.likelier(0.15, "changed-argument", "extra-output"));
      return;
    case "return_statement":
      for (const value of childrenOf(node).slice(0, 1)) {
        edits.answer(value, "not ");
        for (const [make, what, causes] of WRAPPED)
          edits.replace(value, make(value.text), what, edits.likelier(0.03, ...causes));
      }
      return;
    case "dictionary":
      literals(node, edits);
      return;
    case "pair": {
      const key = node.childForFieldName("key");
      if (key?.type !== "string") return;
      for (const other of edits.spellings(key.text.slice(1, -1)))
        edits.replace(key, JSON.stringify(other), `the key is ${other}`, edits.likelier(0.3, "key-naming"));
      return;
    }
    case "identifier":
      identifier(node, edits);
  }
}

/** Changes to the expression that makes the answer, with the causes that point to each. */
const WRAPPED: readonly (readonly [(value: string) => string, string, readonly string[]])[] = [
  [(value) => `(${value}).upper()`, "the answer is in capitals", ["text-case"]],
  [(value) => `(${value}).lower()`, "the answer is in small letters", ["text-case"]],
  [(value) => `(${value}).strip()`, "the answer is trimmed", ["whitespace"]],
  [(value) => `(${value}).rstrip()`, "the answer is trimmed at its end", ["whitespace"]],
  [(value) => `float(${value})`, "the answer is a number", ["text-and-number"]],
  [(value) => `int(${value})`, "the answer is a whole number", ["text-and-number", "boolean-and-number"]],
  [(value) => `str(${value})`, "the answer is a text", ["text-and-number"]],
  [(value) => `bool(${value})`, "the answer is true or false", ["boolean-and-number"]],
  [(value) => `list(dict.fromkeys(${value}))`, "the answer has each item once", ["duplicates"]],
  [(value) => `sorted(${value})`, "the answer is sorted", ["order-only", "sort-order"]],
  [(value) => `(${value})[::-1]`, "the answer is turned round", ["order-only"]],
];

/** A branch of the original before each statement of the functions that suspect lines lie in. */
function addBranches(site: Site, edits: Edits): void {
  if (edits.lackedBranches.length === 0) return;
  const scopes = new Map<number, Node>();
  for (const node of suspectNodes(site)) {
    const scope = node.type === "function_definition" ? node : around(node, /^function_definition$/);
    if (scope) scopes.set(scope.id, scope);
  }
  const prior = edits.likelier(0.2, "not-ported-branch", "error-swallowed", "error-added");
  for (const scope of scopes.values())
    for (const statement of childrenOf(scope.childForFieldName("body")))
      for (const branch of edits.lackedBranches) {
        const margin = " ".repeat(statement.startPosition.column);
        const text = branch.trimEnd().replaceAll("\n", `\n${margin}`);
        edits.insert(statement, `${text}\n${margin}`, "a branch of the original is added", prior);
      }
}

function binary(node: Node, edits: Edits): void {
  const [left, right] = [textOf(node, "left"), textOf(node, "right")];
  const operator = node.childForFieldName("operator");
  if (!operator) return;
  const sign = operator.text;
  edits.swap(
    operator,
    OPERATORS,
    edits.likelier(0.4, "integer-division", "floor-or-truncate", "sign-flip", "remainder-sign"),
  );
  if (sign === "/" || sign === "//") {
    const whole = edits.likelier(0.3, "integer-division", "floor-or-truncate");
    edits.replace(node, `int((${left}) / (${right}))`, "the quotient is cut towards zero", whole);
    edits.replace(node, `round((${left}) / (${right}))`, "the quotient is rounded", whole - 0.1);
  }
  if (sign === "%")
    edits.replace(
      node,
      `__import__("math").fmod(${left}, ${right})`,
      "the remainder takes the dividend's sign",
      edits.likelier(0.3, "remainder-sign"),
    );
  if (sign === "-" || sign === "/" || sign === "//")
    edits.replace(node, `${right} ${sign} ${left}`, "the two sides change places", 0.25);
  if (sign === "+" || sign === "-" || sign === "*") {
    edits.replace(
      node,
      left,
      `${sign} ${right} goes`,
      edits.likelier(/^\d$/.test(right) ? 0.34 : 0.15, "off-by-one", "constant-offset"),
    );
    edits.replace(node, right, `${left} ${sign} goes`, 0.08);
  }
}

function boolean(node: Node, edits: Edits): void {
  const [left, right] = [textOf(node, "left"), textOf(node, "right")];
  const operator = node.childForFieldName("operator");
  if (operator) edits.swap(operator, OPERATORS, 0.4);
  edits.replace(node, left, `${right} does not count`, 0.2);
  edits.replace(node, right, `${left} does not count`, 0.2);
  for (const side of ["left", "right"]) {
    const part = node.childForFieldName(side);
    if (part && /^(identifier|attribute|call)$/.test(part.type))
      edits.replace(part, `(not ${part.text})`, `${part.text} is negated`, 0.18);
  }
  if (operator?.text === "or")
    edits.replace(
      node,
      `(${right} if ${left} is None else ${left})`,
      "only None takes the default",
      edits.likelier(0.35, "null-and-missing", "empty-and-missing"),
    );
}

function call(node: Node, edits: Edits): void {
  const list = node.childForFieldName("arguments");
  const args = childrenOf(list).filter(({ type }) => type !== "comment");
  const callee = node.childForFieldName("function");
  const name = callee?.type === "attribute" ? textOf(callee, "attribute") : (callee?.text ?? "");
  const owner = callee?.type === "attribute" ? textOf(callee, "object") : "";
  const [first] = args;
  edits.swapArguments(list);
  edits.nextTo(args, /^(date|datetime)$/.test(name));
  const word = callee?.type === "attribute" ? callee.childForFieldName("attribute") : callee;
  if (word) edits.swap(word, NAMES, edits.likelier(0.4, "rounding-mode", "whitespace", "text-case", "weekday-base"));
  if (name === "round" && first && args.length === 1) {
    edits.replace(
      node,
      `int((${first.text}) // 1 + ((${first.text}) % 1 >= 0.5))`,
      "halves go up",
      edits.likelier(0.45, "rounding-mode"),
    );
    edits.replace(
      node,
      `int((${first.text}) // 1)`,
      "it is cut down",
      edits.likelier(0.25, "rounding-mode", "floor-or-truncate"),
    );
  }
  if (name === "int" && first && args.length === 1) {
    edits.replace(
      node,
      `int((${first.text}) // 1)`,
      "it is cut down, not towards zero",
      edits.likelier(0.35, "floor-or-truncate"),
    );
    edits.replace(node, `round(${first.text})`, "it is rounded", edits.likelier(0.3, "rounding-mode"));
    edits.replace(node, `float(${first.text})`, "it keeps its fraction", edits.likelier(0.2, "floor-or-truncate"));
    edits.replace(node, `(${first.text})`, "int goes", 0.15);
  }
  if (name === "sorted" && first && list) {
    for (const more of ["", ", reverse=True", ", key=str", ", key=str.lower"])
      edits.replace(list, `(${first.text}${more})`, "another order", edits.likelier(0.35, "sort-order", "order-only"));
    edits.replace(node, `list(${first.text})`, "it is not sorted", edits.likelier(0.2, "order-only"));
  }
  if (name === "range" && list) {
    const last = args[args.length > 1 ? 1 : 0];
    for (const step of ["+ 1", "- 1"])
      if (last)
        edits.replace(
          last,
          `(${last.text}) ${step}`,
          `the end is ${step}`,
          edits.likelier(0.35, "off-by-one", "last-item", "boundary"),
        );
    if (args.length === 1 && last)
      edits.replace(list, `(1, ${last.text})`, "it begins at 1", edits.likelier(0.2, "off-by-one"));
  }
  if (/^(strip|lower|upper|title)$/.test(name) && owner)
    edits.replace(node, owner, `${name} goes`, edits.likelier(0.3, "whitespace", "text-case"));
  if (name === "replace" && args.length === 3 && list && args[0] && args[1])
    edits.replace(
      list,
      `(${args[0].text}, ${args[1].text})`,
      "every place is replaced",
      edits.likelier(0.4, "first-only"),
    );
  if (around(node, /^function_definition$/)?.children[0]?.type === "async" && node.parent?.type !== "await")
    edits.replace(node, `(await ${node.text})`, "it is awaited", 0.4);
}

function identifier(node: Node, edits: Edits): void {
  const parent = node.parent;
  if (
    !parent ||
    /^(call|function_definition|class_definition|parameters|attribute|keyword_argument|typed_parameter|dotted_name)$/.test(
      parent.type,
    )
  ) {
    if (parent?.type !== "attribute" || parent.childForFieldName("object")?.id !== node.id) return;
  }
  if (parent.type === "assignment" && parent.childForFieldName("left")?.id === node.id) return;
  if (parent.type === "default_parameter") return;
  const scope = around(node, /^function_definition$/);
  if (!scope) return;
  const params = scope.childForFieldName("parameters");
  const names = params ? namesIn(params, ["identifier"]) : [];
  const locals = scope.descendantsOfType("assignment").flatMap((made) => {
    const left = made?.childForFieldName("left");
    return left?.type === "identifier" ? [left.text] : [];
  });
  edits.names(node, [...new Set([...names, ...locals])].slice(0, 12));
  if (!/^(argument_list|pair|assignment|return_statement)$/.test(parent.type)) return;
  const prior = edits.likelier(0.05, "changed-argument", "shared-state");
  for (const copy of ["dict", "list"]) edits.replace(node, `${copy}(${node.text})`, "a copy of it is taken", prior);
}
