/** Python's statements in JavaScript and TypeScript. */
import type { Node } from "web-tree-sitter";
import { BOOL, INT, isNumber, join, type Kind, NONE, NUMBER, TEXT, UNKNOWN } from "@/core/drafting/kinds";
import { condition, express, iterated, orLeave } from "@/core/drafting/pairs/python-javascript/expressions";
import type { Scope } from "@/core/drafting/pairs/python-javascript/scope";
import { childrenOf, textOf } from "@/core/source/section";

const indented = (lines: readonly string[]): string[] => lines.map((line) => (line === "" ? "" : `  ${line}`));

/** The lines of a block's statements, indented. */
export function block(node: Node | null, scope: Scope): string[] {
  const first: Node[] = [];
  // The tree puts a comment before the first statement ahead of the block.
  for (let at = node?.previousSibling ?? null; at?.type === "comment"; at = at.previousSibling) first.unshift(at);
  return indented([...first, ...childrenOf(node)].flatMap((child) => statement(child, scope)));
}

/** A placeholder for code left to a person: a call that throws, with the original's line. */
function left(node: Node, why: string, scope: Scope): string[] {
  scope.leave(node, why);
  const first = node.text.split("\n")[0] ?? "";
  return [`notPorted(${JSON.stringify(first.trim())}); // line ${node.startPosition.row + 1}: ${first.trim()}`];
}

/** Turns an expression into a statement; quotes the original's line where part of it is left out. */
function remarked(node: Node, code: string, scope: Scope): string {
  const isLeft = scope.unsaid.some(({ from, to }) => node.startIndex <= from && to <= node.endIndex);
  return isLeft ? `${code} // line ${node.startPosition.row + 1}: ${node.text.split("\n")[0]?.trim()}` : code;
}

type Maker = (node: Node, scope: Scope) => string[];

const MAKERS: Readonly<Record<string, Maker>> = {
  comment: (node) => [`//${node.text.slice(1)}`],
  pass_statement: () => [],
  break_statement: () => ["break;"],
  continue_statement: () => ["continue;"],
  expression_statement: expressionStatement,
  return_statement: (node, scope) => {
    const [value] = childrenOf(node);
    if (!value) {
      scope.returned = join(scope.returned, { k: "none" });
      return ["return null;"];
    }
    const { code, kind } = express(value, scope);
    scope.returned = join(scope.returned, kind);
    return [remarked(node, `return ${code};`, scope)];
  },
  if_statement: ifStatement,
  while_statement: (node, scope) => {
    const test = node.childForFieldName("condition");
    if (!test || node.childForFieldName("alternative")) return left(node, "a loop with else", scope);
    return [`while (${condition(test, scope)}) {`, ...block(node.childForFieldName("body"), scope), "}"];
  },
  for_statement: forStatement,
  raise_statement: (node, scope) => {
    const [value, ...more] = childrenOf(node);
    if (!value) return left(node, "raising the same once more", scope);
    if (more.length > 0 && more[0]?.text !== "None") return left(node, "raising from another", scope);
    const { code } = express(value, scope);
    return [remarked(node, `throw ${code};`, scope)];
  },
  try_statement: tryStatement,
};

export function statement(node: Node, scope: Scope): string[] {
  const maker = MAKERS[node.type];
  return maker ? maker(node, scope) : left(node, `${node.type.replaceAll("_", " ")} has no counterpart here`, scope);
}

function expressionStatement(node: Node, scope: Scope): string[] {
  const [only] = childrenOf(node);
  if (!only) return [];
  if (only.type === "string") return comment(only);
  if (only.type === "assignment") return assignment(only, scope);
  if (only.type === "augmented_assignment") return augmented(only, scope);
  return [remarked(node, `${express(only, scope).code};`, scope)];
}

/** A docstring as a comment. */
export function comment(node: Node): string[] {
  const text = node.text.replace(/^[rRuU]?("""|'''|"|')|("""|'''|"|')$/g, "").replaceAll("*/", "* /");
  const lines = text.split("\n").map((line) => line.trim());
  while (lines.at(-1) === "") lines.pop();
  return lines.length < 2
    ? [`/** ${lines.join("")} */`]
    : ["/**", ...lines.map((line) => ` * ${line}`.trimEnd()), " */"];
}

/** Declares variables at the top of the function when their first assignment is inside a block. */
function assignment(node: Node, scope: Scope): string[] {
  const [target, value] = [node.childForFieldName("left"), node.childForFieldName("right")];
  if (!target || !value || value.type === "assignment") return left(node, "several targets", scope);
  const { code, kind } = express(value, scope);
  if (target.type === "identifier") {
    scope.assign(target.text, kind);
    return [remarked(node, `${scope.spell(target.text)} = ${code};`, scope)];
  }
  if (target.type === "attribute" && textOf(target, "object") === "self" && scope.className !== null) {
    const name = `${scope.className}.${textOf(target, "attribute")}`;
    scope.facts.attributes.set(name, join(scope.facts.attributes.get(name), kind));
    return [remarked(node, `this.${scope.spell(textOf(target, "attribute"))} = ${code};`, scope)];
  }
  if (
    /^(pattern_list|tuple_pattern)$/.test(target.type) &&
    childrenOf(target).every(({ type }) => type === "identifier")
  ) {
    if (kind.k !== "list") return left(node, "what is taken apart is not known", scope);
    for (const [index, part] of childrenOf(target).entries())
      scope.assign(part.text, kind.parts?.[index] ?? kind.of ?? UNKNOWN);
    return [
      remarked(
        node,
        `[${childrenOf(target)
          .map(({ text }) => scope.spell(text))
          .join(", ")}] = ${code};`,
        scope,
      ),
    ];
  }
  if (target.type === "subscript") {
    const [object, index] = [target.childForFieldName("value"), target.childForFieldName("subscript")];
    if (object && index) {
      const [on, at] = [express(object, scope), express(index, scope)];
      const plain = /^(["'])(\w+)\1$/.exec(index.text)?.[2];
      if (on.kind.k === "dict" && at.kind.k === "text") {
        const key = plain === undefined ? at.code : JSON.stringify(scope.key(plain));
        return [remarked(node, `${on.code}[${key}] = ${code};`, scope)];
      }
    }
  }
  return left(node, "this target", scope);
}

function augmented(node: Node, scope: Scope): string[] {
  const [target, value] = [node.childForFieldName("left"), node.childForFieldName("right")];
  const sign = textOf(node, "operator");
  if (!target || !value || !/^(\+=|-=|\*=)$/.test(sign)) return left(node, `${sign} has no sure counterpart`, scope);
  const [on, made] = [express(target, scope), express(value, scope)];
  const isSum = isNumber(on.kind) && isNumber(made.kind);
  const isText = sign === "+=" && on.kind.k === "text" && made.kind.k === "text";
  if (!/^(identifier|attribute)$/.test(target.type) || !(isSum || isText))
    return left(node, `${sign} of ${on.kind.k}`, scope);
  if (target.type === "identifier") {
    if (!scope.isLocal(target.text)) return left(node, `${target.text} is not of this function`, scope);
    scope.assign(target.text, join(on.kind, made.kind));
  }
  return [`${on.code} ${sign} ${made.code};`];
}

function ifStatement(node: Node, scope: Scope): string[] {
  const test = node.childForFieldName("condition");
  if (!test) return left(node, "this condition", scope);
  const lines = [
    remarked(test, `if (${condition(test, scope)}) {`, scope),
    ...block(node.childForFieldName("consequence"), scope),
  ];
  for (const other of node.childrenForFieldName("alternative")) {
    if (!other) continue;
    const inside = other.childForFieldName("condition");
    if (other.type === "elif_clause" && inside) {
      lines.push(`} else if (${condition(inside, scope)}) {`, ...block(other.childForFieldName("consequence"), scope));
    } else lines.push("} else {", ...block(other.childForFieldName("body"), scope));
  }
  return [...lines, "}"];
}

function forStatement(node: Node, scope: Scope): string[] {
  const [target, over] = [node.childForFieldName("left"), node.childForFieldName("right")];
  if (!target || !over || node.childForFieldName("alternative")) return left(node, "a loop with else", scope);
  const items = pairsOf(over, scope) ?? orLeave(over, scope, () => iterated(over, scope));
  if (!items) return left(node, `how ${over.text} is gone through is not known`, scope);
  const names = scope.declareTarget(target, items.kind, false);
  if (!names) return left(node, "what this loop names", scope);
  // The variable lives on after the loop in Python: it is the function's.
  return [`for (${names} of ${items.code}) {`, ...block(node.childForFieldName("body"), scope), "}"];
}

/** `d.items()` of a dict with text for keys. */
function pairsOf(node: Node, scope: Scope): { readonly code: string; readonly kind: Kind } | null {
  const callee = node.type === "call" ? node.childForFieldName("function") : null;
  const object =
    callee?.type === "attribute" && textOf(callee, "attribute") === "items" ? callee.childForFieldName("object") : null;
  if (!object) return null;
  const on = express(object, scope);
  if (on.kind.k !== "dict") return null;
  const { code } = scope.help("pyItems", [on.code], UNKNOWN);
  return { code, kind: { k: "list", of: UNKNOWN, parts: [TEXT, on.kind.of ?? UNKNOWN] } };
}

function tryStatement(node: Node, scope: Scope): string[] {
  return left(node, "what is caught may be thrown otherwise here", scope);
}

const PASSES = 3;
const FIXED = /^(integer|float|string|true|false|none|unary_operator|identifier)$/;

type Param = { readonly name: string; readonly value: Node | null; readonly type: string | null };

/** Parameters; null where some are not plain. */
export function paramsOf(node: Node): Param[] | null {
  const found: Param[] = [];
  for (const child of childrenOf(node.childForFieldName("parameters"))) {
    const type = child.childForFieldName("type")?.text ?? null;
    if (child.type === "identifier") found.push({ name: child.text, value: null, type: null });
    else if (child.type === "typed_parameter" && childrenOf(child)[0]?.type === "identifier")
      found.push({ name: childrenOf(child)[0]?.text ?? "", value: null, type });
    else if (/^(typed_)?default_parameter$/.test(child.type))
      found.push({ name: textOf(child, "name"), value: child.childForFieldName("value"), type });
    else if (child.type !== "keyword_separator" && child.type !== "comment") return null;
  }
  return found;
}

const ANNOTATIONS: Readonly<Record<string, Kind>> = { int: INT, float: NUMBER, str: TEXT, bool: BOOL };

/** The kind that an annotation promises. */
export function annotated(text: string | null): Kind {
  if (text === null) return UNKNOWN;
  const plain = ANNOTATIONS[text];
  if (plain) return plain;
  const list = /^[Ll]ist\[(.*)\]$/.exec(text)?.[1];
  if (list !== undefined) return { k: "list", of: annotated(list) };
  const dict = /^[Dd]ict\[str, ?(.*)\]$/.exec(text)?.[1];
  return dict === undefined ? UNKNOWN : { k: "dict", of: annotated(dict) };
}

const TYPES: Readonly<Record<string, string>> = {
  int: "number",
  number: "number",
  text: "string",
  bool: "boolean",
  list: "any[]",
};

/** A function or method with its parameters and local declarations. */
export function functionLines(node: Node, head: string, section: string, scope: Scope): string[] {
  const all = paramsOf(node);
  const isMethod = scope.className !== null;
  const params = all && isMethod ? all.slice(1) : all;
  const name = textOf(node, "name");
  // Python works a default out once, when the function is made: only what never changes is the same here.
  const isFixed = params?.every(({ value }) => value === null || FIXED.test(value.type)) ?? false;
  const why = !params
    ? "its parameters"
    : scope.input.isReshaped(section)
      ? "its hookup in the port file hands it other arguments, or reads its result otherwise"
      : isFixed
        ? null
        : "a default that all calls share";
  if (!params || why !== null)
    return [
      `${head}(...args${scope.input.language === "typescript" ? ": any[]" : ""}) {`,
      ...indented(left(node, why ?? "", scope)),
      "}",
    ];
  const seen = scope.input.seen(section);
  return scope.within(() => {
    const kinds = params.map(({ value, type }, index) => {
      const promised = annotated(type);
      if (promised.k !== "unknown") return promised;
      const given = value ? express(value, scope).kind : undefined;
      const own = seen[index];
      // A default of None is a value of another kind.
      if (given?.k === "none") return UNKNOWN;
      if (own) return given ? join(own, given) : own;
      // Other numbers than the default may come.
      return given?.k === "int" ? NUMBER : (given ?? UNKNOWN);
    });
    for (const [index, param] of params.entries()) scope.declare(param.name, kinds[index] ?? UNKNOWN);
    const list = params.map(({ name: own, value }, index) => {
      const type = TYPES[kinds[index]?.k ?? ""] ?? "any";
      const typed = scope.input.language === "typescript" ? `${scope.spell(own)}: ${type}` : scope.spell(own);
      return value ? `${typed} = ${express(value, scope).code}` : typed;
    });
    const own = new Set(params.map((param) => param.name));
    const body = node.childForFieldName("body");
    const locals = localNames(body).filter((local) => !own.has(local));
    // Kinds that later lines give a variable hold for its earlier uses too, as in loops.
    for (let pass = 1; pass < PASSES; pass++) scope.tentatively(() => block(body, scope));
    scope.returned = undefined;
    const lines = block(body, scope);
    const isEnded = endsIn(body);
    // Falling off the end gives None.
    if (!isEnded && scope.returned) scope.returned = join(scope.returned, NONE);
    const type = scope.input.language === "typescript" ? ": any" : "";
    const lets = locals.length === 0 ? [] : [`  let ${locals.map((local) => scope.spell(local) + type).join(", ")};`];
    const docs =
      childrenOf(body)[0]?.type === "expression_statement" && lines[0]?.trim().startsWith("/**") ? docLines(lines) : [];
    const after = name === "__init__" || isEnded ? [] : ["  return null;"];
    return [
      ...docs.map((line) => line.slice(2)),
      `${head}(${list.join(", ")}) {`,
      ...lets,
      ...lines.slice(docs.length),
      ...after,
      "}",
    ];
  });
}

const docLines = (lines: readonly string[]): string[] =>
  lines.slice(0, lines.findIndex((line) => line.trim().endsWith("*/")) + 1);

/** Whether a block never goes on after its last statement. */
function endsIn(body: Node | null): boolean {
  const last = childrenOf(body)
    .filter(({ type }) => type !== "comment")
    .at(-1);
  if (last?.type !== "if_statement") return /^(return|raise)_statement$/.test(last?.type ?? "");
  const others = last.childrenForFieldName("alternative").filter((node): node is Node => node !== null);
  const blocks = others.map((node) => node.childForFieldName(node.type === "else_clause" ? "body" : "consequence"));
  return others.at(-1)?.type === "else_clause" && [last.childForFieldName("consequence"), ...blocks].every(endsIn);
}

/** The names that a function gives values to. */
function localNames(body: Node | null): string[] {
  const found = new Set<string>();
  const waiting = childrenOf(body).toReversed();
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    if (/^(function_definition|class_definition|lambda|list_comprehension)$/.test(node.type)) continue;
    if (/^(assignment|for_statement)$/.test(node.type)) {
      const target = node.childForFieldName("left");
      if (target?.type === "identifier") found.add(target.text);
      if (target && /pattern/.test(target.type))
        for (const part of childrenOf(target)) if (part.type === "identifier") found.add(part.text);
    }
    waiting.push(...childrenOf(node).toReversed());
  }
  return [...found];
}
