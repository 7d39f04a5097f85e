/** How a draft goes from one language into another. */
import type { Node } from "web-tree-sitter";
import type { Kind } from "@/core/drafting/kinds";
import type { Unsaid } from "@/core/drafting/unsaid";

/** A file of the original with its context. */
export type PairInput = {
  readonly root: Node;
  /** The twin's language. */
  readonly language: string;
  /** The twin's spelling of a function, parameter or variable. */
  readonly spell: (name: string) => string;
  /** The twin's spelling of a key. */
  readonly key: (name: string) => string;
  /** Kinds of a section's arguments in the shared cases, by position. */
  readonly seen: (section: string) => readonly (Kind | undefined)[];
  /** Whether a hookup hands the twin's section other arguments, or reads its result otherwise. */
  readonly isReshaped: (section: string) => boolean;
  /** Where the twin has a module of the original, written as an import; null for one that is none of the port's. */
  readonly importOf: (specifier: string, name: string | null) => string | null;
};

export type Translated = {
  /** The whole file; it always parses. */
  readonly text: string;
  readonly unsaid: readonly Unsaid[];
  /** Functions that the text may call, by name; they may call each other. */
  readonly helpers: ReadonlyMap<string, string>;
};

/** A pair of languages: one folder and a line in `pairs/index.ts`. */
export type DraftPair = {
  readonly from: string;
  readonly to: readonly string[];
  /** The name of a section where the languages have one of their own for it, as constructors do; else the same. */
  readonly rename: (section: string) => string;
  readonly translate: (input: PairInput) => Translated;
};
