/** Facts read from one source file, sufficient for the whole survey without its text. */
import type { Chain, Import, Section } from "@/core/source/section";

/** The facts of one source file. */
export type FileFacts = {
  readonly path: string;
  readonly language: string;
  readonly lines: number;
  readonly sections: readonly Section[];
  readonly imports: readonly Import[];
  /** Lines on which a statement begins; empty if the language does not report them. */
  readonly statementLines: readonly number[];
  /** Uses of imports, and of the names that snags look for. */
  readonly uses: readonly Chain[];
  /** Places of syntax that is a snag by itself: its kind of node and the line. */
  readonly syntax: readonly { readonly type: string; readonly line: number }[];
  readonly namespace: string | null;
  /** Every word of the code, where files see each other's names without an import; else empty. */
  readonly words: readonly string[];
  /** Its header marks it as generated. */
  readonly isGenerated: boolean;
  /** Line of the first place that could not be parsed. */
  readonly errorLine: number | null;
};

/** An import with the files of the tree that it means, best first; else with the package that it comes from. */
export type ResolvedImport = Import & { readonly files: readonly string[]; readonly package: string | null };
/** The same with imports resolved to files. */
export type SurveyedFile = Omit<FileFacts, "imports"> & { readonly imports: readonly ResolvedImport[] };

/** A line of a file, from 1. */
export type Place = { readonly file: string; readonly line: number };
