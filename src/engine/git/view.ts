/**
 * A repository seen without its configuration. A `.git/config` can name programs that git starts while it only reads: to
 * fetch missing objects, to check signatures, to filter and to show contents. So git never gets to see it: it is given a
 * folder of ours with the repository's references and the place of its objects, and a configuration of two lines.
 */
import { copyFile, lstat, mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";

/** Where a repository's parts lie. */
export type Located = {
  /** The folder that holds `.git`, or null for one that has no files of its own (a bare repository). */
  readonly top: string | null;
  /** HEAD is there; of a linked work tree it has a folder of its own. */
  readonly gitFolder: string;
  /** References, objects and configuration are there. */
  readonly common: string;
};

/** A folder of ours through which git reads a repository. */
export type View = Located & {
  /** The folder that git gets in place of the repository. */
  readonly folder: string;
  /** The hash of its object names. */
  readonly hash: "sha1" | "sha256";
};

const MAX_REFERENCES = 50_000;
const MAX_POINTER_BYTES = 4096;

/** Finds the repository that contains a folder, or null. Starts no program. */
export async function locateRepository(folder: string): Promise<Located | null> {
  for (let at = path.resolve(folder); ; at = path.dirname(at)) {
    const gitFolder = await gitFolderIn(at);
    if (gitFolder) return { top: at, gitFolder, common: await commonFolder(gitFolder) };
    if (at === path.resolve(folder) && (await isGitFolder(at))) return { top: null, gitFolder: at, common: at };
    if (path.dirname(at) === at) return null;
  }
}

async function gitFolderIn(folder: string): Promise<string | null> {
  const entry = path.join(folder, ".git");
  const facts = await stat(entry).catch(() => null);
  if (facts?.isDirectory()) return (await isGitFolder(entry)) ? entry : null;
  if (!facts?.isFile() || facts.size > MAX_POINTER_BYTES) return null;
  // In a linked work tree or submodule, `.git` is a file with the path.
  const [, target] = /^gitdir: (.+)$/m.exec(await readFile(entry, "utf8")) ?? [];
  if (target === undefined) return null;
  const found = path.resolve(folder, target.trim());
  return (await stat(path.join(found, "HEAD")).catch(() => null)) ? found : null;
}

async function commonFolder(gitFolder: string): Promise<string> {
  const common = await readFile(path.join(gitFolder, "commondir"), "utf8").catch(() => null);
  return common === null ? gitFolder : path.resolve(gitFolder, common.trim());
}

async function isGitFolder(folder: string): Promise<boolean> {
  const parts = ["HEAD", "objects", "refs"].map((name) => stat(path.join(folder, name)).catch(() => null));
  return (await Promise.all(parts)).every((facts) => facts !== null);
}

/** Runs `work` with a view of the repository and removes the view. Throws SideTwinError if it is not a repository. */
export async function withView<T>(folder: string, work: (view: View) => Promise<T>): Promise<T> {
  const located = await locateRepository(folder);
  if (!located) throw unreadable(folder, "it is no git repository");
  const made = await mkdtemp(path.join(tmpdir(), "side-twin-git-"));
  try {
    return await work({ ...located, folder: made, hash: await fill(made, located) });
  } finally {
    await rm(made, { recursive: true, force: true });
  }
}

async function fill(view: string, { gitFolder, common }: Located): Promise<View["hash"]> {
  const objects = path.join(common, "objects");
  if (/[\n\r"]/.test(objects)) throw unreadable(common, "its path has a line break or a quotation mark in it");
  if (await stat(path.join(common, "reftable")).catch(() => null))
    throw unreadable(common, "its references are kept as a reftable, which is not read here");
  const head = (await readFile(path.join(gitFolder, "HEAD"), "utf8").catch(() => "")).trim();
  if (!/^(ref: refs\/[^\s]+|[0-9a-f]{40,64})$/.test(head)) throw unreadable(common, "its HEAD names nothing");
  const hash = await hashOf(common);
  await mkdir(path.join(view, "objects/info"), { recursive: true });
  await mkdir(path.join(view, "refs"));
  await writeFile(path.join(view, "objects/info/alternates"), `${objects}\n`);
  await writeFile(path.join(view, "HEAD"), `${head}\n`);
  await writeFile(path.join(view, "config"), configOf(hash));
  for (const name of ["packed-refs", "shallow"]) await copyPlain(path.join(common, name), path.join(view, name));
  await copyReferences(path.join(common, "refs"), path.join(view, "refs"));
  return hash;
}

const configOf = (hash: View["hash"]): string =>
  hash === "sha1"
    ? "[core]\n\trepositoryformatversion = 0\n\tbare = true\n"
    : "[core]\n\trepositoryformatversion = 1\n\tbare = true\n[extensions]\n\tobjectFormat = sha256\n";

/** The one thing of the configuration that decides how the objects are read. */
async function hashOf(common: string): Promise<View["hash"]> {
  const config = await readFile(path.join(common, "config"), "utf8").catch(() => "");
  return /^\s*objectformat\s*=\s*"?sha256"?\s*$/im.test(config) ? "sha256" : "sha1";
}

/** Copies plain files; skips links and missing files. */
async function copyPlain(from: string, to: string): Promise<void> {
  const facts = await lstat(from).catch(() => null);
  if (facts?.isFile()) await copyFile(from, to);
}

async function copyReferences(from: string, to: string): Promise<void> {
  let left = MAX_REFERENCES;
  const copy = async (inside: string): Promise<void> => {
    for (const entry of await readdir(path.join(from, inside), { withFileTypes: true })) {
      const name = path.join(inside, entry.name);
      if (entry.isDirectory()) {
        await mkdir(path.join(to, name), { recursive: true });
        await copy(name);
      } else if (entry.isFile()) {
        if (left-- === 0) throw unreadable(from, `it has more than ${MAX_REFERENCES} loose references`);
        await copyFile(path.join(from, name), path.join(to, name));
      }
    }
  };
  await copy("");
}

const unreadable = (folder: string, why: string): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `${folder} cannot be read as a git repository: ${why}`,
    next: "Look at it with git itself, or bring it in as a folder.",
  });
