/** Finds the files that port modules where neither the port file nor their names tell. */
import path from "node:path";
import { type FileSketch, type ModuleSketch, pairFiles } from "@/core/pairing/file-pairing";
import { isSourceOf, type PortModule } from "@/core/pairing/modules";
import { isTestFile } from "@/core/survey/test-files";
import { statNow } from "@/engine/files/tree";
import { sketchFiles } from "@/engine/source/sketch-files";
import { workers } from "@/engine/workers/worker-pool";
import { sameItems } from "@/service/port/same-items";

type Side = {
  readonly name: string;
  readonly folder: string;
  readonly language: string;
  readonly files: readonly string[];
};

/** Returns the modules with the files found per twin. Reads nothing if every file of a twin is placed by name. */
export async function findLeftFiles(
  modules: readonly PortModule[],
  original: { readonly folder: string },
  twins: readonly Side[],
): Promise<PortModule[]> {
  if (known.size > MAX_SKETCHES) known.clear();
  let found = [...modules];
  for (const twin of twins) {
    const taken = new Set(found.flatMap((module) => module.twins[twin.name] ?? []));
    const sources = twin.files.filter((file) => isSourceOf(file, twin.language) && !isTestFile(file));
    const isDoubtful = (module: PortModule) => module.doubtful?.includes(twin.name) ?? false;
    if (sources.every((file) => taken.has(file)) && !found.some(isDoubtful)) continue;
    const present = new Set(twin.files);
    const open = found.filter((module) => module.leftOut === undefined && !module.original.every(isTestFile));
    await refresh(twin.folder, sources);
    await refresh(
      original.folder,
      open.flatMap((module) => module.original),
    );
    const files = sketchesOf(twin.folder, sources);
    const wanted = open.map((module) => ({
      name: module.name,
      files: sketchesOf(original.folder, module.original),
      twins: (module.twins[twin.name] ?? []).filter((file) => present.has(file)),
      ...(isDoubtful(module) ? { isDoubtful: true } : {}),
    }));
    const pairs = pairOnce(`${original.folder}\0${twin.folder}\0${twin.name}`, wanted, files);
    found = found.map((module) => {
      const own = pairs.get(module.name);
      const before = module.twins[twin.name] ?? [];
      // Files named in the port file are kept, even if missing.
      return own === undefined || (own.length <= before.length && !isDoubtful(module))
        ? module
        : { ...module, twins: { ...module.twins, [twin.name]: own } };
    });
  }
  return found;
}

type Pairs = ReturnType<typeof pairFiles>;

const paired = new Map<
  string,
  { readonly modules: readonly ModuleSketch[]; readonly files: readonly FileSketch[]; readonly pairs: Pairs }
>();

/** Recomputed only when a file of either side or the known modules change: every view asks for it. */
function pairOnce(sides: string, modules: readonly ModuleSketch[], files: readonly FileSketch[]): Pairs {
  const before = paired.get(sides);
  const isSame =
    before &&
    sameItems(before.files, files) &&
    before.modules.length === modules.length &&
    modules.every((module, index) => {
      const old = before.modules[index];
      return (
        old?.name === module.name &&
        old.isDoubtful === module.isDoubtful &&
        sameItems(old.files, module.files) &&
        sameItems(old.twins, module.twins)
      );
    });
  if (isSame) return before.pairs;
  const pairs = pairFiles(modules, files);
  if (paired.size >= MAX_PAIRS) paired.clear();
  paired.set(sides, { modules, files, pairs });
  return pairs;
}

/** Evicted beyond this many open ports, and read again on demand. */
const MAX_SKETCHES = 50_000;
const MAX_PAIRS = 200;

const known = new Map<string, { readonly stamp: string; readonly sketch: FileSketch }>();

/** From this many changed files, threads are worth starting. */
const MIN_FOR_THREADS = 24;
/** Files that one thread takes at a time. */
const SHARE = 40;

/** Reads what changed of a side's files, much of it at once on threads. Throws where a file cannot be read. */
async function refresh(folder: string, files: readonly string[]): Promise<void> {
  const changed = new Map<string, string>();
  for (const file of files) {
    const full = path.join(folder, file);
    const facts = statNow(full);
    const stamp = `${facts?.size}:${facts?.mtimeMs}`;
    if (!facts?.isFile()) known.delete(full);
    else if (known.get(full)?.stamp !== stamp) changed.set(file, stamp);
  }
  const names = [...changed.keys()];
  const shares = Array.from({ length: Math.ceil(names.length / SHARE) }, (_one, index) =>
    names.slice(index * SHARE, (index + 1) * SHARE),
  );
  await Promise.all(
    shares.map(async (share) => {
      const sketched =
        names.length >= MIN_FOR_THREADS
          ? await workers.run("sketchFiles", folder, share)
          : await sketchFiles(folder, share);
      for (const sketch of sketched)
        known.set(path.join(folder, sketch.path), { stamp: changed.get(sketch.path) ?? "", sketch });
    }),
  );
}

const sketchesOf = (folder: string, files: readonly string[]): FileSketch[] =>
  files.flatMap((file) => known.get(path.join(folder, file))?.sketch ?? []);
