/**
 * Finds the sections of JavaScript in its many forms: declarations, constants that hold functions or classes (also
 * wrapped in a call), assignments to exports, prototypes and objects, object literals with functions, and programs
 * inside an immediately invoked function.
 */
import type { Node } from "web-tree-sitter";
import { childrenOf, type FoundSection, linesOf } from "@/core/source/section";

const FUNCTIONS = new Set(["arrow_function", "function_expression", "generator_function"]);

/** Returns the sections of a file. Linear in its tree. */
export function findSections(root: Node): FoundSection[] {
  const sections = sectionsIn(root);
  const made = prototypesIn(root);
  // A name that is declared first and given its code later is that code.
  const coded = new Set(sections.flatMap(({ name, kind }) => (kind === "constant" ? [] : [name])));
  return sections
    .filter(({ name, kind }) => kind !== "constant" || !coded.has(name))
    .map((section) => asClass(section, made));
}

/** The names of functions that are given a prototype: each makes objects, and is a class. */
function prototypesIn(root: Node): ReadonlySet<string> {
  const found = new Set<string>();
  for (const node of childrenOf(root)) {
    const assignment = node.type === "expression_statement" ? node.namedChildren[0] : null;
    if (assignment?.type !== "assignment_expression") continue;
    const owner = /^(?:[\w$]+\.)*?([\w$]+)\.prototype\b/.exec(assignment.childForFieldName("left")?.text ?? "")?.[1];
    if (owner !== undefined) found.add(owner);
  }
  return found;
}

/**
 * A function with a prototype is a class; the object it is assigned to, as in `space.Name = function …`, is not part of
 * its name.
 */
function asClass(section: FoundSection, made: ReadonlySet<string>): FoundSection {
  const last = section.name.split(".").at(-1) ?? "";
  const isMade = (section.kind === "function" || section.kind === "method") && made.has(last);
  return isMade && section.name.split(".").length <= 2
    ? { ...section, name: last, kind: "class", params: [] }
    : section;
}

/** `whole` is the statement from which the section's lines count: an export belongs to what it exports. */
function sectionsAt(node: Node, whole: Node): FoundSection[] {
  switch (node.type) {
    case "export_statement":
    case "ambient_declaration": {
      const inner = node.childForFieldName("declaration") ?? node.childForFieldName("value") ?? node.namedChildren[0];
      return inner ? sectionsAt(inner, node) : [];
    }
    case "internal_module":
      return sectionsIn(node.childForFieldName("body"));
    case "function_signature":
      return [functionSection(nameOf(node), node, whole, "function")];
    case "function_declaration":
    case "generator_function_declaration":
      return functionSections(nameOf(node) || "default", node, whole);
    case "class_declaration":
    case "abstract_class_declaration":
    case "class":
      return classSections(node, whole);
    case "interface_declaration":
    case "enum_declaration":
      return [{ name: nameOf(node), kind: "class", ...linesOf(whole), params: [] }];
    case "type_alias_declaration":
      return node.childForFieldName("value")?.type === "object_type"
        ? [{ name: nameOf(node), kind: "class", ...linesOf(whole), params: [] }]
        : [];
    case "lexical_declaration":
    case "variable_declaration":
      return childrenOf(node).flatMap((child) => (child.type === "variable_declarator" ? declared(child, whole) : []));
    case "expression_statement":
      return assigned(node) ?? inNamespace(node.namedChildren[0]) ?? calledAtOnce(node.namedChildren[0]) ?? [];
    case "arrow_function":
    case "function_expression":
      return [functionSection("default", node, whole, "function")];
    default:
      return [];
  }
}

/** A member's name may be written as a text. */
const nameOf = (node: Node): string => (node.childForFieldName("name")?.text ?? "").replace(/^(["'])(.*)\1$/s, "$2");

const inNamespace = (node: Node | null | undefined): FoundSection[] | null =>
  node?.type === "internal_module" ? sectionsAt(node, node) : null;

/**
 * Returns the sections of a file or namespace. Overload signatures belong to the implementation, or to the last one.
 */
function sectionsIn(around: Node | null): FoundSection[] {
  const nodes = childrenOf(around).filter(({ type }) => type !== "comment");
  return nodes.flatMap((node, index) => {
    const [signature, next] = [overloaded(node), overloaded(nodes[index + 1])];
    const isRepeated = signature?.type === "function_signature" && next && nameOf(next) === nameOf(signature);
    return isRepeated ? [] : sectionsAt(node, node);
  });
}

/** The function that a statement declares, in whatever it is wrapped; null where it declares none. */
function overloaded(node: Node | undefined): Node | null {
  if (!node) return null;
  if (/^(function_signature|(generator_)?function_declaration)$/.test(node.type)) return node;
  const isWrapped = node.type === "export_statement" || node.type === "ambient_declaration";
  return isWrapped ? overloaded(node.childForFieldName("declaration") ?? node.namedChildren[0] ?? undefined) : null;
}

function functionSection(name: string, node: Node, whole: Node, kind: "function" | "method"): FoundSection {
  return { name, kind, ...linesOf(whole), params: parameters(node) };
}

/** A function that hangs functions on `this` makes objects: a class, with these as its methods. */
function functionSections(name: string, node: Node, whole: Node): FoundSection[] {
  const methods = ownMethods(name, node);
  if (methods.length === 0) return [functionSection(name, node, whole, "function")];
  return [{ name, kind: "class", ...linesOf(whole), params: [] }, ...methods];
}

/** `this.name = function …` in the body of a function, and the same by another name for `this`. */
function ownMethods(owner: string, node: Node): FoundSection[] {
  const body = node.childForFieldName("body");
  if (body?.type !== "statement_block" || !/\bthis\b/.test(body.text)) return [];
  const selves = new Set(["this"]);
  return childrenOf(body).flatMap((statement) => {
    for (const declarator of childrenOf(statement)) {
      const isSelf =
        declarator.type === "variable_declarator" && declarator.childForFieldName("value")?.type === "this";
      if (isSelf) selves.add(nameOf(declarator));
    }
    const assignment = statement.type === "expression_statement" ? statement.namedChildren[0] : null;
    const target = assignment?.type === "assignment_expression" ? assignment.childForFieldName("left") : null;
    const value = assignment?.childForFieldName("right");
    if (target?.type !== "member_expression" || !value || !FUNCTIONS.has(value.type)) return [];
    if (!selves.has(target.childForFieldName("object")?.text ?? "")) return [];
    const method = target.childForFieldName("property")?.text ?? "";
    return [functionSection(`${owner}.${method}`, value, statement, "method")];
  });
}

function parameters(node: Node): string[] {
  const single = node.childForFieldName("parameter");
  if (single) return [single.text];
  return childrenOf(node.childForFieldName("parameters")).flatMap((parameter) => {
    if (parameter.type === "comment") return [];
    const written = parameter.childForFieldName("pattern") ?? parameter.childForFieldName("left") ?? parameter;
    // A type for `this` is not a parameter.
    if (written.type === "this") return [];
    const pattern = written.type === "rest_pattern" ? (written.namedChildren[0] ?? written) : written;
    return [
      pattern.type === "identifier" || pattern.type === "shorthand_property_identifier_pattern"
        ? pattern.text
        : "options",
    ];
  });
}

function classSections(node: Node, whole: Node, given?: string): FoundSection[] {
  const name = given ?? (nameOf(node) || "default");
  const members = childrenOf(node.childForFieldName("body"));
  const methods = members.flatMap((member) => {
    if (member.type === "method_definition")
      return [functionSection(`${name}.${nameOf(member)}`, member, member, "method")];
    const value = member.childForFieldName("value");
    if (value && FUNCTIONS.has(value.type)) {
      const field = member.childForFieldName("name") ?? member.childForFieldName("property");
      return [functionSection(`${name}.${field?.text ?? ""}`, value, member, "method")];
    }
    return [];
  });
  return [{ name, kind: "class", ...linesOf(whole), params: [] }, ...methods];
}

function declared(node: Node, whole: Node): FoundSection[] {
  const target = node.childForFieldName("name");
  const value = node.childForFieldName("value");
  if (target?.type !== "identifier") return [];
  const made = value ? held(target.text, value, whole) : null;
  if (made) return made;
  // Re-exports of other modules are not this module's own.
  if (/^(await\s+)?(require|import)\s*\(/.test(value?.text ?? "")) return [];
  return [{ name: target.text, kind: "constant", ...linesOf(whole), params: [] }];
}

/** Returns the sections of a name that holds code; null if its value is not code. */
function held(name: string, value: Node, whole: Node, kind: "function" | "method" = "function"): FoundSection[] | null {
  if (FUNCTIONS.has(value.type))
    return kind === "function" ? functionSections(name, value, whole) : [functionSection(name, value, whole, kind)];
  if (value.type === "class") return classSections(value, whole, name);
  if (value.type === "object") {
    const methods = functionsOf(value, `${name}.`, "method");
    return methods.length > 0 ? [{ name, kind: "constant", ...linesOf(whole), params: [] }, ...methods] : null;
  }
  const wrapped = wrappedClass(value);
  if (wrapped) return classSections(wrapped, whole, name);
  // A class as compilers emit it: an immediately invoked function that returns its own name.
  const inside = calledAtOnce(value)?.filter((section) => section.name === name || section.name.startsWith(`${name}.`));
  if (!inside || inside.length === 0) return null;
  const methods = inside.filter((section) => section.name !== name);
  return [{ name, kind: methods.length > 0 ? "class" : "function", ...linesOf(whole), params: [] }, ...methods];
}

/** `wrap(class …)`, however often wrapped. */
function wrappedClass(value: Node): Node | null {
  if (value.type !== "call_expression") return null;
  for (const given of childrenOf(value.childForFieldName("arguments"))) {
    const found = given.type === "class" ? given : wrappedClass(given);
    if (found) return found;
  }
  return null;
}

/** Functions in an object literal, named by their keys. */
function functionsOf(object: Node, prefix: string, kind: "function" | "method"): FoundSection[] {
  return childrenOf(object).flatMap((entry) => {
    if (entry.type === "method_definition") return [functionSection(prefix + nameOf(entry), entry, entry, kind)];
    const [key, value] = [entry.childForFieldName("key"), entry.childForFieldName("value")];
    const isNamed = key?.type === "property_identifier" || key?.type === "string";
    return isNamed && value && FUNCTIONS.has(value.type)
      ? [functionSection(prefix + key.text.replace(/^["']|["']$/g, ""), value, entry, kind)]
      : [];
  });
}

/**
 * Sections of `exports.name = …`, `module.exports = …`, `Name.prototype.method = …` and `name.method = …`, and of
 * undeclared names. Null if it is not an assignment.
 */
function assigned(node: Node): FoundSection[] | null {
  const assignment = node.namedChildren[0];
  if (assignment?.type !== "assignment_expression") return null;
  const target = assignment.childForFieldName("left")?.text ?? "";
  const value = lastValue(assignment);
  if (!value) return [];
  const made = /([\w$]+)\.prototype$/.exec(target)?.[1];
  if (made !== undefined && value.type === "object") return functionsOf(value, `${made}.`, "method");
  const member = memberOf(target);
  const exported =
    /^(?:module\.)?exports\.([\w$]+)$/.exec(target)?.[1] ?? (target === "module.exports" ? "default" : undefined);
  if (exported === "default") {
    if (value.type === "object") return functionsOf(value, "", "function");
    return held(nameOf(value) || exported, value, node)?.filter(({ kind }) => kind !== "constant") ?? [];
  }
  if (exported !== undefined) {
    if (value.type === "identifier") return [];
    return held(exported, value, node) ?? [{ name: exported, kind: "constant", ...linesOf(node), params: [] }];
  }
  if (member !== null) {
    // An immediately invoked function returns the function that the name holds.
    if (functionIn(value.childForFieldName("function")))
      return [{ name: member, kind: "method", ...linesOf(node), params: [] }];
    const isPlain = FUNCTIONS.has(value.type) || value.type === "class" || wrappedClass(value) !== null;
    return isPlain ? (held(member, value, node, "method") ?? []) : [];
  }
  return /^[\w$]+$/.test(target) ? (held(target, value, node)?.filter(({ kind }) => kind !== "constant") ?? []) : [];
}

/** `space.Name.prototype.method` becomes `Name.method`: only the nearest qualifier is kept. Null for other targets. */
function memberOf(target: string): string | null {
  if (!/^[\w$]+(\.[\w$]+)+$/.test(target)) return null;
  const parts = target
    .replace(/^(module\.)?exports\./, "")
    .split(".")
    .filter((part) => part !== "prototype");
  return parts.length < 2 ? null : parts.slice(-2).join(".");
}

/** Returns the final value of `a = b = value`. */
function lastValue(assignment: Node): Node | null {
  const value = assignment.childForFieldName("right");
  return value?.type === "assignment_expression" ? lastValue(value) : value;
}

/** Returns the sections inside an immediately invoked function or one passed to `define`; null if it is neither. */
function calledAtOnce(node: Node | null | undefined): FoundSection[] | null {
  if (!node) return null;
  switch (node.type) {
    case "parenthesized_expression":
    case "unary_expression":
    case "await_expression":
      return calledAtOnce(node.childForFieldName("argument") ?? node.namedChildren[0]);
    case "call_expression": {
      const callee = node.childForFieldName("function");
      const direct = functionIn(callee) ?? functionIn(callee?.childForFieldName("object"));
      const given = childrenOf(node.childForFieldName("arguments"));
      const handed = callee?.text === "define" ? given.find(({ type }) => FUNCTIONS.has(type)) : undefined;
      // A universal module hands its factory to the function that is called.
      const factories = direct ? given.filter(({ type }) => FUNCTIONS.has(type)) : [];
      const bodies = [direct, handed, ...factories].flatMap((one) => one?.childForFieldName("body") ?? []);
      const found = bodies.flatMap((body) => findSections(body));
      return found.length > 0 ? found : null;
    }
    default:
      return null;
  }
}

function functionIn(node: Node | null | undefined): Node | null {
  const inner = node?.type === "parenthesized_expression" ? node.namedChildren[0] : node;
  return inner && FUNCTIONS.has(inner.type) ? inner : null;
}
