/** A reading of a port's folders: sources, sections, pairs, needs, cases, and fingerprints of the code. */
import { createHash } from "node:crypto";
import { stat } from "node:fs/promises";
import path from "node:path";
import type { SharedCase } from "@/core/formats/case-line";
import { findLayers, type Layers } from "@/core/order/layers";
import type { PortModule } from "@/core/pairing/modules";
import type { SectionPair } from "@/core/pairing/sections";
import { caseFiles, type OpenPort, openPort, readCases } from "@/service/port/open-port";
import { sameItems } from "@/service/port/same-items";
import { pairModule, pairMoved, unplaced } from "@/service/reading/pair-port";
import { type ReadSource, SourceReader } from "@/service/reading/source-reader";
import { FactsCache } from "@/service/reading/survey-folder";
import type { Reading } from "@/store/ports";

/** A module as read from disk. */
export type ReadModule = PortModule & {
  readonly originalSources: readonly ReadSource[];
  readonly twinSources: Readonly<Record<string, readonly ReadSource[]>>;
  readonly pairs: Readonly<Record<string, readonly SectionPair[]>>;
  /** Modules of the port that it imports. */
  readonly needs: readonly string[];
};

/** A reading of a port's folders. */
export type PortReading = {
  readonly open: OpenPort;
  readonly cases: readonly SharedCase[];
  readonly modules: readonly ReadModule[];
  readonly layers: Layers;
};

type BothSources = { readonly original: readonly ReadSource[]; readonly twin: readonly ReadSource[] };
type CachedPairs = {
  readonly sources: BothSources;
  /** The port file's pairs as text. */
  readonly fingerprint: string;
  readonly pairs: readonly SectionPair[];
};

/** Modules that are paired at a time. */
const MAX_PAIRED_AT_ONCE = 40;

/** Reads ports again and again, parsing only files that changed. */
export class PortReader {
  private readonly sources = new SourceReader();
  private readonly pairs = new Map<string, CachedPairs>();
  private readonly modules = new Map<string, { readonly open: OpenPort; readonly module: ReadModule }>();
  private opened: { readonly fingerprint: string; readonly open: OpenPort } | null = null;
  private last: {
    readonly reading: PortReading;
    readonly modules: readonly ReadModule[];
    readonly others: readonly (readonly ReadSource[])[];
  } | null = null;
  private cases: { readonly stamp: string; readonly list: readonly SharedCase[] } | null = null;

  /** `survey` is the cache of surveys of the original, made of the same files. */
  constructor(private readonly survey = new FactsCache()) {}

  /**
   * Returns the same object while nothing changed, so that derived results can be cached with it. Throws SideTwinError
   * if the port file or the cases cannot be read.
   */
  async read(file: string): Promise<PortReading> {
    const open = this.sameOpen(await openPort(file));
    const cases = await this.readCases(open);
    await this.sources.refresh(
      open.original.folder,
      open.modules.flatMap(({ original }) => original),
      this.survey,
    );
    for (const { name, folder } of open.twins) {
      const placed = open.modules.flatMap(({ twins }) => twins[name] ?? []);
      await this.sources.refresh(folder, [...new Set([...placed, ...unplaced(open, name)])]);
    }
    const needs = needsOf(open, await this.survey.needsOf(open.original.folder, open.original.files));
    const modules: ReadModule[] = [];
    for (const [index, module] of open.modules.entries()) {
      modules.push(this.readModule(open, module, needs.get(module.name) ?? []));
      // Pairing thousands of modules takes seconds: pages are served in between.
      if (index % MAX_PAIRED_AT_ONCE === MAX_PAIRED_AT_ONCE - 1) await new Promise((resolve) => setImmediate(resolve));
    }
    const others = open.twins.map(({ name, folder }) => this.sources.of(folder, unplaced(open, name)));
    const last = this.last;
    const isSame =
      last &&
      last.reading.open === open &&
      last.reading.cases === cases &&
      sameItems(last.modules, modules) &&
      others.every((list, index) => sameItems(list, last.others[index] ?? []));
    if (isSame) return last.reading;
    const whole = this.addMoved(open, modules, others);
    const layers = findLayers(new Map(whole.map((module) => [module.name, module.needs])));
    const reading = { open, cases, modules: whole, layers };
    this.last = { reading, modules, others };
    return reading;
  }

  /** Reuses the opened port while its file and file lists are unchanged. */
  private sameOpen(open: OpenPort): OpenPort {
    const fingerprint = JSON.stringify([
      open.file,
      open.port,
      open.original.files,
      open.twins.map(({ files }) => files),
      open.modules,
    ]);
    if (this.opened?.fingerprint !== fingerprint) this.opened = { fingerprint, open };
    return this.opened.open;
  }

  /** The cases, read again only when one of their files or the modules they name have changed. */
  private async readCases(open: OpenPort): Promise<readonly SharedCase[]> {
    const files = await caseFiles(open);
    const facts = await Promise.all(files.map((name) => stat(path.join(open.folder, name)).catch(() => null)));
    const stamps = files.map((name, index) => [name, facts[index]?.size, facts[index]?.mtimeMs]);
    const stamp = JSON.stringify([open.file, stamps, open.modules.map((module) => module.name)]);
    if (this.cases?.stamp !== stamp) this.cases = { stamp, list: await readCases(open) };
    return this.cases.list;
  }

  /** The same record again where none of the module's sources and pairs changed. */
  private readModule(open: OpenPort, module: PortModule, needs: readonly string[]): ReadModule {
    const originalSources = this.sources.of(open.original.folder, module.original);
    const twinSources: Record<string, readonly ReadSource[]> = {};
    const pairs: Record<string, readonly SectionPair[]> = {};
    for (const twin of open.twins) {
      const files = this.sources.of(twin.folder, module.twins[twin.name] ?? []);
      twinSources[twin.name] = files;
      pairs[twin.name] = this.pairsOf(open, module, twin.name, { original: originalSources, twin: files });
    }
    const before = this.modules.get(module.name);
    const isSame =
      before &&
      before.open === open &&
      sameItems(before.module.originalSources, originalSources) &&
      sameItems(before.module.needs, needs) &&
      open.twins.every(
        ({ name }) =>
          sameItems(before.module.twinSources[name] ?? [], twinSources[name] ?? []) &&
          before.module.pairs[name] === pairs[name],
      );
    if (isSame) return before.module;
    const made = { ...module, originalSources, twinSources, pairs, needs };
    this.modules.set(module.name, { open, module: made });
    return made;
  }

  /** With sections that went to a file of another module, or of none. */
  private addMoved(
    open: OpenPort,
    modules: readonly ReadModule[],
    others: readonly (readonly ReadSource[])[],
  ): ReadModule[] {
    const whole = [...modules];
    for (const [place, { name }] of open.twins.entries()) {
      const moved = pairMoved(
        modules.map((module) => ({
          name: module.name,
          sources: { original: module.originalSources, twin: module.twinSources[name] ?? [] },
          pairs: module.pairs[name] ?? [],
        })),
        others[place] ?? [],
      );
      for (const [index, module] of whole.entries()) {
        const own = moved.get(module.name);
        if (!own) continue;
        whole[index] = { ...module, pairs: { ...module.pairs, [name]: [...(module.pairs[name] ?? []), ...own] } };
      }
    }
    return whole;
  }

  /** Pairs are worked out again only when a source of either side or a hookup changed. */
  private pairsOf(open: OpenPort, module: PortModule, twin: string, sources: BothSources): readonly SectionPair[] {
    const key = `${module.name}\0${twin}`;
    const known = this.pairs.get(key);
    const fingerprint = JSON.stringify([open.port.hookups, open.port.pairs]);
    const isCurrent =
      known &&
      sameItems(known.sources.original, sources.original) &&
      sameItems(known.sources.twin, sources.twin) &&
      known.fingerprint === fingerprint;
    if (isCurrent) return known.pairs;
    const pairs = pairModule(open, module, sources, twin);
    this.pairs.set(key, { sources, fingerprint, pairs });
    return pairs;
  }
}

/** Module → the modules that hold the files which its own need. */
function needsOf(open: OpenPort, files: ReadonlyMap<string, readonly string[]>): Map<string, string[]> {
  const owner = new Map(open.modules.flatMap(({ name, original }) => original.map((file) => [file, name] as const)));
  return new Map(
    open.modules.map(({ name, original }) => {
      const needs = new Set(original.flatMap((file) => files.get(file) ?? []).flatMap((file) => owner.get(file) ?? []));
      needs.delete(name);
      return [name, [...needs]];
    }),
  );
}

const stamps = new WeakMap<PortReading, Map<string, ReadonlyMap<string, string>>>();

/**
 * A hash of all code that a module's answers can rest on, on both sides: its own files and those of all it needs. That of
 * null is of the whole port. Worked out once a reading and twin. Cost: linear in the needs.
 */
export function stampOf(reading: PortReading, moduleName: string | null, twin: string): string {
  const ofReading = stamps.get(reading) ?? new Map<string, ReadonlyMap<string, string>>();
  stamps.set(reading, ofReading);
  const known = ofReading.get(twin) ?? stampModules(reading, twin);
  ofReading.set(twin, known);
  return known.get(moduleName ?? WHOLE) ?? "";
}

/** No module has an empty name. */
const WHOLE = "";

/** Bottom-up; members of a dependency cycle share one fingerprint, since each depends on all of them. */
function stampModules({ modules, layers }: PortReading, twin: string): Map<string, string> {
  const own = new Map(
    modules.map((module) => [
      module.name,
      [...module.originalSources, ...(module.twinSources[twin] ?? [])]
        .map(({ file, hash }) => `${file}:${hash}`)
        .join("\n"),
    ]),
  );
  const needs = new Map(modules.map((module) => [module.name, module.needs]));
  const knotOf = new Map(layers.knots.flatMap((knot) => knot.map((name) => [name, knot] as const)));
  const found = new Map<string, string>();
  const layerOf = (name: string) => layers.layer.get(name) ?? 0;
  for (const { name } of [...modules].sort((one, other) => layerOf(one.name) - layerOf(other.name))) {
    if (found.has(name)) continue;
    const members = [...(knotOf.get(name) ?? [name])].sort();
    const below = new Set(
      members.flatMap((member) => needs.get(member) ?? []).filter((need) => !members.includes(need)),
    );
    const hash = createHash("sha256");
    for (const member of members) hash.update(`${member}\n${own.get(member)}\n`);
    for (const need of [...below].sort()) hash.update(`${need}:${found.get(need)}\n`);
    const stamp = hash.digest("hex").slice(0, 16);
    for (const member of members) found.set(member, stamp);
  }
  const whole = createHash("sha256");
  for (const name of [...own.keys()].sort()) whole.update(`${name}\n${own.get(name)}\n`);
  found.set(WHOLE, whole.digest("hex").slice(0, 16));
  return found;
}

/** The reading in the form that the store keeps. */
export function toStored(reading: PortReading): Reading {
  return {
    modules: reading.modules.map(({ name, original, twins }) => ({ name, original, twins })),
    sections: reading.modules.flatMap((module) =>
      module.originalSources.flatMap(({ file, sections }) =>
        sections.map(({ name, kind, from, to, complexity }) => ({
          module: module.name,
          name,
          kind,
          file,
          from,
          to,
          complexity,
        })),
      ),
    ),
  };
}
