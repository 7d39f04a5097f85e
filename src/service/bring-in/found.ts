/** Inspects a source tree for a new port, and proposes a draft. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import {
  type Draft,
  formatCommand,
  formatLadder,
  mapBetween,
  namingBetween,
  PLANNED_LANGUAGES,
  plainDraft,
} from "@/core/bring-in/draft";
import { type EntryPoint, guessEntryPoint, isTelling } from "@/core/bring-in/entry-points";
import { type ProposedLadder, proposeLadder } from "@/core/bring-in/ladders";
import { findPackageName } from "@/core/bring-in/package-name";
import { isSourceOf } from "@/core/pairing/modules";
import { languageTitle } from "@/core/source/language-of";
import { isBuildFile } from "@/core/survey/build-files";
import { isTestFile } from "@/core/survey/test-files";
import { listFiles } from "@/engine/files/tree";
import { findProgram } from "@/engine/find-program";
import { decode } from "@/engine/source/read-files";
import { findTools, type LanguageTool } from "@/engine/toolchains/language-tools";
import { FactsCache, type FolderSurvey, surveyFolder } from "@/service/reading/survey-folder";

/** A tree under inspection: its current place, and its facts. */
export type Found = {
  readonly root: string;
  /** As the project's manifest names it. */
  readonly name: string | null;
  readonly files: readonly string[];
  readonly survey: FolderSurvey;
  /** Facts read for the survey, reused when the port is read. */
  readonly facts: FactsCache;
  readonly tools: readonly LanguageTool[];
  readonly entries: ReadonlyMap<string, EntryPoint>;
};

const MAX_TEXTS = 400;
const MAX_TEXT_BYTES = 256 * 1024;

/** Reads the tree. Throws SideTwinError where it cannot be read. */
export async function findInFolder(root: string): Promise<Found> {
  const facts = new FactsCache();
  const [files, survey] = await Promise.all([listFiles(root), surveyFolder(root, { known: facts })]);
  const languages = Object.keys(survey.languages);
  const texts = new Map<string, string>();
  for (const file of files.filter(isTelling).slice(0, MAX_TEXTS)) {
    const bytes = await readFile(path.join(root, file)).catch(() => null);
    if (bytes && bytes.length <= MAX_TEXT_BYTES) texts.set(file, decode(bytes).text);
  }
  const entries = new Map(languages.map((language) => [language, guessEntryPoint(language, { files, texts })]));
  const tools = await findTools(languages, files);
  return { root, name: findPackageName(texts), files, survey, facts, tools, entries };
}

/** The languages with the most lines first; a header's C goes with C++ where there is more of that. */
export function languagesOf({ survey }: Found): { language: string; title: string; files: number; lines: number }[] {
  return Object.entries(survey.languages)
    .map(([language, counts]) => ({ language, title: languageTitle(language), ...counts }))
    .sort((one, other) => other.lines - one.lines);
}

/** The proposed draft; `folder` is where the port file would go. */
export function draftFor(found: Found, { name, folder }: { name: string; folder: string }): Draft {
  const language = languagesOf(found)[0]?.language ?? "python";
  const twin = language === "typescript" || language === "tsx" ? "rust" : "typescript";
  return adapt(found, {
    name,
    folder,
    language,
    ...plainDraft(),
    ignore: [...generatedFolders(found), ...found.files.filter(isBuildFile)],
    twin: { name: "twin", root: "twin", language: twin },
  });
}

/** Fields derived from a draft's languages: commands, moduleMap, naming style. */
export function adapt(found: Found, draft: Draft, twinFiles: readonly string[] = []): Draft {
  const entry = found.entries.get(draft.language);
  const naming = namingBetween(draft.language, draft.twin.language);
  const files = found.files.filter((file) => !isTestFile(file));
  return {
    ...draft,
    prepare: (entry?.prepare ?? []).map(formatCommand).join("\n"),
    run: entry?.run ? formatCommand(entry.run) : "",
    ladder: formatLadder(ladderFor(draft.twin.language).rungs),
    functions: naming,
    keys: naming === "snake-to-pascal" ? "same" : naming,
    moduleMap: mapBetween({ language: draft.language, files }, { language: draft.twin.language, files: twinFiles }),
  };
}

/** The ladder that is proposed for a twin in a language, by what is installed. */
export const ladderFor = (language: string): ProposedLadder =>
  proposeLadder(language, (program) => findProgram(program) !== null);

/** Folders whose sources are marked as generated are not the person's. */
function generatedFolders({ survey }: Found): string[] {
  const generated = survey.files.filter((file) => file.isGenerated).map(({ path: file }) => file);
  const folders = new Set(generated.map((file) => file.split("/").slice(0, -1).join("/")).filter((one) => one !== ""));
  const isWhole = (folder: string) =>
    survey.files.every((file) => !file.path.startsWith(`${folder}/`) || file.isGenerated);
  return [...folders].filter(isWhole).map((folder) => `${folder}/**`);
}

/** Languages that a twin can have. */
export const plannedLanguages = (): { language: string; title: string }[] =>
  PLANNED_LANGUAGES.map((language) => ({ language, title: languageTitle(language) }));

/** Sources of a language in a tree. */
export const sourcesOf = (files: readonly string[], language: string): string[] =>
  files.filter((file) => isSourceOf(file, language));
