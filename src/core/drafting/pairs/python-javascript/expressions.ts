/** Translates Python expressions to JavaScript, with their kinds. Uncertain ones become a call that throws. */
import type { Node } from "web-tree-sitter";
import {
  BOOL,
  heldBy,
  holding,
  INT,
  isNumber,
  isPlain,
  join,
  type Kind,
  listOf,
  NONE,
  NUMBER,
  TEXT,
  UNKNOWN,
} from "@/core/drafting/kinds";
import { EXCEPTIONS } from "@/core/drafting/pairs/python-javascript/helpers";
import type { Scope } from "@/core/drafting/pairs/python-javascript/scope";
import { childrenOf, textOf } from "@/core/source/section";

/** Code with its kind; `rank` is 0 for what needs no brackets beside an operator. */
export type Expr = { readonly code: string; readonly kind: Kind; readonly rank: 0 | 1 };

const expr = (code: string, kind: Kind, rank: 0 | 1 = 0): Expr => ({ code, kind, rank });
const inner = ({ code, rank }: Expr): string => (rank === 0 ? code : `(${code})`);

/** Thrown for a node without a certain translation; caught at the smallest expression that can be replaced as a whole. */
class Untranslatable extends Error {}
const unsupported = (why: string): never => {
  throw new Untranslatable(why);
};

/** Translates an expression; one that cannot be translated becomes a call that throws, recorded in the scope. */
export function express(node: Node, scope: Scope): Expr {
  return orLeave(node, scope, () => translateWith(node, scope)) ?? expr(thrower(node), UNKNOWN);
}

/** Returns the translation of a node; null if it cannot be translated, which the scope then records. */
export function orLeave<T>(node: Node, scope: Scope, translate: () => T): T | null {
  try {
    return translate();
  } catch (thrown) {
    if (!(thrown instanceof Untranslatable)) throw thrown;
    scope.leave(node, thrown.message);
    return null;
  }
}

const thrower = (node: Node): string => `notPorted(${JSON.stringify(node.text.replace(/\s+/g, " "))})`;

/** As `express`, but its kind has to be known. */
function known(node: Node, scope: Scope): Expr {
  const made = translateWith(node, scope);
  return made.kind.k === "unknown" ? unsupported(`what ${short(node)} holds is not known`) : made;
}

const short = (node: Node): string => (node.text.length > 40 ? `${node.text.slice(0, 39)}…` : node.text);

function translateWith(node: Node, scope: Scope): Expr {
  const maker = MAKERS[node.type];
  return maker ? maker(node, scope) : unsupported(`${node.type.replaceAll("_", " ")} has no counterpart here`);
}

type Maker = (node: Node, scope: Scope) => Expr;

const MAKERS: Readonly<Record<string, Maker>> = {
  integer: (node) => {
    const value = Number(node.text.replaceAll("_", ""));
    return Number.isSafeInteger(value) ? expr(node.text, INT) : unsupported("the number is too large");
  },
  float: (node) => (Number.isFinite(Number(node.text)) ? expr(node.text, NUMBER) : unsupported("this number")),
  true: () => expr("true", BOOL),
  false: () => expr("false", BOOL),
  none: () => expr("null", NONE),
  string,
  concatenated_string: (node, scope) =>
    expr(
      childrenOf(node)
        .map((part) => string(part, scope).code)
        .join(" + "),
      TEXT,
      1,
    ),
  identifier,
  parenthesized_expression: (node, scope) => {
    const [only] = childrenOf(node);
    const made = only ? translateWith(only, scope) : unsupported("empty brackets");
    return expr(made.rank === 0 ? made.code : `(${made.code})`, made.kind);
  },
  binary_operator: binary,
  boolean_operator: boolean,
  not_operator: (node, scope) => {
    const argument = node.childForFieldName("argument");
    return argument ? expr(`!${bracketed(truth(argument, scope))}`, BOOL) : unsupported("not");
  },
  unary_operator: (node, scope) => {
    const argument = node.childForFieldName("argument");
    const made = argument ? known(argument, scope) : unsupported("this sign");
    const sign = node.children[0]?.text ?? "";
    return /^[-+]$/.test(sign) && isNumber(made.kind)
      ? expr(`${sign}${inner(made)}`, made.kind, 1)
      : unsupported(`${sign} of this`);
  },
  comparison_operator: comparison,
  conditional_expression: (node, scope) => {
    const [yes, condition, no] = childrenOf(node);
    if (!yes || !condition || !no) return unsupported("this choice");
    const [left, right] = [translateWith(yes, scope), translateWith(no, scope)];
    return expr(
      `${bracketed(truth(condition, scope))} ? ${inner(left)} : ${inner(right)}`,
      join(left.kind, right.kind),
      1,
    );
  },
  list: (node, scope) => items(node, scope),
  tuple: (node, scope) => items(node, scope),
  expression_list: (node, scope) => items(node, scope),
  dictionary,
  list_comprehension: comprehension,
  generator_expression: comprehension,
  subscript,
  attribute: (node, scope) => {
    const object = node.childForFieldName("object");
    if (object?.text === "math" && scope.isModule("math")) {
      const constant = { pi: "Math.PI", e: "Math.E", inf: "Infinity" }[textOf(node, "attribute")];
      return constant ? expr(constant, NUMBER) : unsupported(`${node.text} has no counterpart here`);
    }
    if (object?.text !== "self" || scope.className === null) return unsupported(`what ${short(node)} is, is not known`);
    const name = textOf(node, "attribute");
    return expr(`this.${scope.spell(name)}`, scope.attribute(name));
  },
  call,
};

/** A condition in brackets, whatever its form. */
const bracketed = (code: string): string => (/^[\w.]+$/.test(code) ? code : `(${code})`);

/** An expression's truth, as Python has it. */
export function truth(node: Node, scope: Scope): string {
  if (node.type === "parenthesized_expression" && childrenOf(node)[0]) return truth(childrenOf(node)[0] as Node, scope); // looked at just now
  if (node.type === "not_operator") {
    const argument = node.childForFieldName("argument");
    if (argument) return `!${bracketed(truth(argument, scope))}`;
  }
  if (node.type === "boolean_operator") {
    const [left, right] = [node.childForFieldName("left"), node.childForFieldName("right")];
    const sign = textOf(node, "operator") === "and" ? "&&" : "||";
    if (left && right) return `${bracketed(truth(left, scope))} ${sign} ${bracketed(truth(right, scope))}`;
  }
  const made = known(node, scope);
  switch (made.kind.k) {
    case "bool":
      return made.code;
    case "int":
    case "number":
      return `${inner(made)} !== 0`;
    case "text":
      return `${inner(made)} !== ""`;
    case "list":
      return `${inner(made)}.length > 0`;
    case "dict":
      return `Object.keys(${made.code}).length > 0`;
    case "none":
      return "false";
    default:
      return unsupported(`when ${short(node)} counts as true is not known`);
  }
}

/** Translates a condition; one that cannot be translated throws when it is reached. */
export function condition(node: Node, scope: Scope): string {
  return orLeave(node, scope, () => truth(node, scope)) ?? thrower(node);
}

function string(node: Node, scope: Scope): Expr {
  const open = node.children[0]?.text ?? "";
  const prefix = open.replace(/["']+$/, "").toLowerCase();
  if (prefix !== "" && prefix !== "f" && prefix !== "r") return unsupported("such a string has no counterpart here");
  const parts = node.children.slice(1, -1).map((part) => {
    if (!part) return "";
    if (part.type === "interpolation") return `\${${inserted(part, scope)}}`;
    return quoted(part.text, { isRaw: prefix === "r", isTemplate: prefix === "f" });
  });
  const body = parts.join("");
  if (prefix === "f" && body.includes("${")) return expr(`\`${body}\``, TEXT);
  return expr(prefix === "f" ? JSON.stringify(unquoted(body)) : `"${body}"`, TEXT);
}

const unquoted = (body: string): string => body.replaceAll("\\`", "`").replaceAll("\\$", "$");

/** The inside of a string as JavaScript has it. */
function quoted(
  text: string,
  { isRaw, isTemplate }: { readonly isRaw: boolean; readonly isTemplate: boolean },
): string {
  if (!isRaw && /\\(?!["'\\nrtbf\n]|x[0-9a-fA-F]{2}|u[0-9a-fA-F]{4})/.test(text))
    return unsupported("an escape of this string");
  const body = isRaw ? text.replaceAll("\\", "\\\\") : text.replaceAll("\\\n", "").replaceAll("\\'", "'");
  const lines = body.replaceAll("\n", "\\n").replaceAll("\r", "\\r");
  if (isTemplate)
    return lines.replaceAll("{{", "{").replaceAll("}}", "}").replaceAll("`", "\\`").replaceAll("$", "\\$");
  return lines.replace(/(?<!\\)((?:\\\\)*)"/g, '$1\\"');
}

function inserted(part: Node, scope: Scope): string {
  const [value, ...more] = childrenOf(part);
  const isPlainPlace = part.text.slice(1, -1).trim() === value?.text;
  if (!value || more.length > 0 || !isPlainPlace) return unsupported("how this is written out");
  return asText(value, scope);
}

/** Translates `str(x)`; floats and booleans are written differently in JavaScript. */
function asText(node: Node, scope: Scope): string {
  const made = known(node, scope);
  return made.kind.k === "text" || made.kind.k === "int" ? made.code : unsupported(`how ${short(node)} is written out`);
}

function identifier(node: Node, scope: Scope): Expr {
  const name = node.text;
  if (!scope.knows(name)) return unsupported(`${name} is not known here`);
  return expr(scope.spell(name), scope.kind(name));
}

function binary(node: Node, scope: Scope): Expr {
  const [left, right] = [node.childForFieldName("left"), node.childForFieldName("right")];
  const sign = textOf(node, "operator");
  if (!left || !right) return unsupported("this operator");
  if (sign === "%" && left.type === "string") return formatted(left, right, scope);
  const [a, b] = [known(left, scope), known(right, scope)];
  if (isNumber(a.kind) && isNumber(b.kind)) {
    const kind = a.kind.k === "int" && b.kind.k === "int" ? INT : NUMBER;
    const isZero = !/^[1-9][\d_]*(\.\d+)?$|^0\.\d*[1-9]\d*$/.test(right.text);
    switch (sign) {
      case "+":
      case "-":
      case "*":
        return expr(`${inner(a)} ${sign} ${inner(b)}`, kind, 1);
      case "/":
        return isZero ? scope.help("pyDivide", [a.code, b.code], NUMBER) : expr(`${inner(a)} / ${inner(b)}`, NUMBER, 1);
      case "//":
        return isZero || kind.k !== "int"
          ? scope.help("pyFloorDivide", [a.code, b.code], kind)
          : expr(`Math.floor(${inner(a)} / ${inner(b)})`, kind);
      case "%":
        return scope.help("pyModulo", [a.code, b.code], kind);
      default:
        return unsupported(`${sign} of numbers`);
    }
  }
  if (sign === "+" && a.kind.k === "text" && b.kind.k === "text") return expr(`${inner(a)} + ${inner(b)}`, TEXT, 1);
  if (sign === "+" && a.kind.k === "list" && b.kind.k === "list")
    return expr(`[...${inner(a)}, ...${inner(b)}]`, join(a.kind, b.kind));
  if (sign === "*" && a.kind.k === "text" && b.kind.k === "int")
    return expr(`${inner(a)}.repeat(Math.max(0, ${b.code}))`, TEXT);
  if (
    sign === "*" &&
    left.type === "list" &&
    childrenOf(left).length === 1 &&
    isPlain(heldBy(a.kind)) &&
    b.kind.k === "int"
  )
    return expr(`Array.from({ length: Math.max(0, ${b.code}) }, () => ${a.code.slice(1, -1)})`, a.kind);
  return unsupported(`${sign} of ${a.kind.k} and ${b.kind.k}`);
}

function boolean(node: Node, scope: Scope): Expr {
  const [left, right] = [node.childForFieldName("left"), node.childForFieldName("right")];
  if (!left || !right) return unsupported("this operator");
  const [a, b] = [known(left, scope), known(right, scope)];
  const sign = textOf(node, "operator") === "and" ? "&&" : "||";
  // Only for these does JavaScript take the same values for false; no number of a case is NaN unnoticed.
  if (["bool", "text", "int"].includes(a.kind.k))
    return expr(`${inner(a)} ${sign} ${inner(b)}`, join(a.kind, b.kind), 1);
  return unsupported(`when ${short(left)} counts as true`);
}

/** `"%s of %d" % (a, b)`: text as it is, whole numbers, and those with leading zeros. */
function formatted(left: Node, right: Node, scope: Scope): Expr {
  if (/^f/i.test(left.text)) return unsupported("two ways of putting values in");
  const values = right.type === "tuple" ? childrenOf(right) : [right];
  let index = 0;
  const plain = string(left, scope).code.slice(1, -1).replaceAll('\\"', '"');
  const text = plain.replaceAll("`", "\\`").replaceAll("$", "\\$");
  const body = text.replace(/%(%|s|d|0\d+d|.)/g, (_all, sign: string) => {
    if (sign === "%") return "%";
    const value = values[index++];
    if (!value || !/^(s|d|0\d+d)$/.test(sign)) return unsupported(`how %${sign} writes it out`);
    if (sign === "s") return `\${${asText(value, scope)}}`;
    const made = known(value, scope);
    if (made.kind.k !== "int") return unsupported(`whether ${short(value)} is whole`);
    return sign === "d"
      ? `\${${made.code}}`
      : `\${${scope.help("pyZeroFilled", [made.code, sign.slice(1, -1)], TEXT).code}}`;
  });
  return index === values.length ? expr(`\`${body}\``, TEXT) : unsupported("more values than places");
}

const SIGNS: Readonly<Record<string, string>> = { "<": "<", "<=": "<=", ">": ">", ">=": ">=" };

function comparison(node: Node, scope: Scope): Expr {
  const operands = node.children.filter((child): child is Node => child?.isNamed === true);
  const signs = node.children.filter((child) => child?.isNamed === false).map((child) => child?.text ?? "");
  if (signs.length > 1 && operands.slice(1, -1).some(({ type }) => !/^(identifier|integer|float)$/.test(type)))
    return unsupported("a chain of comparisons would work its middle out twice");
  const parts = signs.map((sign, index) => {
    const [left, right] = [operands[index], operands[index + 1]];
    return left && right ? compare(left, sign, right, scope) : unsupported("this comparison");
  });
  return expr(parts.join(" && "), BOOL, 1);
}

function compare(left: Node, sign: string, right: Node, scope: Scope): string {
  if ((sign === "is" || sign === "is not") && right.type === "none")
    return `${inner(translateWith(left, scope))} ${sign === "is" ? "===" : "!=="} null`;
  const [a, b] = [known(left, scope), known(right, scope)];
  if (sign in SIGNS && isNumber(a.kind) && isNumber(b.kind)) return `${inner(a)} ${sign} ${inner(b)}`;
  if ((sign === "==" || sign === "!=") && isEqualAlike(a.kind, b.kind))
    return `${inner(a)} ${sign === "==" ? "===" : "!=="} ${inner(b)}`;
  if (sign === "in" || sign === "not in") {
    const not = sign === "in" ? "" : "!";
    if (b.kind.k === "dict" && a.kind.k === "text") return `${not}Object.hasOwn(${b.code}, ${keyOf(left, a, scope)})`;
    const isAlike =
      b.kind.k === "text" ? a.kind.k === "text" : b.kind.k === "list" && isEqualAlike(a.kind, heldBy(b.kind));
    if (isAlike) return `${not}${inner(b)}.includes(${a.code})`;
  }
  return unsupported(`${sign} of ${a.kind.k} and ${b.kind.k}`);
}

/** Whether both languages find the same values equal; True equals 1 in Python alone. */
const isEqualAlike = (left: Kind, right: Kind): boolean =>
  isPlain(left) && isPlain(right) && (left.k === "bool") === (right.k === "bool");

/** A key that is written out has the twin's spelling. */
function keyOf(node: Node, made: Expr, scope: Scope): string {
  const plain = /^(["'])(\w+)\1$/.exec(node.text)?.[2];
  return plain === undefined ? made.code : JSON.stringify(scope.key(plain));
}

function items(node: Node, scope: Scope): Expr {
  const made = childrenOf(node)
    .filter(({ type }) => type !== "comment")
    .map((child) => translateWith(child, scope));
  const kinds = made.map(({ kind }) => kind);
  const whole = holding("list", kinds);
  const kind = node.type === "list" ? whole : { ...whole, parts: kinds };
  return expr(`[${made.map(({ code }) => code).join(", ")}]`, kind);
}

function dictionary(node: Node, scope: Scope): Expr {
  const kinds: Kind[] = [];
  const pairs = childrenOf(node)
    .filter(({ type }) => type !== "comment")
    .map((pair) => {
      const [key, value] = [pair.childForFieldName("key"), pair.childForFieldName("value")];
      if (!key || !value || known(key, scope).kind.k !== "text") return unsupported("keys that are no text");
      const made = translateWith(value, scope);
      kinds.push(made.kind);
      const name = keyOf(key, known(key, scope), scope);
      const bare = /^"([A-Za-z_$][\w$]*)"$/.exec(name)?.[1];
      return `${bare ?? (/^"/.test(name) ? name : `[${name}]`)}: ${made.code}`;
    });
  return expr(pairs.length === 0 ? "{}" : `{ ${pairs.join(", ")} }`, holding("dict", kinds));
}

function comprehension(node: Node, scope: Scope): Expr {
  const { list, names, body } = going(node, scope, (inside) => translateWith(inside, scope));
  if (body.code === names) return expr(/\.filter\(/.test(list) ? list : `[...${list}]`, listOf(body.kind));
  const value = body.code.startsWith("{") ? `(${body.code})` : body.code;
  return expr(`${list}.map((${names}) => ${value})`, listOf(body.kind));
}

/** The single loop of a comprehension: the iterable as a filtered list, and the body. */
function going<T>(
  node: Node,
  scope: Scope,
  translate: (body: Node) => T,
): { readonly list: string; readonly names: string; readonly body: T } {
  const body = node.childForFieldName("body");
  const loops = childrenOf(node).filter(({ type }) => type === "for_in_clause");
  const conditions = childrenOf(node).filter(({ type }) => type === "if_clause");
  const [loop] = loops;
  const [left, right] = [loop?.childForFieldName("left"), loop?.childForFieldName("right")];
  if (!body || !left || !right || loops.length > 1) return unsupported("loops within a list");
  const over = iterated(right, scope);
  return scope.within(() => {
    const names = scope.declareTarget(left, over.kind, true) ?? unsupported("what this loop names");
    const tests = conditions.map((clause) => {
      const [test] = childrenOf(clause);
      return test ? truth(test, scope) : unsupported("this condition");
    });
    const filters = tests.map((test) => `.filter((${names}) => ${test})`).join("");
    return { list: `${over.code}${filters}`, names, body: translate(body) };
  });
}

/** Translates an iterable to a JavaScript list, with the kind of its items. */
export function iterated(node: Node, scope: Scope): { readonly code: string; readonly kind: Kind } {
  if (node.type === "call") {
    const name = textOf(node, "function");
    const args = argumentsOf(node);
    const [first, second] = args;
    if (name === "range" && !scope.knows("range") && (args.length === 1 || args.length === 2) && first) {
      const [from, to] = second ? [known(first, scope), known(second, scope)] : [expr("0", INT), known(first, scope)];
      if (from.kind.k !== "int" || to.kind.k !== "int") return unsupported("a range of what may not be whole");
      return { code: scope.help("pyRange", [from.code, to.code], INT).code, kind: INT };
    }
    if (name === "enumerate" && !scope.knows("enumerate") && args.length === 1 && first) {
      const { code, kind } = iterated(first, scope);
      return { code: `${code}.map((item, index) => [index, item])`, kind: { k: "list", of: kind, name: "counted" } };
    }
  }
  const made = known(node, scope);
  if (made.kind.k === "list") return { code: inner(made), kind: heldBy(made.kind) };
  if (made.kind.k === "text") return { code: `[...${made.code}]`, kind: TEXT };
  if (made.kind.k === "dict") return { code: scope.help("pyKeys", [made.code], TEXT).code, kind: TEXT };
  return unsupported(`how ${short(node)} is gone through`);
}

function subscript(node: Node, scope: Scope): Expr {
  const value = node.childForFieldName("value");
  const [index, ...more] = node.childrenForFieldName("subscript").filter((child): child is Node => child !== null);
  if (!value || !index || more.length > 0) return unsupported("this subscript");
  const made = known(value, scope);
  if (index.type === "slice") return slice(index, made, scope);
  const at = known(index, scope);
  if (made.kind.k === "list" && at.kind.k === "int")
    return scope.help("pyItemAt", [made.code, at.code, ...(made.kind.parts ? ['"tuple"'] : [])], heldBy(made.kind));
  if (made.kind.k === "text" && at.kind.k === "int")
    return scope.help("pyItemAt", [`[...${made.code}]`, at.code, '"string"'], TEXT);
  if (made.kind.k === "dict" && at.kind.k === "text")
    return scope.help("pyValueOf", [made.code, keyOf(index, at, scope)], heldBy(made.kind));
  return unsupported(`${made.kind.k} at ${at.kind.k}`);
}

function slice(node: Node, made: Expr, scope: Scope): Expr {
  if ((node.text.match(/:/g) ?? []).length > 1) return unsupported("a slice with steps");
  const colon = node.children.findIndex((child) => child?.text === ":");
  const bound = (child: Node | null | undefined) => {
    if (!child) return null;
    const at = known(child, scope);
    return at.kind.k === "int" ? at.code : unsupported("a slice by what may not be whole");
  };
  const from = colon === 0 ? null : bound(node.children[0]);
  const to = bound(node.children[colon + 1]);
  const bounds = to === null ? (from ?? "") : `${from ?? "0"}, ${to}`;
  if (made.kind.k === "list") return expr(`${inner(made)}.slice(${bounds})`, made.kind);
  if (made.kind.k === "text") return expr(`[...${made.code}].slice(${bounds}).join("")`, TEXT);
  return unsupported(`a slice of ${made.kind.k}`);
}

function argumentsOf(node: Node): Node[] {
  const list = node.childForFieldName("arguments");
  // Only for what goes through all of it at once is a list the same.
  if (list?.type === "generator_expression")
    return /^(sum|sorted|list|any|all)$|\.join$/.test(textOf(node, "function"))
      ? [list]
      : unsupported("what is made one by one");
  return childrenOf(list).filter(({ type }) => type !== "comment");
}

function call(node: Node, scope: Scope): Expr {
  const callee = node.childForFieldName("function");
  const args = argumentsOf(node);
  if (!callee || args.some(({ type }) => /splat/.test(type))) return unsupported("such arguments");
  if (callee.type === "identifier") {
    if (scope.knows(callee.text)) return ownCall(callee.text, args, scope);
    return builtIn(callee.text, args, scope);
  }
  if (callee.type !== "attribute") return unsupported("a call of what is not named");
  const object = callee.childForFieldName("object");
  const name = textOf(callee, "attribute");
  if (!object) return unsupported("this call");
  if (object.text === "math" && scope.isModule("math")) return mathCall(name, args, scope);
  if (object.text === "self" && scope.className !== null) {
    const target = scope.callable(`${scope.className}.${name}`);
    if (!target) return unsupported(`${callee.text} is not known here`);
    return expr(`this.${scope.spell(name)}(${passed(target.params, args, scope)})`, target.returns);
  }
  const module = scope.moduleMember(object.text, name);
  if (module) return expr(`${module}(${plainArgs(args, scope)})`, UNKNOWN);
  return method(object, name, args, scope);
}

function ownCall(name: string, args: readonly Node[], scope: Scope): Expr {
  const target = scope.callable(name);
  const code = scope.spell(name);
  if (!target) {
    if (scope.isImported(name)) return expr(`${code}(${plainArgs(args, scope)})`, UNKNOWN);
    return unsupported(`what ${name} calls is not known`);
  }
  const list = passed(target.params, args, scope);
  return target.isClass
    ? expr(`new ${code}(${list})`, { k: "object", name })
    : expr(`${code}(${list})`, target.returns);
}

function plainArgs(args: readonly Node[], scope: Scope): string {
  if (args.some(({ type }) => type === "keyword_argument")) return unsupported("named arguments of what is elsewhere");
  return args.map((arg) => translateWith(arg, scope).code).join(", ");
}

/** Arguments in the order of the parameters; those left out between take their default. */
function passed(params: readonly string[], args: readonly Node[], scope: Scope): string {
  const found: string[] = [];
  for (const [index, arg] of args.entries()) {
    if (arg.type !== "keyword_argument") {
      found[index] = translateWith(arg, scope).code;
      continue;
    }
    const at = params.indexOf(textOf(arg, "name"));
    const value = arg.childForFieldName("value");
    if (at === -1 || !value) return unsupported(`the argument ${textOf(arg, "name")}`);
    found[at] = translateWith(value, scope).code;
  }
  return Array.from(found, (code) => code ?? "undefined").join(", ");
}

function mathCall(name: string, args: readonly Node[], scope: Scope): Expr {
  const [first, ...more] = args;
  const made = first && more.length === 0 ? known(first, scope) : unsupported(`math.${name} like this`);
  if (isNumber(made.kind) && name === "radians") return expr(`${inner(made)} * (Math.PI / 180)`, NUMBER, 1);
  if (!isNumber(made.kind) || !/^(floor|ceil|trunc|fabs)$/.test(name))
    return unsupported(`math.${name} has no counterpart here`);
  return name === "fabs" ? expr(`Math.abs(${made.code})`, NUMBER) : expr(`Math.${name}(${made.code}) + 0`, INT, 1);
}

function builtIn(name: string, args: readonly Node[], scope: Scope): Expr {
  if (args.some(({ type }) => type === "keyword_argument")) return unsupported(`${name} with named arguments`);
  const [first, second] = args;
  if ((name === "any" || name === "all") && first?.type === "generator_expression" && args.length === 1) {
    const { list, names, body } = going(first, scope, (node) => truth(node, scope));
    return expr(`${list}.${name === "any" ? "some" : "every"}((${names}) => ${body})`, BOOL);
  }
  if (EXCEPTIONS.includes(name)) {
    const text = first ? asText(first, scope) : '""';
    if (args.length > 1) return unsupported(`${name} like this`);
    return scope.help(name, [text], { k: "object", name }, "new ");
  }
  if (!first) return unsupported(`${name} without arguments`);
  if (args.length === 1) {
    const made = known(first, scope);
    const { code, kind } = made;
    switch (name) {
      case "len":
        if (kind.k === "list") return expr(`${inner(made)}.length`, INT);
        if (kind.k === "text") return expr(`[...${code}].length`, INT);
        if (kind.k === "dict") return expr(`Object.keys(${code}).length`, INT);
        break;
      case "abs":
        if (isNumber(kind)) return expr(`Math.abs(${code})`, kind);
        break;
      case "int":
        if (isNumber(kind)) return expr(`Math.trunc(${code}) + 0`, INT, 1);
        break;
      case "str":
        if (kind.k === "text") return made;
        if (kind.k === "int") return expr(`String(${code})`, TEXT);
        break;
      case "round":
        if (isNumber(kind)) return scope.help("pyRound", [code], INT);
        break;
      case "sum":
        if (kind.k === "list" && isNumber(heldBy(kind)))
          return expr(`${inner(made)}.reduce((sum, item) => sum + item, 0)`, heldBy(kind));
        break;
      case "sorted":
        if (kind.k === "list" && isNumber(heldBy(kind))) return expr(`[...${code}].sort((a, b) => a - b)`, kind);
        if (kind.k === "list" && heldBy(kind).k === "text") return scope.help("pyTextOrder", [code], kind);
        break;
      case "list":
        if (kind.k === "list") return expr(`[...${code}]`, kind);
        break;
      case "dict":
        if (kind.k === "dict") return expr(`{ ...${code} }`, kind);
        break;
    }
  }
  if (name === "divmod" && first && second && args.length === 2) {
    const [a, b] = [known(first, scope), known(second, scope)];
    const kind = a.kind.k === "int" && b.kind.k === "int" ? INT : NUMBER;
    if (!isNumber(a.kind) || !isNumber(b.kind)) return unsupported(`divmod of ${a.kind.k} and ${b.kind.k}`);
    const parts = ["pyFloorDivide", "pyModulo"].map((helper) => scope.help(helper, [a.code, b.code], kind).code);
    return expr(`[${parts.join(", ")}]`, { ...listOf(kind), parts: [kind, kind] });
  }
  if ((name === "min" || name === "max") && second) {
    const all = args.map((arg) => known(arg, scope));
    if (all.every(({ kind }) => isNumber(kind)))
      return expr(`Math.${name}(${all.map(({ code }) => code).join(", ")})`, all.map(({ kind }) => kind).reduce(join));
  }
  return unsupported(`${name} of this has no sure counterpart`);
}

const TEXT_METHODS: Readonly<Record<string, { readonly to: string; readonly kind: Kind }>> = {
  upper: { to: "toUpperCase", kind: TEXT },
  lower: { to: "toLowerCase", kind: TEXT },
  strip: { to: "trim", kind: TEXT },
  lstrip: { to: "trimStart", kind: TEXT },
  rstrip: { to: "trimEnd", kind: TEXT },
};

function method(object: Node, name: string, args: readonly Node[], scope: Scope): Expr {
  const on = known(object, scope);
  const made = args.map((arg) =>
    arg.type === "keyword_argument" ? unsupported("named arguments") : translateWith(arg, scope),
  );
  const [first, second] = made;
  const isText = (...all: (Expr | undefined)[]) => all.every((item) => item?.kind.k === "text");
  if (on.kind.k === "text") {
    const plain = TEXT_METHODS[name];
    if (plain && !first) return expr(`${inner(on)}.${plain.to}()`, plain.kind);
    if (name === "startswith" && isText(first)) return expr(`${inner(on)}.startsWith(${first?.code})`, BOOL);
    if (name === "endswith" && isText(first)) return expr(`${inner(on)}.endsWith(${first?.code})`, BOOL);
    if (name === "replace" && made.length === 2 && isText(first, second))
      return expr(`${inner(on)}.replaceAll(${first?.code}, () => ${second?.code})`, TEXT);
    if (name === "split" && !first) return scope.help("pySplitWords", [on.code], listOf(TEXT));
    if (name === "split" && made.length === 1 && args[0]?.type === "string" && first?.code !== '""')
      return expr(`${inner(on)}.split(${first?.code})`, listOf(TEXT));
    if (name === "join" && first?.kind.k === "list" && heldBy(first.kind).k === "text")
      return expr(`${inner(first)}.join(${on.code})`, TEXT);
  }
  if (on.kind.k === "list" && name === "append" && first && made.length === 1) {
    if (object.type === "identifier" && scope.isLocal(object.text)) scope.assign(object.text, listOf(first.kind));
    return expr(`${inner(on)}.push(${first.code})`, NONE);
  }
  if (on.kind.k === "dict" && name === "get" && first && args[0] && first.kind.k === "text" && made.length <= 2) {
    // The receiver and the key appear twice in this form; the default is evaluated only if needed.
    if ([object, ...args].some((node) => node.descendantsOfType("call").length > 0))
      return unsupported("a call within get");
    const key = keyOf(args[0], first, scope);
    const other = second ?? expr("null", NONE);
    return expr(
      `Object.hasOwn(${on.code}, ${key}) ? ${inner(on)}[${key}] : ${inner(other)}`,
      second ? join(heldBy(on.kind), other.kind) : UNKNOWN,
      1,
    );
  }
  if (on.kind.k === "dict" && !first && name === "keys") return scope.help("pyKeys", [on.code], listOf(TEXT));
  if (on.kind.k === "dict" && !first && name === "values")
    return expr(`${scope.help("pyItems", [on.code], UNKNOWN).code}.map(([, value]) => value)`, listOf(heldBy(on.kind)));
  return unsupported(`${name} of ${on.kind.k} has no sure counterpart`);
}
