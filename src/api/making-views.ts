/** Records of the Phrasebook, the Journal and the ladder. */

import type { PortCard } from "@/api/views";
import type { ErrorRecord } from "@/core/errors";
import type { SharedCase } from "@/core/formats/case-line";
import type { JournalEntry, JournalProblem } from "@/core/journal/journal";
import type { PlacedDiagnostic, RungState } from "@/core/ladder/ladder";
import type { Leftover } from "@/core/phrasebook/leftovers";
import type { Occurrence } from "@/core/phrasebook/run-file";
import type { ProgressPoint } from "@/core/progress/progress-points";

/** A phrase as it is written, with its places. */
export type PhraseView = {
  readonly id: string;
  readonly kind: "code" | "name" | "text" | "file";
  readonly from: string;
  readonly to: string;
  readonly why: string | null;
  readonly places: readonly Occurrence[];
};

/** The places that a phrase being written would change. */
export type TrialView = { readonly places: readonly Occurrence[] };

export type SnapshotView = {
  readonly id: string;
  readonly at: string;
  readonly what: string;
  readonly state: string;
  readonly files: readonly string[];
};

export type PhrasebookView = {
  readonly port: PortCard;
  readonly twin: string;
  /** Of the twin, for phrases of code. */
  readonly language: string;
  readonly phrases: readonly PhraseView[];
  readonly leftovers: readonly Leftover[];
  readonly mixed: readonly { readonly module: string; readonly old: number; readonly new: number }[];
  readonly lapsed: readonly { readonly phrase: string; readonly file: string; readonly text: string | null }[];
  readonly unsound: readonly string[];
  /** Why the phrases cannot be read or run; there are none then. */
  readonly problem: ErrorRecord | null;
  /** The newest snapshot that can be undone. */
  readonly snapshot: SnapshotView | null;
};

/** A phrase learned from ported files; see `side-twin learn`. */
export type ProposalView = {
  readonly phrase: Readonly<Record<string, unknown>>;
  readonly seen: number;
  readonly sections: number;
  readonly against: number;
  readonly would: number;
};

export type AppliedView = {
  readonly snapshot: string | null;
  readonly files: number;
  readonly places: number;
};

/** Places that together make cases differ which agreed before phrases were applied. */
export type HarmView = {
  /** The cases that agreed before and do not now. */
  readonly worse: number;
  readonly harms: readonly {
    readonly places: readonly { readonly phrase: string; readonly file: string; readonly line: number }[];
    readonly cases: readonly string[];
  }[];
};

export type JournalView = {
  readonly port: PortCard;
  readonly entries: readonly JournalEntry[];
  /** Entries that are too many to show; open assumptions among them are still shown. */
  readonly older: number;
  readonly problems: readonly JournalProblem[];
  readonly snapshots: readonly SnapshotView[];
  /** One point a whole check, oldest first. */
  readonly progress: readonly ProgressPoint[];
};

/** The ladder as far as it is known: cases from the last check, diagnostics from the last run of the checks. */
export type LadderView = {
  readonly rungs: readonly (RungState & { readonly gain: string | null })[];
  readonly goal: string | null;
  /** Null before the checks were run. */
  readonly diagnosed: {
    readonly at: string;
    readonly seconds: number;
    /** Whether files of the port changed since. */
    readonly isStale: boolean;
  } | null;
  /** `isNew`: not there the time before; `isLatent`: the original has the same line, and so the fault. */
  readonly diagnostics: readonly (PlacedDiagnostic & {
    readonly rung: string;
    readonly isNew: boolean;
    readonly isLatent: boolean;
  })[];
  /** Diagnostics that were there the time before and are not any more, and the number of new ones. */
  readonly gone: readonly PlacedDiagnostic[];
  readonly fresh: number;
  /** The number of complaints of each run, oldest first. */
  readonly history: readonly { readonly at: string; readonly errors: number; readonly warnings: number }[];
};

/** Remaining work, for the strip. Null where unknown: no check was run, or the phrasebook cannot be run. */
export type CountsView = {
  readonly complaints: number | null;
  readonly leftovers: number | null;
  /** Modules that have both the old way of a phrase and the new. */
  readonly mixed: readonly string[];
};

/** The end of recording or generating cases. */
export type ExploreView = {
  readonly seen: number;
  readonly kept: number;
  readonly leftOut: readonly { readonly why: string; readonly count: number }[];
  readonly lines: { readonly before: number; readonly after: number; readonly of: number };
  readonly seconds: number;
  /** The new cases, as they are in their file. */
  readonly cases: readonly SharedCase[];
  /** How a recorded program ended, and the end of what it printed. */
  readonly program: { readonly end: string; readonly printed: string } | null;
};

/** The result of trying mends for a case's family. */
export type MendView = {
  readonly tried: number;
  readonly seconds: number;
  /** Where the fault most likely is, best first. */
  readonly places: readonly { readonly file: string; readonly line: number; readonly score: number }[];
  /** Why nothing was tried. */
  readonly why: string | null;
  readonly best: {
    readonly diff: string;
    readonly file: string;
    readonly line: number;
    readonly what: string;
    readonly mended: number;
    readonly of: number;
    /** Under this name it can be taken. */
    readonly token: string;
  } | null;
};

/** A file of a twin to be edited, with line feeds. */
export type SourceView = {
  readonly text: string;
  /** Fingerprint of the text. */
  readonly hash: string;
  /** How the section would begin that is not ported yet; empty where it is. */
  readonly stub: string;
};

/** `changed`: the file on disk is newer than the text that was edited; nothing was written. */
export type SourceSavedView =
  | {
      readonly state: "saved";
      readonly hash: string;
      readonly snapshot: string | null;
      /** Sections that have another signature now, with those that call them. */
      readonly changed: readonly ChangedSection[];
    }
  | { readonly state: "changed"; readonly now: { readonly text: string; readonly hash: string } };

/** A section whose signature changed, and the places on both sides that mention it. */
export type ChangedSection = {
  readonly file: string;
  readonly section: string;
  readonly before: string;
  readonly after: string;
  readonly callers: readonly {
    /** `original`, or the twin's name. */
    readonly side: string;
    readonly file: string;
    readonly line: number;
    readonly text: string;
  }[];
};

/** The files and sections that a draft wrote. */
export type DraftView = {
  readonly snapshot: string | null;
  readonly files: readonly {
    readonly file: string;
    readonly sections: readonly {
      readonly original: string;
      readonly twin: string;
      readonly state: "drafted" | "partly" | "left";
      /** Lines of the original that are left to a person. */
      readonly unsaid: readonly { readonly line: number; readonly text: string; readonly why: string }[];
    }[];
  }[];
};
