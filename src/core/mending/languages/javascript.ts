/** Small changes of JavaScript and TypeScript. */
import type { Node } from "web-tree-sitter";
import type { Edit } from "@/core/mending/edit";
import { copiedParameters, countedFrom } from "@/core/mending/languages/javascript-loops";
import { convertingCall, pattern, substituted } from "@/core/mending/languages/javascript-texts";
import { around, Edits, literals, type MendLanguage, namesIn, type Site, suspectNodes } from "@/core/mending/site";
import { childrenOf, textOf } from "@/core/source/section";

const FUNCTION =
  /^(function_declaration|function_expression|arrow_function|method_definition|generator_function_declaration)$/;
const OPERATORS = [
  ["<", "<=", ">=", ">"],
  ["===", "!=="],
  ["==", "!="],
  ["+", "-", "*"],
  ["*", "/", "%"],
  ["&&", "||"],
  ["||", "??"],
  ["+=", "-="],
  ["++", "--"],
  ["&", "|", "^"],
  [">>", ">>>", "<<"],
];
const METHODS = [
  ["floor", "trunc", "round", "ceil"],
  ["min", "max"],
  ["trim", "trimEnd", "trimStart"],
  ["toUpperCase", "toLowerCase"],
  ["startsWith", "endsWith", "includes"],
  ["indexOf", "lastIndexOf"],
  ["find", "findLast"],
  ["some", "every"],
  ["push", "unshift"],
  ["pop", "shift"],
  ["slice", "substring"],
  ["padStart", "padEnd"],
  ["getDate", "getUTCDate"],
  ["getDay", "getUTCDay"],
  ["getHours", "getUTCHours"],
  ["getMonth", "getUTCMonth"],
  ["getFullYear", "getUTCFullYear"],
  ["keys", "values", "entries"],
];
const NULLISH = /^(null|undefined)$/;

export const javascript: MendLanguage = { language: "javascript", editsOf };

function editsOf(site: Site): Edit[] {
  const edits = new Edits(site);
  for (const node of suspectNodes(site)) edit(node, edits);
  for (const scope of scopesOf(site)) {
    addBranches(scope, edits);
    copiedParameters(scope, edits);
  }
  return edits.made;
}

/** The functions that suspect lines lie in. */
function scopesOf(site: Site): Node[] {
  const found = new Map<number, Node>();
  for (const node of suspectNodes(site)) {
    const scope = FUNCTION.test(node.type) ? node : around(node, FUNCTION);
    if (scope) found.set(scope.id, scope);
  }
  return [...found.values()];
}

/** A branch of the original before each statement of a function. */
function addBranches(scope: Node, edits: Edits): void {
  const body = scope.childForFieldName("body");
  if (!body) return;
  const prior = edits.likelier(0.2, "not-ported-branch", "error-swallowed", "error-added");
  for (const branch of edits.lackedBranches) {
    const what = "a branch of the original is added";
    if (body.type !== "statement_block") {
      const value = body.type === "parenthesized_expression" ? body.text.slice(1, -1) : body.text;
      edits.replace(body, `{ ${branch} return ${value}; }`, what, prior);
    } else for (const statement of childrenOf(body)) edits.insert(statement, `${branch} `, what, prior);
  }
}

function edit(node: Node, edits: Edits): void {
  switch (node.type) {
    case "template_string":
      template(node, edits);
      return;
    case "spread_element": {
      const [value] = childrenOf(node);
      if (value && node.parent?.type === "array")
        edits.replace(value, `new Set(${value.text})`, "each is taken once", edits.likelier(0.08, "duplicates"));
      return;
    }
    case "object":
      literals(node, edits);
      respelled(node, edits);
      return;
    case "pair": {
      const key = node.childForFieldName("key");
      const value = node.childForFieldName("value");
      if (value && key?.text === "length") edits.nextTo([value], false);
      if (key?.type !== "property_identifier") return;
      for (const other of edits.spellings(key.text))
        edits.replace(key, JSON.stringify(other), `the key is ${other}`, edits.likelier(0.3, "key-naming"));
      return;
    }
    case "number":
      edits.numbers(node);
      return;
    case "for_statement":
      countedFrom(node, edits);
      return;
    case "regex":
      pattern(node, edits);
      return;
    case "string":
      edits.texts(node, (text) => JSON.stringify(text));
      return;
    case "true":
    case "false":
      edits.swap(node, [["true", "false"]], 0.3);
      return;
    case "binary_expression":
      binary(node, edits);
      return;
    case "augmented_assignment_expression":
    case "update_expression":
      for (const child of node.children ?? []) if (child && !child.isNamed) edits.swap(child, OPERATORS, 0.35);
      return;
    case "call_expression":
      call(node, edits);
      return;
    case "property_identifier":
      edits.swap(
        node,
        METHODS,
        edits.likelier(0.4, "rounding-mode", "floor-or-truncate", "whitespace", "text-case", "time-zone"),
      );
      if (node.text === "length" && node.parent) {
        const owner = textOf(node.parent, "object");
        edits.replace(
          node.parent,
          `[...${owner}].length`,
          "counts characters, not units",
          edits.likelier(0.25, "code-units"),
        );
      }
      return;
    case "if_statement":
    case "while_statement": {
      const condition = node.childForFieldName("condition");
      if (condition) edits.replace(condition, `(!${condition.text})`, "the condition is turned round", 0.35);
      if (node.type === "if_statement") edits.replace(node, ";", "the branch goes", 0.12);
      return;
    }
    case "ternary_expression": {
      const [condition, yes, no] = ["condition", "consequence", "alternative"].map((field) => textOf(node, field));
      edits.replace(node, `${condition} ? ${no} : ${yes}`, "the two outcomes change places", 0.3);
      if (/^[01]$/.test(yes ?? "") && /^[01]$/.test(no ?? ""))
        edits.replace(
          node,
          yes === "1" ? `(${condition})` : `!(${condition})`,
          "the answer is true or false",
          edits.likelier(0.1, "boolean-and-number"),
        );
      return;
    }
    case "unary_expression":
      edits.replace(node, textOf(node, "argument"), `${node.children[0]?.text} goes`, edits.likelier(0.3, "sign-flip"));
      return;
    case "expression_statement":
      edits.replace(node, ";", "the statement goes", edits.likelier(0.15, "changed-argument", "extra-output"));
      return;
    case "return_statement":
      returned(node, edits);
      return;
    case "new_expression":
      if (textOf(node, "constructor") === "Date") {
        const args = childrenOf(node.childForFieldName("arguments"));
        edits.nextTo(args, true);
        const only = args.length === 1 ? args[0] : undefined;
        if (only) {
          edits.replace(
            only,
            `(${only.text}) * 1000`,
            "seconds become milliseconds",
            edits.likelier(0.2, "epoch-unit"),
          );
          edits.replace(
            only,
            `(${only.text}) / 1000`,
            "milliseconds become seconds",
            edits.likelier(0.05, "epoch-unit"),
          );
        }
      }
      return;
    case "identifier":
      identifier(node, edits);
      return;
    case "arrow_function": {
      // An arrow's expression is its answer.
      const body = node.childForFieldName("body");
      if (body && body.type !== "statement_block") answered(body, edits);
      return;
    }
    case "shorthand_property_identifier":
      return;
    default:
      if (node.type === "undefined" || node.type === "null") edits.swap(node, [["null", "undefined"]], 0.2);
  }
}

function binary(node: Node, edits: Edits): void {
  const [left, right] = [textOf(node, "left"), textOf(node, "right")];
  const operator = node.childForFieldName("operator");
  if (!operator) return;
  const sign = operator.text;
  const isOrder = OPERATORS[0]?.includes(sign) ?? false;
  edits.swap(
    operator,
    OPERATORS,
    isOrder
      ? edits.likelier(0.45, "boundary", "off-by-one")
      : edits.likelier(0.4, "null-and-missing", "empty-and-missing", "sign-flip"),
  );
  if (sign === "%")
    edits.replace(
      node,
      `(((${node.text}) + (${right})) % (${right}))`,
      "the remainder takes the divisor's sign",
      edits.likelier(0.35, "remainder-sign"),
    );
  if (sign === "/") {
    for (const way of ["floor", "trunc", "round"])
      edits.replace(
        node,
        `Math.${way}(${node.text})`,
        `the quotient is made whole by ${way}`,
        edits.likelier(0.3, "integer-division", "floor-or-truncate"),
      );
  }
  if (sign === "-" || sign === "/")
    edits.replace(node, `${right} ${sign} ${left}`, "the two sides change places", 0.25);
  if (/^[=!]==?$/.test(sign) && (NULLISH.test(left) || NULLISH.test(right)))
    edits.replace(
      node,
      `${left} ${sign.startsWith("!") ? "!=" : "=="} ${right}`,
      "null and undefined are one",
      edits.likelier(0.3, "null-and-missing"),
    );
  if (sign === "+" || sign === "-" || sign === "*") {
    edits.replace(
      node,
      left,
      `${sign} ${right} goes`,
      edits.likelier(/^\d$/.test(right) ? 0.34 : 0.15, "off-by-one", "constant-offset"),
    );
    edits.replace(node, right, `${left} ${sign} goes`, 0.08);
  }
  if (sign === "&&" || sign === "||") {
    edits.replace(node, left, `${right} does not count`, 0.2);
    edits.replace(node, right, `${left} does not count`, 0.2);
    for (const side of ["left", "right"]) {
      const part = node.childForFieldName(side);
      if (part && /^(identifier|member_expression|call_expression)$/.test(part.type))
        edits.replace(part, `!${part.text}`, `${part.text} is negated`, 0.18);
    }
  }
}

const HALF_EVEN = (value: string): string =>
  `((value) => Math.abs(value % 1) === 0.5 ? 2 * Math.round(value / 2) : Math.round(value))(${value})`;
const HALF_UP_AWAY = (value: string): string => `((value) => Math.sign(value) * Math.round(Math.abs(value)))(${value})`;
const BY_POINTS = "(a, b) => (a < b ? -1 : a > b ? 1 : 0)";

function call(node: Node, edits: Edits): void {
  const callee = node.childForFieldName("function");
  const list = node.childForFieldName("arguments");
  const args = childrenOf(list).filter(({ type }) => type !== "comment");
  const name = callee?.text ?? "";
  const [first] = args;
  edits.swapArguments(list);
  edits.nextTo(args, /^(Date|Date\.UTC)$/.test(name));
  if (name === "Math.round" && first) {
    edits.replace(node, HALF_EVEN(first.text), "halves go to the even neighbour", edits.likelier(0.4, "rounding-mode"));
    edits.replace(node, HALF_UP_AWAY(first.text), "halves go away from zero", edits.likelier(0.3, "rounding-mode"));
  }
  if (/^Math\.(round|floor|ceil|trunc)$|^(Number|String|parseInt)$/.test(name) && first)
    edits.replace(
      node,
      `(${first.text})`,
      `${name} goes`,
      edits.likelier(0.25, "rounding-mode", "floor-or-truncate", "text-and-number"),
    );
  const method = callee?.type === "member_expression" ? textOf(callee, "property") : "";
  const owner = textOf(callee ?? undefined, "object");
  if ((method === "sort" || method === "toSorted") && callee) {
    const orders = ["", "(a, b) => a - b", "(a, b) => b - a", BY_POINTS, "(a, b) => (a < b ? 1 : a > b ? -1 : 0)"];
    for (const order of orders)
      if (list) edits.replace(list, `(${order})`, "another order", edits.likelier(0.4, "sort-order", "order-only"));
    edits.replace(node, owner, "it is not sorted", edits.likelier(0.2, "sort-order", "order-only", "changed-argument"));
    edits.replace(
      node,
      `[...${owner}].${method}${list?.text ?? "()"}`,
      "a copy is sorted",
      edits.likelier(0.3, "changed-argument"),
    );
  }
  if (method === "localeCompare" && first)
    edits.replace(
      node,
      `(${owner} < ${first.text} ? -1 : ${owner} > ${first.text} ? 1 : 0)`,
      "order by code points",
      edits.likelier(0.45, "sort-order"),
    );
  if (method === "reverse" || method === "trim" || /^to(Upper|Lower)Case$/.test(method))
    edits.replace(node, owner, `${method} goes`, edits.likelier(0.3, "order-only", "whitespace", "text-case"));
  chained(node, edits);
  convertingCall(node, edits);
  if (/^get(UTC)?Month$/.test(method))
    edits.replace(node, `(${node.text} + 1)`, "months count from 1", edits.likelier(0.3, "zero-based-month"));
  if (/^get(UTC)?Day$/.test(method))
    edits.replace(node, `((${node.text} + 6) % 7)`, "Monday is 0", edits.likelier(0.3, "weekday-base"));
  if (method === "replace" && callee) {
    const property = callee.childForFieldName("property");
    if (property)
      edits.replace(property, "replaceAll", "every place is replaced", edits.likelier(0.4, "first-only", "separator"));
  }
  const scope = around(node, FUNCTION);
  if (scope?.children[0]?.type === "async" && node.parent?.type !== "await_expression")
    edits.replace(node, `(await ${node.text})`, "it is awaited", 0.4);
}

/** `a.map(f).filter(g)` by `a.filter(g).map(f)`. */
function chained(node: Node, edits: Edits): void {
  const outer = node.childForFieldName("function");
  const inner = outer?.childForFieldName("object");
  const base = inner?.childForFieldName("function");
  if (inner?.type !== "call_expression" || base?.type !== "member_expression") return;
  const tail = (call: Node, callee: Node | null | undefined) =>
    `.${textOf(callee ?? undefined, "property")}${textOf(call, "arguments")}`;
  edits.replace(
    node,
    textOf(base, "object") + tail(node, outer) + tail(inner, base),
    "two calls of the chain change places",
    0.2,
  );
}

/** All keys of an object as the original spells them. */
function respelled(node: Node, edits: Edits): void {
  const keys = childrenOf(node).flatMap((entry) => entry.childForFieldName("key") ?? []);
  let text = node.text;
  for (const key of keys.toReversed()) {
    const [other] = key.type === "property_identifier" ? edits.spellings(key.text) : [];
    const [start, end] = [key.startIndex - node.startIndex, key.endIndex - node.startIndex];
    if (other !== undefined) text = text.slice(0, start) + JSON.stringify(other) + text.slice(end);
  }
  edits.replace(node, text, "the keys are spelled as in the original", edits.likelier(0.3, "key-naming"));
}

const MAX_DIGITS = 4;

/** Changes to a template's substitutions: swapped with each other, and with a fixed number of digits. */
function template(node: Node, edits: Edits): void {
  const parts = childrenOf(node).filter(({ type }) => type === "template_substitution");
  for (const [at, left] of parts.entries())
    for (const right of parts.slice(at + 1, at + 3))
      edits.exchange(left, right, `${left.text} and ${right.text} change places`, 0.2);
  for (const part of parts) {
    const [value] = childrenOf(part);
    if (!value) continue;
    for (let digits = 0; digits <= MAX_DIGITS; digits++)
      edits.replace(
        value,
        `(${value.text}).toFixed(${digits})`,
        `it has ${digits} digits`,
        edits.likelier(0.05, "number-format"),
      );
    substituted(value, edits);
  }
}

/** Changes to the expression that makes the answer, with the causes that point to each. */
const WRAPPED: readonly (readonly [(value: string) => string, string, readonly string[]])[] = [
  [(value) => `(${value}).toUpperCase()`, "the answer is in capitals", ["text-case"]],
  [(value) => `(${value}).toLowerCase()`, "the answer is in small letters", ["text-case"]],
  [(value) => `(${value}).trim()`, "the answer is trimmed", ["whitespace"]],
  [(value) => `(${value}).trimEnd()`, "the answer is trimmed at its end", ["whitespace"]],
  [(value) => `Number(${value})`, "the answer is a number", ["text-and-number", "boolean-and-number"]],
  [(value) => `String(${value})`, "the answer is a text", ["text-and-number"]],
  [(value) => `Boolean(${value})`, "the answer is true or false", ["boolean-and-number"]],
  [(value) => `[...new Set(${value})]`, "the answer has each item once", ["duplicates"]],
  [(value) => `(${value}).toSorted()`, "the answer is sorted", ["order-only", "sort-order"]],
  [(value) => `(${value}).toReversed()`, "the answer is turned round", ["order-only"]],
  [(value) => `(${value}) ?? null`, "nothing is null", ["null-and-missing"]],
];

function returned(node: Node, edits: Edits): void {
  const [value] = childrenOf(node);
  if (value) answered(value, edits);
}

function answered(value: Node, edits: Edits): void {
  edits.answer(value, "!");
  for (const [make, what, causes] of WRAPPED)
    edits.replace(value, make(value.text), what, edits.likelier(0.03, ...causes));
  edits.replace(
    value,
    `Object.is(${value.text}, -0) ? 0 : ${value.text}`,
    "no negative zero",
    edits.likelier(0.05, "negative-zero"),
  );
}

function identifier(node: Node, edits: Edits): void {
  const parent = node.parent;
  if (!parent || (parent.type === "call_expression" && parent.childForFieldName("function")?.id === node.id)) return;
  if (
    /^(variable_declarator|function_declaration|formal_parameters|required_parameter|import_specifier|class_declaration)$/.test(
      parent.type,
    )
  ) {
    if (parent.childForFieldName("value")?.id !== node.id) return;
  }
  const scope = around(node, FUNCTION);
  if (!scope) return;
  edits.names(node, declaredIn(scope));
  if (parent.type === "binary_expression")
    edits.replace(node, `Number(${node.text})`, `${node.text} is a number`, edits.likelier(0.04, "text-and-number"));
  if (!/^(arguments|pair|variable_declarator|return_statement)$/.test(parent.type)) return;
  const prior = edits.likelier(0.05, "changed-argument", "shared-state");
  edits.replace(node, `{ ...${node.text} }`, "a copy of it is taken", prior);
  edits.replace(node, `[...${node.text}]`, "a copy of it is taken", prior);
}

/** Parameters and local names of a function. */
function declaredIn(scope: Node): string[] {
  const params = scope.childForFieldName("parameters") ?? scope.childForFieldName("parameter");
  const names = params
    ? params.type === "identifier"
      ? [params.text]
      : namesIn(params, ["identifier", "shorthand_property_identifier_pattern"])
    : [];
  const locals = scope.descendantsOfType("variable_declarator").flatMap((node) => {
    const name = node?.childForFieldName("name");
    return name?.type === "identifier" ? [name.text] : [];
  });
  return [...new Set([...names, ...locals])].slice(0, 12);
}
