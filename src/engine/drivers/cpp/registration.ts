/** Writes the C++ that registers what a file declares with the driver (runtime/calls.hpp). */
import { ALIAS, type CFunction, type CType } from "@/engine/drivers/c/declarations";
import { shapesOf } from "@/engine/drivers/c/shapes";
import type {
  CppClass,
  CppDeclarations,
  CppFunction,
  CppParameter,
  CppTemplate,
  Scope,
} from "@/engine/drivers/cpp/declarations";

/** Facts on a unit that its registration is written from. */
export type CppTerms = {
  /** As the port names it. */
  readonly file: string;
  readonly own: CppDeclarations;
  /** Those of headers that it includes. */
  readonly included: readonly CppDeclarations[];
  readonly shapes: (file: string, name: string) => Readonly<Record<string, string>> | undefined;
  /** Template → the arguments with which the side uses it. */
  readonly uses: (name: string) => readonly string[];
  /** Key of an entry → why it is left out. */
  readonly refused: ReadonlyMap<string, string>;
};

const quoted = (text: string): string => JSON.stringify(text);

const isNamed = (name: string): boolean => /^(operator\W|operator\b|[A-Za-z_]\w*$)/.test(name);

/** The text to be compiled after the file. An error in an entry is at, or required from, `side-twin-KEY`. */
export function registrationOf(terms: CppTerms): string {
  const visible = [terms.own, ...terms.included];
  const lines: string[] = [`namespace st { static const bool st_file = (add_file(${quoted(terms.file)}), true); }`];
  const entry = (key: string, write: (key: string) => string, other: (why: string) => string) => {
    const why = terms.refused.get(key);
    lines.push(`#line 1 "side-twin-${key}"`, why === undefined ? write(key) : other(why));
  };
  const nothing = () => "";
  visible.forEach(({ classes, enums }, at) => {
    enums.forEach((made, index) => {
      entry(`e${at}_${index}`, () => enumEntry(made), nothing);
    });
    classes.forEach((made, index) => {
      entry(`b${at}_${index}`, (key) => fieldsEntry(made, key), nothing);
    });
  });
  terms.own.functions.forEach((made, index) => {
    if (made.name === "main" || !isNamed(made.name)) return;
    entry(
      `f${index}`,
      (key) => functionEntries(made, key, made.name, terms),
      (why) => refusal(terms.file, made.name, why, `f${index}`),
    );
  });
  terms.own.classes.forEach((made, index) => {
    entry(`c${index}`, (key) => classEntry(made, key, terms), nothing);
    made.constructors.forEach((one, at) => {
      entry(
        `n${index}_${at}`,
        (key) => memberEntries(made, one, key, terms),
        (why) => refusal(terms.file, `${made.name}.new`, why, `n${index}_${at}`),
      );
    });
    made.methods.forEach((one, at) => {
      if (!isNamed(one.name)) return;
      entry(
        `m${index}_${at}`,
        (key) => memberEntries(made, one, key, terms),
        (why) => refusal(terms.file, `${made.name}.${one.name}`, why, `m${index}_${at}`),
      );
    });
  });
  return `${lines.filter((line) => line !== "").join("\n")}\n`;
}

/** An entry that cannot be called, and why. */
const refusal = (file: string, name: string, why: string, key: string): string =>
  `namespace st { static const bool st_no_${key} = (add({${quoted(file)}, ${quoted(name)}, {}, ${quoted(why)}, nullptr, 9}), true); }`;

/** The text inside of its namespaces. */
const within = (scope: Scope, text: string): string =>
  `${scope.map((name) => `namespace ${name} {`).join(" ")} ${text} ${"}".repeat(scope.length)}`;

/** The same, for this unit alone: names in two units that are alike would be taken for one by the linker. */
const hidden = (scope: Scope, text: string): string => within([...scope, ""], text);

/** A fully qualified name; anonymous namespaces are transparent. */
const qualified = (scope: Scope, path: readonly string[]): string =>
  `::${[...scope.filter(Boolean), ...path].join("::")}`;

const args = (template: CppTemplate | null): string => (template ? `<${template.names.join(", ")}>` : "");
const head = (template: CppTemplate | null): string =>
  template ? `template <${template.declared.join(", ")}> ` : "template <> ";

function enumEntry({ path, scope, members, isScoped }: CppDeclarations["enums"][number]): string {
  const name = qualified(scope, path);
  const outer = qualified(scope, path.slice(0, -1));
  const list = members.map(
    (member) => `{${quoted(member)}, ${isScoped ? name : outer === "::" ? "" : outer}::${member}}`,
  );
  return `namespace st { template <> struct Members<${name}> { static constexpr bool known = true; static constexpr std::pair<const char *, ${name}> all[] = {${list.join(", ")}}; }; }`;
}

function fieldsEntry(made: CppClass, key: string): string {
  if (made.template && made.path.length > 1) return "";
  const name = `${qualified(made.scope, made.path)}${args(made.template)}`;
  const bases = made.bases.map((_, at) => `${`${qualified(made.scope, [])}`.replace(/^::$/, "")}::st_${key}_base${at}`);
  const aliases = made.template
    ? ""
    : within(made.scope, made.bases.map((base, at) => `typedef ${base} st_${key}_base${at};`).join(" "));
  const visits = made.fields.map(({ name: field, isBits }) =>
    isBits ? `{ auto t = o.${field}; v(${quoted(field)}, t); o.${field} = t; }` : `v(${quoted(field)}, o.${field});`,
  );
  const below = made.template
    ? []
    : bases.map((base) => `if constexpr (Fields<${base}>::known) Fields<${base}>::each(o, v);`);
  return `${aliases} namespace st { ${head(made.template)}struct Fields<${name}> { static constexpr bool known = true; template <class V> static void each(${name} &o, V &&v) { (void)o; (void)v; ${[...below, ...visits].join(" ")} } }; }`;
}

/** The class itself: made of its fields, read and written field by field. */
function classEntry(made: CppClass, key: string, terms: CppTerms): string {
  const plain = qualified(made.scope, made.path);
  return usesOf(made.name, made.template, terms)
    .map((given, at) => {
      const name = `${plain}${given === null ? "" : `<${given}>`}`;
      const title = `${made.name}${given === null ? "" : `<${given}>`}`;
      const bases = made.template ? "" : made.bases.map((_, index) => `, st_${key}_${index}`).join("");
      const aliases = made.template
        ? ""
        : made.bases.map((base, index) => `typedef ${base} st_${key}_${index};`).join(" ");
      const makes = `std::is_abstract_v<T> ? nullptr : ::st::Known<T>::make`;
      return hidden(
        made.scope,
        `${aliases} static const bool st_${key}_added${at} = [] { using T = ${name}; static const ::st::Class made = {${quoted(title)}, &typeid(T), ${makes}, ::st::Known<T>::give, ::st::as_base<T${bases}>, ::st::Known<T>::get, ::st::Known<T>::set}; ::st::add(&made); return true; }();`,
      );
    })
    .join(" ");
}

/** The arguments with which a template is used; null alone if it is not one. */
const usesOf = (name: string, template: CppTemplate | null, terms: CppTerms): (string | null)[] =>
  template ? [...terms.uses(name)] : [null];

const aliasOf = (key: string, at: number): string => `st_${key}_p${at}`;

function typedefs(parameters: readonly CppParameter[], key: string): string {
  return parameters.map(({ declared }, at) => `typedef ${declared.replace(ALIAS, aliasOf(key, at))};`).join(" ");
}

/** Calls with each number of arguments that the defaults allow. */
function aritiesOf(parameters: readonly CppParameter[]): number[] {
  const needed = parameters.filter(({ hasDefault }) => !hasDefault).length;
  return Array.from({ length: parameters.length - needed + 1 }, (_, more) => parameters.length - more);
}

const forwarded = (key: string, from: number, arity: number): { declared: string; passed: string; types: string } => {
  const places = Array.from({ length: arity }, (_, at) => at);
  return {
    declared: places.map((at) => `${aliasOf(key, at)} a${at}`).join(", "),
    passed: places.map((at) => `std::forward<${aliasOf(key, at)}>(a${at})`).join(", "),
    types: places
      .slice(from)
      .map((at) => aliasOf(key, at))
      .join(", "),
  };
};

function added(
  name: string,
  parameters: readonly CppParameter[],
  { key, arity, run, terms, title }: { key: string; arity: number; run: string; terms: CppTerms; title: string },
): string {
  const shown = parametersOf(parameters.slice(0, arity), terms.shapes(terms.file, title));
  const ranks = parameters.slice(0, arity).map((_, at) => `::st::rank_of<${aliasOf(key, at)}>`);
  return `::st::add({${quoted(terms.file)}, ${quoted(name)}, {${shown}}, nullptr, ${run}, ${[0, ...ranks].join(" + ")}});`;
}

function functionEntries(made: CppFunction, key: string, name: string, terms: CppTerms): string {
  if (made.refused !== null) return refusal(terms.file, name, made.refused, key);
  const parts = usesOf(made.name, made.template, terms).map((given, at) => {
    const own = `${key}_${at}`;
    const using = made.template
      ? made.template.names
          .map((parameter, index) => `using ${parameter} = ${splitArguments(given ?? "")[index] ?? "void"};`)
          .join(" ")
      : "";
    const called = given === null ? made.name : `${made.name}<${given}>`;
    const title = given === null ? name : `${name}<${given}>`;
    const calls = aritiesOf(made.parameters).map((arity) => {
      const { declared, passed, types } = forwarded(own, 0, arity);
      const body = `::st::invoke<${types}>(c, [](${declared}) -> decltype(auto) { return ${called}(${passed}); });`;
      const run = `st_run${arity}`;
      return {
        made: `static void ${run}(::st::Call &c) { ${body} }`,
        added: added(title, made.parameters, { key: own, arity, run, terms, title: name }),
      };
    });
    return `struct st_s_${own} { ${using} ${typedefs(made.parameters, own)} ${calls.map((call) => call.made).join(" ")} static bool st_add() { ${calls.map((call) => call.added).join(" ")} return true; } }; static const bool st_b_${own} = st_s_${own}::st_add();`;
  });
  if (made.template && parts.length === 0)
    return refusal(terms.file, name, "it is a template that the side does not use", key);
  return hidden(made.scope, parts.join(" "));
}

function memberEntries(owner: CppClass, made: CppFunction, key: string, terms: CppTerms): string {
  const isMaker = made.name === owner.name;
  const name = isMaker ? "new" : made.name;
  if (made.refused !== null) return refusal(terms.file, `${owner.name}.${name}`, made.refused, key);
  const plain = qualified(owner.scope, owner.path);
  const parts = usesOf(owner.name, owner.template, terms).map((given, at) => {
    const own = `${key}_${at}`;
    const type = given === null ? plain : `${plain}<${given}>`;
    const using = owner.template
      ? owner.template.names
          .map((parameter, index) => `using ${parameter} = ${splitArguments(given ?? "")[index] ?? "void"};`)
          .join(" ")
      : "";
    const title = isMaker && given !== null ? `${owner.name}<${given}>.${name}` : `${owner.name}.${name}`;
    const calls = aritiesOf(made.parameters).map((arity) => {
      const { declared, passed, types } = forwarded(own, 0, arity);
      const called = isMaker
        ? `[](${declared}) { return new st_owner(${passed}); }`
        : made.isStatic
          ? `[](${declared}) -> decltype(auto) { return st_owner::${made.name}(${passed}); }`
          : `[&self](${declared}) -> decltype(auto) { return self.${made.name}(${passed}); }`;
      const self = isMaker || made.isStatic ? "" : "st_owner &self = ::st::self<st_owner>(c);";
      const run = `st_run${arity}`;
      return {
        made: `static void ${run}(::st::Call &c) { ${self} ::st::invoke<${types}>(c, ${called}); }`,
        added: added(title, made.parameters, { key: own, arity, run, terms, title: `${owner.name}.${made.name}` }),
      };
    });
    // Types that are declared in the class are found from a class below it.
    const base = owner.isFinal || owner.template ? "" : ` : ${type}`;
    return `struct st_s_${own}${base} { using st_owner = ${type}; ${using} ${typedefs(made.parameters, own)} ${calls.map((call) => call.made).join(" ")} static bool st_add() { ${calls.map((call) => call.added).join(" ")} return true; } }; static const bool st_b_${own} = st_s_${own}::st_add();`;
  });
  return hidden(owner.scope, parts.join(" "));
}

/** Arguments of a template, at the commas outside of brackets. */
export function splitArguments(text: string): string[] {
  const parts: string[] = [];
  let depth = 0;
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    if ("<([{".includes(text[at] ?? "")) depth++;
    if (">)]}".includes(text[at] ?? "")) depth--;
    if (text[at] === "," && depth === 0) {
      parts.push(text.slice(from, at).trim());
      from = at + 1;
    }
  }
  parts.push(text.slice(from).trim());
  return parts;
}

const WHOLE =
  /^(?:const\s+)?(?:std::)?(?:(?:unsigned|signed|long|short|int|char)\b\s*)+$|^(?:const\s+)?(?:std::)?(?:u?int\d+_t|size_t|ssize_t|ptrdiff_t)$/;

/** Pointer and length parameters, derived from names and the port's shapes as for C. */
function parametersOf(
  parameters: readonly CppParameter[],
  given: Readonly<Record<string, string>> | undefined,
): string {
  const made: CFunction = {
    name: "",
    file: "",
    line: 0,
    result: { kind: "void" },
    parameters: parameters.map(({ name, declared }) => ({ name, declared, type: typeOf(declared) })),
    isVariadic: false,
    isStatic: false,
  };
  const { parameters: shapes } = shapesOf(
    made,
    { functions: [], typedefs: new Map(), bodies: new Map(), files: new Set() },
    given,
  );
  return parameters
    .map(({ name }, at) => {
      const shape = shapes[at];
      const lengthOf = typeof shape?.lengthOf === "number" ? shape.lengthOf : -1;
      return `{${quoted(name)}, ${shape?.length ?? -1}, ${lengthOf}, ${shape?.way === "ST_OUT"}, ${shape?.room ?? 0}}`;
    })
    .join(", ");
}

function typeOf(declared: string): CType {
  const [before = ""] = declared.split(ALIAS);
  const text = before.trim();
  const pointer = /^([^*&(]*)\*\s*(?:const)?$/.exec(text);
  if (pointer) {
    const to = (pointer[1] ?? "").trim();
    return { kind: "pointer", to: { kind: "number", spelled: to }, isConst: /\bconst\b/.test(to) };
  }
  return WHOLE.test(text) ? { kind: "number", spelled: text } : { kind: "named", name: text };
}
