/**
 * The running server's operations: ports and their views (here), edits (`edit`), checks (`runs`), events (`news`) and
 * new ports (`bringIn`). One instance per server; route handlers get it from `currentWorkbench`.
 */
import { createHash } from "node:crypto";
import path from "node:path";
import { filterCases } from "@/api/filter-cases";
import type {
  BaselineView,
  BenchFile,
  BenchView,
  CaseLinesView,
  CasesView,
  CaseView,
  ChangesView,
  FolderView,
  ModuleDetail,
  OrderView,
  PortCard,
  PortListing,
  SearchView,
  SettingsView,
  ShrinkView,
  SurveyView,
  UsesView,
} from "@/api/views";
import type { Draft } from "@/core/bring-in/draft";
import { SideTwinError, toErrorRecord } from "@/core/errors";
import type { SharedCase } from "@/core/formats/case-line";
import { isAgreement } from "@/core/progress/done";
import { packageRoot } from "@/engine/package-root";
import { describeProtections } from "@/engine/sandbox/sandbox";
import { colourSource } from "@/engine/source/parse";
import { BringIn } from "@/service/bring-in/bring-in";
import { FolderBrowser } from "@/service/bring-in/browse-folders";
import { shrinkPortCase } from "@/service/check/shrink-case";
import { exportCases } from "@/service/edits/keep-cases";
import { settingsView } from "@/service/edits/settings";
import { cleanUpPort } from "@/service/port/clean-up";
import type { OpenPort } from "@/service/port/open-port";
import { caseIndex } from "@/service/reading/case-index";
import { PortReader, type ReadModule, stampOf, toStored } from "@/service/reading/reading";
import type { ReadSource } from "@/service/reading/source-reader";
import { FactsCache, type FolderSurvey } from "@/service/reading/survey-folder";
import { Editor, placeIn } from "@/service/server/editor";
import { OpenPorts } from "@/service/server/open-ports";
import { PortEditor } from "@/service/server/port-editor";
import { PortExploring } from "@/service/server/port-exploring";
import { PortLadder } from "@/service/server/port-ladder";
import { PortMaking } from "@/service/server/port-making";
import { PortNews } from "@/service/server/port-news";
import { PortRuns } from "@/service/server/port-runs";
import { linesOfCase } from "@/service/tracing/case-lines";
import { benchView } from "@/service/views/bench-view";
import { answerText } from "@/service/views/case-answer";
import { type PictureWanted, pictureOf } from "@/service/views/case-picture";
import { alignedCase, canMakeCases, caseListings, casesView, caseView, stackOf } from "@/service/views/case-views";
import type { PortFacts } from "@/service/views/port-facts";
import { moduleDetail, moduleViews, orderView, portCard } from "@/service/views/port-views";
import { searchView } from "@/service/views/search-port";
import { surveyView, usesView } from "@/service/views/survey-port";
import { findBaseline } from "@/store/baselines";
import { listMeasures } from "@/store/checks";
import { listEffort, listTouches } from "@/store/effort";
import { listFamilies } from "@/store/families";
import { Store } from "@/store/open";
import { deletePort, findPortByFile, listPorts, type PortRow, savePort, saveReading } from "@/store/ports";

/** Checks in the small line of the list of ports. */
const HISTORY = 60;
const SHRINK_SECONDS = 15;
/** How long a view waits for a survey before it is shown without. */
const SURVEY_WAIT_MS = 500;

/** The running server's operations. */
export class Workbench {
  private readonly ports: OpenPorts;
  readonly news: PortNews;
  readonly runs: PortRuns;
  readonly edit: PortEditor;
  readonly making: PortMaking;
  readonly ladder: PortLadder;
  readonly exploring: PortExploring;
  readonly editor: Editor;
  private readonly shrinking = new Map<string, AbortController>();

  private constructor(
    private readonly store: Store,
    private readonly browser: FolderBrowser,
    /** Looking at what may become a port. */
    readonly bringIn: BringIn,
  ) {
    this.ports = new OpenPorts(store);
    this.news = new PortNews(this.ports, (id, paths) => {
      // A file being written may be unreadable for a moment; the next save or check records it.
      this.runs.filesChanged(id, paths).catch(() => undefined);
    });
    this.runs = new PortRuns(this.ports, this.news);
    this.edit = new PortEditor(this.ports, this.runs, this.news);
    this.making = new PortMaking(this.ports, this.news, store.folder);
    this.ladder = new PortLadder(this.ports, store.folder, this.making);
    this.exploring = new PortExploring(this.ports, this.news, store.folder);
    this.editor = new Editor(store.folder);
  }

  /** Opens the data folder. Throws SideTwinError `folder-in-use`. */
  static async open(options: { readonly data: string; readonly browse: string }): Promise<Workbench> {
    const store = await Store.open(options.data, path.join(packageRoot(), "src/store/migrations"));
    for (const { file } of await listPorts(store)) await cleanUpPort(file);
    const browser = new FolderBrowser(options.browse);
    return new Workbench(store, browser, await BringIn.open(options.data, browser));
  }

  async close(): Promise<void> {
    await this.news.close();
    await this.runs.close();
    this.ladder.close();
    await this.store.close();
  }

  // Ports

  async listPorts(): Promise<PortListing[]> {
    const rows = await listPorts(this.store);
    return Promise.all(
      rows.map(async (row): Promise<PortListing> => {
        try {
          return await this.listing(row);
        } catch (thrown) {
          // A port whose folder was moved or whose file is broken stays listed, with the reason.
          return { id: row.id, name: row.name, file: row.file, problem: toErrorRecord(thrown) };
        }
      }),
    );
  }

  private async listing(row: PortRow): Promise<PortListing> {
    const facts = await this.ports.facts(row);
    const [, ...rest] = facts.reading.open.twins;
    const others = await Promise.all(rest.map(({ name }) => this.ports.facts(row, name)));
    const points = await listEffort(this.store, row.id, facts.twin, HISTORY);
    const seen = (await findBaseline(this.store, row.id))?.baseline;
    return {
      ...portCard(facts, moduleViews(facts)),
      history: points.flatMap(({ at, lines, provenLines }) =>
        lines && provenLines !== null ? [{ at, proven: provenLines / lines }] : [],
      ),
      others: others.map((other) => portCard(other, moduleViews(other))),
      baseline: seen
        ? { state: seen.state, cases: seen.cases, unsteady: seen.unsteadyCount, broken: seen.brokenCount }
        : null,
    };
  }

  /**
   * Adds a port by its file or folder, or finds it again. `survey` holds facts of its original that are known already.
   * Throws SideTwinError.
   */
  async addPort(file: string, survey = new FactsCache()): Promise<{ id: string }> {
    const reader = new PortReader(survey);
    const reading = await reader.read(file);
    const known = await findPortByFile(this.store, reading.open.file);
    if (known) return { id: known.id };
    const id = createHash("sha256").update(reading.open.file).digest("hex").slice(0, 10);
    await savePort(this.store, { id, file: reading.open.file, name: reading.open.port.name, addedAt: new Date() });
    await saveReading(this.store, id, toStored(reading));
    this.ports.adopt(id, reader, survey);
    await this.runs.remember(id);
    return { id };
  }

  /** Throws SideTwinError `not-found` where the port is not listed. */
  async mustHave(id: string): Promise<void> {
    await this.ports.row(id);
  }

  /** Takes a port off the list; its folders stay as they are. */
  async removePort(id: string): Promise<void> {
    this.runs.stop(id);
    await this.news.unwatch(id);
    this.ports.forget(id);
    await deletePort(this.store, id);
  }

  async settings(id: string): Promise<SettingsView> {
    return settingsView((await this.ports.readingOf(id)).open);
  }

  /** Opens a place in the person's editor. Throws SideTwinError, `outside-folder` for a file that is not of the side. */
  async openPlace(id: string, place: { side: string | null; file: string; line: number }): Promise<void> {
    const { open } = await this.ports.readingOf(id);
    await this.editor.open(await placeIn(open, place), place.line);
  }

  browseFolder(folder: string | null): Promise<FolderView> {
    return this.browser.list(folder);
  }

  /** Adds the port of a folder that was reached by browsing. */
  async addBrowsed(folder: string): Promise<{ id: string }> {
    return this.addPort(await this.browser.confine(folder));
  }

  /** Keeps a port that was looked at, and lists it. Throws SideTwinError. */
  async keepDraft(token: string, draft: Draft): Promise<{ id: string }> {
    const { file, survey } = await this.bringIn.keep(token, draft);
    return this.addPort(file, survey);
  }

  // Views

  async card(id: string, twin?: string): Promise<PortCard> {
    const facts = await this.ports.factsOf(id, twin);
    return portCard(facts, moduleViews(facts));
  }

  async baseline(id: string): Promise<BaselineView> {
    const row = await this.ports.row(id);
    const [{ open, cases }, last] = await Promise.all([this.ports.read(row), findBaseline(this.store, id)]);
    const { language, run = null } = open.original;
    const stamp = stampOf(await this.ports.read(row), null, "");
    return {
      port: { id, name: open.port.name },
      language,
      run,
      cases: cases.length,
      canMake: canMakeCases(language),
      isRunning: this.runs.isRunning(id),
      last: last && {
        ...last.baseline,
        startedAt: last.startedAt.toISOString(),
        total: last.seconds,
        isStale: last.stamp !== stamp,
      },
    };
  }

  async order(id: string, twin?: string): Promise<OrderView> {
    const facts = await this.ports.factsOf(id, twin);
    const [survey, touches, history] = await Promise.all([
      this.surveySoon(id, facts.reading.open),
      listTouches(this.store, id, facts.twin),
      listEffort(this.store, id, facts.twin),
    ]);
    const protections = describeProtections(facts.reading.open.port.limits);
    return orderView(facts, { protections, survey, touches, history });
  }

  async module(id: string, module: string, twin?: string): Promise<ModuleDetail> {
    const facts = await this.ports.factsOf(id, twin);
    const measures = await listMeasures(this.store, id, module, facts.twin);
    return moduleDetail(facts, findModule(facts, module), measures);
  }

  async bench(id: string, module: string, twin?: string): Promise<BenchView> {
    const facts = await this.ports.factsOf(id, twin);
    const found = findModule(facts, module);
    const colours: [ReadSource, BenchFile["spans"]][] = [];
    for (const source of [...found.originalSources, ...(found.twinSources[facts.twin] ?? [])])
      colours.push([source, await coloursOf(source)]);
    return benchView(facts, found, new Map(colours));
  }

  async case(id: string, caseId: string, twin?: string): Promise<CaseView> {
    const facts = await this.ports.factsOf(id, twin);
    const item = mustFind(facts, caseId);
    const [kept, families] = await Promise.all([
      (await this.store.verdicts(id)).find(facts.twin, caseId),
      listFamilies(this.store, id),
    ]);
    return caseView(facts, item, kept, {
      families,
      aligned: await alignedCase(facts, item, kept),
      stack: await stackOf(facts, kept),
    });
  }

  /** The lines that a case runs on both sides. Throws SideTwinError. */
  async caseLines(id: string, caseId: string, twin: string, signal?: AbortSignal): Promise<CaseLinesView> {
    const facts = await this.ports.factsOf(id, twin);
    const item = mustFind(facts, caseId);
    const { verdictOf } = caseIndex(facts);
    const agreeing = facts.reading.cases.filter(
      (one) => one.module === item.module && isAgreement(verdictOf.get(one.id)?.outcome),
    );
    return linesOfCase(facts.reading.open, item, { twin, agreeing, ...(signal ? { signal } : {}) });
  }

  async cases(id: string, twin?: string): Promise<CasesView> {
    const facts = await this.ports.factsOf(id, twin);
    return casesView(facts, await listFamilies(this.store, id));
  }

  async survey(id: string, twin?: string): Promise<SurveyView> {
    const facts = await this.ports.factsOf(id, twin);
    return surveyView(facts, await this.ports.surveyOf(id, facts.reading.open));
  }

  /** The places behind a count of the survey. */
  async search(id: string, words: string, twin?: string): Promise<SearchView> {
    return searchView(await this.ports.factsOf(id, twin), words);
  }

  async uses(id: string, name: string): Promise<UsesView> {
    const { open } = await this.ports.readingOf(id);
    return usesView(open, await this.ports.surveyOf(id, open), name);
  }

  /** Commits that changed a drifted section. Throws SideTwinError. */
  async changes(id: string, wanted: { module: string; section: string; twin: string }): Promise<ChangesView> {
    return this.ports.drift.changes(await this.ports.factsOf(id, wanted.twin), wanted);
  }

  /** The picture of where two pictures that a case wrote differ, or one of both, as PNG. Throws SideTwinError. */
  async picture(id: string, wanted: PictureWanted): Promise<Uint8Array> {
    const kept = await (await this.store.verdicts(id)).find(wanted.twin, wanted.caseId);
    return pictureOf(kept, wanted);
  }

  /** The answer of one side to a case, whole: a text as it is, anything else as JSON. Throws SideTwinError `not-found`. */
  async answer(
    id: string,
    { caseId, twin, side }: { caseId: string; twin: string; side: "original" | "twin" },
  ): Promise<string> {
    return answerText(await (await this.store.verdicts(id)).find(twin, caseId), { caseId, side });
  }

  /** The cases that some words ask for, as JSON Lines. */
  async exportCases(id: string, words: string, twin?: string): Promise<string> {
    const facts = await this.ports.factsOf(id, twin);
    const wanted = new Set(filterCases(caseListings(facts), words).map((item) => item.id));
    return exportCases(facts.reading.cases.filter((item) => wanted.has(item.id)));
  }

  /** Returns the survey if it is ready soon; otherwise null, with an event when it is ready. */
  private async surveySoon(id: string, open: OpenPort): Promise<FolderSurvey | null> {
    const reading = this.ports.surveyOf(id, open);
    const soon = await Promise.race([
      reading,
      new Promise<null>((resolve) => setTimeout(resolve, SURVEY_WAIT_MS, null)),
    ]);
    if (soon === null) {
      reading.then(
        () => this.news.emit(id, { type: "files", paths: [] }),
        // Requests for the survey itself report its error.
        () => undefined,
      );
    }
    return soon;
  }

  // Shrinking

  /** Makes the input of a case smaller; the port's files stay as they are. Throws SideTwinError. */
  async shrink(id: string, wanted: { caseId: string; twin?: string }, signal?: AbortSignal): Promise<ShrinkView> {
    const stopper = new AbortController();
    const stop = () => stopper.abort();
    signal?.addEventListener("abort", stop, { once: true });
    // Before the port is read: a stop that comes meanwhile must not be lost.
    this.shrinking.set(id, stopper);
    try {
      const { open, cases } = await this.ports.readingOf(id);
      return await shrinkPortCase(open, cases, { ...wanted, seconds: SHRINK_SECONDS, signal: stopper.signal });
    } finally {
      signal?.removeEventListener("abort", stop);
      if (this.shrinking.get(id) === stopper) this.shrinking.delete(id);
    }
  }

  /** Ends a running search; its request returns the smallest input found. */
  stopShrinking(id: string): void {
    this.shrinking.get(id)?.abort();
  }
}

const coloured = new WeakMap<ReadSource, Promise<BenchFile["spans"]>>();

/** Computed on first use of a source, then cached. */
function coloursOf(source: ReadSource): Promise<BenchFile["spans"]> {
  const known = coloured.get(source) ?? colourSource(source.lines, source.language);
  coloured.set(source, known);
  return known;
}

function mustFind({ reading }: PortFacts, caseId: string): SharedCase {
  const item = reading.cases.find((entry) => entry.id === caseId);
  if (item) return item;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no case "${caseId}"`,
    next: "It may have been removed from its file.",
  });
}

function findModule(facts: PortFacts, module: string): ReadModule {
  const found = facts.reading.modules.find((entry) => entry.name === module);
  if (found) return found;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no module "${module}" in ${facts.reading.open.port.name}`,
    next: "Choose one in Order.",
  });
}
