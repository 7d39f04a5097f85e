/**
 * Adds ports: a source is inspected, its draft corrected with the effect in view, and only then stored. Copies under
 * inspection lie in the data folder under `incoming` and are removed at the next start.
 */
import { randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { access, constants, mkdir, readdir, rm, stat } from "node:fs/promises";
import path from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { EffectView, FoundView, RevisionsView, Source } from "@/api/bring-in-views";
import { type Draft, toPortFile } from "@/core/bring-in/draft";
import { SideTwinError } from "@/core/errors";
import { listFiles } from "@/engine/files/tree";
import { type UnzipProgress, unzip } from "@/engine/files/unzip";
import { copyRepository, findCommit, readRepository } from "@/engine/git/git";
import type { FolderBrowser } from "@/service/bring-in/browse-folders";
import { effectOf } from "@/service/bring-in/effect";
import { adapt, draftFor, type Found, findInFolder, ladderFor } from "@/service/bring-in/found";
import { foundView } from "@/service/bring-in/found-view";
import { keepPort, type PortToKeep } from "@/service/bring-in/keep-port";
import { PORT_FILE } from "@/service/port/open-port";
import type { FactsCache } from "@/service/reading/survey-folder";

/** A source under inspection. `staged` is its own folder, removed unless the port is kept. */
type Looked = {
  readonly found: Found;
  readonly from: string;
  readonly staged: string | null;
  readonly links: readonly string[];
};

const MAX_LOOKED = 4;
const MAX_UPLOAD_BYTES = 1024 * 1024 * 1024;

/** Sources under inspection, by token. */
export class BringIn {
  private readonly looked = new Map<string, Looked>();
  private readonly incoming: string;
  private unpacking: UnzipProgress | null = null;

  private constructor(
    private readonly data: string,
    private readonly browser: FolderBrowser,
  ) {
    this.incoming = path.join(data, "incoming");
  }

  /** Removes copies left by an earlier server. */
  static async open(data: string, browser: FolderBrowser): Promise<BringIn> {
    const bringIn = new BringIn(data, browser);
    await rm(bringIn.incoming, { recursive: true, force: true });
    return bringIn;
  }

  /** The branches and tags of a repository on this machine. Throws SideTwinError. */
  async revisions(folder: string): Promise<RevisionsView> {
    const real = await this.browser.confine(folder);
    return { folder: real, ...(await readRepository(real)) };
  }

  /** Reads a folder where it lies, or a copy of a repository. Throws SideTwinError. */
  async inspect(source: Source): Promise<FoundView> {
    const folder = await this.browser.confine(source.folder);
    if (source.kind === "folder") {
      return this.remember({ from: folder, root: folder, staged: null, links: [], name: path.basename(folder) });
    }
    const commit = await findCommit(folder, source.revision);
    return this.staging(async (staged) => {
      const root = path.join(staged, "tree");
      await copyRepository(folder, root, commit);
      const from = `${folder} at ${source.revision} (${commit.slice(0, 10)})`;
      return { from, root, staged, links: [], name: path.basename(folder) };
    });
  }

  /** How far the unpacking of a large zip is; null while none is unpacked. */
  get progress(): UnzipProgress | null {
    return this.unpacking;
  }

  /** Unpacks and reads an upload. Throws SideTwinError, leaving nothing behind. */
  async inspectZip(name: string, content: ReadableStream<Uint8Array>): Promise<FoundView> {
    return this.staging(async (staged) => {
      const file = path.join(staged, "sent.zip");
      let bytes = 0;
      const counted = async function* (stream: Readable) {
        for await (const chunk of stream) {
          bytes += (chunk as Uint8Array).length; // a stream of bytes
          if (bytes > MAX_UPLOAD_BYTES) {
            throw new SideTwinError({
              code: "bad-input",
              what: "The zip has more than 1 GB",
              next: "Unpack it yourself, and bring in the folder.",
            });
          }
          yield chunk;
        }
      };
      await pipeline(
        Readable.fromWeb(content as import("node:stream/web").ReadableStream), // the same streams under two names
        counted,
        createWriteStream(file),
      );
      const tree = path.join(staged, "tree");
      const { files, links } = await unzip(file, tree, undefined, (progress) => {
        this.unpacking = progress;
      }).finally(() => {
        this.unpacking = null;
      });
      if (files === 0) {
        throw new SideTwinError({ code: "bad-input", what: "The zip holds no file", next: "Choose another." });
      }
      const root = await onlyFolder(tree);
      return { from: name, root, staged, links, name: path.basename(name).replace(/\.zip$/i, "") };
    });
  }

  /** The draft with what follows from other languages. Throws SideTwinError. */
  async adapt(token: string, draft: Draft): Promise<Draft> {
    return adapt(this.find(token).found, draft, await this.twinFiles(draft));
  }

  /** Computes the effect of a draft without writing. Throws SideTwinError if the draft is not a valid port. */
  async effect(token: string, draft: Draft): Promise<EffectView> {
    const { found, staged } = this.find(token);
    const root = originalRoot(draft.folder, staged === null ? found.root : path.join(draft.folder, "original"));
    return effectOf(found, toPortFile(draft, root), {
      folder: draft.folder,
      twin: await this.twinFiles(draft),
      made: ladderFiles(draft).map(({ name }) => name),
    });
  }

  /** Writes the port file, puts a copy in its place, and returns the port file's path. Throws SideTwinError; then nothing stays. */
  async keep(token: string, draft: Draft): Promise<{ readonly file: string; readonly survey: FactsCache }> {
    const looked = this.find(token);
    const folder = await this.confine(draft.folder, "the port file");
    await this.confine(path.resolve(folder, draft.twin.root), "the twin");
    const original = looked.staged === null ? looked.found.root : path.join(folder, "original");
    const port = toPortFile({ ...draft, folder }, originalRoot(folder, original));
    refuseTwinInside(draft, folder, original);
    const copy = looked.staged === null ? null : { from: looked.found.root, to: original };
    // Detach the staged copy while it moves, so that closing the page cannot delete it.
    this.looked.set(token, { ...looked, staged: null });
    const file = await keepPort({ folder, port, copy, files: ladderFiles(draft) }).catch((thrown: unknown) => {
      this.looked.set(token, looked);
      throw thrown;
    });
    // Requests still in flight while the browser navigates away must not fail.
    this.looked.set(token, { ...looked, staged: null, found: { ...looked.found, root: original } });
    if (looked.staged) await rm(looked.staged, { recursive: true, force: true });
    return { file, survey: looked.found.facts.moved() };
  }

  /** Discards a source and its copy. */
  async forget(token: string): Promise<void> {
    const looked = this.looked.get(token);
    this.looked.delete(token);
    if (looked?.staged) await rm(looked.staged, { recursive: true, force: true });
  }

  private async staging(
    fill: (staged: string) => Promise<Omit<Looked, "found"> & { root: string; name: string }>,
  ): Promise<FoundView> {
    const staged = path.join(this.incoming, randomUUID());
    await mkdir(staged, { recursive: true });
    try {
      return await this.remember(await fill(staged));
    } catch (thrown) {
      await rm(staged, { recursive: true, force: true });
      throw thrown;
    }
  }

  private async remember({
    root,
    name,
    ...rest
  }: Omit<Looked, "found"> & { root: string; name: string }): Promise<FoundView> {
    const found = await findInFolder(root);
    if (Object.keys(found.survey.languages).length === 0) {
      const [problem] = found.survey.problems;
      throw new SideTwinError({
        code: "bad-input",
        what: problem
          ? `No source file in ${rest.from} could be read: ${problem.file} ${problem.message}`
          : `There is no source code in ${rest.from} in a language that is read here`,
        next: "Choose the folder with the sources; docs/formats.md lists the languages.",
      });
    }
    const token = randomUUID();
    this.looked.set(token, { found, ...rest });
    for (const old of [...this.looked.keys()].slice(0, -MAX_LOOKED)) await this.forget(old);
    const draft = draftFor(found, {
      name: titleOf(found.name ?? name),
      folder: await this.proposeFolder(root, name, rest.staged),
    });
    return foundView(found, { ...rest, token, draft });
  }

  private find(token: string): Looked {
    const looked = this.looked.get(token);
    if (looked) return looked;
    throw new SideTwinError({
      code: "not-found",
      what: "What was looked at is no longer kept",
      next: "Choose the source again.",
    });
  }

  /** Beside a folder that stays where it is, else in the data folder; a name that is free. */
  private async proposeFolder(root: string, name: string, staged: string | null): Promise<string> {
    const slug =
      name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "") || "port";
    const parent = path.dirname(root);
    const canWrite = await access(parent, constants.W_OK).then(
      () => true,
      () => false,
    );
    const isBeside = staged === null && canWrite && (await this.isAllowed(parent));
    const base = isBeside ? `${root}-port` : path.join(this.data, "ports", slug);
    for (let count = 1; ; count++) {
      const folder = count === 1 ? base : `${base}-${count}`;
      if (!(await stat(folder).catch(() => null))) return folder;
    }
  }

  /** The files of the twin's folder, when it is there already and one that may be looked into. */
  private async twinFiles(draft: Draft): Promise<string[]> {
    const root = path.resolve(draft.folder, draft.twin.root);
    if (!(await this.isAllowed(root))) return [];
    return (await stat(root).catch(() => null))?.isDirectory() ? listFiles(root, draft.ignore) : [];
  }

  private async isAllowed(folder: string): Promise<boolean> {
    return this.confine(folder, "").then(
      () => true,
      () => false,
    );
  }

  /** A folder that may not be there yet, below the one that is browsed or below the data folder. */
  private async confine(folder: string, what: string): Promise<string> {
    if (!path.isAbsolute(folder)) {
      throw new SideTwinError({
        code: "bad-input",
        what: `"${folder}" is no whole path, for ${what}`,
        next: "Write it from the top, beginning with /.",
      });
    }
    const resolved = path.resolve(folder);
    let there = resolved;
    while (!(await stat(there).catch(() => null)) && path.dirname(there) !== there) there = path.dirname(there);
    if (!(there === this.data || there.startsWith(this.data + path.sep))) await this.browser.confine(there);
    return resolved;
  }
}

/** How the port file names the original: relative to itself, from the top where that would climb far. */
function originalRoot(folder: string, original: string): string {
  const relative = path.relative(folder, original).split(path.sep).join("/") || ".";
  return relative.startsWith("../../../..") ? original : relative;
}

/** The one folder that a zip wraps everything in, or the tree itself. */
async function onlyFolder(tree: string): Promise<string> {
  const entries = (await readdir(tree, { withFileTypes: true })).filter(({ name }) => name !== "__MACOSX");
  const [only] = entries;
  return entries.length === 1 && only?.isDirectory() ? path.join(tree, only.name) : tree;
}

const titleOf = (name: string): string =>
  name
    .replace(/[-_.]+/g, " ")
    .trim()
    .replace(/^\w/, (letter) => letter.toUpperCase()) || "A port";

/** A twin within the original would be read as a part of it. */
/** Those files of the proposed ladder that the ladder still names. */
const ladderFiles = ({ ladder, twin }: Draft): PortToKeep["files"] =>
  ladderFor(twin.language).files.filter(({ name }) => ladder.includes(name));

function refuseTwinInside(draft: Draft, folder: string, original: string): void {
  const twin = path.resolve(folder, draft.twin.root);
  const inside = path.relative(original, twin);
  if (inside.startsWith("..") || path.isAbsolute(inside)) return;
  if (inside !== "" && draft.ignore.some((pattern) => pattern === `${inside.split(path.sep).join("/")}/**`)) return;
  throw new SideTwinError({
    code: "bad-input",
    what: "The twin's folder lies in the original's",
    where: { file: PORT_FILE, key: "twins.0.root" },
    next:
      inside === ""
        ? "Name another folder for the twin."
        : `Name another folder, or ignore ${inside.split(path.sep).join("/")}/** in the original.`,
  });
}
