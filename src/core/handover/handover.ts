/** The hand-over of a port: its state with the evidence, decisions, and remaining work (formats, section 15). */
import type { Report, Totals } from "@/core/formats/report";
import type { JournalEntry } from "@/core/journal/journal";
import type { RungState } from "@/core/ladder/ladder";

export type HandoverModule = {
  readonly name: string;
  /** `left-out` carries `why`. */
  readonly state: "left-out" | "not-ported" | "under-way" | "agrees" | "proven";
  readonly why: string | null;
  readonly totals: Totals;
  readonly lines: number;
  readonly provenLines: number | null;
};

export type HandoverTwin = {
  readonly name: string;
  readonly language: string;
  readonly modules: readonly HandoverModule[];
  readonly rungs: readonly (Pick<RungState, "name" | "reached" | "unmet"> & {
    readonly gain: string | null;
    readonly isGoal: boolean;
  })[];
  /** Mentions of the old way; null without a phrasebook. */
  readonly leftovers: number | null;
};

export type Handover = {
  readonly format: "side-twin/handover";
  readonly version: 1;
  readonly port: string;
  readonly at: string;
  /** Changes are those after this time; null lists all. */
  readonly since: string | null;
  readonly original: string;
  readonly totals: Totals;
  readonly twins: readonly HandoverTwin[];
  readonly allowances: readonly { readonly id: string; readonly reason: string; readonly used: number }[];
  readonly decisions: readonly JournalEntry[];
  /** Assumptions that are still open. */
  readonly assumptions: readonly JournalEntry[];
  readonly figures: NonNullable<Report["figures"]>;
  /** Entries of the journal after `since`, the newest first. */
  readonly changes: readonly JournalEntry[];
};

/** Totals of a module's cases and lines. */
export function stateOf(
  module: { readonly totals: Totals; readonly lines: number; readonly provenLines: number | null },
  leftOut: boolean,
): HandoverModule["state"] {
  if (leftOut) return "left-out";
  const { cases, agree, allowed, skipped } = module.totals;
  if (cases === 0 || skipped === cases) return "not-ported";
  if (agree + allowed < cases) return "under-way";
  return module.provenLines !== null && module.provenLines >= module.lines ? "proven" : "agrees";
}

/** The part of a journal that is handed over. `since` is an ISO time. Entries come the newest first. */
export function journalParts(
  entries: readonly JournalEntry[],
  since: string | null,
): Pick<Handover, "decisions" | "assumptions" | "changes"> {
  const newest = [...entries].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
  return {
    decisions: newest.filter(({ kind }) => kind === "decision"),
    assumptions: newest.filter(({ kind, holds = "open" }) => kind === "assumption" && holds === "open"),
    changes: newest.filter(({ at }) => since === null || at > since),
  };
}
