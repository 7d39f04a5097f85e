/** Pairs the modules and sections of the two sides of a port. */
import path from "node:path";
import type { PortModule } from "@/core/pairing/modules";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { pairSections, type SectionPair } from "@/core/pairing/sections";
import { traceOf } from "@/core/pairing/traces";
import { languageOf } from "@/core/source/language-of";
import { type ParsedSource, parseSource } from "@/engine/source/parse";
import { type OpenPort, openPort, readText } from "@/service/open-port";

export type PairedModule = {
  readonly name: string;
  readonly original: readonly string[];
  readonly twin: readonly string[];
  readonly score: number;
  readonly sections: readonly SectionPair[];
};

export type PlacedSource = ParsedSource & { readonly file: string; readonly language: string | null };

/** Every module of a port, on its first twin or the one that is named. Throws SideTwinError. */
export async function pairPort(file: string, twinName?: string): Promise<{ modules: PairedModule[] }> {
  const open = await openPort(file);
  const twin = open.twins.find((entry) => entry.name === twinName) ?? open.twins[0];
  const modules: PairedModule[] = [];
  for (const module of [...open.modules, ...open.tests]) {
    const original = await readSources(open.original.folder, module.original);
    const twinFiles = (twin && module.twins[twin.name]) ?? [];
    const sources = twin ? await readSources(twin.folder, twinFiles) : [];
    const sections = pairModule(open, module, { original, twin: sources });
    modules.push({
      name: module.name,
      original: module.original,
      twin: sources.map((source) => source.file),
      score: scoreOf(original, sections),
      sections,
    });
  }
  return { modules };
}

/** The paired sections of one module from its sources. */
export function pairModule(
  open: OpenPort,
  module: PortModule,
  sources: { readonly original: readonly PlacedSource[]; readonly twin: readonly PlacedSource[] },
): SectionPair[] {
  const place = (list: readonly PlacedSource[]) => list.flatMap(placedSections);
  return pairSections(place(sources.original), place(sources.twin), hookedNames(open, module.name));
}

const placed = new WeakMap<PlacedSource, PlacedSection[]>();

/** The sections of a source with what their texts leave behind; worked out once a source. */
function placedSections(source: PlacedSource): PlacedSection[] {
  const known = placed.get(source);
  if (known) return known;
  const { file, sections, lines } = source;
  const made = sections.map((section) => ({
    ...section,
    file,
    trace: traceOf(lines.slice(section.from - 1, section.to).join("\n")),
  }));
  placed.set(source, made);
  return made;
}

function hookedNames(open: OpenPort, module: string): Map<string, string> {
  const prefix = `${module}.`;
  const own = open.port.hookups.filter((hookup) => hookup.original.startsWith(prefix));
  return new Map(
    own.map((hookup) => [
      hookup.original.slice(prefix.length),
      (hookup.twin ?? hookup.original).replace(/^[^.]+\./, ""),
    ]),
  );
}

/** The sources of a module that are there, parsed. */
async function readSources(folder: string, files: readonly string[]): Promise<PlacedSource[]> {
  const sources: PlacedSource[] = [];
  for (const file of files) {
    const text = await readText(path.join(folder, file)).catch(() => null);
    if (text === null) continue;
    const language = languageOf(file);
    sources.push({ ...(await parseSource(text, language)), file, language });
  }
  return sources;
}

function scoreOf(original: readonly PlacedSource[], pairs: readonly SectionPair[]): number {
  const sections = original.reduce((sum, source) => sum + source.sections.length, 0);
  const sum = pairs.reduce((total, pair) => total + pair.score, 0);
  return sections === 0 ? 0 : Math.round((sum / sections) * 100) / 100;
}
