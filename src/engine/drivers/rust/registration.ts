/** Writes the module that registers what a Rust module declares with the driver (sidetwin/src/lib.rs). */
import {
  type RustFunction,
  type RustModule,
  type RustParameter,
  type RustType,
  type RustVariant,
  simpleName,
} from "@/engine/drivers/rust/declarations";

/** A part of the text that can be left out where it does not compile: a function's, a type's, or a module's. */
export type Entry = { readonly key: string; readonly text: string };

/** The name of the module that is added. */
export const NAMES = "zz_side_twin_names";

/** Keys of entries that are left out → why; before, an answer is tried as one that borrows from the arguments. */
export type Refused = ReadonlyMap<string, string>;

/** Returns the registration entries of a module; `scope` distinguishes the modules of one file. */
export function entriesOf(
  module: RustModule,
  file: string,
  scope: string,
  { refused, lent }: { readonly refused: Refused; readonly lent: ReadonlySet<string> },
): Entry[] {
  const at = JSON.stringify(file);
  const entries: Entry[] = [
    { key: "", text: `#[allow(warnings)] pub mod ${NAMES} { use super::*; use ::zz_side_twin as zz;` },
  ];
  for (const type of module.types) {
    for (const [what, text] of implsOf(type)) {
      const key = `${scope}${what} ${type.name}`;
      if (!refused.has(key)) entries.push({ key, text });
    }
  }
  entries.push({ key: "", text: "pub fn register(r: &mut zz::Registry) {" });
  for (const made of module.functions) {
    const key = `${scope}${made.name}${made.instance}`;
    // An error in the function itself refuses all of its instances.
    const why = refused.get(key) ?? refused.get(`${scope}${made.name}`) ?? made.refused;
    const text =
      why === null
        ? functionEntry(made, { file: at, module, isLent: lent.has(key) })
        : `r.refused(${at}, ${JSON.stringify(made.name)}, ${JSON.stringify(why)});`;
    entries.push({ key, text });
  }
  for (const type of module.types) {
    const key = `${scope}fields ${type.name}`;
    if (!refused.has(key)) entries.push({ key, text: fieldsEntry(type, at) });
  }
  for (const child of [...module.children, ...module.inner.map(({ name }) => name)]) {
    const key = `${scope}mod ${child}`;
    if (!refused.has(key)) entries.push({ key, text: `super::${child}::${NAMES}::register(r);` });
  }
  entries.push({ key: "", text: "} }" });
  return entries;
}

/** A type as it is written inside the added module: below its own, with lifetimes that last. */
function lasting(type: string, owner: string | null): string {
  return below(type)
    .replace(/\bSelf\b(?!::)/g, owner ?? "Self")
    .replace(/'(?!static\b)[a-z_]\w*/g, "'static")
    .replace(/&\s*(?!'static|\s)(?=[\w[(*&]|mut\b|dyn\b)/g, "&'static ");
}

/** Paths from the module's parent are one level further away. */
const below = (type: string): string => type.replace(/\bsuper::/g, "super::super::").replace(/\bself::/g, "super::");

/** How a parameter is read and handed over. */
type Passing = {
  readonly type: string;
  /** For a trait parameter: the candidate types, one of which the case names. */
  readonly types?: readonly string[];
  readonly isLent: boolean;
  /** The expression passed on, given the place that holds the value. */
  readonly pass: (place: string) => string;
  readonly isChanged: boolean;
};

/** Returns the module's types that implement a trait, given the text after `dyn` or `impl`. */
function typesWith(trait: string, module: RustModule): string[] {
  const name = simpleName(trait.split("+")[0] ?? "");
  const found = module.functions.filter((one) => one.trait !== null && simpleName(one.trait) === name);
  return [...new Set(found.flatMap(({ owner, refused }) => (owner === null || refused !== null ? [] : [owner])))];
}

function passingOf(type: string, owner: string | null, module: RustModule): Passing {
  const trait = /^(&\s*(?:'\w+\s+)?(?:mut\s+)?|Box\s*<\s*)?\(?\s*(?:dyn|impl)\s+([\w:]+[^>)]*)/.exec(type);
  const types = trait ? typesWith(trait[2] ?? "", module) : [];
  if (trait && types.length > 0) {
    const holder = trait[1] ?? "";
    const isLent = holder.startsWith("&");
    // An `impl` given away is of one type alone; lent, it is any of them behind a reference.
    if (isLent ? /\bdyn\b/.test(type) : holder !== "")
      return { type, types, isLent, isChanged: false, pass: (place) => place };
    const [only = ""] = types;
    if (types.length === 1) return passingOf(isLent ? type.replace(/\(?\s*impl\s.*$/s, only) : only, owner, module);
  }
  const reference = /^&\s*(?:'\w+\s+)?(mut\s+)?([\s\S]*)$/.exec(type);
  if (!reference) return givenAway(type, owner);
  const isChanged = reference[1] !== undefined;
  const to = (reference[2] ?? "").trim();
  const borrow = isChanged ? "&mut " : "&";
  if (to === "str") return { type: "String", isLent: true, isChanged, pass: (place) => `${borrow}**${place}` };
  const slice = /^\[([^;]*)\]$/s.exec(to);
  if (slice) {
    const item = lasting(slice[1] ?? "", owner);
    return { type: `Vec<${item}>`, isLent: true, isChanged, pass: (place) => `${borrow}${place}[..]` };
  }
  if (/^(std::path::)?Path$/.test(to))
    return { type: "std::path::PathBuf", isLent: true, isChanged, pass: (place) => `&**${place}` };
  const plain = /^\(?\s*(impl|dyn)\b/.test(to)
    ? givenAway(to.replace(/^\((.*)\)$/s, "$1"), owner).type
    : lasting(to, owner);
  return { type: plain, isLent: true, isChanged, pass: (place) => `${borrow}*${place}` };
}

function givenAway(type: string, owner: string | null): Passing {
  const plain = (text: string, end = ""): Passing => ({
    type: text,
    isLent: false,
    isChanged: false,
    pass: (place) => `${place}${end}`,
  });
  const iterated = /^impl\s+(?:Into)?Iterator\s*<\s*Item\s*=\s*([\s\S]*)>/.exec(type);
  if (iterated) return plain(`Vec<${lasting(iterated[1] ?? "", owner)}>`, ".into_iter()");
  const into = /^impl\s+Into\s*<([\s\S]*)>$/.exec(type);
  if (into) return plain(lasting(into[1] ?? "", owner));
  if (/^impl\s/.test(type)) return plain("String");
  return plain(lasting(type, owner));
}

const placesOf = (parameters: readonly RustParameter[]): string =>
  `&[${parameters.map(({ name }) => JSON.stringify(name)).join(", ")}]`;

/** A parameter of a trait: made as the type that the case names, lent for as long as the program runs. */
function traitLine(at: number, { isLent, types = [] }: Passing): string {
  const arms = types.map((type) => {
    const own = lasting(type, null);
    const made = isLent
      ? `&mut **Box::leak(Box::new(zz::arg!(c, ${at}, ${own})))`
      : `Box::new(zz::own!(c, ${at}, ${own}))`;
    return `${JSON.stringify(simpleName(type))} => ${made},`;
  });
  const failed = `other => return Err(c.misfit(${at}, format!("no type {other} is known for it"))),`;
  return `match c.kind_at(${at}).as_str() { ${arms.join(" ")} ${failed} };`;
}

function functionEntry(
  made: RustFunction,
  { file, module, isLent: mayBorrow }: { readonly file: string; readonly module: RustModule; readonly isLent: boolean },
): string {
  const owner = made.owner === null ? null : lasting(made.owner, null);
  const passings = made.parameters.map(({ type }) => passingOf(type, owner, module));
  const lines = passings.map((passing, at) => {
    const { type, types, isLent } = passing;
    if (types) return `let p${at}: ${lasting(type, owner)} = ${traitLine(at, passing)}`;
    return `let mut p${at} = zz::${isLent ? "arg" : "own"}!(c, ${at}, ${type});`;
  });
  const borrowed = passings.map(({ pass }, at) => `let a${at} = ${pass(`p${at}`)};`);
  const args = passings.map((_, at) => `{a${at}}`);
  if (made.self !== null) {
    lines.unshift(`let o = c.${made.self === "move" ? "receiver_moved" : "receiver"}::<${owner}>()?;`);
    args.unshift(made.self === "move" ? "{o}" : made.self === "mut" ? "&mut *o" : "&*o");
  }
  const path =
    owner === null
      ? `super::${made.own}`
      : made.trait === null
        ? `<${owner}>::${made.own}`
        : `<${owner} as ${lasting(made.trait, owner)}>::${made.own}`;
  const bare = `${path}(${args.join(", ")})`;
  const awaited = made.isAsync ? `zz::block_on(${bare})` : bare;
  const isIterated = /^(impl\s+(?:\w+\s*\+\s*)*(?:\w+)?Iterator\b|Box\s*<\s*dyn\s+(?:\w+)?Iterator\b)/.test(
    made.result,
  );
  const call = isIterated ? `${awaited}.take(10_000).collect::<Vec<_>>()` : awaited;
  // Where the compiler finds that it does borrow, it is tried again as lent.
  const isKept = !mayBorrow && !/&|'(?!static)|\bimpl\b/.test(made.result);
  const after = passings.flatMap(({ isLent, isChanged }, at) =>
    isLent && isChanged ? [`zz::give!(*p${at}, c.after(${at}));`] : [],
  );
  return [
    `r.function(${file}, ${JSON.stringify(made.name)}, ${placesOf(made.parameters)}, |c| {`,
    ...lines,
    ...borrowed,
    `let v = c.run(move || unsafe { ${call} });`,
    `zz::answer!(c, v, ${isKept ? "kept" : "lent"});`,
    ...after,
    "Ok(()) });",
  ].join(" ");
}

// -- types ------------------------------------------------------------------------------------------------------------

/** The type with lifetimes that last, and with its own. */
function namesOf({ name, lifetimes, generics }: RustType): { lasting: string; own: string } {
  const rest = generics.map((one) => one.name);
  const join = (list: readonly string[]) => (list.length > 0 ? `${name}<${list.join(", ")}>` : name);
  return { lasting: join([...lifetimes.map(() => "'static"), ...rest]), own: join([...lifetimes, ...rest]) };
}

function boundsOf({ generics }: RustType, lifetimes: readonly string[], trait: string): string {
  const all = [
    ...lifetimes,
    ...generics.map(({ name, bounds, isConst }) =>
      isConst ? `const ${name}: ${bounds}` : `${name}: ${[bounds, `zz::${trait}`].filter(Boolean).join(" + ")}`,
    ),
  ];
  return all.length > 0 ? `<${all.join(", ")}>` : "";
}

function implsOf(type: RustType): [string, string][] {
  const { lasting: lastingName, own } = namesOf(type);
  const give = `impl${boundsOf(type, type.lifetimes, "Give")} zz::Give for ${own} ${type.where} { fn give(&self, out: &mut String) { ${giveBody(type)} } }`;
  const take = `impl${boundsOf(type, [], "Take")} zz::Take for ${lastingName} ${type.where} { fn take(v: &zz::Value) -> Result<Self, String> { ${takeBody(type)} } }`;
  return [
    ["give", give],
    ["take", take],
  ];
}

const isPlainEnum = ({ kind, variants }: RustType): boolean =>
  kind === "enum" && variants.length > 0 && variants.every(({ isUnit }) => isUnit);

const pathOf = (type: RustType, variant: RustVariant): string =>
  type.kind === "enum" ? `${type.name}::${variant.name}` : type.name;

function giveBody(type: RustType): string {
  if (isPlainEnum(type)) {
    const arms = type.variants.map((variant) => {
      const path = pathOf(type, variant);
      return `${path} => zz::give!(${variant.hasValue ? `(${path} as i64)` : JSON.stringify(variant.name)}, out),`;
    });
    return `zz::fields_to(${JSON.stringify(type.name)}, &["value"], out, &|_, out| match self { ${arms.join(" ")} })`;
  }
  if (type.variants.length === 0) return "match *self {}";
  const arms = type.variants.map((variant) => {
    const bound = variant.fields.map((_, at) => `f${at}`);
    const pattern = variant.isUnit
      ? ""
      : variant.isTuple
        ? `(${bound.join(", ")})`
        : ` { ${variant.fields.map(({ name }, at) => `${name}: f${at}`).join(", ")} }`;
    const writes = bound.map((name, at) => `${at} => zz::give!(*${name}, out),`).join(" ");
    return `${pathOf(type, variant)}${pattern} => zz::fields_to(${JSON.stringify(variant.name)}, ${placesOf(variant.fields)}, out, &|at, out| match at { ${writes} _ => () }),`;
  });
  return `match self { ${arms.join(" ")} }`;
}

function madeOf(type: RustType, variant: RustVariant, read: (field: RustParameter, at: number) => string): string {
  const path = pathOf(type, variant);
  const values = variant.fields.map((field, at) => read(field, at));
  if (variant.isUnit) return path;
  if (variant.isTuple) return `${path}(${values.join(", ")})`;
  return `${path} { ${variant.fields.map(({ name }, at) => `${name}: ${values[at]}`).join(", ")} }`;
}

function takeBody(type: RustType): string {
  const owner = namesOf(type).lasting;
  const failed = `Err(format!("{} is no member of ${type.name}", v.shown()))`;
  if (isPlainEnum(type)) {
    const arms = type.variants.flatMap((variant) => {
      const path = pathOf(type, variant);
      const byName = `zz::Value::Text(t) if t == ${JSON.stringify(variant.name)} => Ok(${path}),`;
      const byNumber = `zz::Value::Number(n) if n.parse::<i64>() == Ok(${path} as i64) => Ok(${path}),`;
      return variant.hasValue ? [byName, byNumber] : [byName];
    });
    return `match zz::member_of(v) { ${arms.join(" ")} _ => ${failed} }`;
  }
  const read = (variant: RustVariant) => (field: RustParameter, at: number) => {
    const value = `zz::field_of(v, ${at}, ${placesOf(variant.fields)}, ${JSON.stringify(variant.name)})`;
    // A type that only wraps a value may be passed as that value.
    const found =
      variant.isTuple && variant.fields.length === 1 && type.kind === "struct" ? `${value}.unwrap_or(v)` : `${value}?`;
    return `zz::take!(${found}, ${lasting(field.type, owner)}).map_err(|what| format!("${field.name}: {what}"))?`;
  };
  const [only] = type.variants;
  if (type.kind === "struct" && only) return `Ok(${madeOf(type, only, read(only))})`;
  const arms = type.variants.map(
    (variant) => `Some(${JSON.stringify(variant.name)}) => Ok(${madeOf(type, variant, read(variant))}),`,
  );
  return `match zz::variant_of(v) { ${arms.join(" ")} _ => ${failed} }`;
}

/** A struct's fields one by one, and how it is made of them. */
function fieldsEntry(type: RustType, file: string): string {
  const [variant] = type.variants;
  if (type.kind !== "struct" || !variant || type.generics.length > 0) return "";
  const { lasting: owner } = namesOf(type);
  const name = JSON.stringify(type.name);
  const made = madeOf(type, variant, (field, at) => `zz::own!(c, ${at}, ${lasting(field.type, owner)})`);
  const maker = `r.maker(${file}, ${name}, ${placesOf(variant.fields)}, |c| { let made: ${owner} = ${made}; c.value().push_str("true"); c.keep(made); Ok(()) });`;
  const fields = variant.fields.map((field) => {
    const get = `|c| { let o = c.receiver::<${owner}>()?; let f = unsafe { &(*o).${field.name} }; zz::give!(*f, c.value()); Ok(()) }`;
    const set = `|c| { let o = c.receiver::<${owner}>()?; let f: ${lasting(field.type, owner)} = zz::own!(c, 0, ${lasting(field.type, owner)}); unsafe { (*o).${field.name} = f; } Ok(()) }`;
    return `r.field(${name}, ${JSON.stringify(field.name)}, ${get}, ${set});`;
  });
  return [maker, ...fields].join(" ");
}
