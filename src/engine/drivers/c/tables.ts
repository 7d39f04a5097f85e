/** Writes the tables of a source's functions and types, as C that is compiled together with it (runtime/types.h). */
import { ALIAS, type CDeclarations, type CFunction, type CType } from "@/engine/drivers/c/declarations";
import { isLengthName, isWhole, resolve, type Shapes, shapesOf } from "@/engine/drivers/c/shapes";

/** Structs of the system's headers that are records; others are handles. */
const SYSTEM_RECORDS = new Set(["tm", "timespec", "timeval", "div_t", "ldiv_t", "lldiv_t"]);

/** Facts on a source that its tables are written from. */
export type TableTerms = {
  readonly declarations: CDeclarations;
  /** The functions to list, each with its file as the port names it. */
  readonly functions: readonly { readonly made: CFunction; readonly file: string }[];
  readonly shapes: (file: string, name: string) => Readonly<Record<string, string>> | undefined;
  /** Whether a file that the preprocessor names is of the side. */
  readonly isOwn: (file: string) => boolean;
  /** Name → why the function is not to be called. */
  readonly refused: ReadonlyMap<string, string>;
  /** The unit's number. */
  readonly unit: number;
};

/** The tables of a source, to be compiled after it. An error in a function's part is at a line of `side-twin-NAME`. */
export function tablesOf(terms: TableTerms): string {
  return new Writer(terms).write();
}

const quoted = (text: string): string => JSON.stringify(text);

class Writer {
  private readonly lines: string[] = [];
  private readonly types = new Map<string, string>();
  private count = 0;

  constructor(private readonly terms: TableTerms) {}

  write(): string {
    const { functions, unit } = this.terms;
    const entries = functions.map(({ made, file }, at) => {
      this.lines.push(`#line 1 ${quoted(`side-twin-${made.name}`)}`);
      return this.functionEntry(made, file, at);
    });
    const structs = [...this.types.values()].map((name) => `&${name}, `).join("");
    return [
      '#include "types.h"',
      ...this.lines,
      `static const st_function st_functions_${unit}[] = {`,
      ...entries,
      "{0}};",
      `static const st_type *const st_types_${unit}[] = {${structs}0};`,
      `const st_unit st_unit_${unit} = {st_functions_${unit}, st_types_${unit}};`,
      "",
    ].join("\n");
  }

  private functionEntry(made: CFunction, file: string, at: number): string {
    const { declarations, shapes, refused } = this.terms;
    const found = shapesOf(made, declarations, shapes(file, made.name));
    const why = refused.get(made.name) ?? found.error ?? this.refusal(made);
    if (why !== null) {
      return `{.file = ${quoted(file)}, .name = ${quoted(made.name)}, .result = &${this.void()}, .refused = ${quoted(why)}},`;
    }
    const alias = (index: number) => `st_${at}_${index}`;
    made.parameters.forEach((parameter, index) => {
      this.lines.push(`typedef ${parameter.declared.replace(ALIAS, alias(index))};`);
    });
    const casts = made.parameters.map((_, index) => `*(${alias(index)} *)`);
    const isVoid = resolve(made.result, declarations).kind === "void";
    if (!isVoid)
      this.lines.push(`typedef __typeof__(${made.name}(${casts.map((cast) => `(${cast}0)`).join(", ")})) st_${at}_r;`);
    const call = `${made.name}(${casts.map((cast, index) => `${cast}a[${index}]`).join(", ")})`;
    this.lines.push(
      `static void st_call_${at}(void **a, void *r) { (void)a; (void)r; ${isVoid ? "" : `*(st_${at}_r *)r = `}${call}; }`,
    );
    const result = isVoid ? this.void() : this.typed(`st_${at}_r`, made.result, found.result.kind === "ST_AS_BYTES");
    const parameters = made.parameters.map((parameter, index) =>
      this.parameterEntry(parameter, index, found, alias(index)),
    );
    const release = this.releaseOf(found, at);
    return [
      `{.file = ${quoted(file)}, .name = ${quoted(made.name)}, .result = &${result}, .shape = ${found.result.kind}, `,
      `.length = ${(found.result.length ?? -1) + 1}, .release = ${release}, .count = ${made.parameters.length}, `,
      `.parameters = (const st_parameter[]){${[...parameters, "{0}"].join(", ")}}, .call = st_call_${at}},`,
    ].join("");
  }

  private parameterEntry(
    { name, type }: CFunction["parameters"][number],
    index: number,
    { parameters }: Shapes,
    alias: string,
  ): string {
    const shape = parameters[index];
    const isData = shape !== undefined && (shape.length !== null || shape.kind === "ST_AS_BYTES");
    const lengthOf = shape?.lengthOf === "return" ? -1 : (shape?.lengthOf ?? -1) + 1;
    return `{${quoted(name)}, &${this.typed(alias, type, isData)}, ${shape?.way ?? "ST_IN"}, ${shape?.kind ?? "ST_ANY"}, ${(shape?.length ?? -1) + 1}, ${lengthOf}, ${shape?.room ?? 0}}`;
  }

  private releaseOf({ result }: Shapes, at: number): string {
    if (result.freedBy === null) return "0";
    this.lines.push(
      result.freedBy === "free"
        ? `extern void free(void *); static void st_release_${at}(void *p) { free(p); }`
        : `static void st_release_${at}(void *p) { ${result.freedBy}(p); }`,
    );
    return `st_release_${at}`;
  }

  /** Why a function cannot be called from outside; null where it can. */
  private refusal(made: CFunction): string | null {
    const { declarations } = this.terms;
    if (made.isVariadic) return "it takes any number of arguments";
    for (const { name, type } of made.parameters) {
      const found = resolve(type, declarations);
      if (found.kind === "function") return `its parameter ${name} is a function`;
      if (found.kind === "pointer" && resolve(found.to, declarations).kind === "function")
        return `its parameter ${name} is a function`;
      if (found.kind === "named") return `the type of its parameter ${name} is not known`;
    }
    return null;
  }

  private void(): string {
    return this.add("void", () => '{.kind = ST_VOID, .size = 1, .name = "void"}');
  }

  /** The table of a type that is spelled so in C; `isData`: what a `void *` leads to is bytes. */
  private typed(spelled: string, type: CType, isData = false): string {
    const { declarations } = this.terms;
    const found = resolve(type, declarations);
    switch (found.kind) {
      case "void":
        return this.void();
      case "number":
        return this.add(found.spelled, () => {
          const isChar = found.spelled === "char" ? ".is_char = true, " : "";
          return `{ST_NUMBER(${spelled}), ${isChar}.name = ${quoted(found.spelled)}}`;
        });
      case "pointer":
        return this.pointer(spelled, found, isData);
      case "array":
        return this.add(spelled, () => {
          const item = `__typeof__((*(${spelled} *)0)[0])`;
          const of = this.typed(item, found.of);
          return `{.kind = ST_ARRAY, .size = sizeof(${spelled}), .of = &${of}, .count = sizeof(${spelled}) / sizeof(${item}), .name = "array"}`;
        });
      case "enum":
        return this.enumerated(spelled, found);
      case "struct":
        return this.struct(spelled, found, type);
      case "union":
        return this.opaque(nameOf(found, type), `sizeof(${spelled})`);
      case "function":
        return this.add("function", () => '{.kind = ST_FUNCTION, .size = sizeof(void *), .name = "function"}');
      default:
        return this.opaque(found.name, `sizeof(${spelled})`);
    }
  }

  private opaque(name: string, size: string): string {
    return this.add(`opaque ${name} ${size}`, () => `{.kind = ST_OPAQUE, .size = ${size}, .name = ${quoted(name)}}`);
  }

  private pointer(spelled: string, type: CType & { kind: "pointer" }, isData: boolean): string {
    const to = resolve(type.to, this.terms.declarations);
    if (to.kind === "function") return this.typed(spelled, to);
    const flags = `.size = sizeof(void *), .is_const = ${type.isConst}`;
    if (to.kind === "void" && !isData) {
      const of = this.void();
      return this.add(
        `void handle ${type.isConst}`,
        () => `{.kind = ST_HANDLE, ${flags}, .of = &${of}, .name = "void *"}`,
      );
    }
    if (this.isHidden(to)) {
      const of = this.opaque(nameOf(to, type.to), "0");
      return this.add(`handle ${of} ${type.isConst}`, () => {
        return `{.kind = ST_HANDLE, ${flags}, .of = &${of}, .name = ${quoted(`${nameOf(to, type.to)} *`)}}`;
      });
    }
    const of = this.typed(`__typeof__(**(${spelled} *)0)`, type.to);
    return this.add(`pointer ${of} ${type.isConst}`, () => {
      const name = `${nameOf(to, type.to)} *`;
      return `{.kind = ST_POINTER, ${flags}, .of = &${of}, .name = ${quoted(name)}}`;
    });
  }

  /** Only the code itself can read it: its fields are not known, or the system's own. */
  private isHidden(type: CType): boolean {
    if (type.kind === "named" || type.kind === "union") return true;
    if (type.kind !== "struct") return false;
    const body = this.terms.declarations.bodies.get(type.id);
    return !body || (!this.terms.isOwn(body.file) && !SYSTEM_RECORDS.has(type.tag ?? ""));
  }

  private enumerated(spelled: string, type: CType & { kind: "struct" | "union" | "enum" }): string {
    const body = this.terms.declarations.bodies.get(type.id);
    const name = type.tag === null ? "enum" : `enum ${type.tag}`;
    return this.add(`enum ${type.id}`, () => {
      const facts = `.size = sizeof(${spelled}), .is_signed = (${spelled})-1 < (${spelled})0, .name = ${quoted(name)}`;
      if (!body) return `{.kind = ST_INTEGER, ${facts}}`;
      const members = body.members.map((member) => `{${quoted(member)}, ${member}}`);
      return `{.kind = ST_ENUM, ${facts}, .enumerators = (const st_enumerator[]){${[...members, "{0}"].join(", ")}}}`;
    });
  }

  private struct(spelled: string, type: CType & { kind: "struct" | "union" | "enum" }, written: CType): string {
    if (this.isHidden(type)) return this.opaque(nameOf(type, written), "0");
    const fields = (this.terms.declarations.bodies.get(type.id)?.fields ?? []).filter(
      ({ type: own }) => own.kind !== "array" || own.hasSize,
    );
    const own = type.tag === null ? spelled : `struct ${type.tag}`;
    return this.add(`struct ${type.id}`, (name) => {
      const entries = fields.map((field, at) => this.field(own, field, this.lengthField(fields, at), `${name}_${at}`));
      this.lines.push(`static const st_field ${name}_fields[] = {${[...entries, "{0}"].join(", ")}};`);
      return `{.kind = ST_STRUCT, .size = sizeof(${own}), .name = ${quoted(simpleName(type, written))}, .fields = ${name}_fields}`;
    });
  }

  private field(
    own: string,
    { name, type, bits }: { readonly name: string; readonly type: CType; readonly bits: string | null },
    length: number,
    key: string,
  ): string {
    if (bits !== null) {
      this.lines.push(
        `static long long ${key}_get(const void *p) { return (long long)((const ${own} *)p)->${name}; }`,
        `static void ${key}_set(void *p, long long v) { ((${own} *)p)->${name} = v; }`,
      );
      return `{${quoted(name)}, 0, &${this.typed(bits, type)}, 0, ${key}_get, ${key}_set}`;
    }
    const spelled = `__typeof__(((${own} *)0)->${name})`;
    return `{${quoted(name)}, offsetof(${own}, ${name}), &${this.typed(spelled, type)}, ${length}, 0, 0}`;
  }

  /** 1 + the field beside a pointer that has the number of its items, or 0. */
  private lengthField(fields: readonly { readonly name: string; readonly type: CType }[], at: number): number {
    const { declarations } = this.terms;
    const field = fields[at];
    const found = field && resolve(field.type, declarations);
    if (found?.kind !== "pointer" || this.isHidden(resolve(found.to, declarations))) return 0;
    const to = resolve(found.to, declarations);
    if (to.kind === "void" || to.kind === "function" || (to.kind === "number" && to.spelled === "char")) return 0;
    const isLength = (index: number) => {
      const other = fields[index];
      return other !== undefined && isWhole(resolve(other.type, declarations)) && isLengthName(other.name);
    };
    return isLength(at + 1) ? at + 2 : isLength(at - 1) ? at : 0;
  }

  /** Each type once; it is known by its name before it is written, since it may lead back to itself. */
  private add(key: string, write: (name: string) => string): string {
    const known = this.types.get(key);
    if (known) return known;
    const name = `st_type_${this.terms.unit}_${this.count++}`;
    this.types.set(key, name);
    this.lines.push(`static const st_type ${name};`);
    this.lines.push(`static const st_type ${name} = ${write(name)};`);
    return name;
  }
}

const nameOf = (type: CType, written: CType): string => {
  if (type.kind === "struct" || type.kind === "union" || type.kind === "enum")
    return simpleName(type, written) || type.kind;
  if (type.kind === "number") return type.spelled;
  if (type.kind === "named") return type.name;
  return type.kind;
};

const simpleName = (type: { readonly tag: string | null }, written: CType): string =>
  type.tag ?? (written.kind === "named" ? written.name : "");
