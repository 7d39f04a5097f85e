/**
 * A scratch copy of a side's folder: what ported code writes is observed there and never lands in the person's sources.
 * One copy serves many program runs, and is put back as it was after each; the drivers put theirs back themselves.
 */
import { existsSync, lstatSync, readdirSync, statSync } from "node:fs";
import { cp, mkdir, mkdtemp, readFile, realpath, rm, symlink, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import type { WrittenFile } from "@/core/compare/answer";
import { SideTwinError } from "@/core/errors";
import { ALL_DRIVERS } from "@/engine/drivers/index";

const LEFT_BEHIND = new Set([".git", ...ALL_DRIVERS.flatMap((driver) => driver.madeFolders)]);
const MAX_FILE_BYTES = 32 * 1024 * 1024;

type Facts = { readonly size: number; readonly mtimeMs: number };

/** A copy of a side's folder in which programs run, restored after each run. */
export class Scratch {
  private laid: Map<string, Facts>;
  /** The result of `written`, for restoring. */
  private seen: Map<string, Facts> | null = null;

  private constructor(
    readonly folder: string,
    private source: string,
    private before: Map<string, Facts>,
  ) {
    this.laid = before;
  }

  static async make(source: string): Promise<Scratch> {
    const folder = path.join(
      await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-run-"))),
      path.basename(source),
    );
    await cp(source, folder, {
      recursive: true,
      preserveTimestamps: true,
      filter: (file) => !LEFT_BEHIND.has(path.basename(file)) && !isOddFile(file),
    });
    await mkdir(path.join(path.dirname(folder), "tmp"), { recursive: true });
    const modules = path.join(source, "node_modules");
    if (existsSync(modules)) await symlink(modules, path.join(folder, "node_modules"));
    return new Scratch(folder, source, await factsOf(folder));
  }

  /** Where programs put their temporary files, beside the copy. */
  get temporary(): string {
    return path.join(path.dirname(this.folder), "tmp");
  }

  /** Lays a case's input files; a name that climbs out of the folder is refused. */
  async lay(files: { readonly [name: string]: string | { readonly "~bytes": string } }): Promise<void> {
    for (const [name, content] of Object.entries(files)) {
      const target = path.resolve(this.folder, name);
      if (!target.startsWith(this.folder + path.sep)) {
        throw new SideTwinError({
          code: "outside-folder",
          what: `The input file "${name}" lies outside the program's folder`,
          next: "Use a name inside the folder.",
        });
      }
      await mkdir(path.dirname(target), { recursive: true });
      await writeFile(target, typeof content === "string" ? content : Buffer.from(content["~bytes"], "base64"));
    }
    this.laid = Object.keys(files).length > 0 ? await factsOf(this.folder) : this.before;
  }

  /** Files written, changed or removed since `lay`. */
  async written(): Promise<{ [name: string]: WrittenFile }> {
    const now = await factsOf(this.folder);
    this.seen = now;
    const written: { [name: string]: WrittenFile } = {};
    for (const [name, facts] of now) {
      const earlier = this.laid.get(name);
      if (earlier && earlier.size === facts.size && earlier.mtimeMs === facts.mtimeMs) continue;
      written[name] = await readWritten(path.join(this.folder, name), facts.size);
    }
    for (const name of this.laid.keys()) if (!now.has(name)) written[name] = { removed: true };
    return written;
  }

  /** Takes the folder as it is now, built or with probes, as what each run starts from. */
  async settle(): Promise<void> {
    const settled = path.join(path.dirname(this.folder), "settled");
    await cp(this.folder, settled, { recursive: true, preserveTimestamps: true, verbatimSymlinks: true });
    this.source = settled;
    this.before = await factsOf(this.folder);
    this.laid = this.before;
  }

  /** Puts the folder back as it was before `lay`. */
  async restore(): Promise<void> {
    const now = this.seen ?? (await factsOf(this.folder));
    this.seen = null;
    for (const [name, facts] of now) {
      const earlier = this.before.get(name);
      if (earlier && earlier.size === facts.size && earlier.mtimeMs === facts.mtimeMs) continue;
      const target = path.join(this.folder, name);
      await rm(target, { force: true });
      if (earlier) await cp(path.join(this.source, name), target, { preserveTimestamps: true });
    }
    for (const name of this.before.keys()) {
      if (!now.has(name))
        await cp(path.join(this.source, name), path.join(this.folder, name), { preserveTimestamps: true });
    }
    this.laid = this.before;
  }

  async remove(): Promise<void> {
    await rm(path.dirname(this.folder), { recursive: true, force: true });
  }
}

/** Sockets, pipes and devices cannot be copied; links are copied as links. */
function isOddFile(file: string): boolean {
  const facts = lstatSync(file);
  return !facts.isFile() && !facts.isDirectory() && !facts.isSymbolicLink();
}

const YIELD_EVERY = 1000;

/** Synchronous, because the thread pool takes ten times as long for small files; large trees are walked in pieces. */
async function factsOf(folder: string): Promise<Map<string, Facts>> {
  const facts = new Map<string, Facts>();
  const folders = [""];
  for (let inside = folders.pop(); inside !== undefined; inside = folders.pop()) {
    for (const entry of readdirSync(path.join(folder, inside), { withFileTypes: true })) {
      const name = inside ? `${inside}/${entry.name}` : entry.name;
      if (entry.isDirectory()) {
        if (!LEFT_BEHIND.has(entry.name)) folders.push(name);
      } else if (entry.isFile()) {
        const { size, mtimeMs } = statSync(path.join(folder, name));
        facts.set(name, { size, mtimeMs });
        if (facts.size % YIELD_EVERY === 0) await new Promise((resolve) => setImmediate(resolve));
      }
    }
  }
  return facts;
}

async function readWritten(file: string, size: number): Promise<WrittenFile> {
  if (size > MAX_FILE_BYTES) return { bytes: Buffer.from(`<${size} bytes, more than are kept>`).toString("base64") };
  const content = await readFile(file);
  const text = content.toString("utf8");
  return Buffer.from(text, "utf8").equals(content) ? { text } : { bytes: content.toString("base64") };
}
