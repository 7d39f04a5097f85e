/** Records of the bring-in page. */
import type { Draft } from "@/core/bring-in/draft";
import type { Placed } from "@/core/pairing/module-map";

/** A source to bring in: a folder that stays in place, or a copy of a git revision. Zips are uploaded separately. */
export type Source =
  | { readonly kind: "folder"; readonly folder: string }
  | { readonly kind: "git"; readonly folder: string; readonly revision: string };

/** The contents of a source tree. Nothing is stored yet; later requests refer to it by `token`. */
export type FoundView = {
  readonly token: string;
  /** Where it comes from, in words. */
  readonly from: string;
  readonly languages: readonly {
    readonly language: string;
    readonly title: string;
    readonly files: number;
    readonly lines: number;
  }[];
  readonly tools: readonly {
    readonly language: string;
    readonly program: string;
    readonly path: string | null;
    readonly version: string | null;
    readonly get: string;
  }[];
  readonly sections: number;
  readonly modules: number;
  readonly knots: number;
  readonly layers: number;
  readonly tests: readonly { readonly file: string; readonly touches: readonly string[] }[];
  readonly outside: readonly { readonly package: string; readonly uses: number }[];
  readonly snags: readonly { readonly name: string; readonly uses: number }[];
  readonly problems: readonly { readonly file: string; readonly line?: number; readonly message: string }[];
  /** Links of a zip that were left out. */
  readonly links: readonly string[];
  /** By language: what the commands were concluded from. */
  readonly entryFrom: Readonly<Record<string, string>>;
  readonly planned: readonly { readonly language: string; readonly title: string }[];
  readonly draft: Draft;
};

/** The result a draft would have: port file, modules, and coverage of its moduleMap. */
export type EffectView = {
  readonly text: string;
  readonly modules: readonly { readonly name: string; readonly files: readonly string[]; readonly lines: number }[];
  readonly moduleCount: number;
  readonly rules: readonly {
    readonly original: string;
    readonly twin: string;
    readonly covers: readonly Placed[];
    readonly count: number;
    readonly there: number;
  }[];
  readonly missed: readonly string[];
  readonly missedCount: number;
  readonly leftTwin: readonly string[];
  /** Files that are written into the twin's folder, for the checks of the ladder. */
  readonly made: readonly string[];
  readonly twinFiles: number;
  readonly cases: number;
};

/** The revisions of a git repository to choose from. */
export type RevisionsView = {
  readonly folder: string;
  readonly head: string;
  readonly branch: string | null;
  readonly revisions: readonly { readonly name: string; readonly kind: "branch" | "tag"; readonly commit: string }[];
};
