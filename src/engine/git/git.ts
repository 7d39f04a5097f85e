/** Runs the real git in its own process: revisions of a repository, copies of one, and history of lines. */
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { findProgram } from "@/engine/find-program";
import { locateRepository, type View, withView } from "@/engine/git/view";
import { environmentFor } from "@/engine/process/environment";
import { describeEnd, runToEnd } from "@/engine/process/run";

/** A branch or tag with its commit. */
export type Revision = { readonly name: string; readonly kind: "branch" | "tag"; readonly commit: string };
/** The revisions of a repository. */
export type Repository = {
  readonly head: string;
  readonly branch: string | null;
  readonly revisions: readonly Revision[];
};
/** A commit; `at` is an ISO 8601 time. */
export type Commit = { readonly id: string; readonly at: string; readonly author: string; readonly subject: string };

const TIME_MS = 5 * 60_000;
const MAX_REVISIONS = 300;

const CAREFUL = [
  "-c",
  "core.hooksPath=/dev/null",
  "-c",
  "core.fsmonitor=false",
  "-c",
  "core.pager=cat",
  "-c",
  "log.showSignature=false",
  "--no-pager",
  "--literal-pathspecs",
];

/** Ignores git configuration of the machine and the person, never fetches, and starts no other program. */
const ENVIRONMENT = {
  GIT_CONFIG_NOSYSTEM: "1",
  GIT_CONFIG_GLOBAL: "/dev/null",
  GIT_ATTR_NOSYSTEM: "1",
  GIT_NO_LAZY_FETCH: "1",
  GIT_ALLOW_PROTOCOL: "file",
  GIT_TERMINAL_PROMPT: "0",
  GIT_LFS_SKIP_SMUDGE: "1",
  GIT_OPTIONAL_LOCKS: "0",
};

/** Returns git's output; throws SideTwinError with its error output. `view` is the folder it reads. */
async function git(view: string | null, args: readonly string[], what: string): Promise<string> {
  const program = findProgram("git");
  if (!program) {
    throw new SideTwinError({ code: "toolchain-missing", what: "git was not found", next: "Install git." });
  }
  // Variables set when this runs inside another repository's hook.
  const inherited: NodeJS.ProcessEnv = { ...environmentFor() };
  for (const name of Object.keys(inherited)) if (name.startsWith("GIT_")) delete inherited[name];
  const record = await runToEnd([program, ...CAREFUL, ...args], {
    cwd: view ?? tmpdir(),
    env: { ...inherited, ...ENVIRONMENT, ...(view ? { GIT_DIR: view } : {}) },
    limits: { timeMs: TIME_MS, outputKb: 64 * 1024 },
  });
  if (record.end.kind === "exited" && record.end.code === 0) return record.stdout.toString("utf8");
  const lastLine = record.stderr.toString("utf8").trim().split("\n").at(-1) ?? "";
  throw new SideTwinError({
    code: "bad-input",
    what: `${what}: ${lastLine || describeEnd(record.end)}`,
    next: "Look at it with git itself.",
  });
}

/** Whether a folder is inside a repository. */
export const isInRepository = async (folder: string): Promise<boolean> => (await locateRepository(folder)) !== null;

/** Branches and tags, newest first. Throws SideTwinError if the folder is not a repository or has no commit. */
export const readRepository = (folder: string): Promise<Repository> =>
  withView(folder, async (view) => {
    const what = `${folder} cannot be read as a git repository`;
    const head = await git(view.folder, ["rev-parse", "--verify", "--quiet", "HEAD^{commit}"], what).catch((cause) => {
      throw new SideTwinError(
        {
          code: "bad-input",
          what: `${folder} has no commit yet`,
          next: "Commit something, or bring it in as a folder.",
        },
        cause,
      );
    });
    const branch = (await git(view.folder, ["branch", "--show-current"], what)).trim();
    const listed = await git(
      view.folder,
      [
        "for-each-ref",
        "--sort=-creatordate",
        `--count=${MAX_REVISIONS}`,
        "--format=%(refname)%09%(objectname)%09%(*objectname)",
        "refs/heads",
        "refs/tags",
      ],
      what,
    );
    const revisions = listed.split("\n").flatMap((line): Revision[] => {
      const [name = "", object = "", peeled = ""] = line.split("\t");
      const kind = name.startsWith("refs/tags/") ? "tag" : "branch";
      return name ? [{ name: name.replace(/^refs\/(heads|tags)\//, ""), kind, commit: peeled || object }] : [];
    });
    return { head: head.trim(), branch: branch || null, revisions };
  });

/** Resolves a revision to its commit. Throws SideTwinError if there is none. */
export const findCommit = (folder: string, revision: string): Promise<string> =>
  withView(folder, (view) => commitIn(view, revision));

async function commitIn(view: View, revision: string): Promise<string> {
  const args = ["rev-parse", "--verify", "--quiet", "--end-of-options", `${revision}^{commit}`];
  const found = await git(view.folder, args, "").catch((cause) => {
    throw new SideTwinError(
      { code: "bad-input", what: `There is no revision "${revision}"`, next: "Name a branch, a tag or a commit." },
      cause,
    );
  });
  return found.trim();
}

/** A copy of a repository with its history, at a commit; links in it become plain files that lead nowhere. */
export async function copyRepository(from: string, to: string, commit: string): Promise<void> {
  const failed = "It cannot be copied";
  await withView(from, async (view) => {
    // By way of a pack: a copy of the view's own folder would go on needing the objects where they are.
    const args = ["clone", "--quiet", "--no-checkout", "--no-local", "--template=", "--", view.folder, to];
    await git(null, args, failed);
  });
  const own = path.join(to, ".git");
  await git(own, ["config", "remote.origin.url", from], failed);
  await git(own, ["config", "core.symlinks", "false"], failed);
  await git(null, ["-C", to, "checkout", "--quiet", "--detach", commit], `${commit} cannot be checked out`);
}

/**
 * Commits since another one that changed some lines of a file (numbered as in HEAD), or the file if no lines are given;
 * newest first. `isOpen`: the file has uncommitted changes. Null outside a repository.
 */
export async function findChanges(
  folder: string,
  file: string,
  since: { readonly commit: string | null; readonly at: string; readonly lines: readonly [number, number] | null },
): Promise<{ readonly commits: readonly Commit[]; readonly isOpen: boolean } | null> {
  const located = await locateRepository(folder);
  if (!located?.top) return null;
  const full = path.join(folder, file);
  const name = path.relative(located.top, full).split(path.sep).join("/");
  return withView(folder, async (view) => {
    const isOpen = await differsFromHead(view, name, full);
    const known = since.commit === null ? null : await commitIn(view, since.commit).catch(() => null);
    const range = known === null ? [`--since=${since.at}`, "HEAD"] : [`${known}..HEAD`];
    const log = ["log", "--no-ext-diff", "--no-textconv", "--format=%H%x09%aI%x09%an%x09%s", "-n", "50"];
    const whole = () => git(view.folder, [...log, ...range, "--", name], "").catch(() => "");
    // Lines that HEAD does not have, as they are not committed yet, cannot be followed.
    const listed =
      since.lines === null || isOpen
        ? await whole()
        : await git(view.folder, [...log, "-s", `-L${since.lines.join(",")}:${name}`, ...range], "").catch(whole);
    const commits = listed.split("\n").flatMap((line): Commit[] => {
      const [id = "", at = "", author = "", ...subject] = line.split("\t");
      return id ? [{ id, at, author, subject: subject.join("\t") }] : [];
    });
    return { commits, isOpen };
  });
}

/**
 * Whether a file differs from HEAD apart from line ends; compared by hash, because git's own comparison would run
 * filters.
 */
async function differsFromHead(view: View, name: string, full: string): Promise<boolean> {
  const committed = (
    await git(view.folder, ["rev-parse", "--verify", "--quiet", `HEAD:${name}`], "").catch(() => "")
  ).trim();
  const content = await readFile(full).catch(() => null);
  if (content === null) return committed !== "";
  const blob = (bytes: Buffer) => createHash(view.hash).update(`blob ${bytes.length}\0`).update(bytes).digest("hex");
  const unix = () => Buffer.from(content.toString("latin1").replaceAll("\r\n", "\n"), "latin1");
  return blob(content) !== committed && blob(unix()) !== committed;
}
