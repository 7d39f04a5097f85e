/** Types that stand for the type parameters of a generic function, so that it can be called: the compiler decides which fit. */

/** A type parameter with its bounds, those of a `where` clause included. */
export type TypeParameter = { readonly name: string; readonly bounds: string };

/** Name of a type parameter → the type to call it with. */
export type Instance = Readonly<Record<string, string>>;

/** Tried in this order for a value: the first that it fits and that compiles. */
const CANDIDATES = ["i64", "f64", "String"];
const MAX_INSTANCES = 4;

/** The instances to register, at most four; or why there is none. */
export function instancesOf(parameters: readonly TypeParameter[]): readonly Instance[] | string {
  const fixed: Record<string, string> = {};
  const free: string[] = [];
  for (const { name, bounds } of parameters) {
    if (/\bFn(Mut|Once)?\b/.test(bounds)) return `its type ${name} is a function`;
    if (/\b(Read|Write|BufRead|Future|Any)\b/.test(bounds)) return `it is generic in ${name}`;
    const type = typeFor(bounds);
    if (type === null) free.push(name);
    else fixed[name] = type;
  }
  if (free.length === 0) return [fixed];
  const same = CANDIDATES.map((type) => Object.fromEntries(free.map((name) => [name, type])));
  // Of two, keys are mostly texts.
  const mixed =
    free.length > 1 ? [Object.fromEntries(free.map((name, at) => [name, at === 0 ? "String" : "i64"]))] : [];
  return [...same, ...mixed].slice(0, MAX_INSTANCES).map((instance) => ({ ...fixed, ...instance }));
}

/** The one type that bounds ask for; null if several may do. */
function typeFor(bounds: string): string | null {
  const iterated = /\b((?:Into)?Iterator\s*<\s*Item\s*=[\s\S]*>)/.exec(bounds);
  if (iterated) return `impl ${iterated[1]}`;
  const as = /\b(?:AsRef|Borrow)\s*<\s*(str|\[u8\]|(?:std::path::)?Path)\s*>/.exec(bounds)?.[1];
  if (as !== undefined) return as === "str" ? "String" : as === "[u8]" ? "Vec<u8>" : "std::path::PathBuf";
  return /\bInto\s*<\s*([\w:]+(?:<[^<>]*>)?)\s*>/.exec(bounds)?.[1] ?? null;
}

/** The type with the instance's types in place of the parameters. */
export const substitute = (type: string, instance: Instance): string =>
  type.replace(/\b[A-Za-z_]\w*\b/g, (word) => (Object.hasOwn(instance, word) ? (instance[word] ?? word) : word));

/** What distinguishes an instance in keys; empty for a function that is not generic. */
export const suffixOf = (instance: Instance): string =>
  Object.keys(instance).length === 0 ? "" : `<${Object.values(instance).join(", ")}>`;
