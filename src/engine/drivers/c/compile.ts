/** Compiles and links a side's C or C++ with the runtime: object by object, each kept by the content that it is made of. */
import { createHash } from "node:crypto";
import { existsSync } from "node:fs";
import { mkdir, readdir, readFile, rename, writeFile } from "node:fs/promises";
import { availableParallelism } from "node:os";
import path from "node:path";
import { buildKey } from "@/engine/drivers/build-key";
import type { BuildSide } from "@/engine/drivers/driver";

const MAX_LINKS = 6;

/** The first complaint that a tool printed on a file, with the place relative to the port. */
export function firstComplaint(printed: string, folder: string): string | null {
  for (const line of printed.split("\n")) {
    const found = /^(.+?):(\d+)(?::\d+)?: (?:fatal )?error: (.*)$/.exec(line);
    if (found) return `${relativeTo(folder, found[1] ?? "")}:${found[2]}: ${found[3]}`;
  }
  return null;
}

/** A path as the port names it: relative to the side's folder where it is below it. */
export const relativeTo = (folder: string, file: string): string => {
  const relative = path.relative(folder, path.resolve(folder, file)).split(path.sep).join("/");
  return relative.startsWith("../") ? file : relative;
};

/** Does `work` for each item, as many at once as the machine has processors. */
export async function forAll<T>(items: readonly T[], work: (item: T, index: number) => Promise<void>): Promise<void> {
  let next = 0;
  const lanes = Array.from({ length: Math.min(items.length, availableParallelism()) }, async () => {
    for (let at = next++; at < items.length; at = next++) {
      const item = items[at];
      if (item !== undefined) await work(item, at);
    }
  });
  await Promise.all(lanes);
}

/** The flags of the runtime's own sources: C++ throws through them. */
const OWN_FLAGS = ["-O2", "-g", "-w", "-fno-omit-frame-pointer", "-fexceptions"];

/** Compiles the runtime's sources once for a compiler; returns the objects. */
export async function runtimeObjects(
  side: BuildSide,
  terms: {
    readonly compiler: readonly string[];
    readonly folder: string;
    readonly sources: readonly string[];
    readonly flags?: readonly string[];
  },
): Promise<string[]> {
  const { compiler, folder, sources, flags = ["-std=gnu11"] } = terms;
  const all = (await readdir(folder)).filter((name) => /\.(c|h|cpp|hpp)$/.test(name));
  const home = path.join(side.cache, `native-${await buildKey(folder, all, [...compiler, ...flags])}`);
  await mkdir(home, { recursive: true });
  const objects = sources.map((source) => path.join(home, `${source}.o`));
  await forAll(sources, async (source, at) => {
    const object = objects[at] ?? "";
    if (existsSync(object)) return;
    const { isOk, printed } = await compile(
      side,
      [...compiler, ...OWN_FLAGS, ...flags, path.join(folder, source)],
      object,
    );
    if (!isOk) throw new Error(`the driver of Side Twin could not be compiled: ${printed.trim().slice(0, 1500)}`);
  });
  return objects;
}

/** Compiles to an object that is there whole or not at all. */
async function compile(side: BuildSide, command: readonly string[], object: string) {
  const unfinished = `${object}.${process.pid}.${Math.random().toString(36).slice(2)}`;
  const done = await side.run([...command, "-c", "-o", unfinished], path.dirname(object));
  if (done.isOk) await rename(unfinished, object);
  return done;
}

/** Compiles a text, unless the same was compiled before with the same command. `content` is all that it is made of. */
export async function compileText(
  side: BuildSide,
  terms: {
    readonly command: readonly string[];
    readonly text: string;
    readonly content: string;
    readonly ending: string;
    readonly folder: string;
  },
): Promise<{ readonly object: string; readonly printed: string; readonly isOk: boolean }> {
  const hash = createHash("sha256")
    .update(JSON.stringify([terms.command, terms.text, terms.content]))
    .digest("hex");
  const object = path.join(terms.folder, `${hash.slice(0, 24)}.o`);
  if (existsSync(object)) return { object, printed: "", isOk: true };
  const source = path.join(terms.folder, `${hash.slice(0, 24)}.${terms.ending}`);
  await writeFile(source, terms.text);
  return { object, ...(await compile(side, [...terms.command, source], object)) };
}

/** Problems of a failed link: undefined names, and objects that define a name twice. */
export type LinkProblems = {
  readonly undefinedNames: readonly string[];
  readonly twice: readonly { readonly object: string; readonly name: string }[];
};

function linkProblems(printed: string): LinkProblems {
  const undefinedNames = [...printed.matchAll(/undefined reference to [`'"]([A-Za-z_][\w.$]*)['"]/g)];
  const twice: { object: string; name: string }[] = [];
  // With debug information a place is that of a source; the object is named in the line before.
  let last = "";
  for (const line of printed.split("\n")) {
    const [complaint = ""] = line.split(/[;]/);
    last = /([^\s:]+\.o)[:(]/.exec(complaint)?.[1] ?? last;
    const name = /multiple definition of [`'"]([^'"]+)['"]/.exec(complaint)?.[1];
    if (name !== undefined) twice.push({ object: last, name });
  }
  return { undefinedNames: undefinedNames.map(([, name = ""]) => name), twice };
}

/**
 * Links. Undefined names become stubs, written by `stubs`, that report themselves when called. `leftOut` receives each object
 * that redefines a name; null lets duplicate variables share one definition.
 */
export async function link(
  side: BuildSide,
  terms: {
    readonly compiler: readonly string[];
    readonly objects: readonly string[];
    readonly program: string;
    readonly flags: readonly string[];
    readonly home: string;
    readonly stubs: (names: readonly string[]) => { readonly text: string; readonly ending: string };
    readonly leftOut: ((object: string, name: string) => void) | null;
  },
): Promise<void> {
  const undefinedNames = new Set<string>();
  const without = new Set<string>();
  const extra: string[] = [];
  for (let tries = 1; ; tries++) {
    const list = path.join(terms.home, "objects.txt");
    await writeFile(
      list,
      terms.objects
        .filter((one) => !without.has(one))
        .map((one) => `"${one}"\n`)
        .join(""),
    );
    const stubs: string[] = [];
    if (undefinedNames.size > 0) {
      const { text, ending } = terms.stubs([...undefinedNames]);
      const command = [...terms.compiler, "-w"];
      const done = await compileText(side, { command, text, content: "", ending, folder: terms.home });
      if (!done.isOk) throw new Error(`the side could not be linked: ${done.printed.trim().slice(0, 1500)}`);
      stubs.push(done.object);
    }
    const command = [
      ...terms.compiler,
      `@${list}`,
      ...stubs,
      "-o",
      terms.program,
      ...extra,
      "-Wl,--no-demangle",
      ...terms.flags,
    ];
    const { isOk, printed } = await side.run(command, terms.home);
    if (isOk) return;
    const before = undefinedNames.size + without.size + extra.length;
    const found = linkProblems(printed);
    for (const name of found.undefinedNames) undefinedNames.add(name);
    for (const { object, name } of found.twice) {
      if (!terms.leftOut) {
        if (extra.length === 0) extra.push("-Wl,--allow-multiple-definition");
      } else if (!without.has(object)) {
        without.add(object);
        terms.leftOut(object, name);
      }
    }
    if (undefinedNames.size + without.size + extra.length === before || tries === MAX_LINKS)
      throw new Error(`the side could not be linked: ${firstLinkError(printed)}`);
  }
}

const firstLinkError = (printed: string): string =>
  (printed.split("\n").find((line) => /undefined|cannot find|multiple|error/.test(line)) ?? printed)
    .trim()
    .slice(0, 1500);

/** The text of a file that may be missing. */
export const textOrNothing = (file: string): Promise<string> => readFile(file, "utf8").catch(() => "");
