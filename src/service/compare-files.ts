/** Compares two files as a check would compare two answers. */
import path from "node:path";
import { compareDocuments, type DocumentKind, parseJsonDocument } from "@/core/compare/documents";
import { DEFAULT_EQUALITY } from "@/core/compare/equality";
import { Trial } from "@/core/compare/trial";
import { SideTwinError } from "@/core/errors";
import type { Divergence } from "@/core/formats/report";
import { readText } from "@/service/open-port";

export type FileComparison = {
  readonly same: boolean;
  readonly as: DocumentKind;
  readonly divergences: readonly Divergence[];
  readonly more: number;
};

/** Throws SideTwinError when a file can not be read, or is not the kind that was asked for. */
export async function compareFiles(original: string, twin: string, as?: DocumentKind): Promise<FileComparison> {
  const texts = { original: await readText(original), twin: await readText(twin) };
  if (as === "json") {
    for (const [file, text] of [
      [original, texts.original],
      [twin, texts.twin],
    ] as const)
      requireJson(file, text);
  }
  const trial = new Trial(DEFAULT_EQUALITY, []);
  const kind = compareDocuments(trial, "value", texts, as);
  return { same: trial.unexcused === 0, as: kind, divergences: trial.divergences, more: trial.more };
}

function requireJson(file: string, text: string): void {
  if (parseJsonDocument(text) !== undefined) return;
  try {
    JSON.parse(text);
  } catch (cause) {
    const why = cause instanceof Error ? cause.message : String(cause);
    throw new SideTwinError(
      {
        code: "bad-input",
        what: `Not JSON: ${why}`,
        where: { file: path.basename(file) },
        next: "Compare it --as text.",
      },
      cause,
    );
  }
}
