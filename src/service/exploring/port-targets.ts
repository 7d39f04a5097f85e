/** Targets of generated inputs: the functions and classes of a port's original, with hints from its code and cases. */

import { SideTwinError } from "@/core/errors";
import { literalsOf } from "@/core/exploring/literals";
import { type Target, targetsOf } from "@/core/exploring/targets";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { PortModule } from "@/core/pairing/modules";
import { findLanguage } from "@/core/source/languages/index";
import type { OpenPort } from "@/service/port/open-port";
import { SourceReader } from "@/service/reading/source-reader";

export type TargetOptions = {
  /** Names of sections, with or without their module; all where none is named. */
  readonly calls: readonly string[];
  /** Answers of calls; it grows during the search. */
  readonly seen: readonly Json[];
  /** Values are made from types and names alone, which is what the search is measured against. */
  readonly isPlain?: boolean;
};

/**
 * The functions and classes of modules that inputs are made for, and the text of these modules. Throws SideTwinError:
 * `not-found` for a name that is not there, `bad-input` where nothing can be called.
 */
export async function findTargets(
  open: OpenPort,
  modules: readonly PortModule[],
  all: readonly SharedCase[],
  { calls, seen, isPlain = false }: TargetOptions,
): Promise<{ readonly targets: readonly Target[]; readonly source: string }> {
  const reader = new SourceReader();
  const { folder, language } = open.original;
  await reader.refresh(
    folder,
    modules.flatMap(({ original }) => original),
  );
  const facts = findLanguage(language);

  const files = modules.flatMap(({ original }) => original);
  const source = reader
    .of(folder, files)
    .map(({ lines }) => lines.join("\n"))
    .join("\n");
  const elsewhere = isPlain ? { numbers: [], texts: [] } : literalsOf(source, facts?.comments ?? []);
  const learned = new Map<string, Json[]>();
  const found = modules.flatMap(({ name: module, original }) =>
    reader.of(folder, original).flatMap(({ lines, sections }) =>
      targetsOf({ module, lines, sections }, all, {
        makers: facts?.makers ?? [],
        comments: facts?.comments ?? [],
        hasInts: !(facts?.hasOneNumber ?? false),
        hasNamed: facts?.namedArguments ?? false,
        elsewhere,
        seen,
        learned,
        isPlain,
      }),
    ),
  );
  const isWanted = ({ module, name }: Target) =>
    calls.length === 0 || calls.includes(name) || calls.includes(`${module}.${name}`);
  const strange = calls.find(
    (call) => !found.some(({ module, name }) => call === name || call === `${module}.${name}`),
  );
  const wanted = found.filter(isWanted);
  if (strange === undefined && wanted.length > 0) return { targets: wanted, source };
  throw new SideTwinError({
    code: strange === undefined ? "bad-input" : "not-found",
    what:
      strange === undefined
        ? "There is no function or class to make inputs for"
        : `There is no function or class "${strange}" to call`,
    next: `Sections that can be called: ${found.map(({ module, name }) => `${module}.${name}`).join(", ") || "none"}.`,
  });
}
