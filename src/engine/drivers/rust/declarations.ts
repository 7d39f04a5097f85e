/** Reads what a Rust module declares: its functions and methods, types, variables and the modules below it. */

import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";
import { instancesOf, substitute, suffixOf, type TypeParameter } from "@/engine/drivers/rust/generics";

/** A place in a file's text: offsets of its first character and behind its last. */
export type Extent = { readonly from: number; readonly to: number };

/** A parameter; types are as they are written. */
export type RustParameter = { readonly name: string; readonly type: string };

/** A function or method with a body. */
export type RustFunction = {
  /** A method's name is `Type.name`. */
  readonly name: string;
  readonly own: string;
  /** The type and trait of its `impl`. */
  readonly owner: string | null;
  readonly trait: string | null;
  readonly self: "ref" | "mut" | "move" | null;
  /** The types that it is called with, such as `<i64>`, if it is generic: then it is listed once for each. */
  readonly instance: string;
  readonly parameters: readonly RustParameter[];
  readonly result: string;
  readonly isAsync: boolean;
  /** Why it cannot be called from outside. */
  readonly refused: string | null;
  readonly item: Extent;
  readonly body: Extent;
};

/** A variant of an enum, or a struct as its only one. */
export type RustVariant = {
  readonly name: string;
  /** `0`, `1`, … where they have no names. */
  readonly fields: readonly RustParameter[];
  readonly isTuple: boolean;
  readonly isUnit: boolean;
  readonly hasValue: boolean;
};

/** A struct or enum. */
export type RustType = {
  readonly name: string;
  readonly kind: "struct" | "enum";
  readonly lifetimes: readonly string[];
  /** Names and bounds, without lifetimes. */
  readonly generics: readonly { readonly name: string; readonly bounds: string; readonly isConst: boolean }[];
  readonly where: string;
  readonly variants: readonly RustVariant[];
};

/** How much of a module's state outlives a call: nothing, plain values, or what leads elsewhere. */
export type Statics = "none" | "plain" | "deep";

/** A module: a file, or a `mod` with a body in one. */
export type RustModule = {
  readonly functions: readonly RustFunction[];
  readonly types: readonly RustType[];
  readonly statics: Statics;
  /** Modules in files of their own. */
  readonly children: readonly string[];
  readonly inner: readonly { readonly name: string; readonly module: RustModule }[];
  /** Where text can be added: the end of the file, or before the closing brace. */
  readonly end: number;
  /** All items, to be left out where they do not compile. */
  readonly items: readonly Extent[];
};

/** Reads a module from its syntax tree. Cost: linear in it. */
export function readModule(holder: Node, end: number): RustModule {
  const functions: RustFunction[] = [];
  const types: RustType[] = [];
  const children: string[] = [];
  const inner: { name: string; module: RustModule }[] = [];
  const items: Extent[] = [];
  let statics: Statics = "none";
  const raise = (found: Statics) => {
    if (found === "deep" || statics === "none") statics = found;
  };
  for (const { node, attributes } of itemsOf(holder)) {
    if (/\bcfg\s*\(\s*test\b|^#\[\s*(test|bench)\b/.test(attributes)) continue;
    items.push(extentOf(node));
    raise(staticsWithin(node));
    switch (node.type) {
      case "function_item":
        functions.push(...functionOf(node, null));
        break;
      case "impl_item":
        functions.push(...methodsOf(node));
        break;
      case "struct_item":
      case "enum_item":
        types.push(typeOf(node));
        break;
      case "mod_item": {
        const body = node.childForFieldName("body");
        const name = textOf(node, "name");
        if (body) inner.push({ name, module: readModule(body, body.endIndex - 1) });
        else children.push(name);
      }
    }
  }
  for (const { module } of inner) raise(module.statics);
  return { functions, types, statics, children, inner, end, items };
}

const extentOf = (node: Node): Extent => ({ from: node.startIndex, to: node.endIndex });

function itemsOf(holder: Node): { node: Node; attributes: string }[] {
  const items: { node: Node; attributes: string }[] = [];
  let attributes = "";
  for (const node of childrenOf(holder)) {
    if (node.type === "attribute_item") attributes += node.text;
    else if (!/comment$/.test(node.type)) {
      items.push({ node, attributes });
      attributes = "";
    }
  }
  return items;
}

const PLAIN = /^(u8|u16|u32|u64|u128|usize|i8|i16|i32|i64|i128|isize|f32|f64|bool|char|Atomic\w+|\[[\w\s:;]+\])$/;
const CHANGES = /\b(Atomic\w+|Mutex|RwLock|RefCell|Cell|OnceCell|OnceLock|LazyLock|LazyCell|Lazy|UnsafeCell)\b/;

/** The state that an item declares: itself, in its functions, or through macros. */
function staticsWithin(node: Node): Statics {
  // Modules are read by themselves.
  if (node.type === "mod_item") return "none";
  const text = node.text;
  if (/\b(thread_local|lazy_static)\s*!/.test(text)) return "deep";
  if (node.type === "macro_definition") return /\bstatic\b/.test(text) ? "deep" : "none";
  if (!/\bstatic\b/.test(text)) return "none";
  const found = node.descendantsOfType("static_item").map((one) => (one ? staticsOf(one) : "none"));
  return found.includes("deep") ? "deep" : found.includes("plain") ? "plain" : "none";
}

function staticsOf(node: Node): Statics {
  const type = textOf(node, "type");
  const isMutable = childrenOf(node).some((child) => child.type === "mutable_specifier");
  if (!isMutable && !CHANGES.test(type)) return "none";
  return PLAIN.test(type.replace(/^(\w+::)+/, "")) ? "plain" : "deep";
}

function methodsOf(node: Node): RustFunction[] {
  const type = textOf(node, "type");
  const trait = textOf(node, "trait") || null;
  const isGeneric = childrenOf(node.childForFieldName("type_parameters")).some(
    (one) => one.type !== "lifetime_parameter",
  );
  return itemsOf(node.childForFieldName("body") ?? node)
    .filter(({ node: one, attributes }) => one.type === "function_item" && !/\bcfg\s*\(\s*test\b/.test(attributes))
    .flatMap(({ node: one }) => functionOf(one, { type, trait, isGeneric }));
}

/** A type's name without arguments and path. */
export const simpleName = (type: string): string => type.replace(/<.*$/s, "").split("::").at(-1)?.trim() ?? type;

function functionOf(
  node: Node,
  owner: { readonly type: string; readonly trait: string | null; readonly isGeneric: boolean } | null,
): RustFunction[] {
  const own = textOf(node, "name");
  const body = node.childForFieldName("body");
  if (!body) return [];
  const list = childrenOf(node.childForFieldName("parameters")).filter(({ type }) => /parameter$/.test(type));
  const self = list.find(({ type }) => type === "self_parameter");
  const parameters = list
    .filter(({ type }) => type === "parameter")
    .map((one, at) => {
      const name = textOf(one, "pattern");
      return { name: /^\w+$/.test(name) ? name : `argument${at + 1}`, type: textOf(one, "type") };
    });
  const modifiers = textOf(childrenOf(node).find(({ type }) => type === "function_modifiers") ?? node, "") || "";
  const words = childrenOf(node).find(({ type }) => type === "function_modifiers")?.text ?? modifiers;
  const generics = childrenOf(node.childForFieldName("type_parameters")).filter(
    ({ type }) => type !== "lifetime_parameter",
  );
  const ofType = owner ? simpleName(owner.type) : "";
  const instances = instancesOf(typeParameters(node, generics));
  const constant = generics.find(({ type }) => type === "const_parameter");
  const why =
    typeof instances === "string" ? instances : constant ? `it is generic in ${textOf(constant, "name")}` : null;
  return (typeof instances === "string" ? [{}] : instances).map((instance) => ({
    name: owner ? `${ofType}.${own}` : own,
    own,
    instance: suffixOf(instance),
    owner: owner?.type ?? null,
    trait: owner?.trait ?? null,
    self: self ? selfOf(self.text) : null,
    parameters: parameters.map(({ name, type }) => ({ name, type: substitute(type, instance) })),
    result: substitute(textOf(node, "return_type"), instance),
    isAsync: /\basync\b/.test(words),
    refused: refusalOf(owner?.isGeneric ?? false, parameters) ?? why,
    item: extentOf(node),
    body: extentOf(body),
  }));
}

function typeParameters(node: Node, generics: readonly Node[]): TypeParameter[] {
  const where = childrenOf(node).find(({ type }) => type === "where_clause");
  const more = childrenOf(where ?? null).filter(({ type }) => type === "where_predicate");
  return generics
    .filter(({ type }) => type === "type_parameter")
    .map((one) => {
      const name = textOf(one, "name");
      const said = more.filter((predicate) => textOf(predicate, "left") === name);
      return { name, bounds: [one, ...said].map((bound) => textOf(bound, "bounds")).join(" ") };
    });
}

const selfOf = (text: string): "ref" | "mut" | "move" =>
  !text.startsWith("&") ? "move" : /\bmut\b/.test(text) ? "mut" : "ref";

function refusalOf(isGenericImpl: boolean, parameters: readonly RustParameter[]): string | null {
  if (isGenericImpl) return "its type is generic";
  for (const { name, type } of parameters) {
    if (name === "self") return "its self has a type of its own";
    if (/\b(impl|dyn)\s+(?:for<[^>]*>\s*)?(Fn|FnMut|FnOnce)\b|^fn\b|\bextern\b/.test(type))
      return `its parameter ${name} is a function`;
  }
  return null;
}

function typeOf(node: Node): RustType {
  const parameters = childrenOf(node.childForFieldName("type_parameters"));
  const body = node.childForFieldName("body");
  const name = textOf(node, "name");
  const isEnum = node.type === "enum_item";
  const variants = isEnum
    ? childrenOf(body)
        .filter(({ type }) => type === "enum_variant")
        .map((variant) =>
          variantOf(
            textOf(variant, "name"),
            variant.childForFieldName("body"),
            variant.childForFieldName("value") !== null,
          ),
        )
    : [variantOf(name, body, false)];
  return {
    name,
    kind: isEnum ? "enum" : "struct",
    lifetimes: parameters.filter(({ type }) => type === "lifetime_parameter").map((one) => textOf(one, "name")),
    generics: parameters
      .filter(({ type }) => type === "type_parameter" || type === "const_parameter")
      .map((one) => ({
        name: textOf(one, "name"),
        bounds: one.type === "const_parameter" ? textOf(one, "type") : textOf(one, "bounds").replace(/^:\s*/, ""),
        isConst: one.type === "const_parameter",
      })),
    where: childrenOf(node).find(({ type }) => type === "where_clause")?.text ?? "",
    variants,
  };
}

function variantOf(name: string, body: Node | null, hasValue: boolean): RustVariant {
  const isTuple = body?.type === "ordered_field_declaration_list";
  const fields = isTuple
    ? body.childrenForFieldName("type").flatMap((type, at) => (type ? [{ name: String(at), type: type.text }] : []))
    : childrenOf(body)
        .filter(({ type }) => type === "field_declaration")
        .map((field) => ({ name: textOf(field, "name"), type: textOf(field, "type") }));
  return { name, fields, isTuple, isUnit: body === null, hasValue };
}
