/** The ladder of a port's twins: runs its checks and works out which rungs are reached. */

import type { CountsView, LadderView } from "@/api/making-views";
import { isComplaint } from "@/core/diagnostics/diagnostic";
import { READERS } from "@/core/diagnostics/readers/index";
import { SideTwinError } from "@/core/errors";
import type { PortFile } from "@/core/formats/port-file";
import { climb, type LadderFacts, type PlacedDiagnostic, type RungState } from "@/core/ladder/ladder";
import { isLatent } from "@/core/ladder/latent";
import { rungsSince } from "@/core/progress/progress-points";
import { WarmTools } from "@/engine/warm/warm-tools";
import { enterDeed } from "@/service/journal/journal-file";
import { runCommandsAndTests } from "@/service/ladder/climb-ladder";
import { diagnosePort } from "@/service/ladder/diagnose";
import type { OpenPorts } from "@/service/server/open-ports";
import type { PortFacts } from "@/service/views/port-facts";
import { moduleViews } from "@/service/views/port-views";
import { type ComplaintPoint, listComplaints, saveComplaints } from "@/store/complaints";

type Diagnosed = {
  readonly at: string;
  readonly seconds: number;
  readonly list: readonly (PlacedDiagnostic & { readonly rung: string })[];
  /** The reading of the port at that time; it is replaced when files change. */
  readonly reading: WeakRef<object>;
  readonly byRung: LadderFacts["diagnostics"];
  readonly rest: Pick<LadderFacts, "commands" | "tests">;
};

/** One per server. */
export class PortLadder {
  /** Port and twin → the last two runs of the checks, the newest first. */
  private readonly diagnosed = new Map<string, readonly Diagnosed[]>();
  private readonly building = new Set<string>();

  private readonly warm = new WarmTools();

  constructor(
    private readonly ports: OpenPorts,
    private readonly data: string,
    private readonly phrases: {
      /** Mentions of the old way by module; null where the phrasebook cannot be run. */
      readonly leftoversOf: (facts: PortFacts) => Promise<LadderFacts["leftovers"]>;
      /** Modules that have both the old way and the new. */
      readonly mixedIn: (facts: PortFacts) => Promise<readonly string[]>;
    },
  ) {}

  close(): void {
    this.warm.close();
  }

  /** The ladder from what is known now; nothing is run. */
  async ladder(id: string, twin?: string): Promise<LadderView> {
    const facts = await this.ports.factsOf(id, twin);
    const { port } = facts.reading.open;
    const [last, before] = this.diagnosed.get(`${id}\0${facts.twin}`) ?? [];
    const known = (list: readonly PlacedDiagnostic[] | undefined) => new Set((list ?? []).map(keyOf));
    const [now, then] = [known(last?.list), known(before?.list)];
    const latent = latentIn(facts);
    return {
      rungs: (await this.states(facts)).map((state) => ({
        ...state,
        gain: port.ladder.find(({ name }) => name === state.name)?.gain ?? null,
      })),
      goal: port.stopAt ?? port.ladder.at(-1)?.name ?? null,
      diagnosed: last ? { at: last.at, seconds: last.seconds, isStale: last.reading.deref() !== facts.reading } : null,
      diagnostics: (last?.list ?? []).map((entry) => ({
        ...entry,
        isNew: before !== undefined && !then.has(keyOf(entry)),
        isLatent: latent(entry),
      })),
      gone: unique(before?.list ?? []).filter((entry) => !now.has(keyOf(entry))),
      history: await listComplaints(this.ports.store, id, facts.twin),
      fresh: before ? [...now].filter((key) => !then.has(key)).length : 0,
    };
  }

  /**
   * Runs the checks, commands and tests of the rungs on a twin; stopped, it leaves what was known before. Throws
   * SideTwinError, `already-running` while another asks for the same.
   */
  async diagnose(id: string, twin: string, signal?: AbortSignal): Promise<LadderView> {
    const key = `${id}\0${twin}`;
    if (this.building.has(key))
      throw new SideTwinError({
        code: "already-running",
        what: "The checks of the ladder are running already",
        next: "Wait for them, or stop them where they were started.",
      });
    this.building.add(key);
    try {
      const made = await this.runChecks(id, twin, signal);
      if (!signal?.aborted) {
        this.diagnosed.set(key, [made, ...(this.diagnosed.get(key) ?? [])].slice(0, 2));
        const { port } = (await this.ports.readingOf(id)).open;
        const found = unique(upToGoal(port, made.list));
        const count = (severity: string) => found.filter((entry) => entry.severity === severity).length;
        const counts = { errors: count("error"), warnings: count("warning") };
        await this.note(id, twin, { at: made.at, ...counts });
      }
    } finally {
      this.building.delete(key);
    }
    return this.ladder(id, twin);
  }

  private async states(facts: PortFacts): Promise<RungState[]> {
    const [last] = this.diagnosed.get(`${facts.row.id}\0${facts.twin}`) ?? [];
    return climb(facts.reading.open.port.ladder, facts.twin, await this.ladderFacts(facts, last));
  }

  /** Counts the remaining work. Runs no check; updates the places of the phrasebook where files changed. */
  async counts(id: string, twin?: string): Promise<CountsView> {
    const facts = await this.ports.factsOf(id, twin);
    const { port } = facts.reading.open;
    const last = this.diagnosed.get(`${id}\0${facts.twin}`)?.[0];
    const leftovers = await this.phrases.leftoversOf(facts);
    return {
      complaints: last ? unique(upToGoal(port, last.list)).filter(isComplaint).length : null,
      leftovers: leftovers && [...leftovers.values()].reduce((sum, count) => sum + count, 0),
      mixed: await this.phrases.mixedIn(facts),
    };
  }

  /** Keeps the counts of a run with the rungs reached, and enters into the journal which came or went. */
  private async note(id: string, twin: string, counts: Omit<ComplaintPoint, "reached">): Promise<void> {
    const { store } = this.ports;
    const facts = await this.ports.factsOf(id, twin);
    const reached = (await this.states(facts)).filter((rung) => rung.reached).map(({ name }) => name);
    const [before] = await listComplaints(store, id, twin, 1);
    await saveComplaints(store, id, twin, { ...counts, reached });
    const { folder } = facts.reading.open;
    const changes = rungsSince(before?.reached ?? null, reached);
    const enter = (name: string, words: string) =>
      enterDeed(folder, { kind: "rung", by: "side-twin", text: `The rung ${name} ${words} on ${twin}.` });
    for (const name of changes.reached) await enter(name, "is reached");
    for (const name of changes.lost) await enter(name, "is not reached any more");
  }

  private async runChecks(id: string, twin: string, signal: AbortSignal | undefined): Promise<Diagnosed> {
    const reading = await this.ports.readingOf(id);
    const { open } = reading;
    const from = performance.now();
    const rungs = open.port.ladder.filter((rung) => rung.twin === undefined || rung.twin === twin);
    const runs = rungs.some(({ check }) => check)
      ? await diagnosePort(open, { side: twin, signal, warm: this.warm })
      : [];
    const rest = await runCommandsAndTests(open, twin, rungs, { data: this.data, signal });
    return {
      at: new Date().toISOString(),
      seconds: (performance.now() - from) / 1000,
      list: runs.flatMap(({ rung, diagnostics }) => diagnostics.map((entry) => ({ ...entry, rung }))),
      reading: new WeakRef(reading),
      byRung: new Map(runs.map(({ rung, diagnostics }) => [rung, diagnostics])),
      rest,
    };
  }

  private async ladderFacts(facts: PortFacts, last: Diagnosed | undefined): Promise<LadderFacts> {
    const { open, cases } = facts.reading;
    const outcomes = new Map(facts.verdicts.filter(({ twin }) => twin === facts.twin).map((row) => [row.caseId, row]));
    const modules = moduleViews(facts);
    const asks = (key: "leftovers" | "tests") => open.port.ladder.some((rung) => rung[key] !== undefined);
    return {
      modules: open.modules.filter(({ leftOut }) => leftOut === undefined).map(({ name }) => name),
      diagnostics: last?.byRung ?? new Map(),
      cases:
        outcomes.size === 0
          ? null
          : cases.map((item) => ({
              module: item.module ?? null,
              outcome: outcomes.get(item.id)?.outcome ?? "skipped",
            })),
      lines: modules.some(({ provenLines }) => provenLines !== null)
        ? new Map(modules.map(({ name, lines, provenLines }) => [name, { lines, proven: provenLines ?? 0 }]))
        : null,
      leftovers: asks("leftovers") ? await this.phrases.leftoversOf(facts) : null,
      tests: last?.rest.tests ?? null,
      commands: last?.rest.commands ?? new Map(),
    };
  }
}

const keyOf = ({ file, line, code, message }: PlacedDiagnostic): string => JSON.stringify([file, line, code, message]);

/** Each once: several rungs may have the same. A line may have the same complaint twice, at other columns. */
const unique = (list: readonly PlacedDiagnostic[]): PlacedDiagnostic[] => [
  ...new Map(list.map((entry) => [`${entry.column} ${keyOf(entry)}`, entry])).values(),
];

/** Those of the rungs up to the one where the port means to stop. */
function upToGoal<Entry extends { readonly rung: string }>(port: PortFile, list: readonly Entry[]): Entry[] {
  const names = port.ladder.map(({ name }) => name);
  const goal = port.stopAt === undefined ? names.length : names.indexOf(port.stopAt);
  return list.filter(({ rung }) => goal < 0 || names.indexOf(rung) <= goal);
}

/** Separates a twin's latent finds from complaints about new code. */
function latentIn({ reading, twin }: PortFacts): (entry: PlacedDiagnostic & { readonly rung: string }) => boolean {
  const { ladder } = reading.open.port;
  const modules = new Map(reading.modules.map((module) => [module.name, module]));
  const originals = new Map<string, ReadonlySet<string>>();
  return (entry) => {
    const module = modules.get(entry.module ?? "");
    if (!module || entry.line === null) return false;
    const lines =
      originals.get(module.name) ??
      new Set(module.originalSources.flatMap((source) => source.lines.map((line) => line.trim())));
    originals.set(module.name, lines);
    const own = module.twinSources[twin]?.find(({ file }) => file === entry.file)?.lines[entry.line - 1];
    const reads = ladder.find(({ name }) => name === entry.rung)?.check?.reads;
    return isLatent(
      entry,
      own,
      lines,
      READERS.find(({ name }) => name === reads),
    );
  };
}
