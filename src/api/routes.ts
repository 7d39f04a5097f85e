/** Every route of the server, once: route handlers serve these records (`handle`) and screens ask by them (`ask`). */
import { z } from "zod";
import type { EffectView, FoundView, RevisionsView } from "@/api/bring-in-views";
import type {
  AppliedView,
  CountsView,
  DraftView,
  ExploreView,
  HarmView,
  JournalView,
  LadderView,
  MendView,
  PhrasebookView,
  ProposalView,
  SnapshotView,
  SourceSavedView,
  SourceView,
  TrialView,
} from "@/api/making-views";
import { answers, NOTHING } from "@/api/route";
import type {
  BaselineView,
  BenchView,
  CaseLinesView,
  CasesView,
  CaseView,
  ChangesView,
  DroppedCase,
  EditorView,
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
import { type Draft, draftSchema } from "@/core/bring-in/draft";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { WAYS } from "@/core/formats/ways";

/** The answer of an act that has nothing to show. */
// biome-ignore lint/suspicious/noConfusingVoidType: it is the type of what a handler returns
type Done = void;

/** Some hundred thousand cases; reading more in one go would hold up every other page. */
const MAX_IMPORT_BYTES = 16 * 1024 * 1024;

/** The twin that a view is for; the port's first one where it is left out. */
const ofTwin = z.object({ twin: z.string().optional() });
const ofModule = ofTwin.extend({ module: z.string() });
const ofSection = z.strictObject({ module: z.string(), section: z.string(), twin: z.string() });
const ofCase = z.strictObject({ caseId: z.string(), twin: z.string() });
const ofDraft = z.strictObject({ token: z.string(), draft: draftSchema });
const atFolder = z.object({ folder: z.string().optional() });

const PORT = {
  settings: answers<SettingsView>()("GET", "ports/:id/settings", NOTHING),
  /** An empty text takes the setting out of the port file. */
  changeSetting: answers<Done>()(
    "PUT",
    "ports/:id/settings",
    z.strictObject({ path: z.array(z.union([z.string(), z.number().int()])).min(1), text: z.string().max(100_000) }),
  ),
  /** Opens a place in the person's editor. `side`: `original`, a twin's name, or null for files beside the port file. */
  openPlace: answers<Done>()(
    "POST",
    "ports/:id/open",
    z.strictObject({ side: z.string().nullable(), file: z.string(), line: z.number().int().positive() }),
  ),
  remove: answers<Done>()("DELETE", "ports/:id", NOTHING),
  card: answers<PortCard>()("GET", "ports/:id/card", ofTwin),
  order: answers<OrderView>()("GET", "ports/:id/order", ofTwin),
  module: answers<ModuleDetail>()("GET", "ports/:id/module", ofModule),
  pin: answers<Done>()("POST", "ports/:id/pin", z.strictObject({ module: z.string(), pinned: z.boolean() })),
  leaveOut: answers<Done>()(
    "POST",
    "ports/:id/leave-out",
    z.strictObject({ module: z.string(), reason: z.string().max(2000).nullable() }),
  ),
  bench: answers<BenchView>()("GET", "ports/:id/bench", ofModule),
  pair: answers<Done>()(
    "POST",
    "ports/:id/pair",
    z
      .strictObject({
        module: z.string(),
        on: z.string(),
        original: z.string().min(1).nullable(),
        twin: z.string().min(1).nullable(),
        note: z.string().max(2000),
        forget: z.boolean().optional(),
      })
      .refine(({ original, twin }) => original !== null || twin !== null),
  ),
  handCallback: answers<Done>()("POST", "ports/:id/callback", ofSection.extend({ isHanded: z.boolean() })),
  changes: answers<ChangesView>()("GET", "ports/:id/drift", ofSection),
  follow: answers<Done>()("POST", "ports/:id/drift", ofSection),
  survey: answers<SurveyView>()("GET", "ports/:id/survey", ofTwin),
  uses: answers<UsesView>()("GET", "ports/:id/survey/uses", z.object({ name: z.string() })),
  search: answers<SearchView>()(
    "GET",
    "ports/:id/search",
    z.object({ words: z.string().min(1).max(200), twin: z.string().optional() }),
  ),
  decideWay: answers<Done>()(
    "POST",
    "ports/:id/survey",
    z.strictObject({ name: z.string(), way: z.enum(WAYS).nullable(), note: z.string() }),
  ),
  addSnag: answers<Done>()("PUT", "ports/:id/survey", z.strictObject({ name: z.string(), match: z.string() })),
  /** Takes a platform-bound item of the person's own out again. */
  removeSnag: answers<Done>()("DELETE", "ports/:id/survey", z.strictObject({ name: z.string() })),
  baseline: answers<BaselineView>()("GET", "ports/:id/baseline", NOTHING),
  startBaseline: answers<Done>()("POST", "ports/:id/baseline", NOTHING),
  startCheck: answers<Done>()(
    "POST",
    "ports/:id/check",
    z.strictObject({
      module: z.string().optional(),
      twin: z.string().optional(),
      caseId: z.string().optional(),
      /** Runs every case, even if its answer is cached. */
      fresh: z.boolean().optional(),
      /** The name of an interrupted check that is resumed. */
      resume: z.string().max(100).optional(),
      /** Waits a while for a check that runs, instead of being refused. */
      patient: z.boolean().optional(),
    }),
  ),
  stopCheck: answers<Done>()("DELETE", "ports/:id/check", NOTHING),
};

const CASES = {
  cases: answers<CasesView>()("GET", "ports/:id/cases", ofTwin),
  addCase: answers<{ file: string }>()("POST", "ports/:id/cases", z.strictObject({ case: sharedCaseSchema })),
  /** Writes another case in the place of one. */
  editCase: answers<{ file: string }>()(
    "PUT",
    "ports/:id/cases",
    z.strictObject({ id: z.string(), case: sharedCaseSchema }),
  ),
  dropCases: answers<{ dropped: DroppedCase[] }>()(
    "POST",
    "ports/:id/cases/drop",
    z.strictObject({ ids: z.array(z.string()).min(1) }),
  ),
  /** Puts dropped cases back where they were. */
  restoreCases: answers<Done>()(
    "POST",
    "ports/:id/cases/restore",
    z.strictObject({
      dropped: z.array(z.strictObject({ file: z.string(), at: z.number().int().nonnegative(), line: z.string() })),
    }),
    MAX_IMPORT_BYTES,
  ),
  /** `unknown` are the functions that no section of the original is named after: `module.function`. */
  importCases: answers<{ file: string; ids: string[]; unknown: string[] }>()(
    "POST",
    "ports/:id/cases/import",
    z.strictObject({ text: z.string() }),
    MAX_IMPORT_BYTES,
  ),
  case: answers<CaseView>()("GET", "ports/:id/case", ofTwin.extend({ case: z.string() })),
  caseLines: answers<CaseLinesView>()("GET", "ports/:id/case/lines", z.object({ case: z.string(), twin: z.string() })),
  agree: answers<{ allowances: string[] }>()(
    "POST",
    "ports/:id/agree",
    z.strictObject({ cases: z.array(z.string()).min(1).max(1000), twin: z.string(), reason: z.string() }),
  ),
  tighten: answers<Done>()("POST", "ports/:id/allowances", z.strictObject({ allowance: z.string(), twin: z.string() })),
  removeAllowance: answers<Done>()("DELETE", "ports/:id/allowances", z.strictObject({ allowance: z.string() })),
  shrink: answers<ShrinkView>()("POST", "ports/:id/shrink", ofCase.partial({ twin: true })),
  /** The pending request for shrinking returns the smallest input found so far. */
  stopShrinking: answers<Done>()("DELETE", "ports/:id/shrink", NOTHING),
};

const MAKING = {
  phrasebook: answers<PhrasebookView>()("GET", "ports/:id/phrases", ofTwin),
  tryPhrase: answers<TrialView>()(
    "POST",
    "ports/:id/phrases/try",
    z.strictObject({ twin: z.string(), phrase: z.record(z.string(), z.unknown()) }),
  ),
  addPhrase: answers<Done>()(
    "POST",
    "ports/:id/phrases",
    z.strictObject({ phrase: z.record(z.string(), z.unknown()) }),
  ),
  exceptPlace: answers<Done>()(
    "PUT",
    "ports/:id/phrases",
    z.strictObject({ phrase: z.string(), file: z.string(), text: z.string().optional(), why: z.string() }),
  ),
  phraseHarm: answers<HarmView>()("POST", "ports/:id/phrases/harm", z.strictObject({ twin: z.string() })),
  takeBack: answers<{ snapshot: string }>()(
    "POST",
    "ports/:id/phrases/take-back",
    z.strictObject({
      twin: z.string(),
      places: z
        .array(z.strictObject({ phrase: z.string(), file: z.string(), line: z.number().int().positive() }))
        .min(1),
    }),
  ),
  applyPhrases: answers<AppliedView>()(
    "POST",
    "ports/:id/phrases/apply",
    z.strictObject({
      twin: z.string(),
      phrases: z.array(z.string()).optional(),
      /** Places that stay, as `FILE:LINE`. */
      not: z.array(z.string()).default([]),
    }),
  ),
  learn: answers<ProposalView[]>()("GET", "ports/:id/phrases/learn", ofTwin),
  undo: answers<SnapshotView>()("POST", "ports/:id/snapshots", z.strictObject({ id: z.string().optional() })),
  redo: answers<SnapshotView>()("PUT", "ports/:id/snapshots", z.strictObject({ id: z.string().optional() })),
  journal: answers<JournalView>()("GET", "ports/:id/journal", NOTHING),
  addEntry: answers<Done>()(
    "POST",
    "ports/:id/journal",
    z.strictObject({
      kind: z.enum(["decision", "assumption", "note"]),
      text: z.string().max(4000),
      module: z.string().optional(),
      section: z.string().optional(),
      case: z.string().optional(),
    }),
  ),
  closeEntry: answers<Done>()(
    "PUT",
    "ports/:id/journal",
    z.strictObject({ id: z.string(), holds: z.enum(["true", "false"]) }),
  ),
  ladder: answers<LadderView>()("GET", "ports/:id/ladder", ofTwin),
  counts: answers<CountsView>()("GET", "ports/:id/counts", ofTwin),
  diagnose: answers<LadderView>()("POST", "ports/:id/ladder", z.strictObject({ twin: z.string() })),
};

const EXPLORING = {
  /** Drafts what is not ported of a module, or some sections of it. */
  draft: answers<DraftView>()(
    "POST",
    "ports/:id/draft",
    z.strictObject({ module: z.string(), sections: z.array(z.string()).optional(), twin: z.string() }),
  ),
  /** Commands that are proposed for recording, the likeliest first. */
  recordCommands: answers<readonly string[]>()("GET", "ports/:id/make/record", NOTHING),
  record: answers<ExploreView>()(
    "POST",
    "ports/:id/make/record",
    z.strictObject({ command: z.string().max(4000), modules: z.array(z.string()).default([]) }),
  ),
  generate: answers<ExploreView>()(
    "POST",
    "ports/:id/make/generate",
    z.strictObject({
      modules: z.array(z.string()).default([]),
      seconds: z.number().int().min(1).max(3600),
      seed: z.number().int().nonnegative(),
      twins: z.boolean().default(false),
    }),
  ),
  /** Ends the search; what was found is kept. */
  finishMaking: answers<Done>()("DELETE", "ports/:id/make/generate", NOTHING),
  source: answers<SourceView>()(
    "GET",
    "ports/:id/source",
    z.object({ twin: z.string(), file: z.string(), module: z.string(), section: z.string() }),
  ),
  saveSource: answers<SourceSavedView>()(
    "PUT",
    "ports/:id/source",
    z.strictObject({
      twin: z.string(),
      file: z.string(),
      from: z.number().int(),
      to: z.number().int(),
      text: z.string().max(1_000_000),
      hash: z.string(),
    }),
  ),
  mend: answers<MendView>()("POST", "ports/:id/mend", ofCase),
  takeMend: answers<SnapshotView>()("PUT", "ports/:id/mend", z.strictObject({ token: z.string() })),
};

const BRING_IN = {
  editor: answers<EditorView>()("GET", "editor", NOTHING),
  setEditor: answers<Done>()("PUT", "editor", z.strictObject({ command: z.string().min(1).max(1000) })),
  ports: answers<PortListing[]>()("GET", "ports", NOTHING),
  addPort: answers<{ id: string }>()("POST", "ports", z.strictObject({ folder: z.string().min(1) })),
  folder: answers<FolderView>()("GET", "folders", atFolder),
  inspect: answers<FoundView>()(
    "POST",
    "bring-in",
    z.discriminatedUnion("kind", [
      z.strictObject({ kind: z.literal("folder"), folder: z.string().min(1) }),
      z.strictObject({ kind: z.literal("git"), folder: z.string().min(1), revision: z.string().min(1).max(500) }),
    ]),
  ),
  forgetDraft: answers<Done>()("DELETE", "bring-in", z.strictObject({ token: z.string() })),
  revisions: answers<RevisionsView>()("GET", "bring-in/revisions", atFolder),
  adaptDraft: answers<Draft>()("POST", "bring-in/adapt", ofDraft),
  draftEffect: answers<EffectView>()("POST", "bring-in/effect", ofDraft),
  keepDraft: answers<{ id: string }>()("POST", "bring-in/keep", ofDraft),
  unpacking: answers<{ progress: { done: number; of: number } | null }>()("GET", "bring-in/zip", NOTHING),
};

/** All routes that answer JSON. */
export const ROUTES = { ...PORT, ...CASES, ...MAKING, ...EXPLORING, ...BRING_IN };

/**
 * Paths of what is not JSON: a picture, a download, a stream, an upload. Their handlers read the queries themselves.
 */
export const PATHS = {
  events: "ports/:id/events",
  exportCases: "ports/:id/cases/export",
  picture: "ports/:id/picture",
  answer: "ports/:id/answer",
  uploadZip: "bring-in/zip",
} as const;

/** Which answer: of one side to a case, whole. */
export const ANSWER_QUERY = z.object({ caseId: z.string(), twin: z.string(), side: z.enum(["original", "twin"]) });

/** Which picture: of a file that a case wrote, on one side or the difference of both. */
export const PICTURE_QUERY = z.object({
  caseId: z.string(),
  twin: z.string(),
  file: z.string(),
  side: z.enum(["original", "twin", "difference"]),
});
