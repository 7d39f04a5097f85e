/** Reads the sources of a port again and again: only what changed is parsed, and much of it at once on worker threads. */
import path from "node:path";
import { languageIn } from "@/core/source/language-of";
import { readText } from "@/engine/files/text";
import { statNow } from "@/engine/files/tree";
import { parseSource, splitLines } from "@/engine/source/parse";
import { hashOf } from "@/engine/source/parse-files";
import { workers } from "@/engine/workers/worker-pool";
import type { PlacedSource } from "@/service/reading/pair-port";
import { type FactsCache, sourcesOf } from "@/service/reading/survey-folder";

/** A source with the hash of its text. */
export type ReadSource = PlacedSource & { readonly hash: string };

type Kept = { readonly stamp: string; readonly source: ReadSource };

/** From this many changed files, threads are worth starting. */
const MIN_FOR_THREADS = 24;
/** Files that one thread takes at a time. */
const MAX_PER_THREAD = 40;

/** Reads sources, re-parsing only changed files. */
export class SourceReader {
  private readonly kept = new Map<string, Kept>();

  /**
   * Reads the changed files of a side; missing files are skipped. Updates the survey of the folder on the way and reuses its
   * sections, so that no file is parsed twice. Throws SideTwinError.
   */
  async refresh(folder: string, files: readonly string[], survey?: FactsCache): Promise<void> {
    const facts = files.map((file) => statNow(path.join(folder, file)));
    const changed = new Map<string, string>();
    for (const [index, file] of files.entries()) {
      const about = facts[index];
      const full = path.join(folder, file);
      if (!about?.isFile()) this.kept.delete(full);
      else {
        const stamp = `${about.size}:${about.mtimeMs}`;
        if (this.kept.get(full)?.stamp !== stamp) changed.set(file, stamp);
      }
    }
    const names = survey ? await this.takeSurveyed(folder, changed, survey) : [...changed.keys()];
    const left = names.length >= MIN_FOR_THREADS ? await this.parseMany(folder, names, changed) : names;
    for (const file of left) {
      const text = await readText(path.join(folder, file));
      const language = languageIn(file, text);
      const parsed = await parseSource(text, language);
      this.keep(folder, file, {
        stamp: changed.get(file) ?? "",
        source: { ...parsed, file, language, hash: hashOf(text) },
      });
    }
  }

  /** Adopts files that a survey has read; returns the others. */
  private async takeSurveyed(
    folder: string,
    changed: ReadonlyMap<string, string>,
    survey: FactsCache,
  ): Promise<string[]> {
    await survey.readSources(folder, sourcesOf([...changed.keys()]));
    const left: string[] = [];
    for (const [file, stamp] of changed) {
      const known = survey.sources.get(file);
      if (!known?.facts || known.stamp !== stamp) {
        left.push(file);
        continue;
      }
      const { sections, imports, statementLines, errorLine, language } = known.facts;
      const text = await readText(path.join(folder, file));
      const parsed = { lines: splitLines(text), sections, imports, statementLines, errorLine };
      this.keep(folder, file, { stamp, source: { ...parsed, file, language, hash: hashOf(text) } });
    }
    return left;
  }

  /** The sources of files that were refreshed and are there. */
  of(folder: string, files: readonly string[]): ReadSource[] {
    return files.flatMap((file) => this.kept.get(path.join(folder, file))?.source ?? []);
  }

  /** Parses on threads; returns the files of which that failed. */
  private async parseMany(
    folder: string,
    files: readonly string[],
    stamps: ReadonlyMap<string, string>,
  ): Promise<string[]> {
    const shares: string[][] = [];
    for (let at = 0; at < files.length; at += MAX_PER_THREAD) shares.push(files.slice(at, at + MAX_PER_THREAD));
    const failed: string[] = [];
    await Promise.all(
      shares.map(async (share) => {
        for (const { path: file, source } of await workers.run("parseFiles", folder, share)) {
          if (!source) failed.push(file);
          else {
            const { text, ...parsed } = source;
            const whole = { ...parsed, lines: splitLines(text), file, language: languageIn(file, text) };
            this.keep(folder, file, { stamp: stamps.get(file) ?? "", source: whole });
          }
        }
      }),
    );
    return failed;
  }

  private keep(folder: string, file: string, entry: Kept): void {
    this.kept.set(path.join(folder, file), entry);
  }
}
