/** Pairs the modules and sections of the two sides of a port. */
import path from "node:path";
import { manualPairsOf } from "@/core/pairing/manual-pairs";
import { isSourceOf, type PortModule } from "@/core/pairing/modules";
import { findMoved, type LeftOver } from "@/core/pairing/moved";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { type GivenPairs, pairSections, type SectionPair } from "@/core/pairing/sections";
import { traceOf } from "@/core/pairing/traces";
import { languageIn } from "@/core/source/language-of";
import { isTestFile } from "@/core/survey/test-files";
import { readText } from "@/engine/files/text";
import { type ParsedSource, parseSource } from "@/engine/source/parse";
import { type OpenPort, openPort } from "@/service/port/open-port";

/** A module with its section pairs per twin. */
export type PairedModule = {
  readonly name: string;
  readonly original: readonly string[];
  readonly twin: readonly string[];
  readonly score: number;
  readonly sections: readonly SectionPair[];
};

/** A parsed source with its path and language. */
export type PlacedSource = ParsedSource & { readonly file: string; readonly language: string | null };

/** Every module of a port, on its first twin or the one that is named. Throws SideTwinError. */
export async function pairPort(file: string, twinName?: string): Promise<{ modules: PairedModule[] }> {
  const open = await openPort(file);
  const twin = open.twins.find((entry) => entry.name === twinName) ?? open.twins[0];
  const read: { module: PortModule; sources: BothSources; sections: SectionPair[] }[] = [];
  for (const module of [...open.modules, ...open.tests]) {
    const original = await readSources(open.original.folder, module.original);
    const sources = { original, twin: twin ? await readSources(twin.folder, module.twins[twin.name] ?? []) : [] };
    read.push({ module, sources, sections: pairModule(open, module, sources, twin?.name ?? "") });
  }
  const moved = pairMoved(
    read.map(({ module, sources, sections }) => ({ name: module.name, sources, pairs: sections })),
    twin ? await readSources(twin.folder, unplaced(open, twin.name)) : [],
  );
  return {
    modules: read.map(({ module, sources, sections }) => {
      const all = [...sections, ...(moved.get(module.name) ?? [])];
      return {
        name: module.name,
        original: module.original,
        twin: sources.twin.map((source) => source.file),
        score: scoreOf(sources.original, all),
        sections: all,
      };
    }),
  };
}

/** The sources of a module on both sides. */
export type BothSources = { readonly original: readonly PlacedSource[]; readonly twin: readonly PlacedSource[] };

/** Sources of a twin that belong to no module. */
export function unplaced(open: OpenPort, twinName: string): string[] {
  const twin = open.twins.find(({ name }) => name === twinName);
  const placed = new Set([...open.modules, ...open.tests].flatMap((module) => module.twins[twinName] ?? []));
  return (twin?.files ?? []).filter(
    (file) => !placed.has(file) && isSourceOf(file, twin?.language ?? "") && !isTestFile(file),
  );
}

/** Module → pairs of its sections with files elsewhere. */
export function pairMoved(
  modules: readonly { readonly name: string; readonly sources: BothSources; readonly pairs: readonly SectionPair[] }[],
  others: readonly PlacedSource[],
): Map<string, SectionPair[]> {
  const left = { original: new Map<string, PlacedSection[]>(), twin: [] as LeftOver["twin"][number][] };
  const shared = new Map<string, number>();
  for (const { sources } of modules) for (const { file } of sources.twin) shared.set(file, (shared.get(file) ?? 0) + 1);
  for (const { name, sources, pairs } of modules) {
    const keyOf = (section: string, from: number) => `${section}:${from}`;
    const paired = {
      original: new Set(pairs.map((pair) => keyOf(pair.original, pair.originalFrom))),
      twin: new Set(pairs.map((pair) => keyOf(pair.twin, pair.twinFrom))),
    };
    const free = (side: "original" | "twin") =>
      sources[side].flatMap(placedSections).filter((one) => !paired[side].has(keyOf(one.name, one.from)));
    left.original.set(name, free("original"));
    // Sections of files that belong to several modules may pair with each other.
    for (const section of free("twin")) if (shared.get(section.file) === 1) left.twin.push({ module: name, section });
  }
  for (const section of others.flatMap(placedSections)) left.twin.push({ module: null, section });
  return findMoved(left);
}

/** The paired sections of one module from its sources. */
export function pairModule(open: OpenPort, module: PortModule, sources: BothSources, twin: string): SectionPair[] {
  const place = (list: readonly PlacedSource[]) => list.flatMap(placedSections);
  return pairSections(place(sources.original), place(sources.twin), wordsFor(open, module.name, twin));
}

/** Upper bound of the summed section texts relative to the file: nested ones come to two or three times. */
const MAX_READINGS = 20;
const MIN_TEXT = 200;

const placed = new WeakMap<PlacedSource, PlacedSection[]>();

/** The sections of a source with what their texts leave behind; worked out once a source. */
function placedSections(source: PlacedSource): PlacedSection[] {
  const known = placed.get(source);
  if (known) return known;
  const { file, sections, lines } = source;
  const length = lines.reduce((sum, line) => sum + line.length + 1, 0);
  // Thousands of sections on one line each have all of it for their text: together they are looked at so often as one.
  const most = Math.max(MIN_TEXT, Math.floor((MAX_READINGS * length) / Math.max(1, sections.length)));
  const made = sections.map((section) => ({
    ...section,
    file,
    trace: traceOf(
      lines
        .slice(section.from - 1, section.to)
        .join("\n")
        .slice(0, most),
    ),
  }));
  placed.set(source, made);
  return made;
}

/** The port file's pairs and hookups for a module's sections on a twin. */
function wordsFor({ port }: OpenPort, module: string, twin: string): GivenPairs {
  const prefix = `${module}.`;
  const inside = (name: string) => name.replace(/^[^.]+\./, "");
  const hooks = port.hookups.filter(
    ({ original, on }) => original.startsWith(prefix) && (on === undefined || on === twin),
  );
  const manual = manualPairsOf(port.pairs, module, twin);
  return {
    hooked: new Map(
      hooks.map((hookup) => [hookup.original.slice(prefix.length), inside(hookup.twin ?? hookup.original)]),
    ),
    manual: manual.pairs,
    isNew: manual.isNew,
  };
}

/** The sources of a module that are there, parsed. */
export async function readSources(folder: string, files: readonly string[]): Promise<PlacedSource[]> {
  const sources: PlacedSource[] = [];
  for (const file of files) {
    const text = await readText(path.join(folder, file)).catch(() => null);
    if (text === null) continue;
    const language = languageIn(file, text);
    sources.push({ ...(await parseSource(text, language)), file, language });
  }
  return sources;
}

function scoreOf(original: readonly PlacedSource[], pairs: readonly SectionPair[]): number {
  const sections = original.reduce((sum, source) => sum + source.sections.length, 0);
  const sum = pairs.reduce((total, pair) => total + pair.score, 0);
  return sections === 0 ? 0 : Math.round((sum / sections) * 100) / 100;
}
