/** Cases that make themselves, and mends that are tried, for the screens. At most one of each at a time per port. */
import { randomBytes } from "node:crypto";
import parseArgs from "string-argv";
import type { DraftView, ExploreView, MendView, SnapshotView } from "@/api/making-views";
import type { DroppedCase } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { draftModule } from "@/service/drafting/draft";
import { dropCases } from "@/service/edits/keep-cases";
import type { ExploreEnd } from "@/service/exploring/explore";
import { generateCases } from "@/service/exploring/generate";
import { recordCases } from "@/service/exploring/record";
import { recordCommands } from "@/service/exploring/record-commands";
import { type FamilyMend, type MendChange, mendPort, takeMend } from "@/service/mending/mend";
import { readCases } from "@/service/port/open-port";
import type { OpenPorts } from "@/service/server/open-ports";
import type { PortNews } from "@/service/server/port-news";
import { canMakeCases } from "@/service/views/case-views";

const MEND_SECONDS = 30;
const MAX_PRINTED = 4000;
/** Mends that were found and may still be taken. */
const MAX_FOUND = 50;

type FoundMend = { readonly id: string; readonly family: FamilyMend; readonly change: MendChange };

/** Recording, generating and mending of the running server. */
export class PortExploring {
  private readonly making = new Map<string, AbortController>();
  private readonly mending = new Set<string>();
  private readonly found = new Map<string, FoundMend>();

  constructor(
    private readonly ports: OpenPorts,
    private readonly news: PortNews,
    private readonly data: string,
  ) {}

  /** Commands that are proposed for recording; none where nothing of the language is recorded. */
  async recordCommands(id: string): Promise<readonly string[]> {
    const { open } = await this.ports.readingOf(id);
    return canMakeCases(open.original.language) ? recordCommands(open) : [];
  }

  /** Throws SideTwinError as `recordCases` does, and `already-running`. */
  async record(
    id: string,
    { command, modules }: { readonly command: string; readonly modules: readonly string[] },
    signal?: AbortSignal,
  ): Promise<ExploreView> {
    const words = parseArgs(command);
    if (words.length === 0)
      throw new SideTwinError({
        code: "bad-input",
        what: "There is no command to run",
        next: "Write one, as in a shell.",
      });
    return this.make(id, async (file) => {
      const { program, ...end } = await recordCases(file, { command: words, modules, signal });
      return { end, program: { ...program, printed: program.printed.slice(-MAX_PRINTED) } };
    });
  }

  /** Throws SideTwinError as `generateCases` does, and `already-running`. */
  async generate(
    id: string,
    options: {
      readonly modules: readonly string[];
      readonly seconds: number;
      readonly seed: number;
      readonly twins: boolean;
    },
    signal?: AbortSignal,
  ): Promise<ExploreView> {
    return this.make(id, async (file, finish) => ({
      end: await generateCases(file, { ...options, signal, finish }),
      program: null,
    }));
  }

  finish(id: string): void {
    this.making.get(id)?.abort();
  }

  async drop(id: string, ids: readonly string[]): Promise<{ dropped: DroppedCase[] }> {
    const dropped = await dropCases((await this.ports.readingOf(id)).open, ids);
    this.changed(id);
    return { dropped };
  }

  /** Drafts what is not ported of a module, with a snapshot. Throws SideTwinError. */
  async draft(
    id: string,
    wanted: { readonly module: string; readonly sections?: string[] | undefined; readonly twin: string },
  ): Promise<DraftView> {
    const { open } = await this.ports.readingOf(id);
    const drafted = await draftModule(open.file, { ...wanted, data: this.data });
    this.changed(id);
    return drafted;
  }

  /** Tries mends for the family of a case. Throws SideTwinError, `already-running` while another is tried. */
  async mend(
    id: string,
    { caseId, twin }: { readonly caseId: string; readonly twin: string },
    signal?: AbortSignal,
  ): Promise<MendView> {
    if (this.mending.has(id)) throw running("Mends are being tried already");
    this.mending.add(id);
    const since = performance.now();
    try {
      const { open, cases } = await this.ports.readingOf(id);
      const module = cases.find((item) => item.id === caseId)?.module;
      const { families, changes } = await mendPort(open.file, {
        twin,
        caseId,
        module,
        seconds: MEND_SECONDS,
        data: this.data,
        signal,
      });
      const at = Math.max(
        0,
        families.findIndex(({ best }) => best !== null),
      );
      const family = families[at];
      const seconds = (performance.now() - since) / 1000;
      if (!family) return { tried: 0, seconds, places: [], why: "the case does not differ any more", best: null };
      const { best, tried, places, why = null } = family;
      const change = changes[at];
      return {
        tried,
        seconds,
        places,
        why,
        best: best && change ? { ...best, token: this.keep({ id, family, change }) } : null,
      };
    } finally {
      this.mending.delete(id);
    }
  }

  /** Writes a mend with a snapshot. Throws SideTwinError where the file changed since, or the mend is not known any more. */
  async take(id: string, token: string): Promise<SnapshotView> {
    const found = this.found.get(token);
    if (!found || found.id !== id)
      throw new SideTwinError({ code: "not-found", what: "This mend is not known any more", next: "Try mends again." });
    const { open } = await this.ports.readingOf(id);
    const snapshot = await takeMend(open, found.family, found.change, this.data);
    this.found.delete(token);
    this.changed(id);
    const record = Snapshots.open(this.data, open.file)
      .list()
      .find((entry) => entry.id === snapshot);
    if (!record) throw new SideTwinError({ code: "internal", what: "The snapshot of the mend was not found" });
    return { ...record, files: record.files.map(({ file }) => file) };
  }

  private keep(found: FoundMend): string {
    const [oldest] = this.found.keys();
    if (oldest !== undefined && this.found.size >= MAX_FOUND) this.found.delete(oldest);
    const token = randomBytes(8).toString("hex");
    this.found.set(token, found);
    return token;
  }

  private async make(
    id: string,
    work: (
      file: string,
      finish: AbortSignal,
    ) => Promise<{ readonly end: ExploreEnd; readonly program: ExploreView["program"] }>,
  ): Promise<ExploreView> {
    if (this.making.has(id)) throw running("Cases of this port are being made already");
    const finish = new AbortController();
    this.making.set(id, finish);
    const since = performance.now();
    try {
      const { open } = await this.ports.readingOf(id);
      const { end, program } = await work(open.file, finish.signal);
      const seconds = (performance.now() - since) / 1000;
      this.changed(id);
      const made = new Set(end.cases);
      const cases = (await readCases(open)).filter((item) => made.has(item.id));
      return { ...end, seconds, cases, program };
    } finally {
      this.making.delete(id);
    }
  }

  private changed(id: string): void {
    this.news.emit(id, { type: "files", paths: [] });
  }
}

const running = (what: string): SideTwinError =>
  new SideTwinError({ code: "already-running", what, next: "Wait for it or stop it." });
