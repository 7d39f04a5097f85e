/** Which places of applied phrases made cases differ that agreed before: found by halving, on a copy of the twin. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { FileTerms } from "@/core/phrasebook/run-book";
import { isAgreement } from "@/core/progress/done";
import { groupBy } from "@/core/values/group-by";
import { smallestCause } from "@/core/values/smallest-cause";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { DRIVERS } from "@/engine/drivers/index";
import { Scratch } from "@/engine/runs/scratch";
import type { SnapshotRecord, Snapshots } from "@/engine/snapshots/snapshots";
import { Prober } from "@/service/check/prober";
import { type DecodedFile, decode } from "@/service/phrasebook/phrase-cache";
import { phraseThreads } from "@/service/phrasebook/threads";
import { type OpenPort, twinsFor } from "@/service/port/open-port";

/** A place that was written; several places of one line are written and left together. */
export type AppliedPlace = { readonly phrase: string; readonly file: string; readonly line: number };

/** Places that together make some cases differ: without any one of them these agree. */
export type Harm = { readonly places: readonly AppliedPlace[]; readonly cases: readonly string[] };

/** An application of phrases: its snapshot, places, and the phrases at that time. */
export type Application = {
  readonly record: SnapshotRecord;
  readonly places: readonly AppliedPlace[];
  readonly terms: FileTerms;
};

type Wanted = {
  readonly twin: string;
  readonly applied: Application;
  /** Cases that agreed before and do not any more. */
  readonly cases: readonly SharedCase[];
  readonly signal?: AbortSignal | undefined;
};

/** Cases that are tried; program runs are slow. */
const MAX_CASES = 60;
const MAX_RUNS = 6;
const MAX_MS = 60_000;

/**
 * Returns the harms, each with the cases that it explains; a case that differs without the phrases too is in none. Throws
 * SideTwinError where the change cannot be taken apart. Cost: for each harm about twice the logarithm of the places in
 * runs of one case, and one run of all.
 */
export async function findHarm(open: OpenPort, snapshots: Snapshots, wanted: Wanted): Promise<Harm[]> {
  const [twin] = twinsFor(open, wanted.twin);
  const { applied, signal } = wanted;
  const before = filesBefore(snapshots, applied.record);
  const until = performance.now() + MAX_MS;
  const isOver = () => performance.now() > until || (signal?.aborted ?? false);
  const scratch = await Scratch.make(twin.folder);
  const side = { ...twin, folder: scratch.folder };
  // Compiled languages are rebuilt for every text; interpreted ones reload their files.
  const isBuilt = DRIVERS[twin.language]?.build !== undefined || (twin.prepare ?? []).length > 0;
  let prober = new Prober(open, side, signal);
  const originals = new Map<SharedCase, PoolAnswer>();
  /** The original answers once; only the twin changes. */
  const agreeing = async (item: SharedCase): Promise<boolean> => {
    const known = originals.get(item);
    const [judged] = known ? await prober.probeTwin([item], [known]) : [await prober.probe(item)];
    return judged !== undefined && isAgreement(judged.verdict.outcome);
  };
  const differing = async (places: readonly AppliedPlace[], items: readonly SharedCase[]): Promise<SharedCase[]> => {
    for (const { file, content } of await textsWith(before, applied, places))
      writeFileSync(path.join(scratch.folder, file), content);
    if (isBuilt) {
      prober.close();
      prober = new Prober(open, side, signal);
    } else await prober.reloadTwin(before.map(({ file }) => file));
    const found: SharedCase[] = [];
    for (const item of items) if (!(await agreeing(item))) found.push(item);
    return found;
  };
  try {
    const items = [
      ...wanted.cases.filter((item) => !isRunCase(item)).slice(0, MAX_CASES),
      ...wanted.cases.filter(isRunCase).slice(0, MAX_RUNS),
    ];
    const calls = isBuilt ? [] : items.filter((item) => !isRunCase(item));
    const answers = await prober.askOriginal(calls);
    for (const [index, answer] of answers.entries()) originals.set(calls[index] as SharedCase, answer); // as many
    const others = new Set(await differing([], items));
    let unexplained = await differing(
      applied.places,
      items.filter((item) => !others.has(item)),
    );
    const harms: Harm[] = [];
    // Places of one line go together.
    let left = [...groupBy(applied.places, keyOf).values()];
    for (let [first] = unexplained; first && !isOver(); [first] = unexplained) {
      const tried = first;
      const cause = await smallestCause(
        left,
        async (part) => (await differing(part.flat(), [tried])).length > 0,
        isOver,
      );
      left = left.filter((line) => !cause.includes(line));
      const still = new Set(await differing(left.flat(), unexplained));
      harms.push({ places: cause.flat(), cases: unexplained.filter((item) => !still.has(item)).map(({ id }) => id) });
      // A case that nothing explains is not asked for again.
      unexplained = unexplained.filter((item) => still.has(item) && item !== tried);
    }
    return harms.filter(({ cases }) => cases.length > 0);
  } finally {
    prober.close();
    await scratch.remove();
  }
}

/** Every file of the snapshot with some of the places and not the others. */
async function textsWith(
  before: readonly DecodedFile[],
  { places, terms }: Application,
  wanted: readonly AppliedPlace[],
): Promise<{ readonly file: string; readonly content: Buffer }[]> {
  const kept = new Set(wanted.map(keyOf));
  const not = [...terms.not, ...places.map(keyOf).filter((key) => !kept.has(key))];
  const plain = before.map(({ file, disk, language }) => ({ file, disk, language }));
  const found = await phraseThreads.run("findPlaces", plain, { ...terms, not });
  return before.map(({ file, disk, encoding }, index) => ({
    file,
    content: Buffer.from(found[index]?.text ?? disk, encoding),
  }));
}

/**
 * Takes some places back and leaves the others, with a snapshot of its own. Returns the application as it is then. Throws
 * SideTwinError where a file changed since.
 */
export async function takeBack(
  snapshots: Snapshots,
  applied: Application,
  harm: readonly AppliedPlace[],
): Promise<{ readonly snapshot: string; readonly applied: Application }> {
  const before = filesBefore(snapshots, applied.record);
  const gone = new Set(harm.map(keyOf));
  const places = applied.places.filter((place) => !gone.has(keyOf(place)));
  const [now, then] = [await textsWith(before, applied, applied.places), await textsWith(before, applied, places)];
  const expected = new Map(now.map(({ file, content }) => [file, content]));
  const changed = then.filter(({ file, content }) => !expected.get(file)?.equals(content));
  const count = applied.places.length - places.length;
  if (count === 0)
    throw new SideTwinError({
      code: "bad-input",
      what: "None of these places was applied",
      next: "Look for the places that made cases worse again.",
    });
  const what = `${count} ${count === 1 ? "place" : "places"} of the phrasebook taken back`;
  const { id } = snapshots.change(applied.record.folder, what, changed, expected);
  // Lines are those of the texts before: what was taken back stays out of later trials.
  const terms = { ...applied.terms, not: [...applied.terms.not, ...gone] };
  return { snapshot: id, applied: { ...applied, places, terms } };
}

const keyOf = ({ file, line }: AppliedPlace): string => `${file}:${line}`;

/** The files of a snapshot as they were. Throws SideTwinError where some were moved, made or taken away. */
function filesBefore(snapshots: Snapshots, record: SnapshotRecord): DecodedFile[] {
  return record.files.map(({ file, before, after }) => {
    const bytes = snapshots.contentBefore(record, file);
    if (!bytes || !before || !after)
      throw new SideTwinError({
        code: "bad-input",
        what: "The change moved files, so its places cannot be tried one by one",
        where: { file },
        next: "Undo it, and apply the phrases one after another.",
      });
    return { file, ...decode(file, bytes) };
  });
}
