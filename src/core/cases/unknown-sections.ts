/** Cases that call something no section of the original is named after. */
import { bareNames } from "@/core/cases/bare-names";
import { sectionOf } from "@/core/cases/hand-over";
import type { SharedCase } from "@/core/formats/case-line";

type Module = {
  readonly name: string;
  readonly originalSources: readonly { readonly sections: readonly { readonly name: string }[] }[];
};

/**
 * Returns `module.function` for each call and first step that names no section, each once, in the order of the cases.
 * They may still be callable, for example under the name they are exported by.
 */
export function unknownSections(items: readonly SharedCase[], modules: readonly Module[]): string[] {
  const known = new Map(
    modules.map(({ name, originalSources }) => {
      const sections = originalSources.flatMap((source) => source.sections.map((section) => section.name));
      return [name, new Set([...sections, ...bareNames(originalSources).keys()])];
    }),
  );
  const found = items.flatMap((item) => {
    if (!("module" in item) || item.module === undefined || "run" in item) return [];
    const section = sectionOf(item);
    return section === "steps" || known.get(item.module)?.has(section) ? [] : [`${item.module}.${section}`];
  });
  return [...new Set(found)];
}
