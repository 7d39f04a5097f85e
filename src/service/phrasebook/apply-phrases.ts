/** Writes all ready places of a twin, or none, with a snapshot first (formats, section 10). */
import { statSync } from "node:fs";
import path from "node:path";
import type { Totals } from "@/core/formats/report";
import { Snapshots, type WantedFile } from "@/engine/snapshots/snapshots";
import { answersFolderIn, runCheckOfFile } from "@/service/check/run-check";
import { addEntry } from "@/service/journal/journal-file";
import type { Application, AppliedPlace } from "@/service/phrasebook/find-harm";
import { type PhraseOptions, type PhraseRun, runPhrases } from "@/service/phrasebook/run-phrases";
import type { OpenPort } from "@/service/port/open-port";

export type Applied = {
  /** Null where nothing changed. */
  readonly snapshot: string | null;
  readonly changed: readonly { readonly file: string; readonly to?: string; readonly places: number }[];
  readonly check?: Totals;
  /** The application, for finding harmful places; null where nothing was written. */
  readonly application: Application | null;
};

/** Throws SideTwinError; then every file is as it was. */
export async function applyPhrases(
  open: OpenPort,
  options: PhraseOptions & { readonly data: string; readonly check?: boolean },
): Promise<Applied> {
  const run = await runPhrases(open, options);
  const changes = run.changed;
  if (changes.length === 0)
    return { snapshot: null, changed: [], application: null, ...(await checked(open, run.twin, options)) };
  const wanted: WantedFile[] = [];
  const expected = new Map<string, Buffer>();
  const modes = new Map<string, number>();
  for (const { file, to, before, after } of changes) {
    expected.set(file, before);
    if (to !== file) {
      wanted.push({ file, content: null });
      modes.set(to, modeOf(run.folder, file));
    }
    wanted.push({ file: to, content: after, ...(modes.has(to) ? { mode: modes.get(to) ?? 0o644 } : {}) });
  }
  const places = changes.reduce((sum, changed) => sum + changed.places, 0);
  const what = `${places} ${places === 1 ? "place" : "places"} of the phrasebook on ${run.twin}`;
  const record = Snapshots.open(options.data, open.file).change(run.folder, what, wanted, expected);
  const { id } = record;
  await addEntry(open.folder, { kind: "applied", text: `${what}, snapshot ${id}`, by: "side-twin" });
  return {
    snapshot: id,
    changed: changes.map(({ file, to, places: count }) => ({
      file,
      ...(to === file ? {} : { to }),
      places: count,
    })),
    application: { record, places: appliedPlaces(run), terms: run.terms },
    ...(await checked(open, run.twin, options)),
  };
}

const appliedPlaces = ({ phrases }: PhraseRun): AppliedPlace[] =>
  phrases.flatMap(({ occurrences }) =>
    occurrences.filter(({ isApplied }) => isApplied).map(({ phrase, file, line }) => ({ phrase, file, line })),
  );

const modeOf = (folder: string, file: string): number => statSync(path.join(folder, file)).mode & 0o777;

async function checked(
  open: OpenPort,
  twin: string,
  { check, data }: { readonly check?: boolean; readonly data: string },
): Promise<{ readonly check?: Totals }> {
  if (!check) return {};
  const { report } = await runCheckOfFile(open.file, { twin, answersFolder: answersFolderIn(data) });
  return { check: report.totals };
}
