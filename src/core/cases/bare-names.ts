/** Cases may name a method without its class, as languages without functions outside of classes have no other sections. */

type Source = { readonly sections: readonly { readonly name: string }[] };

/**
 * Bare name → section of a module's sources, such as `fare` → `Fares.fare`, where no section has the bare name itself and
 * only one has it as its last part.
 */
export function bareNames(sources: readonly Source[]): ReadonlyMap<string, string> {
  const names = new Set(sources.flatMap(({ sections }) => sections.map(({ name }) => name)));
  const found = new Map<string, string | null>();
  for (const name of names) {
    const bare = name.slice(name.lastIndexOf(".") + 1);
    if (bare !== name && !names.has(bare)) found.set(bare, found.has(bare) ? null : name);
  }
  return new Map([...found].flatMap(([bare, name]) => (name === null ? [] : [[bare, name] as const])));
}
