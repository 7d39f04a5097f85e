/** Traces the differing cases of families, and regroups these by the inner calls at which the two sides first part. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { SectionCode } from "@/core/explain/code";
import { joinAtSection, type PartedCase, type SplitFamily, splitByInner } from "@/core/explain/inner";
import type { SharedCase } from "@/core/formats/case-line";
import { languageIn } from "@/core/source/language-of";
import type { LevelCall } from "@/core/tracing/level";
import { groupBy } from "@/core/values/group-by";
import { DRIVERS } from "@/engine/drivers/index";
import { parseSource } from "@/engine/source/parse";
import type { AnswersOf, PartedFamily, PartFamilies, SectionFamily } from "@/service/check/gather-families";
import { SectionCodes } from "@/service/check/section-code";
import { toFacts } from "@/service/check/verdict";
import type { OpenPort } from "@/service/port/open-port";
import { toLine } from "@/service/tracing/trace";
import { Tracer } from "@/service/tracing/tracer";

/** Cases of one family, and of all families of a twin, that are traced; more show the same faults again. */
const MAX_CASES_PER_FAMILY = 30;
const MAX_CASES = 200;
/** Larger originals are not parted: pairing all of their sections would take longer than the check. `trace` does it for one case. */
const MAX_FILES = 600;
/** Families not traced by then stay as they are. */
const MAX_MS = 60_000;

/**
 * The families, one for each inner section and fault, with `inner`: for program runs, steps, and calls of sections that call other sections, where calls of both sides can be
 * observed. Costs one more run of the traced cases and some small calls. Throws SideTwinError where a side cannot be observed.
 */
export const partFamilies: PartFamilies = async (open, all, { families, answersOf, signal: stop }) => {
  if (open.modules.reduce((sum, { original }) => sum + original.length, 0) > MAX_FILES) return [...families];
  const signal = AbortSignal.any([AbortSignal.timeout(MAX_MS), ...(stop ? [stop] : [])]);
  const codes = new SectionCodes(open);
  const byId = new Map(all.map((item) => [item.id, item]));
  const parted: PartedFamily[] = [];
  for (const [name, own] of groupBy(families, ({ twin }) => twin)) {
    const twin = open.twins.find((one) => one.name === name);
    const isTraced = twin && isObserved(open.original.language) && isObserved(twin.language);
    const traced = isTraced ? await selectTraced(open, own, byId) : new Map<SectionFamily, SharedCase[]>();
    if (!twin || traced.size === 0 || signal.aborted) {
      parted.push(...own);
      continue;
    }
    const tracer = await Tracer.open(open, twin, { all, signal });
    try {
      parted.push(...(await partTwin({ own, traced, tracer, codes, answersOf, signal })));
    } finally {
      tracer.close();
    }
  }
  return parted.sort((left, right) => right.cases.length - left.cases.length);
};

type Twin = {
  readonly own: readonly SectionFamily[];
  readonly traced: ReadonlyMap<SectionFamily, readonly SharedCase[]>;
  readonly tracer: Tracer;
  readonly codes: SectionCodes;
  readonly answersOf: AnswersOf;
  readonly signal: AbortSignal;
};

/** Splits the families of one twin, then joins those that part in the same section. */
async function partTwin({ own, traced, tracer, codes, answersOf, signal }: Twin): Promise<PartedFamily[]> {
  const levels = await tracer.level(unique([...traced.values()].flat()));
  const found = await partingsOf(tracer, levels, signal);
  const twin = own[0]?.twin ?? "";
  const split = new Map<SectionFamily, SplitFamily[]>();
  /** Section → its cases; one may be of several families. */
  const at = new Map<string, Map<string, PartedCase>>();
  for (const [family, items] of traced) {
    const cases = items.flatMap(({ id }) => found.get(id) ?? []);
    const isDeeper = ({ section }: PartedCase) => section !== `${family.module}.${family.call}`;
    const deeper = cases.filter(isDeeper);
    const ids = new Set(cases.filter((one) => !isDeeper(one)).map(({ id }) => id));
    split.set(family, splitByInner(family, deeper, await codesOf(codes, deeper, twin), ids));
    for (const one of deeper) at.set(one.section, (at.get(one.section) ?? new Map()).set(one.id, one));
  }
  const left = new Map<SectionFamily, SplitFamily[]>(own.map((family) => [family, split.get(family) ?? [family]]));
  const joined: PartedFamily[] = [];
  for (const [section, byCase] of at) {
    const cases = [...byCase.values()];
    const [item] = cases.flatMap(({ alone, seen }) => (alone ?? seen)?.item ?? []);
    if (!item || !("call" in item)) continue;
    const home = { twin, module: item.module, call: item.call };
    const pieces: SplitFamily[] = [];
    const direct: SplitFamily[] = [];
    for (const [family, parts] of left) {
      const isHome = family.module === home.module && family.call === home.call;
      const taken = parts.filter((part) => part.inner?.section === section || (isHome && !part.inner));
      for (const part of taken) (part.inner ? pieces : direct).push(part);
      left.set(
        family,
        parts.filter((part) => !taken.includes(part)),
      );
    }
    const answers = answersOf(home);
    const families = joinAtSection(section, {
      pieces,
      direct,
      parted: cases,
      facts: answers.differing,
      controls: [...answers.agreeing, ...tracer.agreeing(levels.values(), section)],
      code: await codes.of(item.module, item.call, twin),
    });
    for (const family of families) {
      const origin = onlyOrigin(family, own);
      const { at: path, kind } = origin ?? family;
      joined.push(await toParted({ ...family, at: path, kind }, origin ?? home, tracer));
    }
  }
  const others = [...left].flatMap(([family, parts]) => parts.map((part) => toParted(part, family, tracer)));
  return [...joined, ...(await Promise.all(others))];
}

/** The family of the section that all cases are of; undefined where they are of several. */
function onlyOrigin({ cases }: SplitFamily, own: readonly SectionFamily[]): SectionFamily | undefined {
  const [origin] = own.filter((family) => family.cases.includes(cases[0] ?? ""));
  const ids = new Set(
    own.filter((one) => one.module === origin?.module && one.call === origin?.call).flatMap((one) => one.cases),
  );
  return cases.every((id) => ids.has(id)) ? origin : undefined;
}

async function codesOf(
  codes: SectionCodes,
  cases: readonly PartedCase[],
  twin: string,
): Promise<Map<string, SectionCode | undefined>> {
  const found = new Map<string, SectionCode | undefined>();
  for (const { section, alone, seen } of cases) {
    const item = (alone ?? seen)?.item;
    if (item && "call" in item && !found.has(section)) found.set(section, await codes.of(item.module, item.call, twin));
  }
  return found;
}

const isObserved = (language: string): boolean => (DRIVERS[language]?.recording ?? null) !== null;

async function partingsOf(
  tracer: Tracer,
  levels: ReadonlyMap<string, readonly LevelCall[]>,
  signal: AbortSignal,
): Promise<Map<string, PartedCase>> {
  const found = new Map<string, PartedCase>();
  for (const [id, level] of levels) {
    if (signal.aborted) break;
    const parting = await tracer.parting(level);
    if (!parting) continue;
    const { section, path, alone, seen } = parting;
    found.set(id, { id, section, path, alone: alone && toFacts(alone.judged), seen: seen && toFacts(seen) });
  }
  return found;
}

const unique = (items: readonly SharedCase[]): SharedCase[] => [
  ...new Map(items.map((item) => [item.id, item])).values(),
];

async function toParted(
  { inner, ...split }: SplitFamily,
  { twin, module, call }: Pick<SectionFamily, "twin" | "module" | "call">,
  tracer: Tracer,
): Promise<PartedFamily> {
  const family = { ...split, twin, module, call };
  if (!inner) return family;
  const { section, path, alone, shared } = inner;
  const item = alone?.item;
  const shown = item && "call" in item ? { case: toLine(await tracer.shrink(item)) } : {};
  return { ...family, inner: { section, path, ...shown, shared } };
}

/** The cases of each family that are traced, the families with the most cases first. */
async function selectTraced(
  open: OpenPort,
  families: readonly SectionFamily[],
  byId: ReadonlyMap<string, SharedCase>,
): Promise<Map<SectionFamily, SharedCase[]>> {
  const traced = new Map<SectionFamily, SharedCase[]>();
  const callers = new Callers(open);
  let left = MAX_CASES;
  for (const family of families) {
    const items = family.cases.slice(0, Math.min(MAX_CASES_PER_FAMILY, left)).flatMap((id) => byId.get(id) ?? []);
    const [first] = items;
    if (!first) continue;
    if ("call" in first && !(await callers.callsOthers(family))) continue;
    traced.set(family, items);
    left -= items.length;
  }
  return traced;
}

/** Whether a section mentions another section of the port; one that calls none cannot part further inside. */
class Callers {
  private names: Promise<ReadonlyMap<string, readonly Named[]>> | null = null;

  constructor(private readonly open: OpenPort) {}

  async callsOthers({ module, call }: SectionFamily): Promise<boolean> {
    this.names ??= sectionsOf(this.open);
    const sections = await this.names;
    const own = sections.get(module ?? "")?.find(({ name }) => name === call);
    if (!own) return true;
    const words = new Set(own.text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu));
    words.delete(own.last);
    return [...sections.values()].some((list) => list.some(({ last }) => words.has(last)));
  }
}

type Named = { readonly name: string; readonly last: string; readonly text: string };

async function sectionsOf(open: OpenPort): Promise<ReadonlyMap<string, readonly Named[]>> {
  const found = new Map<string, readonly Named[]>();
  for (const module of open.modules) {
    const named: Named[] = [];
    for (const file of module.original) {
      // A file that went away since the check has no section any more.
      const text = await readFile(path.join(open.original.folder, file), "utf8").catch(() => "");
      const lines = text.split("\n");
      const { sections } = await parseSource(text, languageIn(file, text));
      for (const { name, kind, from, to } of sections)
        if (kind !== "constant")
          named.push({ name, last: name.replace(/^.*\./, ""), text: lines.slice(from - 1, to).join("\n") });
    }
    found.set(module.name, named);
  }
  return found;
}
