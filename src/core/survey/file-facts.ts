/** What is read of one source file: it stands for the file from then on, so that the whole survey needs no text again. */
import type { Chain, Import, Section } from "@/core/source/section";

export type FileFacts = {
  readonly path: string;
  readonly language: string;
  readonly lines: number;
  readonly sections: readonly Section[];
  readonly imports: readonly Import[];
  /** Lines on which a statement begins; empty where the language does not tell. */
  readonly statementLines: readonly number[];
  /** Uses of what is imported, and of the names that a snag looks for. */
  readonly uses: readonly Chain[];
  /** Places of syntax that is a snag by itself: its kind of node and the line. */
  readonly syntax: readonly { readonly type: string; readonly line: number }[];
  readonly namespace: string | null;
  /** Every word of the code, where files see each other's names without an import; else empty. */
  readonly words: readonly string[];
  /** It says of itself that a program wrote it. */
  readonly isGenerated: boolean;
  /** Line of the first place that could not be parsed. */
  readonly errorLine: number | null;
};

/** An import with the files of the tree that it means, best first; else with the package that it comes from. */
export type ResolvedImport = Import & { readonly files: readonly string[]; readonly package: string | null };
export type SurveyedFile = Omit<FileFacts, "imports"> & { readonly imports: readonly ResolvedImport[] };

export type Place = { readonly file: string; readonly line: number };
