/** Reads what a C source declares from the text that its preprocessor gives: types, functions with a body, and where they are. */
import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";

/** A type as it is declared. `const` is kept of what a pointer leads to. */
export type CType =
  | { readonly kind: "void" }
  /** `spelled` is the type's own name, such as `unsigned int`. */
  | { readonly kind: "number"; readonly spelled: string }
  | { readonly kind: "named"; readonly name: string }
  | { readonly kind: "pointer"; readonly to: CType; readonly isConst: boolean }
  /** Without a size where none is written. */
  | { readonly kind: "array"; readonly of: CType; readonly hasSize: boolean }
  | { readonly kind: "struct" | "union" | "enum"; readonly tag: string | null; readonly id: number }
  | { readonly kind: "function" };

/** A field of a struct. `bits` is the type's text of a bit field. */
export type CField = { readonly name: string; readonly type: CType; readonly bits: string | null };

/** A parameter; `declared` is its declaration with `ALIAS` in place of its name. */
export type CParameter = { readonly name: string; readonly type: CType; readonly declared: string };

/** Placeholder for the name in a declaration. */
export const ALIAS = "\0";

/** A function with a body. */
export type CFunction = {
  readonly name: string;
  /** The file that the preprocessor names, and the line, from 1. */
  readonly file: string;
  readonly line: number;
  readonly result: CType;
  readonly parameters: readonly CParameter[];
  readonly isVariadic: boolean;
  readonly isStatic: boolean;
};

/** The declarations of a source. Structs, unions and enums are numbered by `id`. */
export type CDeclarations = {
  readonly functions: readonly CFunction[];
  readonly typedefs: ReadonlyMap<string, CType>;
  readonly bodies: ReadonlyMap<number, CBody>;
  /** Every file that the preprocessor names. */
  readonly files: ReadonlySet<string>;
};

/** The body of a struct, union or enum. */
export type CBody = {
  readonly file: string;
  readonly fields: readonly CField[];
  readonly members: readonly string[];
};

/** The preprocessor's text without its line marks, and the file and line of each of its lines. */
export function readMarks(text: string): { text: string; placeOf: (row: number) => { file: string; line: number } } {
  const rows = text.split("\n");
  const marks: { row: number; file: string; line: number }[] = [];
  for (const [row, written] of rows.entries()) {
    const mark = /^#\s+(\d+)\s+"((?:[^"\\]|\\.)*)"/.exec(written);
    if (mark) marks.push({ row: row + 1, file: (mark[2] ?? "").replace(/\\(.)/g, "$1"), line: Number(mark[1]) });
    if (written.startsWith("#")) rows[row] = "";
  }
  const placeOf = (row: number) => {
    let [low, high] = [0, marks.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((marks[middle]?.row ?? 0) <= row) low = middle + 1;
      else high = middle;
    }
    const mark = marks[low - 1];
    return mark ? { file: mark.file, line: mark.line + row - mark.row } : { file: "", line: row + 1 };
  };
  return { text: rows.join("\n"), placeOf };
}

/** Reads a syntax tree of preprocessed text. Cost: linear in it. */
export function readDeclarations(root: Node, placeOf: (row: number) => { file: string; line: number }): CDeclarations {
  return new Reader(placeOf).read(root);
}

/** Numbers' types that no header declares. */
const BUILT_IN = /^(_Bool|__int128|_Float\d+x?|__float128|__signed__)$/;

type Declared = { readonly name: Node | null; readonly type: CType };
type Base = { readonly type: CType; readonly isConst: boolean };

class Reader {
  private readonly functions: CFunction[] = [];
  private readonly typedefs = new Map<string, CType>();
  private readonly bodies = new Map<number, CBody>();
  private readonly tags = new Map<string, number>();
  private readonly files = new Set<string>();
  private next = 1;

  constructor(private readonly placeOf: (row: number) => { file: string; line: number }) {}

  read(root: Node): CDeclarations {
    this.readAll(root);
    return { functions: this.functions, typedefs: this.typedefs, bodies: this.bodies, files: this.files };
  }

  private readAll(holder: Node): void {
    for (const node of childrenOf(holder)) {
      this.files.add(this.placeOf(node.startPosition.row).file);
      if (node.type === "function_definition") this.readFunction(node);
      else if (node.type === "type_definition") this.readTypedef(node);
      else if (node.type === "declaration") this.baseOf(node);
      else if (/^(struct|union|enum)_specifier$/.test(node.type)) this.specified(node);
      else if (node.type === "linkage_specification" || node.type === "declaration_list") this.readAll(node);
    }
  }

  private readTypedef(node: Node): void {
    const base = this.baseOf(node);
    for (const declarator of node.childrenForFieldName("declarator")) {
      if (!declarator) continue;
      const { name, type } = this.declared(declarator, base);
      if (name) this.typedefs.set(name.text, type);
    }
  }

  private readFunction(node: Node): void {
    const declarator = functionDeclarator(node.childForFieldName("declarator"));
    const name = declarator?.childForFieldName("declarator");
    if (!declarator || name?.type !== "identifier") return;
    const base = this.baseOf(node);
    const outer = node.childForFieldName("declarator");
    const result = outer ? this.resultOf(outer, base) : base;
    const parameters = declarator.childForFieldName("parameters");
    const list = childrenOf(parameters).filter(({ type }) => type === "parameter_declaration");
    this.functions.push({
      name: name.text,
      ...this.placeOf(name.startPosition.row),
      result: result.type,
      parameters: list.flatMap((parameter, at) => this.parameter(parameter, at)),
      isVariadic: childrenOf(parameters).some(({ type }) => type === "variadic_parameter" || type === "identifier"),
      isStatic: childrenOf(node).some(({ type, text }) => type === "storage_class_specifier" && text === "static"),
    });
  }

  /** Returns a function's result type: the declarators around its own. */
  private resultOf(node: Node, base: Base): Base {
    if (node.type !== "pointer_declarator") return base;
    const inner = node.childForFieldName("declarator");
    return inner ? this.resultOf(inner, pointerTo(base, node)) : base;
  }

  private parameter(node: Node, at: number): CParameter[] {
    const base = this.baseOf(node);
    const declarator = node.childForFieldName("declarator");
    if (!declarator) {
      if (base.type.kind === "void") return [];
      return [{ name: `argument${at + 1}`, type: base.type, declared: `${node.text} ${ALIAS}` }];
    }
    const { name, type } = this.declared(declarator, base);
    // An array is handed over by its first item.
    const adjusted: CType = type.kind === "array" ? { kind: "pointer", to: type.of, isConst: base.isConst } : type;
    return [{ name: name?.text ?? `argument${at + 1}`, type: adjusted, declared: renamed(node, name) }];
  }

  private baseOf(node: Node): Base {
    const specifier = node.childForFieldName("type");
    const isConst = childrenOf(node).some(({ type, text }) => type === "type_qualifier" && text === "const");
    return { type: specifier ? this.specified(specifier) : { kind: "number", spelled: "int" }, isConst };
  }

  private specified(node: Node): CType {
    if (node.type === "primitive_type" && node.text === "void") return { kind: "void" };
    if (node.type === "primitive_type" || node.type === "sized_type_specifier")
      return { kind: "number", spelled: node.text.replace(/\s+/g, " ") };
    const kind = /^(struct|union|enum)_specifier$/.exec(node.type)?.[1];
    if (kind === "struct" || kind === "union" || kind === "enum") return this.tagged(node, kind);
    return BUILT_IN.test(node.text) ? { kind: "number", spelled: node.text } : { kind: "named", name: node.text };
  }

  private tagged(node: Node, kind: "struct" | "union" | "enum"): CType {
    const tag = textOf(node, "name") || null;
    const key = `${kind} ${tag}`;
    const id = (tag === null ? undefined : this.tags.get(key)) ?? this.next++;
    if (tag !== null) this.tags.set(key, id);
    const body = node.childForFieldName("body");
    if (body) {
      // Known before its fields are read, which may lead back to it.
      const { file } = this.placeOf(node.startPosition.row);
      this.bodies.set(id, { file, fields: [], members: [] });
      const members = childrenOf(body).flatMap((one) => (one.type === "enumerator" ? [textOf(one, "name")] : []));
      this.bodies.set(id, { file, fields: kind === "enum" ? [] : this.fieldsOf(body), members });
    }
    return { kind, tag, id };
  }

  private fieldsOf(body: Node): CField[] {
    return childrenOf(body).flatMap((node): CField[] => {
      if (node.type !== "field_declaration") return [];
      const base = this.baseOf(node);
      const bits = childrenOf(node).some(({ type }) => type === "bitfield_clause") ? textOf(node, "type") : null;
      const declarators = node.childrenForFieldName("declarator");
      // The fields of a struct without a name are those of the struct around it.
      if (declarators.length === 0)
        return base.type.kind === "struct" ? [...(this.bodies.get(base.type.id)?.fields ?? [])] : [];
      return declarators.flatMap((declarator) => {
        if (!declarator) return [];
        const { name, type } = this.declared(declarator, base);
        return name ? [{ name: name.text, type, bits }] : [];
      });
    });
  }

  private declared(node: Node, base: Base): Declared {
    const inner = node.childForFieldName("declarator") ?? childrenOf(node).find(({ type }) => /declarator$/.test(type));
    switch (node.type) {
      case "pointer_declarator":
      case "abstract_pointer_declarator": {
        const pointer = pointerTo(base, node);
        return inner ? this.declared(inner, pointer) : { name: null, type: pointer.type };
      }
      case "array_declarator":
      case "abstract_array_declarator": {
        const type: CType = { kind: "array", of: base.type, hasSize: node.childForFieldName("size") !== null };
        return inner ? this.declared(inner, { type, isConst: base.isConst }) : { name: null, type };
      }
      case "function_declarator":
      case "abstract_function_declarator": {
        const type: CType = { kind: "function" };
        return inner ? this.declared(inner, { type, isConst: false }) : { name: null, type };
      }
      case "parenthesized_declarator":
      case "abstract_parenthesized_declarator":
      case "attributed_declarator":
        return inner ? this.declared(inner, base) : { name: childrenOf(node)[0] ?? null, type: base.type };
    }
    return { name: node, type: base.type };
  }
}

function pointerTo(base: Base, node: Node): Base {
  const isConst = childrenOf(node).some(({ type, text }) => type === "type_qualifier" && text === "const");
  return { type: { kind: "pointer", to: base.type, isConst: base.isConst }, isConst };
}

function functionDeclarator(node: Node | null): Node | null {
  if (!node || node.type === "function_declarator") return node;
  if (node.type !== "pointer_declarator") return null;
  return functionDeclarator(node.childForFieldName("declarator"));
}

/** The text of a parameter's declaration with `ALIAS` for its name; an array becomes a pointer to its first item. */
export function renamed(node: Node, name: Node | null): string {
  if (!name) {
    const declarator = node.childForFieldName("declarator");
    const text = node.text;
    if (declarator?.type === "abstract_array_declarator") return text.replace(/\[[^\]]*\]/, `(*${ALIAS})`);
    return `${text} ${ALIAS}`;
  }
  const array = name.parent?.type === "array_declarator" ? name.parent : null;
  const cut = array ?? name;
  const from = cut.startIndex - node.startIndex;
  return `${node.text.slice(0, from)}${array ? `(*${ALIAS})` : ALIAS}${node.text.slice(from + cut.text.length)}`;
}
