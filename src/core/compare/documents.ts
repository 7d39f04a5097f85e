/** Two documents: what kind they are is found out from their content and name, or set; each kind has its comparer. */

import type { ShownDocument } from "@/core/compare/aligned-documents";
import { COMPARERS } from "@/core/compare/comparers";
import type { Comparer } from "@/core/compare/comparers/comparer";
import type { ComparisonState } from "@/core/compare/comparison-state";
import type { Content } from "@/core/compare/document";
import type { DocumentKind } from "@/core/formats/document-kind";
import { matchesPath, splitPath } from "@/core/values/path";

/** Path pattern → kind, as a port or a case sets it; the first that fits counts. */
export type KindsByPath = Readonly<Record<string, DocumentKind>>;

/** Finds the comparer of a kind. */
export const comparerOf = (kind: DocumentKind): Comparer | undefined =>
  COMPARERS.find((comparer) => comparer.kind === kind);

/**
 * Compares two documents and returns the kind used. `as` sets the kind; if one of them cannot be read as that, the kind
 * is detected. Linear in both.
 */
export function compareDocuments(
  state: ComparisonState,
  at: string,
  contents: { readonly original: Content; readonly twin: Content },
  terms: { readonly name?: string; readonly as?: DocumentKind | undefined } = {},
): DocumentKind {
  const { name = "", as } = terms;
  if (contents.original === contents.twin) return as ?? "text";
  const both = { original: { name, content: contents.original }, twin: { name, content: contents.twin } };
  const asked = as === undefined ? undefined : comparerOf(as);
  if (asked?.compare(state, at, both, true)) return asked.kind;
  const found = COMPARERS.find((comparer) => comparer.compare(state, at, both, false));
  if (!found) throw new Error("no comparer takes bytes");
  return found.kind;
}

/** The kind that is set for a path, if any. */
export function kindSetFor(at: string, kinds: KindsByPath): DocumentKind | undefined {
  const parts = splitPath(at);
  return Object.entries(kinds).find(([pattern]) => matchesPath(parts, splitPath(pattern)))?.[1];
}

/**
 * Returns how the reader shows two documents, by the kind that compares them; empty for lines of text. Cost: reading
 * and aligning both.
 */
export function showDocuments(
  at: string,
  contents: { readonly original: Content; readonly twin: Content },
  { name = "", as }: { readonly name?: string; readonly as?: DocumentKind | undefined } = {},
): ShownDocument {
  const both = { original: { name, content: contents.original }, twin: { name, content: contents.twin } };
  const reads = (comparer: Comparer, asked: boolean) =>
    comparer.reads(both.original, asked) && comparer.reads(both.twin, asked);
  const wanted = as === undefined ? undefined : comparerOf(as);
  const found = wanted && reads(wanted, true) ? wanted : COMPARERS.find((comparer) => reads(comparer, false));
  return found?.show(at, both) ?? {};
}
