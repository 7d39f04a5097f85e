/** What the bring-in page is told. */
import type { Draft } from "@/core/bring-in/draft";
import type { Placed } from "@/core/pairing/module-map";

/** What is brought in: a folder that stays where it is, or a copy of a repository at a revision; a zip is uploaded apart. */
export type Source =
  | { readonly kind: "folder"; readonly folder: string }
  | { readonly kind: "git"; readonly folder: string; readonly revision: string };

/** What was found in a tree. Nothing is stored yet; `token` names it for what is asked next. */
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

/** What a draft would make: the port file, its modules, and what its moduleMap covers. */
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
  readonly twinFiles: number;
  readonly cases: number;
};

/** What a git repository has to choose from. */
export type RevisionsView = {
  readonly folder: string;
  readonly head: string;
  readonly branch: string | null;
  readonly revisions: readonly { readonly name: string; readonly kind: "branch" | "tag"; readonly commit: string }[];
};
