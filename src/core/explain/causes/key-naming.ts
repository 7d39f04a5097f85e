import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair, Facets } from "@/core/explain/facets";
import { isKeyPair } from "@/core/explain/values";
import { splitPath } from "@/core/values/path";

export const keyNaming: Cause = {
  name: "key-naming",
  title: "A key has another name",
  note: "The style of names changed with the language, or a field was renamed. Fix: set `names.keys` (and `keep`) in the port file, or allow the keys one by one.",
  examine: (facets) =>
    findingFrom(facets.all, (pair) => partnerOf(pair, facets) !== undefined, {
      weight: 0.98,
      evidence: "a key on each side with the same value or the same words",
    }),
  fires: [
    [{ original: { sea_miles: 3 }, twin: { seaMiles: 3 } }],
    [{ original: { total: 12.5, x: 1 }, twin: { sum: 12.5, x: 1 } }],
  ],
  staysQuiet: [[{ original: { a: 1 }, twin: { b: 2 } }], [{ original: { a: 1, b: 2 }, twin: { a: 1 } }]],
};

/** Returns the corresponding key on the other side of the same object. */
function partnerOf(pair: AnyPair, facets: Facets): AnyPair | undefined {
  if (!isKeyPair(pair)) return undefined;
  const [parent, key] = split(pair.at);
  const alone = (kind: string) =>
    facets.all.filter((other) => other.facts === pair.facts && other.kind === kind && split(other.at)[0] === parent)
      .length === 1;
  // A short value may occur under any key, but if exactly one key went and one came, it was renamed.
  const isOnly = alone("missing") && alone("extra");
  const value = (entry: AnyPair) => JSON.stringify(entry.kind === "extra" ? entry.twin : entry.original);
  return facets.all.find((other) => {
    if (other.facts !== pair.facts || other.kind === pair.kind || !isKeyPair(other)) return false;
    const [otherParent, otherKey] = split(other.at);
    return (
      parent === otherParent &&
      (bare(key) === bare(otherKey) || (value(pair) === value(other) && (isOnly || (value(pair)?.length ?? 0) > 1)))
    );
  });
}

function split(at: string): [string, string] {
  const parts = splitPath(at);
  return [parts.slice(0, -1).join("."), parts.at(-1) ?? ""];
}

const bare = (key: string): string => key.replace(/[^\p{L}\p{N}]/gu, "").toLowerCase();
