/** Types that stand for the type parameters of a generic function, as its constraints allow them: Go compiles nothing else. */

/** A type parameter with its constraint, as written. */
export type GoTypeParameter = { readonly name: string; readonly constraint: string };

/** Tried in this order for a value. */
const CANDIDATES = ["int", "float64", "string"];
const MAX_INSTANCES = 4;
/** Constraints within constraints. */
const MAX_DEPTH = 5;

const ANY = /^(any|comparable|interface\s*\{\s*\}|cmp\.Ordered|constraints\.Ordered)$/;
const KNOWN: Readonly<Record<string, readonly string[]>> = {
  "constraints.Integer": ["int"],
  "constraints.Signed": ["int"],
  "constraints.Float": ["float64"],
};
const UNION = /^~?[\w.]+(\s*\|\s*~?[\w.]+)*$/;

/**
 * The type arguments of a function, once for each instance, such as `[int]`; none if a constraint asks for methods or for
 * what cannot be told. `constraints` are the interfaces that the package declares, by name.
 */
export function typeArguments(
  parameters: readonly GoTypeParameter[],
  constraints: ReadonlyMap<string, string>,
): readonly string[] {
  const allowed = parameters.map(({ constraint }) => allowedBy(constraint, constraints));
  if (allowed.some((types) => types !== null && types.length === 0)) return [];
  const free = allowed.filter((types) => types !== null).length;
  const picks = [
    ...CANDIDATES.map((type) => allowed.map((types) => (types?.includes(type) ? type : types?.[0]) ?? "")),
    // Of two, keys are mostly texts.
    ...(free > 1
      ? [allowed.map((types, at) => (at === 0 && types?.includes("string") ? "string" : (types?.[0] ?? "")))]
      : []),
  ];
  const made = picks.map((types) => {
    const byName = new Map(parameters.map(({ name }, at) => [name, types[at] ?? ""]));
    // `S ~[]E` is a list of what E is.
    const whole = parameters.map(({ name, constraint }, at) =>
      allowed[at] === null
        ? constraint.replace(/^~/, "").replace(/\b[A-Za-z_]\w*\b/g, (word) => byName.get(word) || word)
        : (byName.get(name) ?? ""),
    );
    return `[${whole.join(", ")}]`;
  });
  return [...new Set(made)].slice(0, MAX_INSTANCES);
}

/** Whether an interface is a constraint alone, and no type of values: it names types, or another such interface. */
export function isConstraint(body: string, bodies: ReadonlyMap<string, string>, depth = 0): boolean {
  if (/[~|]|\b(comparable|cmp\.|constraints\.)/.test(body)) return true;
  const embedded = body.split(/[;\n]/).map((line) => bodies.get(line.trim()));
  return depth < MAX_DEPTH && embedded.some((inner) => inner !== undefined && isConstraint(inner, bodies, depth + 1));
}

/** The candidates that a constraint allows; null for a list or map of other parameters. */
function allowedBy(constraint: string, constraints: ReadonlyMap<string, string>, depth = 0): readonly string[] | null {
  const text = constraint.trim();
  if (depth > MAX_DEPTH) return [];
  if (/^~?(\[\]|map\[)/.test(text)) return null;
  if (ANY.test(text)) return CANDIDATES;
  const known = KNOWN[text];
  if (known) return known;
  const body = constraints.get(text);
  if (body !== undefined) return allowedBy(body, constraints, depth + 1);
  if (!UNION.test(text)) return [];
  const parts = text.split("|").map((part) => part.trim());
  return CANDIDATES.filter((type) =>
    parts.some((part) => {
      const inner = part.includes("~") || CANDIDATES.includes(part) ? null : constraints.get(part);
      return (
        part.replace("~", "") === type ||
        (inner != null && (allowedBy(inner, constraints, depth + 1) ?? []).includes(type))
      );
    }),
  );
}
