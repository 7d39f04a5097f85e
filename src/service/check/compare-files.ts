/** Compares two files as a check would compare two answers. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { ComparisonState } from "@/core/compare/comparison-state";
import type { Content } from "@/core/compare/document";
import { compareDocuments, comparerOf } from "@/core/compare/documents";
import { SideTwinError } from "@/core/errors";
import type { DocumentKind } from "@/core/formats/document-kind";
import type { Divergence } from "@/core/formats/report";
import { DEFAULT_EQUALITY } from "@/core/values/equality";

/** Two files compared as documents. */
export type FileComparison = {
  readonly same: boolean;
  readonly as: DocumentKind;
  readonly divergences: readonly Divergence[];
  readonly more: number;
};

/** Throws SideTwinError if a file cannot be read or is not of the requested kind. */
export async function compareFiles(original: string, twin: string, as?: DocumentKind): Promise<FileComparison> {
  const contents = { original: await readContent(original), twin: await readContent(twin) };
  if (as) for (const side of ["original", "twin"] as const) requireKind({ original, twin }[side], contents[side], as);
  const state = new ComparisonState(DEFAULT_EQUALITY, []);
  const kind = compareDocuments(state, "value", contents, { name: path.basename(original), as });
  return { same: state.unexcused === 0, as: kind, divergences: state.divergences, more: state.more };
}

/** Returns the text of a file, or its bytes if it is not UTF-8. */
async function readContent(file: string): Promise<Content> {
  const bytes = await readFile(file).catch((cause) => {
    const missing = cause.code === "ENOENT";
    throw new SideTwinError(
      {
        code: missing ? "not-found" : "not-readable",
        what: missing ? `There is no file ${file}` : `${file} cannot be read: ${cause.message}`,
        next: "Name two files.",
      },
      cause,
    );
  });
  try {
    return new TextDecoder("utf-8", { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    // No UTF-8: a picture or other bytes.
    return bytes;
  }
}

function requireKind(file: string, content: Content, as: DocumentKind): void {
  if (comparerOf(as)?.reads({ name: path.basename(file), content }, true)) return;
  throw new SideTwinError({
    code: "bad-input",
    what: `The file cannot be read as ${as}${as === "json" ? whyNotJson(content) : ""}`,
    where: { file: path.basename(file) },
    next: `Compare it --as ${typeof content === "string" ? "text" : "bytes"}, or leave --as out.`,
  });
}

function whyNotJson(content: Content): string {
  if (typeof content !== "string") return "";
  try {
    JSON.parse(content);
    return ": it is nested too deep";
  } catch (cause) {
    return `: ${cause instanceof Error ? cause.message : String(cause)}`;
  }
}
