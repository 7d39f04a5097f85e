/** Everything that is read of a port from its folders: sources, sections, pairs, needs, cases, and stamps of the code. */
import { createHash } from "node:crypto";
import { stat } from "node:fs/promises";
import path from "node:path";
import type { SharedCase } from "@/core/formats/case-line";
import { findLayers, type Layers } from "@/core/order/layers";
import type { PortModule } from "@/core/pairing/modules";
import type { SectionPair } from "@/core/pairing/sections";
import { languageOf } from "@/core/source/language-of";
import { findLanguage } from "@/core/source/languages/index";
import { parseSource } from "@/engine/source/parse";
import { caseFiles, type OpenPort, openPort, readCases, readText } from "@/service/open-port";
import { type PlacedSource, pairModule, pairMoved, unplaced } from "@/service/pair-port";
import type { Reading } from "@/store/ports";

export type ReadSource = PlacedSource & { readonly hash: string };

export type ReadModule = PortModule & {
  readonly originalSources: readonly ReadSource[];
  readonly twinSources: Readonly<Record<string, readonly ReadSource[]>>;
  readonly pairs: Readonly<Record<string, readonly SectionPair[]>>;
  /** Modules of the port that it imports. */
  readonly needs: readonly string[];
};

export type PortReading = {
  readonly open: OpenPort;
  readonly cases: readonly SharedCase[];
  readonly modules: readonly ReadModule[];
  readonly layers: Layers;
};

type BothSources = { readonly original: readonly ReadSource[]; readonly twin: readonly ReadSource[] };
type CachedPairs = {
  readonly sources: BothSources;
  /** What the port file says of pairs, as text. */
  readonly said: string;
  readonly pairs: readonly SectionPair[];
};

type CachedSource = { readonly stamp: string; readonly source: ReadSource };

/** Reads ports again and again, parsing only files that changed. */
export class PortReader {
  private readonly sources = new Map<string, CachedSource>();
  private readonly pairs = new Map<string, CachedPairs>();
  private cases: { readonly stamp: string; readonly list: readonly SharedCase[] } | null = null;

  /** Throws SideTwinError when the port file or the cases can not be read. */
  async read(file: string): Promise<PortReading> {
    const open = await openPort(file);
    const cases = await this.readCases(open);
    const modules: ReadModule[] = [];
    const owner = new Map(
      open.modules.flatMap((module) => module.original.map((name) => [name, module.name] as const)),
    );
    for (const module of open.modules) modules.push(await this.readModule(open, module, owner));
    await this.addMoved(open, modules);
    return { open, cases, modules, layers: findLayers(new Map(modules.map((module) => [module.name, module.needs]))) };
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

  private async readModule(
    open: OpenPort,
    module: PortModule,
    owner: ReadonlyMap<string, string>,
  ): Promise<ReadModule> {
    const originalSources = await this.readFiles(open.original.folder, module.original);
    const twinSources: Record<string, readonly ReadSource[]> = {};
    const pairs: Record<string, readonly SectionPair[]> = {};
    for (const twin of open.twins) {
      const files = await this.readFiles(twin.folder, module.twins[twin.name] ?? []);
      twinSources[twin.name] = files;
      pairs[twin.name] = this.pairsOf(open, module, twin.name, { original: originalSources, twin: files });
    }
    return { ...module, originalSources, twinSources, pairs, needs: needsOf(module.name, originalSources, owner) };
  }

  /** Sections that went to a file of another module, or of none. */
  private async addMoved(open: OpenPort, modules: ReadModule[]): Promise<void> {
    for (const { name, folder } of open.twins) {
      const moved = pairMoved(
        modules.map((module) => ({
          name: module.name,
          sources: { original: module.originalSources, twin: module.twinSources[name] ?? [] },
          pairs: module.pairs[name] ?? [],
        })),
        await this.readFiles(folder, unplaced(open, name)),
      );
      for (const [index, module] of modules.entries()) {
        const own = moved.get(module.name);
        if (!own) continue;
        modules[index] = { ...module, pairs: { ...module.pairs, [name]: [...(module.pairs[name] ?? []), ...own] } };
      }
    }
  }

  /** Pairs are worked out again only when a source of either side or a hookup changed. */
  private pairsOf(open: OpenPort, module: PortModule, twin: string, sources: BothSources): readonly SectionPair[] {
    const key = `${module.name}\0${twin}`;
    const known = this.pairs.get(key);
    const same = (one: readonly ReadSource[], other: readonly ReadSource[]) =>
      one.length === other.length && one.every((source, index) => source === other[index]);
    const said = JSON.stringify([open.port.hookups, open.port.pairs]);
    const isCurrent =
      known &&
      same(known.sources.original, sources.original) &&
      same(known.sources.twin, sources.twin) &&
      known.said === said;
    if (isCurrent) return known.pairs;
    const pairs = pairModule(open, module, sources, twin);
    this.pairs.set(key, { sources, said, pairs });
    return pairs;
  }

  private async readFiles(folder: string, files: readonly string[]): Promise<ReadSource[]> {
    const read: ReadSource[] = [];
    for (const file of files) {
      const source = await this.readFile(folder, file);
      if (source) read.push(source);
    }
    return read;
  }

  private async readFile(folder: string, file: string): Promise<ReadSource | null> {
    const full = path.join(folder, file);
    const facts = await stat(full).catch(() => null);
    if (!facts?.isFile()) return null;
    const stamp = `${facts.size}:${facts.mtimeMs}`;
    const known = this.sources.get(full);
    if (known?.stamp === stamp) return known.source;
    const text = await readText(full);
    const language = languageOf(file);
    const hash = createHash("sha256").update(text).digest("hex").slice(0, 16);
    const source = { ...(await parseSource(text, language)), file, language, hash };
    this.sources.set(full, { stamp, source });
    return source;
  }
}

function needsOf(own: string, sources: readonly ReadSource[], owner: ReadonlyMap<string, string>): string[] {
  const needs = new Set<string>();
  for (const source of sources) {
    const language = source.language === null ? null : findLanguage(source.language);
    for (const written of source.imports) {
      for (const candidate of language?.importCandidates(written, source.file) ?? []) {
        const module = owner.get(candidate);
        if (module !== undefined && module !== own) needs.add(module);
      }
    }
  }
  return [...needs];
}

/** A hash of all code that a module's answers can rest on, on both sides: its own files and those of all it needs. */
export function stampOf(reading: PortReading, moduleName: string | null, twin: string): string {
  const byName = new Map(reading.modules.map((module) => [module.name, module]));
  const wanted = new Set<string>();
  const queue = moduleName === null ? [...byName.keys()] : [moduleName];
  for (let name = queue.pop(); name !== undefined; name = queue.pop()) {
    if (wanted.has(name)) continue;
    wanted.add(name);
    queue.push(...(byName.get(name)?.needs ?? []));
  }
  const hash = createHash("sha256");
  for (const name of [...wanted].sort()) {
    const module = byName.get(name);
    for (const source of [...(module?.originalSources ?? []), ...(module?.twinSources[twin] ?? [])])
      hash.update(`${source.file}:${source.hash}\n`);
  }
  return hash.digest("hex").slice(0, 16);
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
