/** The code of sections on both sides, as evidence for the causes of a difference. */
import { bareNames } from "@/core/cases/bare-names";
import type { CodePlace, SectionCode, SideCode } from "@/core/explain/code";
import type { OpenPort } from "@/service/port/open-port";
import { type BothSources, type PlacedSource, pairModule, readSources } from "@/service/reading/pair-port";

/** Reads and pairs a module once for all of its sections. */
export class SectionCodes {
  private readonly modules = new Map<
    string,
    Promise<{ sources: BothSources; twinOf: ReadonlyMap<string, string> } | null>
  >();

  constructor(private readonly open: OpenPort) {}

  /** Undefined where the section is on one side only, or a side cannot be read. Cost: the module is parsed and paired once. */
  async of(module: string | null, call: string, twin: string): Promise<SectionCode | undefined> {
    if (module === null) return undefined;
    const key = `${module}\0${twin}`;
    const read = this.modules.get(key) ?? this.read(module, twin);
    this.modules.set(key, read);
    const found = await read;
    if (!found) return undefined;
    const name = bareNames(found.sources.original).get(call) ?? call;
    const twinName = found.twinOf.get(name);
    if (twinName === undefined) return undefined;
    const original = sideCode(found.sources.original, name);
    const other = sideCode(found.sources.twin, twinName);
    return original && other && { original, twin: other };
  }

  private async read(
    name: string,
    twinName: string,
  ): Promise<{ sources: BothSources; twinOf: ReadonlyMap<string, string> } | null> {
    const { open } = this;
    const module = open.modules.find((entry) => entry.name === name);
    const twin = open.twins.find((entry) => entry.name === twinName);
    if (!module || !twin) return null;
    const sources = {
      original: await readSources(open.original.folder, module.original),
      twin: await readSources(twin.folder, module.twins[twinName] ?? []),
    };
    const pairs = pairModule(open, module, sources, twinName);
    return { sources, twinOf: new Map(pairs.map((pair) => [pair.original, pair.twin])) };
  }
}

/** The section's lines, then those of the sections of its module that it mentions. */
function sideCode(sources: readonly PlacedSource[], name: string): SideCode | undefined {
  const home = sources.find(({ sections }) => sections.some((section) => section.name === name));
  const own = home?.sections.find((section) => section.name === name);
  if (!home?.language || !own) return undefined;
  const lines = linesOf(home, own.from, own.to);
  const words = new Set(lines.flatMap(({ text }) => text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu) ?? []));
  const called = sources.flatMap((source) =>
    source.sections
      .filter((section) => section.name !== name && section.kind !== "class" && words.has(lastOf(section.name)))
      .flatMap(({ from, to }) => linesOf(source, from, to)),
  );
  return { language: home.language, lines: [...lines, ...called] };
}

const lastOf = (name: string): string => name.slice(name.lastIndexOf(".") + 1);

const linesOf = ({ file, lines }: PlacedSource, from: number, to: number): (CodePlace & { text: string })[] =>
  lines.slice(from - 1, to).map((text, index) => ({ file, line: from + index, text }));
