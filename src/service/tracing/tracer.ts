/** Traces cases of a port on both sides, through drivers and builds that serve all of them. */
import { freeId } from "@/core/cases/free-id";
import { orderForOriginal, orderForTwin, type TwinTerms, twinTerms } from "@/core/cases/hand-over";
import { shrinkCase } from "@/core/cases/shrink";
import type { CaseFacts } from "@/core/explain/facets";
import { type CallCase, isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { isAgreement } from "@/core/progress/done";
import type { TracedCall } from "@/core/tracing/call-tree";
import { findInner, type Inner, type LevelCall, type LevelTerms, layLevel, pathTo } from "@/core/tracing/level";
import { canonicalText } from "@/core/values/canonical";
import { equalityOn } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { Prober } from "@/service/check/prober";
import { sameFault } from "@/service/check/shrink-case";
import { type Judged, judge } from "@/service/check/verdict";
import type { OpenPort } from "@/service/port/open-port";
import { type PairedModule, pairPort } from "@/service/reading/pair-port";
import { observeCases } from "@/service/tracing/observe";

/** Where a case parts: the call, why it is that one, and a case of its own where the difference shows without its caller. */
export type Parting = {
  readonly section: string;
  readonly why: string;
  /** The sections from the outermost call down to it. */
  readonly path: readonly string[];
  /** Ran on both sides and differed. */
  readonly alone: { readonly item: CallCase; readonly judged: Judged } | null;
  /** The call as it was observed, if its arguments and both answers could be written down and differ. */
  readonly seen: Judged | null;
};

/** Most inputs are as small as they become after far fewer; the time is for calls that hang. */
const MAX_SHRINK_TRIES = 300;
const MAX_SHRINK_MS = 3000;
const MAX_AGREEING = 60;

/** Both sides of a port, ready to be observed. Close it: it keeps drivers. */
export class Tracer {
  private readonly prober: Prober;
  /** Inner calls that were run by themselves, by section and arguments: many cases part in the same one. */
  private readonly probed = new Map<string, Promise<Judged>>();

  /** How calls are handed to the twin. */
  private readonly terms: TwinTerms;

  private constructor(
    private readonly open: OpenPort,
    private readonly twin: OpenPort["twins"][number],
    readonly names: SectionNames,
    private readonly taken: ReadonlySet<string>,
    private readonly signal: AbortSignal | undefined,
  ) {
    this.prober = new Prober(open, twin, signal);
    this.terms = names.terms(open, twin.name);
  }

  static async open(
    open: OpenPort,
    twin: OpenPort["twins"][number],
    { all, signal }: { readonly all: readonly SharedCase[]; readonly signal?: AbortSignal | undefined },
  ): Promise<Tracer> {
    const { modules } = await pairPort(open.file, twin.name);
    return new Tracer(open, twin, new SectionNames(modules), new Set(all.map(({ id }) => id)), signal);
  }

  /** The calls of both sides laid level, by case. Throws SideTwinError where a side cannot be observed. */
  async level(items: readonly SharedCase[]): Promise<Map<string, readonly LevelCall[]>> {
    const { open, twin, names, terms, signal } = this;
    const [original, other] = await Promise.all([
      observeCases(items, {
        open,
        side: open.original,
        name: "original",
        files: names.modules.flatMap((module) => module.original),
        filesOf: (module) => module.original,
        order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
        signal,
      }),
      observeCases(items, {
        open,
        side: twin,
        name: twin.name,
        files: names.modules.flatMap((module) => module.twin),
        filesOf: (module) => module.twins[twin.name] ?? [],
        order: (one) => (isRunCase(one) ? null : orderForTwin(one, terms)),
        signal,
      }),
    ]);
    const compared = levelTerms(open, names, terms);
    return new Map(items.map(({ id }) => [id, layLevel(original.get(id) ?? [], other.get(id) ?? [], compared)]));
  }

  /** Where two sides first part; null where no call does. */
  async parting(level: readonly LevelCall[]): Promise<Parting | null> {
    const inner = findInner(level);
    if (!inner) return null;
    const { call, why } = inner;
    const { section } = call;
    const found = { section, path: pathTo(level, call), seen: this.seen(call) };
    const item = this.itemOf(inner);
    if (!item) return { ...found, why, alone: null };
    const judged = await this.probe(item);
    const { outcome } = judged.verdict;
    if (outcome === "differ") return { ...found, why, alone: { item, judged } };
    const reason = isAgreement(outcome)
      ? "state outside its arguments is at work"
      : "it cannot be called by itself on both sides";
    return { ...found, why: call.twin ? `${why}; ${reason}` : why, alone: null };
  }

  private seen({ section, original, twin, isGivenSame }: LevelCall): Judged | null {
    if (!original || !twin || !isGivenSame || original.kind !== "call") return null;
    const isWritten = ({ value, thrown }: TracedCall) => value !== undefined || (thrown && thrown.kind !== "");
    const item = toCase(section, original);
    if (!item || !isWritten(original) || !isWritten(twin)) return null;
    const judged = judge(item, toAnswer(original), toAnswer(twin), { port: this.open.port, twin: this.terms });
    return judged.verdict.outcome === "differ" ? judged : null;
  }

  /** Calls of a section in these trees that agree, with their arguments and answers. */
  agreeing(levels: Iterable<readonly LevelCall[]>, section: string): CaseFacts[] {
    const found = new Map<string, CaseFacts>();
    const walk = (calls: readonly LevelCall[]) => {
      for (const { original, twin, ...call } of calls) {
        if (found.size >= MAX_AGREEING) return;
        const item = call.section === section && call.state === "same" && call.isGivenSame && original && twin;
        if (item) {
          const facts = { item: toCase(section, original), original: toAnswer(original), twin: toAnswer(twin) };
          const key = JSON.stringify([original.args, original.kwargs]);
          if (facts.item && facts.original.result.kind === "call" && facts.twin.result.kind === "call")
            found.set(key, {
              id: "inner",
              item: facts.item,
              original: facts.original.result,
              twin: facts.twin.result,
              divergences: [],
            });
        }
        walk(call.calls);
      }
    };
    for (const level of levels) walk(level);
    return [...found.values()];
  }

  private itemOf({ call: { section, original, twin } }: Inner): CallCase | null {
    const given = original ?? twin;
    if (!original || !given || given.args === undefined || given.kind !== "call") return null;
    const plain = toCase(section, original);
    return plain && { ...plain, id: freeId(`${plain.module}-${plain.call}-inner`, this.taken), from: "recorded" };
  }

  /** Runs a call by itself on both sides, once for the same arguments. */
  probe(item: CallCase): Promise<Judged> {
    const key = JSON.stringify([item.module, item.call, item.args, item.kwargs]);
    const known = this.probed.get(key);
    if (known) return known;
    const judged = this.prober.probe(item);
    this.probed.set(key, judged);
    return judged;
  }

  /** The same case with the smallest input that was found to show the same fault. */
  async shrink(item: CallCase): Promise<CallCase> {
    const isSame = sameFault(await this.probe(item));
    const until = performance.now() + MAX_SHRINK_MS;
    let tries = 0;
    const shrunk = await shrinkCase(item, async (candidate) => isSame(await this.prober.probe(candidate)), {
      isOver: () => ++tries > MAX_SHRINK_TRIES || performance.now() > until || (this.signal?.aborted ?? false),
    });
    return "call" in shrunk.item ? shrunk.item : item;
  }

  close(): void {
    this.prober.close();
  }
}

/** The names of both sides' sections, and which belong together. */
export class SectionNames {
  private readonly moduleOf = new Map<string, string>();
  private readonly twinModuleOf = new Map<string, string>();
  private readonly originals = new Map<string, number>();
  /** `module.twinName` → `module.name` */
  private readonly twins = new Map<string, string>();

  constructor(readonly modules: readonly PairedModule[]) {
    for (const { name, original, twin, sections } of modules) {
      for (const file of original) this.moduleOf.set(file, name);
      for (const file of twin) this.twinModuleOf.set(file, name);
      for (const pair of sections) {
        if (pair.original === "" || pair.twin === "" || pair.original === null || pair.twin === null) continue;
        this.originals.set(`${name}.${pair.original}`, pair.originalFrom);
        this.twins.set(`${name}.${pair.twin}`, `${name}.${pair.original}`);
      }
    }
  }

  original(call: TracedCall): string | null {
    const name = nameOf(this.moduleOf.get(call.file), call);
    return name !== null && this.originals.has(name) ? name : null;
  }

  twin(call: TracedCall): string | null {
    const name = nameOf(this.twinModuleOf.get(call.file), call);
    return name === null ? null : (this.twins.get(name) ?? null);
  }

  line(section: string): number | null {
    return this.originals.get(section) ?? null;
  }

  /** Names of pairs count as hookups: a twin's section may have any name. */
  terms(open: OpenPort, twin: string): TwinTerms {
    const plain = twinTerms(
      open.port,
      twin,
      open.modules.map(({ name }) => name),
    );
    const known = new Set(plain.hookups.map(({ original }) => original));
    const pairs = [...this.twins].flatMap(([twinName, original]) =>
      known.has(original) || original.includes(".", original.indexOf(".") + 1)
        ? []
        : [{ original, twin: twinName, on: twin }],
    );
    return { ...plain, hookups: [...plain.hookups, ...pairs] };
  }
}

/** A constructor counts as its class. */
const nameOf = (module: string | undefined, { section, kind }: TracedCall): string | null =>
  module === undefined ? null : `${module}.${kind === "new" ? section.replace(/\.[^.]*$/, "") : section}`;

function levelTerms(open: OpenPort, names: SectionNames, terms: TwinTerms): LevelTerms {
  const equality = equalityOn(open.port, terms.twin);
  const text = (value: Json) => canonicalText(fromNotation(value), equality);
  const judged = (original: TracedCall, twin: TracedCall) => {
    const item = toCase(names.original(original), original);
    if (!item) return null;
    return judge(item, toAnswer(original), toAnswer(twin), { port: open.port, twin: terms }).verdict.outcome;
  };
  return {
    originalName: (call) => names.original(call),
    twinName: (call) => names.twin(call),
    isGivenSame: (original, twin) => {
      const item = toCase(names.original(original), original);
      if (!item || original.args === undefined || twin.args === undefined) return null;
      const order = orderForTwin(item, terms);
      const wanted = order.kind === "call" ? [...order.args, ...Object.values(order.kwargs)] : [];
      const given = [...twin.args, ...Object.values(twin.kwargs)];
      // One side may omit an argument that the other passes explicitly.
      const count = Math.min(wanted.length, given.length);
      return wanted.slice(0, count).every((value, index) => text(value) === text(given[index] ?? null));
    },
    isAnsweredSame: (original, twin) => {
      const isWritten = ({ value, thrown }: TracedCall) => value !== undefined || thrown !== undefined;
      if (!isWritten(original) || !isWritten(twin)) return null;
      // No probe of Node.js sees the error itself.
      const isUnseen = original.thrown?.kind === "" || twin.thrown?.kind === "";
      if (isUnseen || (original.thrown && twin.thrown))
        return (original.thrown === undefined) === (twin.thrown === undefined);
      return isAgreement(judged(original, twin) ?? undefined);
    },
  };
}

function toCase(section: string | null, { args, kwargs }: TracedCall): CallCase | null {
  if (section === null) return null;
  const at = section.indexOf(".");
  return {
    id: "inner",
    module: section.slice(0, at),
    call: section.slice(at + 1),
    args: [...(args ?? [])],
    kwargs: { ...kwargs },
  };
}

const toAnswer = ({ value, thrown }: TracedCall): PoolAnswer => ({
  result: {
    kind: "call",
    ...(thrown ? { thrown } : { value: value ?? null }),
    args: [],
    kwargs: {},
    printed: "",
  },
  ms: null,
});
