/**
 * A comparer handles one kind of document: recognises it, compares two of them part by part, and shows them. Entries
 * are independent; the first that can read both documents compares them.
 */
import type { ShownDocument } from "@/core/compare/aligned-documents";
import type { ComparisonState } from "@/core/compare/comparison-state";
import type { Content, Document, DocumentPair } from "@/core/compare/document";
import type { DocumentKind } from "@/core/formats/document-kind";

/** An entry of the registry: `read` returns the parsed content, or null if the document is of another kind. */
type Entry<T> = {
  readonly kind: DocumentKind;
  readonly title: string;
  readonly description: string;
  /** `asked`: the person set this kind, so refuse only what cannot be parsed at all. */
  readonly read: (document: Document, asked: boolean) => T | null;
  readonly compare: (state: ComparisonState, at: string, both: { readonly original: T; readonly twin: T }) => void;
  /** How the reader shows two that differ; empty for lines of text. `name` is the file's, or empty. */
  readonly show: (at: string, both: { readonly original: T; readonly twin: T }, name: string) => ShownDocument;
  /** Documents that differ and some that do not, for the contract test. */
  readonly fires: readonly DocumentPair[];
  readonly staysQuiet: readonly DocumentPair[];
};

/** A comparer as the registry holds it, its content type hidden. */
export type Comparer = Omit<Entry<never>, "read" | "compare" | "show"> & {
  /** Whether a document can be read as this kind. */
  readonly reads: (document: Document, asked: boolean) => boolean;
  /** Compares two documents into the state; false, and nothing done, when one of them is not of the kind. */
  readonly compare: (state: ComparisonState, at: string, both: DocumentPair, asked: boolean) => boolean;
  /** How the reader shows them; empty for lines of text, and where one of them is not of the kind. */
  readonly show: (at: string, both: DocumentPair) => ShownDocument;
};

/** An entry of the registry, its own type of content hidden. */
export function comparer<T>({ read, compare, show, ...facts }: Entry<T>): Comparer {
  return {
    ...facts,
    reads: (document, asked) => read(document, asked) !== null,
    compare: (state, at, both, asked) => {
      const original = read(both.original, asked);
      const twin = original === null ? null : read(both.twin, asked);
      if (original === null || twin === null) return false;
      compare(state, at, { original, twin });
      return true;
    },
    show: (at, both) => {
      const [original, twin] = [read(both.original, true), read(both.twin, true)];
      return original === null || twin === null ? {} : show(at, { original, twin }, both.original.name);
    },
  };
}

/** Examples under one name. */
export const pairOf = (name: string, original: Content, twin: Content): DocumentPair => ({
  original: { name, content: original },
  twin: { name, content: twin },
});
