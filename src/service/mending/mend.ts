/** Tries small changes of a twin for each family of differing cases, and keeps what makes the family agree and harms nothing. */
import { readFileSync } from "node:fs";
import { availableParallelism } from "node:os";
import path from "node:path";
import { sizeOf } from "@/core/cases/shrink";
import { SideTwinError } from "@/core/errors";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Report } from "@/core/formats/report";
import { applyEdit, diffOf } from "@/core/mending/edit";
import { isAgreement } from "@/core/progress/done";
import { languageIn } from "@/core/source/language-of";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { parseSource } from "@/engine/source/parse";
import { answersFolderIn, runCheck } from "@/service/check/run-check";
import { addEntry } from "@/service/journal/journal-file";
import { type ChangedFiles, editsFor, type Family, type MendPlace } from "@/service/mending/edits";
import { casesToTry, confirmOnRuns, MAX_RUNS } from "@/service/mending/program-runs";
import { type Best, TwinTrial } from "@/service/mending/trial";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";
import { partFamilies } from "@/service/tracing/part-families";

const DEFAULT_SECONDS = 60;
/** Cases of a family that are run for each change; most changes fail at the first. */
const MAX_FAMILY_CASES = 40;
/** Agreeing cases that a change must not harm, and whose lines are compared with those of the family. */
const MAX_AGREEING = 300;
const MAX_PLACES = 20;
/** For calls inside program runs, whose times no check measured. */
const UNMEASURED_MS = 100;

export type MendOptions = {
  readonly module?: string | undefined;
  readonly twin?: string | undefined;
  /** Id of a family of the report. */
  readonly family?: string | undefined;
  /** Only families with this case. */
  readonly caseId?: string | undefined;
  readonly seconds?: number | undefined;
  readonly jobs?: number | undefined;
  /** Writes the mends that were found, with a snapshot. */
  readonly write?: boolean | undefined;
  readonly data: string;
  readonly signal?: AbortSignal | undefined;
  readonly onStep?: (words: string) => void;
};

/** A family with its mend, as the command line prints it (formats, section 14). */
export type FamilyMend = {
  readonly id: string;
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
  readonly cases: readonly string[];
  /** The first suspect, or null. */
  readonly cause: string | null;
  readonly places: readonly MendPlace[];
  readonly tried: number;
  /** Why nothing was tried. */
  readonly why?: string;
  readonly best: {
    readonly diff: string;
    readonly file: string;
    readonly line: number;
    readonly what: string;
    readonly mended: number;
    readonly of: number;
    readonly harmed: number;
  } | null;
};

export type MendEnd = {
  readonly families: readonly FamilyMend[];
  /** The texts of each mend, in the order of the families; null if there is none. */
  readonly changes: readonly (MendChange | null)[];
  readonly snapshot: string | null;
};

/** A file of a twin before and after a mend. */
export type MendChange = {
  readonly full: string;
  readonly folder: string;
  readonly before: string;
  readonly after: string;
};

/** Checks, then tries. Throws SideTwinError where nothing can be checked, or for a family that is not there. */
export async function mendPort(file: string, options: MendOptions): Promise<MendEnd> {
  const open = await openPort(file);
  const all = await readCases(open);
  options.onStep?.("checking");
  const { report } = await runCheck(open, all, {
    ...(options.module === undefined ? {} : { module: options.module }),
    ...(options.twin === undefined ? {} : { twin: options.twin }),
    answersFolder: answersFolderIn(options.data),
    part: partFamilies,
    ...(options.signal ? { signal: options.signal } : {}),
  });
  const wanted = report.families.filter(
    ({ id, cases }) =>
      (options.family === undefined || id === options.family) &&
      (options.caseId === undefined || cases.includes(options.caseId)),
  );
  if (wanted.length === 0 && options.family !== undefined)
    throw new SideTwinError({
      code: "not-found",
      what: `There is no family "${options.family}"`,
      next: `Families of the check: ${report.families.map(({ id }) => id).join(", ") || "none, no case differs"}.`,
    });
  const until = performance.now() + (options.seconds ?? DEFAULT_SECONDS) * 1000;
  const found: (Found | null)[] = wanted.map(() => null);
  const changed = new Map<string, { folder: string; before: string; after: string }>();
  const earlier: Best[] = [];
  const attempt = async (index: number, share: number, isLater: boolean) => {
    const family = wanted[index] as Family; // in range
    options.onStep?.(`${family.id}: ${family.sentence}`);
    const known = earlier.filter(({ twin }) => twin === family.twin);
    const now = await mendFamily(open, all, {
      report,
      family,
      changed,
      earlier: known,
      isLater,
      options,
      until: share,
    });
    if (!isLater || now.mend.best) found[index] = now;
    if (now.best) earlier.push(now.best);
    if (!options.write || !now.change) return;
    const { full, folder, before, after } = now.change;
    changed.set(full, { folder, before: changed.get(full)?.before ?? before, after });
  };
  // Each family gets a share of the remaining time; an early mend leaves more for the others.
  for (const index of wanted.keys())
    await attempt(index, performance.now() + (until - performance.now()) / (wanted.length - index), false);
  // A mend of what a function calls is found where that is called itself, which may be a later family.
  for (const [index, first] of [...found].entries())
    if (first?.mend.best === null && first.mend.tried > 0 && earlier.length > 0) await attempt(index, Infinity, true);
  const families = found.flatMap((item) => item?.mend ?? []);
  const changes = found.map((item) => item?.change ?? null);
  const taken = families.filter((_family, index) => changes[index] !== null);
  const snapshot = options.write ? await writeChanges(open, changed, taken, options.data) : null;
  return { families, changes, snapshot };
}

type Context = {
  readonly report: Report;
  readonly family: Family;
  /** Mends that were found before, on which this one rests. */
  readonly changed: ChangedFiles;
  /** Mends of the same twin for families before this one: one fault may have several. */
  readonly earlier: readonly Best[];
  /** Tries nothing but those. */
  readonly isLater: boolean;
  readonly options: MendOptions;
  readonly until: number;
};

/** `best` is null where nothing was found or an earlier mend is enough. */
type Found = { readonly mend: FamilyMend; readonly change: MendChange | null; readonly best: Best | null };

async function mendFamily(open: OpenPort, all: readonly SharedCase[], context: Context): Promise<Found> {
  const { report, options } = context;
  const given = context.family;
  const twin = open.twins.find(({ name }) => name === given.twin);
  const byId = new Map(all.map((item) => [item.id, item]));
  const whole = given.cases.flatMap((id) => byId.get(id) ?? []);
  const runs = whole.filter(isRunCase);
  const names = open.modules.map(({ name }) => name);
  const { family, cases, others } = casesToTry(given, whole, names);
  const isOnlyRuns = runs.length === whole.length;
  // An inner call that is tried in place of the family's own cases is not one of them.
  const extra = cases.filter(({ id }) => !given.cases.includes(id)).length;
  const own = { id: given.id, twin: given.twin, module: given.module, call: given.call, cases: given.cases };
  const nothing = (why: string): Found => ({
    mend: { ...own, cause: family.suspects[0]?.cause ?? null, places: [], tried: 0, why, best: null },
    change: null,
    best: null,
  });
  if (!twin) return nothing("its twin is not there");
  if (cases.length + others.length === 0)
    return nothing("its cases are program runs, and no call inside them shows the difference by itself");
  const agreeing = report.cases.flatMap(({ id, outcome, module, twin: name }) => {
    const item = byId.get(id);
    const isNear = module === family.module || open.modules.length < 2;
    return item && name === family.twin && isNear && isAgreement(outcome) && !isRunCase(item) ? [item] : [];
  });
  const ids = new Set([...cases, ...others, ...agreeing].map(({ id }) => id));
  const times = report.cases.flatMap(({ id, twin: name, ms }) =>
    name === twin.name && ids.has(id) ? [ms.original ?? 0, ms.twin ?? 0] : [],
  );
  const trial = await TwinTrial.open(open, twin, {
    slowestMs: times.length > 0 ? Math.max(...times) : UNMEASURED_MS,
    cases: smallestOf(cases),
    others: smallestOf(others),
    agreeing: agreeing.slice(0, MAX_AGREEING),
    changed: context.changed,
    jobs: options.jobs ?? Math.min(4, availableParallelism()),
    ...(isOnlyRuns
      ? { confirm: (best: Best) => confirmOnRuns(open, twin, { best, runs, signal: options.signal }) }
      : {}),
    ...(options.signal ? { signal: options.signal } : {}),
  });
  try {
    const files = open.modules.find(({ name }) => name === family.module)?.twins[twin.name] ?? [];
    const places = await nearer(twin.folder, await trial.places(), {
      files,
      call: family.call,
      changed: context.changed,
    });
    const shown = places
      .slice(0, MAX_PLACES)
      .map((place) => ({ ...place, score: Math.round(place.score * 1000) / 1000 }));
    const cause = family.suspects[0]?.cause ?? null;
    const mendBy = ({ file, edit, before, mended, harmed }: Best, tried: number): FamilyMend => ({
      ...own,
      cause,
      // A mend that was tried is the best proof of its place.
      places: [
        { file, line: edit.line, score: 1 },
        ...shown.filter((place) => place.file !== file || place.line !== edit.line),
      ],
      tried,
      best: {
        diff: diffOf(file, before, applyEdit(before, edit)),
        file,
        line: edit.line,
        what: edit.what,
        mended: isOnlyRuns ? mended : mended - extra,
        of: isOnlyRuns ? Math.min(runs.length, MAX_RUNS) : trial.count - extra,
        harmed,
      },
    });
    const onItsLines = context.earlier.filter(({ file }) => places.some((place) => place.file === file));
    const enough = onItsLines.at(-1) ?? context.earlier.at(-1);
    if (context.changed.size > 0 && enough && (await trial.agrees()))
      return { mend: mendBy({ ...enough, mended: trial.count }, 0), change: null, best: null };
    const made = context.isLater ? [] : await editsFor(open, twin, { family, places, changed: context.changed });
    // Earlier mends are part of the text already where mends are written one upon the other.
    const edits = options.write ? made : [...context.earlier, ...made];
    const isOver = () => performance.now() > context.until || (options.signal?.aborted ?? false);
    options.onStep?.(`${family.id}: trying ${edits.length} changes`);
    const { best, tried } = await trial.search(edits, isOver);
    if (!best) return { mend: { ...own, cause, places: shown, tried, best: null }, change: null, best: null };
    const { file, before } = best;
    const full = path.join(twin.folder, file);
    return {
      mend: mendBy(best, tried),
      change: { full, folder: twin.folder, before, after: applyEdit(before, best.edit) },
      best: { ...best, twin: twin.name },
    };
  } finally {
    await trial.close();
  }
}

const smallestOf = (cases: readonly SharedCase[]): SharedCase[] =>
  cases.toSorted((left, right) => sizeOf(left) - sizeOf(right)).slice(0, MAX_FAMILY_CASES);

/** Top-level code of a module runs with whichever case loads it, so it counts less than functions do. */
const OUTSIDE = 0.25;
/** The least for lines of the section that is called: a function on one line has none that only calls run. */
const OF_SECTION = 0.4;
/** The least for constants of the module: they are run when it is loaded, before any case. */
const OF_CONSTANT = 0.3;

type Near = { readonly files: readonly string[]; readonly call: string; readonly changed: ChangedFiles };

async function nearer(
  folder: string,
  places: readonly MendPlace[],
  { files, call, changed }: Near,
): Promise<MendPlace[]> {
  const found = new Map(places.map((place) => [`${place.file} ${place.line}`, place]));
  for (const file of new Set([...places.map((place) => place.file), ...files])) {
    const full = path.join(folder, file);
    const text = changed.get(full)?.after ?? readFileSync(full, "utf8");
    const { sections } = await parseSource(text, languageIn(file, text));
    const code = sections.filter(({ kind }) => kind === "function" || kind === "method");
    for (const [key, place] of found) {
      const isInside = place.file !== file || code.some(({ from, to }) => from <= place.line && place.line <= to);
      if (!isInside) found.set(key, { ...place, score: place.score * OUTSIDE });
    }
    for (const { name, kind, from, to } of sections) {
      const least = kind === "constant" ? OF_CONSTANT : plainName(name) === plainName(call) ? OF_SECTION : 0;
      for (let line = from; line <= to; line++) {
        const known = found.get(`${file} ${line}`)?.score ?? 0;
        if (known < least) found.set(`${file} ${line}`, { file, line, score: least });
      }
    }
  }
  return [...found.values()].sort((left, right) => right.score - left.score);
}

/** A name without what styles make of it. */
const plainName = (name: string): string => name.replaceAll("_", "").toLowerCase();

/** Writes one mend with a snapshot. Throws SideTwinError where the file changed since. Returns the snapshot's id. */
export async function takeMend(
  open: OpenPort,
  family: FamilyMend,
  change: MendChange,
  data: string,
): Promise<string | null> {
  return writeChanges(open, new Map([[change.full, change]]), [family], data);
}

async function writeChanges(
  open: OpenPort,
  changed: ReadonlyMap<string, { readonly folder: string; readonly before: string; readonly after: string }>,
  families: readonly FamilyMend[],
  data: string,
): Promise<string | null> {
  const folders = new Set([...changed.values()].map(({ folder }) => folder));
  let last: string | null = null;
  for (const folder of folders) {
    const own = [...changed].filter(([, change]) => change.folder === folder);
    const relative = (full: string) => path.relative(folder, full).split(path.sep).join("/");
    const mended = families.filter(({ best }) => best !== null && own.some(([full]) => relative(full) === best.file));
    const what = `mends of ${mended.map(({ module, call }) => `${module}.${call}`).join(", ")}`;
    const { id } = Snapshots.open(data, open.file).change(
      folder,
      what,
      own.map(([full, { after }]) => ({ file: relative(full), content: Buffer.from(after) })),
      new Map(own.map(([full, { before }]) => [relative(full), Buffer.from(before)])),
    );
    for (const { module, call, best } of mended)
      await addEntry(open.folder, {
        kind: "applied",
        text: `Mend: ${best?.what}, ${best?.file}:${best?.line}; snapshot ${id}`,
        ...(module === null ? {} : { module, section: call }),
        by: "side-twin",
      });
    last = id;
  }
  return last;
}
