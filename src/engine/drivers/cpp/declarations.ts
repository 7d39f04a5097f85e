/** Reads what a C++ file declares: functions with a body, classes with their members, enums, and whether state stays behind. */
import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";
import { ALIAS, renamed } from "@/engine/drivers/c/declarations";

/** Namespaces around a name; one without a name is the empty text. */
export type Scope = readonly string[];

/** A parameter; `declared` is its declaration with `ALIAS` in place of its name, without a default. */
export type CppParameter = { readonly name: string; readonly declared: string; readonly hasDefault: boolean };

/** A function, or a member function of a class. */
export type CppFunction = {
  readonly name: string;
  readonly scope: Scope;
  readonly parameters: readonly CppParameter[];
  readonly isStatic: boolean;
  /** The parameters of a template, as they are declared, and their names. */
  readonly template: CppTemplate | null;
  readonly refused: string | null;
};

/** Parameters of a template. */
export type CppTemplate = { readonly declared: readonly string[]; readonly names: readonly string[] };

/** A class or struct with its members. */
export type CppClass = {
  readonly name: string;
  /** With the classes around it. */
  readonly path: readonly string[];
  readonly scope: Scope;
  readonly bases: readonly string[];
  readonly fields: readonly { readonly name: string; readonly isBits: boolean }[];
  readonly methods: readonly CppFunction[];
  readonly constructors: readonly CppFunction[];
  readonly isFinal: boolean;
  readonly template: CppTemplate | null;
};

/** An enum with its members. */
export type CppEnum = {
  readonly path: readonly string[];
  readonly scope: Scope;
  readonly members: readonly string[];
  readonly isScoped: boolean;
};

/** The declarations of a file. */
export type CppDeclarations = {
  readonly functions: readonly CppFunction[];
  readonly classes: readonly CppClass[];
  readonly enums: readonly CppEnum[];
  /** As they are written, without quotes. */
  readonly includes: readonly string[];
  /** Whether a variable that outlives a call leads to what cannot be compared byte by byte. */
  readonly isDeep: boolean;
  readonly hasError: boolean;
};

/** Reads a file's syntax tree. Cost: linear in it. */
export function readCpp(root: Node): CppDeclarations {
  const found = new CppReader();
  found.read(root, [], null);
  return { ...found, hasError: root.hasError };
}

const HOLDERS = new Set([
  "linkage_specification",
  "declaration_list",
  "preproc_if",
  "preproc_ifdef",
  "preproc_else",
  "preproc_elif",
]);

class CppReader {
  readonly functions: CppFunction[] = [];
  readonly classes: CppClass[] = [];
  readonly enums: CppEnum[] = [];
  readonly includes: string[] = [];
  isDeep = false;

  read(holder: Node, scope: Scope, template: CppTemplate | null): void {
    for (const node of childrenOf(holder)) this.readOne(node, scope, template);
  }

  private readOne(node: Node, scope: Scope, template: CppTemplate | null): void {
    if (HOLDERS.has(node.type)) return this.read(node, scope, template);
    switch (node.type) {
      case "preproc_include":
        this.includes.push(textOf(node, "path").slice(1, -1));
        return;
      case "namespace_definition": {
        const names = textOf(node, "name").split("::");
        const body = node.childForFieldName("body");
        if (body) this.read(body, [...scope, ...names], null);
        return;
      }
      case "template_declaration": {
        const parameters = templateOf(node.childForFieldName("parameters"));
        for (const inner of childrenOf(node).slice(1)) this.readOne(inner, scope, parameters);
        return;
      }
      case "function_definition": {
        this.noteLocals(node);
        const made = functionOf(node, scope, template);
        if (made && !/::/.test(made.name)) this.functions.push(made);
        return;
      }
      case "class_specifier":
      case "struct_specifier":
        this.readClass(node, scope, [], template);
        return;
      case "enum_specifier":
        this.readEnum(node, scope, []);
        return;
      case "declaration":
      case "type_definition": {
        const type = node.childForFieldName("type");
        if (type && /^(class|struct|enum)_specifier$/.test(type.type)) this.readOne(type, scope, template);
        if (node.type === "declaration" && isDeepVariable(node)) this.isDeep = true;
      }
    }
  }

  /** Variables inside a function that stay. */
  private noteLocals(node: Node): void {
    for (const local of node.descendantsOfType("declaration"))
      if (local && /^(static|thread_local|inline)\b/.test(local.text) && isDeepVariable(local)) this.isDeep = true;
  }

  private readEnum(node: Node, scope: Scope, outer: readonly string[]): void {
    const name = textOf(node, "name");
    const body = node.childForFieldName("body");
    if (!name || !body) return;
    const members = childrenOf(body).flatMap((one) => (one.type === "enumerator" ? [textOf(one, "name")] : []));
    this.enums.push({ path: [...outer, name], scope, members, isScoped: /^enum\s+(class|struct)\b/.test(node.text) });
  }

  private readClass(node: Node, scope: Scope, outer: readonly string[], template: CppTemplate | null): void {
    const name = textOf(node, "name");
    const body = node.childForFieldName("body");
    // A specialisation of a template has arguments; its members are its own affair.
    if (!name || !body || name.includes("<")) return;
    const path = [...outer, name];
    const fields: { name: string; isBits: boolean }[] = [];
    const methods: CppFunction[] = [];
    const constructors: CppFunction[] = [];
    for (const member of membersOf(body)) {
      const type = member.childForFieldName("type");
      if (type && /^(class|struct)_specifier$/.test(type.type)) this.readClass(type, scope, path, template);
      if (type?.type === "enum_specifier") this.readEnum(type, scope, path);
      if (member.type === "class_specifier" || member.type === "struct_specifier")
        this.readClass(member, scope, path, template);
      if (member.type === "enum_specifier") this.readEnum(member, scope, path);
      if (member.type === "function_definition") this.noteLocals(member);
      const made = functionOf(member, scope, null);
      if (made) {
        if (made.name === name) constructors.push(made);
        else if (!made.name.startsWith("~")) methods.push(made);
      } else if (member.type === "field_declaration") {
        const isStatic = hasWord(member, "static");
        if (isStatic && isDeepVariable(member)) this.isDeep = true;
        if (!isStatic) fields.push(...fieldsOf(member));
      }
    }
    const clause = childrenOf(node).find(({ type }) => type === "base_class_clause");
    const bases = childrenOf(clause ?? null).filter(({ type }) => /identifier$|template_type/.test(type));
    const isFinal = childrenOf(node).some(({ type, text }) => type === "virtual_specifier" && text === "final");
    this.classes.push({
      name,
      path,
      scope,
      bases: bases.map(({ text }) => text),
      fields,
      methods,
      constructors,
      isFinal,
      template,
    });
  }
}

/** Members behind conditions of the preprocessor count as well. */
const membersOf = (body: Node): Node[] =>
  childrenOf(body).flatMap((node) =>
    node.type.startsWith("preproc_") && HOLDERS.has(node.type) ? membersOf(node) : [node],
  );

const hasWord = (node: Node, word: string): boolean =>
  childrenOf(node).some(({ type, text }) => /specifier|qualifier/.test(type) && text === word);

function fieldsOf(member: Node): { name: string; isBits: boolean }[] {
  const isBits = childrenOf(member).some(({ type }) => type === "bitfield_clause");
  return member.childrenForFieldName("declarator").flatMap((declarator) => {
    const name = declarator ? nameIn(declarator) : null;
    // A reference is bound when its object is made.
    return name && declarator?.type !== "reference_declarator" ? [{ name, isBits }] : [];
  });
}

function nameIn(node: Node): string | null {
  if (/identifier$/.test(node.type)) return node.text;
  if (node.type === "function_declarator" && node.childForFieldName("declarator")?.type !== "parenthesized_declarator")
    return null;
  const inner =
    node.childForFieldName("declarator") ?? childrenOf(node).find(({ type }) => /declarator$|identifier$/.test(type));
  return inner ? nameIn(inner) : null;
}

const PLAIN =
  /^(?:(?:std::)?(?:u?int\d*(?:_t)?|size_t|ptrdiff_t)|bool|char|short|long|float|double|signed|unsigned|\s)+$/;

/** Types whose target can change even through a const variable. */
const LEADS_ON = /\b(?:unique_ptr|shared_ptr|weak_ptr|reference_wrapper|span|atomic\w*|mutex)\b/;

/** Whether a variable can hold state that a byte comparison misses. */
function isDeepVariable(node: Node): boolean {
  if (/\b(constexpr|typedef|using|extern)\b/.test(node.text.slice(0, 60))) return false;
  if (hasWord(node, "const") && !LEADS_ON.test(textOf(node, "type"))) return false;
  const declarators = node.childrenForFieldName("declarator").filter((one) => one !== null);
  // Thread-local storage is outside the compared region.
  if (hasWord(node, "thread_local") || hasWord(node, "__thread")) return true;
  const variables = declarators.filter((one) => nameIn(one) !== null && !/^function_declarator$/.test(one.type));
  if (variables.length === 0) return false;
  const isPointer = variables.some(
    (one) => /pointer_declarator/.test(one.type) || one.childForFieldName("declarator")?.type === "pointer_declarator",
  );
  return isPointer || !PLAIN.test(textOf(node, "type"));
}

function templateOf(node: Node | null): CppTemplate {
  const parameters = childrenOf(node);
  return {
    declared: parameters.map(({ text }) => text.replace(/\s*=[^=]*$/, "")),
    names: parameters.map((one) => /(\w+)\s*$/.exec(one.text.replace(/\s*=[^=]*$/, ""))?.[1] ?? ""),
  };
}

function functionDeclaratorIn(node: Node | null): Node | null {
  if (!node || node.type === "function_declarator") return node;
  if (!/^(pointer|reference)_declarator$/.test(node.type)) return null;
  return functionDeclaratorIn(
    node.childForFieldName("declarator") ?? childrenOf(node).find(({ type }) => /declarator$/.test(type)) ?? null,
  );
}

function functionOf(node: Node, scope: Scope, template: CppTemplate | null): CppFunction | null {
  if (!/^(function_definition|field_declaration|declaration)$/.test(node.type)) return null;
  if (childrenOf(node).some(({ type }) => type === "delete_method_clause")) return null;
  const declarator = functionDeclaratorIn(node.childForFieldName("declarator"));
  const name = declarator?.childForFieldName("declarator");
  if (!declarator || !name || !/identifier$|operator_name|operator_cast|destructor_name/.test(name.type)) return null;
  const list = childrenOf(declarator.childForFieldName("parameters"));
  const isVariadic =
    /\.\.\.\s*\)$/.test(textOf(declarator, "parameters")) || list.some(({ type }) => /variadic/.test(type));
  return {
    name: name.text.replace(/\s+/g, ""),
    scope,
    parameters: list.flatMap((one, at) => parameterOf(one, at)),
    isStatic: hasWord(node, "static"),
    template,
    refused: isVariadic ? "it takes any number of arguments" : null,
  };
}

function parameterOf(node: Node, at: number): CppParameter[] {
  if (!/^(optional_)?parameter_declaration$/.test(node.type)) return [];
  const declarator = node.childForFieldName("declarator");
  if (!declarator && textOf(node, "type") === "void") return [];
  const value = node.childForFieldName("default_value");
  const name = declarator ? identifierIn(declarator) : null;
  const text = value ? node.text.slice(0, value.startIndex - node.startIndex).replace(/\s*=\s*$/, "") : node.text;
  return [
    {
      name: name?.text ?? `argument${at + 1}`,
      declared: name ? cutDefault(renamed(node, name)) : `${text} ${ALIAS}`,
      hasDefault: value !== null,
    },
  ];
}

/** A declaration without the default behind its name. */
const cutDefault = (text: string): string => {
  const at = text.indexOf(ALIAS);
  const equals = text.indexOf("=", at);
  return equals === -1 ? text : text.slice(0, equals).trimEnd();
};

function identifierIn(node: Node): Node | null {
  if (node.type === "identifier") return node;
  const inner =
    node.childForFieldName("declarator") ?? childrenOf(node).find(({ type }) => /declarator$|^identifier$/.test(type));
  return inner ? identifierIn(inner) : null;
}
