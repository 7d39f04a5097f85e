/** Reads a source tree, on worker threads, and puts the survey together. */
import { readFile, stat } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { languageOf } from "@/core/source/language-of";
import { findLanguage } from "@/core/source/languages/index";
import type { FileFacts } from "@/core/survey/file-facts";
import { isManifest, readManifests } from "@/core/survey/file-index";
import type { PlainText } from "@/core/survey/mentions";
import { makeSurvey, needsOfFiles, ResolvedCache, resolveAll, type Survey } from "@/core/survey/survey";
import { listFiles, statNow } from "@/engine/files/tree";
import { decode, type ReadFiles } from "@/engine/source/read-files";
import { workers } from "@/engine/workers/worker-pool";
import { sameItems } from "@/service/port/same-items";

/** The survey of a folder, with files that could not be read. */
export type FolderSurvey = Survey & { readonly root: string; readonly problems: ReadFiles["problems"] };

/** Source files that one thread takes at a time, by their bytes. */
const SHARE_BYTES = 400_000;
/** Limits on the number and size of texts read beside the code. */
const MAX_TEXTS = 2000;
const MAX_TEXT_BYTES = 1024 * 1024;
const NO_TEXT =
  /\.(png|jpe?g|gif|webp|ico|pdf|zip|gz|bz2|xz|jar|class|o|so|a|dll|exe|wasm|pyc|woff2?|ttf|mp[34]|sqlite|db|bin|map|lock)$|(^|\/)(package-lock\.json|LICENSE.*|COPYING.*)$/i;

/** Files to ignore, and the cache to use. */
export type SurveyOptions = {
  readonly ignore?: readonly string[] | undefined;
  /** Known facts by path; only changed files are read again. */
  readonly known?: FactsCache;
};

/** State kept between surveys of one folder. */
export class FactsCache {
  /** Path → facts, with the size and time of change of the file. */
  readonly sources: KeptSources = new Map();
  readonly texts = new Map<string, { readonly stamp: string; readonly text: PlainText | null }>();
  readonly resolved = new ResolvedCache();
  /** The last survey and its inputs. */
  last: {
    readonly files: readonly FileFacts[];
    readonly texts: readonly PlainText[];
    readonly survey: FolderSurvey;
  } | null = null;

  private needs: {
    readonly files: readonly FileFacts[];
    readonly texts: readonly PlainText[];
    readonly generation: number;
    readonly needs: ReadonlyMap<string, readonly string[]>;
  } | null = null;

  /** For the same files in another place: keeps facts of files, drops what was derived from the tree. */
  moved(): FactsCache {
    const other = new FactsCache();
    for (const [file, kept] of this.sources) other.sources.set(file, kept);
    for (const [file, kept] of this.texts) other.texts.set(file, kept);
    return other;
  }

  /** File → the files of the folder that it needs. Reads what changed of them. */
  async needsOf(root: string, listed: readonly string[]): Promise<ReadonlyMap<string, readonly string[]>> {
    const sources = sourcesOf(listed);
    await this.readSources(root, sources);
    const files = sources.flatMap(({ path: file }) => this.sources.get(file)?.facts ?? []);
    const texts = await readTexts(root, this.texts, listed.filter(isManifest));
    const before = this.needs;
    if (before && sameItems(before.files, files) && sameItems(before.texts, texts)) return before.needs;
    const resolved = resolveAll({ files, manifests: manifestsIn(texts), rootName: path.basename(root) }, this.resolved);
    const { generation } = this.resolved;
    // Another text that imports the same and shows the same names needs the same.
    const needs = before?.generation === generation ? before.needs : needsOfFiles(resolved);
    this.needs = { files, texts, generation, needs };
    return needs;
  }

  /** Reads new and changed files in batches that keep all threads busy. */
  async readSources(root: string, sources: readonly SourceFile[]): Promise<void> {
    const stamps = new Map<string, string>();
    const shares: SourceFile[][] = [];
    let bytes = SHARE_BYTES;
    const facts = sources.map((source) => statNow(path.join(root, source.path)));
    for (const [place, source] of sources.entries()) {
      const about = facts[place];
      const stamp = `${about?.size}:${about?.mtimeMs}`;
      if (this.sources.get(source.path)?.stamp === stamp) continue;
      stamps.set(source.path, stamp);
      if (bytes >= SHARE_BYTES) {
        shares.push([]);
        bytes = 0;
      }
      shares.at(-1)?.push(source);
      bytes += about?.size ?? 0;
    }
    await Promise.all(
      shares.map(async (share) => {
        const { files, problems } = await workers.run("readFiles", root, share);
        const byPath = new Map(files.map((file) => [file.path, file]));
        for (const { path: file } of share) {
          const own = problems.filter((problem) => problem.file === file);
          this.sources.set(file, { stamp: stamps.get(file) ?? "", facts: byPath.get(file) ?? null, problems: own });
        }
      }),
    );
  }
}

/** A source file by path, with its language. */
export type SourceFile = { readonly path: string; readonly language: string };

/** The files of a list that are read as code. */
export const sourcesOf = (files: readonly string[]): SourceFile[] =>
  files.flatMap((file) => {
    const language = languageOf(file);
    return language !== null && findLanguage(language) ? [{ path: file, language }] : [];
  });

type KeptSources = Map<
  string,
  { readonly stamp: string; readonly facts: FileFacts | null; readonly problems: ReadFiles["problems"] }
>;

/** Throws SideTwinError when the folder cannot be read; a file that cannot be is listed under `problems`. */
export async function surveyFolder(
  folder: string,
  { ignore = [], known = new FactsCache() }: SurveyOptions = {},
): Promise<FolderSurvey> {
  const root = path.resolve(folder);
  if (!(await stat(root).catch(() => null))?.isDirectory()) {
    throw new SideTwinError({
      code: "not-found",
      what: `There is no folder ${root}`,
      next: "Name a folder with source code.",
    });
  }
  const all = await listFiles(root, ignore);
  const sources = sourcesOf(all);
  const present = new Set(sources.map((source) => source.path));
  for (const file of known.sources.keys()) if (!present.has(file)) known.sources.delete(file);
  await known.readSources(root, sources);
  const read = sources.flatMap((source) => known.sources.get(source.path) ?? []);
  const others = all.filter((file) => !present.has(file) && !NO_TEXT.test(file) && !isManifest(file));
  const texts = await readTexts(root, known.texts, [...all.filter(isManifest), ...others.slice(0, MAX_TEXTS)]);
  const manifests = manifestsIn(texts);
  const files = read.flatMap(({ facts }) => facts ?? []);
  const { last } = known;
  const isSame =
    last !== null && last.survey.root === root && sameItems(last.files, files) && sameItems(last.texts, texts);
  if (isSame) return last.survey;
  const made = makeSurvey({ files, manifests, rootName: path.basename(root), texts, resolved: known.resolved });
  const survey = { root, ...made, problems: read.flatMap((entry) => entry.problems) };
  known.last = { files, texts, survey };
  return survey;
}

const manifestsIn = (texts: readonly PlainText[]) =>
  readManifests(new Map(texts.filter(({ path: file }) => isManifest(file)).map((one) => [one.path, one.text])));

/** Reads texts beside the code; remembers unchanged ones, and files that are not text. */
async function readTexts(root: string, known: FactsCache["texts"], files: readonly string[]): Promise<PlainText[]> {
  const texts = await Promise.all(
    files.map(async (file) => {
      const about = statNow(path.join(root, file));
      if (!about || about.size > MAX_TEXT_BYTES) return [];
      const stamp = `${about.size}:${about.mtimeMs}`;
      const before = known.get(file);
      if (before?.stamp === stamp) return before.text ?? [];
      const bytes = await readFile(path.join(root, file)).catch(() => null);
      // A zero byte near the start means it is not text.
      const isText = bytes && !bytes.subarray(0, 1024).includes(0);
      const text = isText ? { path: file, text: decode(bytes).text } : null;
      known.set(file, { stamp, text });
      return text ?? [];
    }),
  );
  return texts.flat();
}
