/** Records that the service computes and the screens draw. */

import type { CaseColumns } from "@/api/case-columns";
import type { Mark } from "@/api/case-listing";
import type { CheckState } from "@/api/port-event";
import type { Tighter } from "@/core/allowances/review";
import type { Callback, CallbackRelation } from "@/core/cases/callbacks";
import type { Aligned } from "@/core/compare/aligned";
import type { ChangedLine } from "@/core/drift/change";
import type { Basis } from "@/core/drift/drift";
import type { ErrorRecord } from "@/core/errors";
import type { FamilyInner } from "@/core/explain/inner";
import type { Allowance } from "@/core/formats/allowance";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Totals } from "@/core/formats/report";
import type { Pull } from "@/core/order/pull";
import type { Untie } from "@/core/order/untie";
import type { BenchRow } from "@/core/pairing/bench-rows";
import type { Baseline } from "@/core/progress/baseline";
import type { Effort, ModuleSize } from "@/core/progress/effort";
import type { ModuleState } from "@/core/progress/module-state";
import type { BarSegment } from "@/core/progress/twin-bar";
import type { Span } from "@/core/source/highlight";
import type { SectionKind } from "@/core/source/section";
import type { Survey } from "@/core/survey/survey";
import type { UsesGrid } from "@/core/survey/uses-grid";

/** A check, running or ended. */
export type CheckView = {
  readonly id: number;
  readonly state: CheckState;
  readonly module: string | null;
  readonly startedAt: string;
  readonly seconds: number | null;
  readonly totals: Totals | null;
  readonly problem: { readonly what: string; readonly next?: string } | null;
  /** The scope of the check, for resuming an interrupted one. */
  readonly scope: {
    readonly module?: string;
    readonly twin?: string;
    readonly caseId?: string;
    readonly resume?: string;
  };
  /** Answers of earlier checks that were used again, by side; null where it did not end. */
  readonly reused: { readonly original: number; readonly twin: number } | null;
  /** Cases that became right, and wrong, against the last word before; null where the check did not end. */
  readonly mended: number | null;
  readonly worsened: number | null;
};

/** A port at a glance, for one of its twins. */
export type PortCard = {
  readonly id: string;
  readonly name: string;
  readonly file: string;
  readonly original: string;
  readonly twins: readonly { readonly name: string; readonly language: string }[];
  /** The twin that the other fields describe. */
  readonly twin: string;
  readonly bar: readonly BarSegment[];
  readonly lines: number;
  readonly provenLines: number | null;
  readonly totals: Totals;
  readonly modules: number;
  readonly modulesDone: number;
  /** Modules of which the original changed after they were ported. */
  readonly modulesDrifted: number;
  readonly lastCheck: CheckView | null;
  readonly next: { readonly module: string; readonly reason: string } | null;
};

/** A port that cannot be read now is still shown, with why. */
export type PortListing =
  | (PortCard & {
      /** The port as its other twins see it. */
      readonly others: readonly PortCard[];
      /** The share of proven lines after each of the last checks, oldest first, with the moment. */
      readonly history: readonly { readonly at: string; readonly proven: number }[];
      /** The result of the last run of the original by itself; null if it has never run. */
      readonly baseline: {
        readonly state: Baseline["state"];
        readonly cases: number;
        readonly unsteady: number;
        readonly broken: number;
      } | null;
    })
  | { readonly id: string; readonly name: string; readonly file: string; readonly problem: ErrorRecord };

/** A module on one twin. */
export type ModuleView = {
  readonly name: string;
  readonly state: ModuleState;
  readonly mark: Mark;
  readonly stale: boolean;
  readonly bar: readonly BarSegment[];
  readonly lines: number;
  readonly textLines: number;
  readonly provenLines: number | null;
  readonly totals: Totals;
  readonly needs: readonly string[];
  readonly neededBy: readonly string[];
  readonly layer: number;
  /** Why it is left out; null where it is not. */
  readonly leftOut: string | null;
  /** Own sections whose original changed after they were ported, and needed modules of which that is true; null for none. */
  readonly drift: { readonly sections: readonly string[]; readonly through: readonly string[] } | null;
  /** `wanted` if pinned, `pulled` if a pinned module needs it; null otherwise and when it is done. */
  readonly pull: "wanted" | "pulled" | null;
};

/** The Order: every module with its layer, and the effort left. */
export type OrderView = {
  readonly port: PortCard;
  readonly twin: string;
  readonly modules: readonly ModuleView[];
  /** Modules that need each other, and the imports without which they would not. */
  readonly knots: readonly { readonly members: readonly string[]; readonly untie: Untie }[];
  /** The parts of each module's points. */
  readonly sizes: Readonly<Record<string, ModuleSize>>;
  readonly effort: Effort;
  /** Pinned modules, and everything left to port for them in a possible order. */
  readonly pull: Pull & { readonly wanted: readonly string[] };
  /** Restrictions on ported code on this machine, as sentences. */
  readonly protections: readonly string[];
};

/** The baseline page: the result of the last run of the original by itself. */
export type BaselineView = {
  readonly port: { readonly id: string; readonly name: string };
  readonly language: string;
  readonly run: readonly string[] | null;
  readonly cases: number;
  readonly canMake: boolean;
  readonly isRunning: boolean;
  readonly last:
    | (Baseline & {
        readonly startedAt: string;
        /** Seconds that it took in all. */
        readonly total: number;
        /** Whether the original or its cases have changed since. */
        readonly isStale: boolean;
      })
    | null;
};

/** Lines of the original in a row that no agreeing case reaches. */
export type UnprovenLines = {
  readonly file: string;
  readonly from: number;
  readonly to: number;
  /** The enclosing section; null outside sections. */
  readonly section: string | null;
  readonly text: string;
};

type BothSides = { readonly original: number | null; readonly twin: number | null };

/** Measurements of one check for one module: lines of text, seconds over its cases, peak memory in megabytes. */
export type Measure = {
  readonly at: string;
  readonly size: BothSides;
  readonly seconds: BothSides;
  readonly peakMb: BothSides;
};

/** Further facts about one module, loaded when it is selected. */
export type ModuleDetail = {
  readonly module: string;
  readonly unproven: readonly UnprovenLines[];
  readonly measures: readonly Measure[];
};

/** A case on the case tape of the Bench. */
export type TapeCase = { readonly id: string; readonly section: string; readonly mark: Mark; readonly stale: boolean };

/** A source file with colours and coverage. */
export type BenchFile = {
  readonly file: string;
  readonly lines: readonly string[];
  readonly spans: readonly (readonly Span[])[];
  /** Per line from 1: `p` proven, `u` executable and reached by no agreeing case, `-` not executable or not traced. */
  readonly edge: string;
};

/** Commits that changed a section since it was ported. */
export type ChangesView = {
  readonly commits: readonly {
    readonly id: string;
    readonly at: string;
    readonly author: string;
    readonly subject: string;
  }[];
  /** Whether its file has uncommitted changes. */
  readonly isOpen: boolean;
  readonly isRepository: boolean;
};

/** The Bench: one module, both sides row by row. */
export type BenchView = {
  readonly port: PortCard;
  readonly module: ModuleView;
  readonly twin: string;
  readonly modules: readonly string[];
  /** Where the twin's file is looked for while there is none. */
  readonly expected: string | null;
  /** Whether a draft can be made from the original's language into the twin's. */
  readonly canDraft: boolean;
  /** Whether cases can be recorded and generated for the original's language. */
  readonly canMake: boolean;
  readonly files: { readonly original: readonly BenchFile[]; readonly twin: readonly BenchFile[] };
  readonly rows: readonly (BenchRow & {
    readonly totals: Totals;
    /** Shared cases of the section, run or not. */
    readonly cases: number;
    readonly mark: Mark;
    /** Where one side answers through a callback and the other does not. */
    readonly callback: CallbackRelation | null;
    /** How the original changed after the section was ported; null where it did not. `from`: its first line now. */
    readonly drift: {
      readonly since: string;
      readonly basis: Basis;
      readonly lines: readonly ChangedLine[];
      readonly from: number;
    } | null;
  })[];
  /** Sections that the original had when they were ported, and has no longer. */
  readonly gone: readonly {
    readonly section: string;
    readonly twinSection: string;
    readonly since: string;
    readonly text: string;
  }[];
  readonly cases: readonly TapeCase[];
};

/** A suspected cause; `score` from 0 to 1. */
export type SuspectView = {
  readonly cause: string;
  readonly title: string;
  readonly note: string;
  readonly score: number;
  readonly evidence: string;
  /** Where the twin's code has what brings it about. */
  readonly place: { readonly file: string; readonly line: number } | null;
};

/** Cases that differ in one way, or could not be run for one reason. */
export type FamilyView = {
  readonly id: string;
  readonly mark: "differ" | "broken";
  readonly module: string | null;
  readonly call: string;
  /** The path where they differ; the side where they could not be run. */
  readonly at: string;
  readonly sentence: string;
  readonly simplest: string;
  readonly cases: readonly string[];
  readonly suspects: readonly SuspectView[];
  /** Where its cases part inside; null where no call of a paired section parts. */
  readonly inner: FamilyInner | null;
};

/** A line that was taken out of a file of cases; `at` counts its lines from 0, as they were. */
export type DroppedCase = { readonly file: string; readonly at: number; readonly line: string };

/** One setting of the port file. */
export type SettingView = {
  readonly title: string;
  readonly help: string;
  readonly group: string;
  readonly path: readonly (string | number)[];
  /** As JSON; null where nothing is set and there is no default. */
  readonly text: string | null;
};

/** The settings of a port; `file` is its port file. */
export type SettingsView = {
  readonly name: string;
  readonly file: string;
  readonly settings: readonly SettingView[];
};

/** The person's editor: the command that opens a place, and such commands of editors that are on this machine. */
export type EditorView = { readonly command: string | null; readonly proposed: readonly string[] };

/** A smaller input that shows the same. */
export type ShrinkView = {
  readonly case: SharedCase;
  readonly sizeBefore: number;
  readonly sizeAfter: number;
  readonly tries: number;
  readonly state: "smallest" | "stopped";
};

/** `lapsed`: it agreed to two exact values, and one of them is another now. */
export type AllowanceState = "used" | "unused" | "lapsed" | "not-checked";

/** An allowance with what became of it, over the last word on every case. */
export type AllowanceView = Pick<Allowance, "id" | "where" | "allow" | "reason"> & {
  readonly state: AllowanceState;
  /** How many differences it excused, in how many of the cases in its scope. */
  readonly used: number;
  readonly cases: number;
  readonly inScope: number;
  readonly needed: string | null;
  readonly tighter: Tighter | null;
};

/** A section that a case can be written for. */
export type CallableSection = {
  readonly module: string;
  readonly name: string;
  readonly kind: SectionKind;
  readonly params: readonly string[];
  readonly callback: Callback | null;
};

/** The Survey: what the original consists of, and what is platform-bound. */
export type SurveyView = {
  readonly port: PortCard;
  readonly twin: string;
  readonly languages: Survey["languages"];
  readonly rows: readonly {
    readonly module: string;
    readonly lines: number;
    readonly sections: number;
    readonly complexity: number;
    /** The part of its lines that is proven; null when it was not measured. */
    readonly proven: number | null;
    readonly isDone: boolean;
    /** Its files in the original. */
    readonly files: readonly string[];
  }[];
  readonly grid: UsesGrid;
  readonly tests: Survey["tests"];
  readonly knots: Survey["knots"];
  readonly mentions: number;
  readonly problems: readonly { readonly file: string; readonly line?: number; readonly message: string }[];
};

/** A place with its line of text. */
export type ShownPlace = { readonly file: string; readonly line: number; readonly text: string };

/** Where a column of the survey has its uses, and files that are not code and name it. */
export type UsesView = {
  readonly name: string;
  readonly uses: readonly ShownPlace[];
  readonly mentions: readonly ShownPlace[];
};

/** Lines of both sides that hold some words; `isCut` where there are more. */
export type SearchView = {
  readonly hits: readonly (PlaceOnBench & { readonly module: string; readonly text: string })[];
  readonly isCut: boolean;
};

/** A line of a module's pages on the Bench. */
export type PlaceOnBench = { readonly side: "original" | "twin"; readonly file: string; readonly line: number };

/** The Cases view: families, all cases, allowances. */
export type CasesView = {
  readonly port: PortCard;
  readonly twin: string;
  readonly modules: readonly string[];
  readonly families: readonly FamilyView[];
  readonly cases: CaseColumns;
  readonly allowances: readonly AllowanceView[];
  readonly sections: readonly CallableSection[];
  /** Whether cases can be recorded and generated for the original's language. */
  readonly canMake: boolean;
};

/** One case with both answers aligned. */
export type CaseView = {
  /** Lines for a shell that show the difference outside Side Twin. */
  readonly reproducer: string;
  /** Whether mends can be tried for the twin's language. */
  readonly canMend: boolean;
  readonly families: readonly FamilyView[];
  readonly id: string;
  readonly item: SharedCase;
  readonly section: string;
  readonly mark: Mark;
  readonly stale: boolean;
  readonly side: string | null;
  readonly why: string | null;
  readonly lastOutput: string | null;
  /** Places that its errors name, of files of either side. */
  readonly stack: readonly { readonly side: string; readonly file: string; readonly line: number }[];
  readonly ms: { readonly original: number | null; readonly twin: number | null };
  readonly divergences: readonly {
    readonly at: string;
    readonly kind: string;
    readonly original: Json;
    readonly twin: Json;
    readonly allowance: string | null;
  }[];
  readonly reasons: readonly { readonly allowance: string; readonly reason: string }[];
} & Aligned;

/** Lines that a case ran, by file; `onlyHere`: those of the twin that no agreeing case of the module runs. */
export type CaseLinesView = {
  readonly original: Readonly<Record<string, readonly number[]>>;
  readonly twin: Readonly<Record<string, readonly number[]>>;
  readonly onlyHere: Readonly<Record<string, readonly number[]>>;
};

/** A folder of this machine with its sub-folders. */
export type FolderView = {
  readonly folder: string;
  /** The folder that the server was started for: nothing outside of it is shown. */
  readonly top: string;
  readonly parent: string | null;
  readonly hasPort: boolean;
  readonly isRepository: boolean;
  readonly entries: readonly { readonly name: string; readonly hasPort: boolean }[];
};
