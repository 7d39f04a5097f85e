/** Where two sides first part: one case on both, with the calls of all paired sections laid level (formats, section 21). */
import { SideTwinError } from "@/core/errors";
import type { CallCase, SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import type { TracedCall } from "@/core/tracing/call-tree";
import { flatten, type LevelCall, type LevelState } from "@/core/tracing/level";
import { selectCases } from "@/service/check/select-cases";
import { openPort, readCases } from "@/service/port/open-port";
import { type Parting, type SectionNames, Tracer } from "@/service/tracing/tracer";

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
  const tracer = await Tracer.open(open, twin, { all, signal });
  try {
    const level = (await tracer.level([item])).get(item.id) ?? [];
    const parting = await tracer.parting(level);
    return {
      case: caseId,
      calls: flatten(level).map(({ call, depth }) => toTraceCall(call, depth, tracer.names)),
      inner: parting && toInner(parting),
    };
  } finally {
    tracer.close();
  }
}

const toInner = ({ section, why, alone }: Parting): TraceEnd["inner"] => ({
  section,
  why,
  ...(alone ? { case: toLine(alone.item) } : {}),
  divergences: alone?.judged.verdict.divergences ?? [],
});

/** A case as it is written down: without arguments by name where there are none. */
export function toLine(item: CallCase): CallCase {
  const { kwargs, ...rest } = item;
  return { ...rest, ...(Object.keys(kwargs).length > 0 ? { kwargs } : {}) } as CallCase; // kwargs may be left out in a file
}

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
