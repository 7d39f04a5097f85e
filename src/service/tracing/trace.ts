/** Where two sides first part: one case on both, with the calls of all paired sections laid level (formats, section 21). */
import { freeId } from "@/core/cases/free-id";
import { orderForOriginal, orderForTwin, type TwinTerms, twinTerms } from "@/core/cases/hand-over";
import { SideTwinError } from "@/core/errors";
import { type CallCase, isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import { isAgreement } from "@/core/progress/done";
import type { TracedCall } from "@/core/tracing/call-tree";
import { findInner, flatten, type LevelCall, type LevelState, type LevelTerms, layLevel } from "@/core/tracing/level";
import { canonicalText } from "@/core/values/canonical";
import { withDefaults } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { Prober } from "@/service/check/prober";
import { selectCases } from "@/service/check/select-cases";
import { judge } from "@/service/check/verdict";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";
import { type PairedModule, pairPort } from "@/service/reading/pair-port";
import { observeCase } from "@/service/tracing/observe";

export type TraceOptions = {
  readonly caseId: string;
  readonly twin?: string | undefined;
  readonly signal?: AbortSignal | undefined;
};

/** A call as the command line prints it. `line` is where the original's section begins. */
export type TraceCall = {
  readonly section: string;
  readonly depth: number;
  readonly state: LevelState;
  readonly args: readonly Json[] | null;
  readonly original: Json | null;
  readonly twin: Json | null;
  readonly line: number | null;
};

/** The end of a trace; `inner` is null where no call parts. */
export type TraceEnd = {
  readonly case: string;
  readonly calls: readonly TraceCall[];
  readonly inner: {
    readonly section: string;
    readonly why: string;
    /** A shared case that shows it by itself; it was run. */
    readonly case?: SharedCase;
    readonly divergences: readonly Divergence[];
  } | null;
};

/** Throws SideTwinError: `not-found` for the case or twin, `toolchain-missing` where a side is not observed. */
export async function traceCase(file: string, { caseId, twin: wanted, signal }: TraceOptions): Promise<TraceEnd> {
  const open = await openPort(file);
  const all = await readCases(open);
  const { cases, twins } = selectCases(open, all, { caseId, ...(wanted === undefined ? {} : { twin: wanted }) });
  const [item] = cases;
  const [twin] = twins;
  if (!item || !twin) throw new SideTwinError({ code: "not-found", what: `There is no case "${caseId}"` });
  const { modules } = await pairPort(file, twin.name);
  const names = new SectionNames(modules);
  const terms = names.terms(open, twin.name);
  const original = await observeCase(item, {
    open,
    side: open.original,
    name: "original",
    files: modules.flatMap((module) => module.original),
    filesOf: (module) => module.original,
    order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
    signal,
  });
  const other = await observeCase(item, {
    open,
    side: twin,
    name: twin.name,
    files: modules.flatMap((module) => module.twin),
    filesOf: (module) => module.twins[twin.name] ?? [],
    order: (one) => (isRunCase(one) ? null : orderForTwin(one, terms)),
    signal,
  });
  const level = layLevel(original, other, levelTerms(open, names, terms));
  return {
    case: caseId,
    calls: flatten(level).map(({ call, depth }) => toTraceCall(call, depth, names)),
    inner: await innerOf(open, twin, { level, all, terms, signal }),
  };
}

/** The names of both sides' sections, and which belong together. */
class SectionNames {
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
  const equality = withDefaults(open.port.equality ?? {});
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
      // What one side leaves to its default, the other may write out.
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

function toTraceCall({ section, original, twin, state }: LevelCall, depth: number, names: SectionNames): TraceCall {
  const answer = (call: TracedCall | null): Json | null => {
    if (call?.thrown) return { thrown: { kind: call.thrown.kind, message: call.thrown.message } };
    return call?.value ?? null;
  };
  return {
    section,
    depth,
    state,
    args: (original ?? twin)?.args ?? null,
    original: answer(original),
    twin: answer(twin),
    line: names.line(section),
  };
}

async function innerOf(
  open: OpenPort,
  twin: OpenPort["twins"][number],
  of: {
    readonly level: readonly LevelCall[];
    readonly all: readonly SharedCase[];
    readonly terms: TwinTerms;
    readonly signal: AbortSignal | undefined;
  },
): Promise<TraceEnd["inner"]> {
  const inner = findInner(of.level);
  if (!inner) return null;
  const { call, why } = inner;
  const found = { section: call.section, why, divergences: [] };
  const given = call.original ?? call.twin;
  if (!call.original || !given || given.args === undefined || given.kind !== "call") return found;
  const plain = toCase(call.section, call.original);
  if (!plain) return found;
  const id = freeId(`${plain.module}-${plain.call}-inner`, new Set(of.all.map((item) => item.id)));
  const item: CallCase = { ...plain, id, from: "recorded" };
  const prober = new Prober(open, twin, of.signal);
  try {
    const { verdict } = await prober.probe(item);
    if (verdict.outcome !== "differ")
      return call.twin ? { ...found, why: `${why}; state outside its arguments is at work` } : found;
    const { kwargs, ...rest } = item;
    return {
      ...found,
      case: { ...rest, ...(Object.keys(kwargs).length > 0 ? { kwargs } : {}) } as CallCase,
      divergences: verdict.divergences,
    }; // kwargs may be left out in a file
  } finally {
    prober.close();
  }
}
