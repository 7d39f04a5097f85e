/** Small changes of JavaScript and TypeScript. */
import type { Node } from "web-tree-sitter";
import type { Edit } from "@/core/mending/edit";
import { around, Edits, type MendLanguage, namesIn, type Site, suspectNodes } from "@/core/mending/site";
import { childrenOf, textOf } from "@/core/source/section";

const FUNCTION =
  /^(function_declaration|function_expression|arrow_function|method_definition|generator_function_declaration)$/;
const OPERATORS = [
  ["<", "<=", ">=", ">"],
  ["===", "!=="],
  ["==", "!="],
  ["+", "-"],
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
  for (const node of suspectNodes(site)) {
    edit(node, edits);
  }
  return edits.made;
}

function edit(node: Node, edits: Edits): void {
  switch (node.type) {
    case "number":
      edits.numbers(node);
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
  if (method === "getMonth")
    edits.replace(node, `(${node.text} + 1)`, "months count from 1", edits.likelier(0.3, "zero-based-month"));
  if (method === "getDay")
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

function returned(node: Node, edits: Edits): void {
  const [value] = childrenOf(node);
  if (!value) return;
  edits.answer(value, "!");
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
