/** Paired sections of a module of the original with their current texts: classes without their methods. */
import type { SectionText } from "@/core/drift/drift";
import { cutAtSections } from "@/core/pairing/bench-rows";
import { tokensOf } from "@/core/source/tokens";
import type { ReadModule } from "@/service/reading/reading";
import type { ReadSource } from "@/service/reading/source-reader";

type Piece = Omit<SectionText, "twinSection">;

const pieces = new WeakMap<ReadSource, readonly Piece[]>();

/** Cut once a source. */
function piecesOf(source: ReadSource): readonly Piece[] {
  const known = pieces.get(source);
  if (known) return known;
  const made = cutAtSections(source).flatMap(({ section, piece }): Piece[] => {
    if (!section) return [];
    const text = source.lines.slice(piece.from - 1, piece.to).join("\n");
    return [
      { section: section.name, file: source.file, from: piece.from, text, tokens: tokensOf(text, source.language) },
    ];
  });
  pieces.set(source, made);
  return made;
}

/** Merged sections share one twin; duplicate names are reported once. */
export function sectionTexts(module: ReadModule, twin: string): SectionText[] {
  const twinOf = new Map(
    (module.pairs[twin] ?? []).filter(({ relation }) => relation !== "split").map((pair) => [pair.original, pair.twin]),
  );
  const found = new Map<string, SectionText>();
  for (const piece of module.originalSources.flatMap(piecesOf)) {
    const twinSection = twinOf.get(piece.section);
    if (twinSection !== undefined && !found.has(piece.section)) found.set(piece.section, { ...piece, twinSection });
  }
  return [...found.values()];
}
