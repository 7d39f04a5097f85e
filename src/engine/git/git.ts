/** The real git, asked in its own program: what revisions a repository has, copies of one, and what changed lines. */
import { SideTwinError } from "@/core/errors";
import { environmentFor } from "@/engine/process/environment";
import { describeEnd, runToEnd } from "@/engine/process/run";
import { findProgram } from "@/engine/toolchains/toolchains";

export type Revision = { readonly name: string; readonly kind: "branch" | "tag"; readonly commit: string };
export type Repository = {
  readonly head: string;
  readonly branch: string | null;
  readonly revisions: readonly Revision[];
};
export type Commit = { readonly id: string; readonly at: string; readonly author: string; readonly subject: string };

const TIME_MS = 5 * 60_000;
const MOST_REVISIONS = 300;

/** No hooks of the repository, no questions, no programs that its settings name for showing things. */
const CAREFUL = ["-c", "core.hooksPath=/dev/null", "-c", "core.fsmonitor=false", "-c", "core.pager=cat"];

/** What git printed; throws SideTwinError with what it said where it fails. */
async function git(folder: string, args: readonly string[], what: string): Promise<string> {
  const program = findProgram("git");
  if (!program) {
    throw new SideTwinError({ code: "toolchain-missing", what: "git was not found", next: "Install git." });
  }
  const record = await runToEnd([program, ...CAREFUL, ...args], {
    cwd: folder,
    env: {
      ...environmentFor(),
      // Set where this runs within a hook of some other repository.
      GIT_DIR: undefined,
      GIT_WORK_TREE: undefined,
      GIT_INDEX_FILE: undefined,
      GIT_TERMINAL_PROMPT: "0",
      GIT_LFS_SKIP_SMUDGE: "1",
      GIT_OPTIONAL_LOCKS: "0",
    },
    limits: { timeMs: TIME_MS, outputKb: 64 * 1024 },
  });
  if (record.end.kind === "exited" && record.end.code === 0) return record.stdout.toString("utf8");
  const said = record.stderr.toString("utf8").trim().split("\n").at(-1) ?? "";
  throw new SideTwinError({
    code: "bad-input",
    what: `${what}: ${said || describeEnd(record.end)}`,
    next: "Look at it with git itself.",
  });
}

/** Whether a folder is the top of a repository or lies in one. */
export async function isInRepository(folder: string): Promise<boolean> {
  if (!findProgram("git")) return false;
  return git(folder, ["rev-parse", "--is-inside-work-tree"], "").then(
    (said) => said.trim() === "true",
    () => false,
  );
}

/** Branches and tags, the newest first. Throws SideTwinError where the folder is no repository or has no commit. */
export async function readRepository(folder: string): Promise<Repository> {
  const what = `${folder} can not be read as a git repository`;
  await git(folder, ["rev-parse", "--git-dir"], what);
  const head = await git(folder, ["rev-parse", "--verify", "--quiet", "HEAD^{commit}"], what).catch((cause) => {
    throw new SideTwinError(
      { code: "bad-input", what: `${folder} has no commit yet`, next: "Commit something, or bring it in as a folder." },
      cause,
    );
  });
  const branch = (await git(folder, ["branch", "--show-current"], what)).trim();
  const listed = await git(
    folder,
    [
      "for-each-ref",
      "--sort=-creatordate",
      `--count=${MOST_REVISIONS}`,
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
}

/** The commit that a revision names. Throws SideTwinError where there is none. */
export async function findCommit(folder: string, revision: string): Promise<string> {
  await git(folder, ["rev-parse", "--git-dir"], `${folder} can not be read as a git repository`);
  const args = ["rev-parse", "--verify", "--quiet", "--end-of-options", `${revision}^{commit}`];
  const found = await git(folder, args, "").catch((cause) => {
    throw new SideTwinError(
      { code: "bad-input", what: `There is no revision "${revision}"`, next: "Name a branch, a tag or a commit." },
      cause,
    );
  });
  return found.trim();
}

/** A copy of a repository with its history, at a commit; links in it become plain files that lead nowhere. */
export async function copyRepository(from: string, to: string, commit: string): Promise<void> {
  await git(
    from,
    ["clone", "--quiet", "--no-checkout", "--no-hardlinks", "--template=", "--", from, to],
    "It can not be copied",
  );
  await git(to, ["config", "core.symlinks", "false"], "It can not be copied");
  await git(to, ["checkout", "--quiet", "--detach", commit], `${commit} can not be checked out`);
}

/**
 * The commits since another that changed lines of a file (as they stand in HEAD), or the file where no lines are given; the newest
 * first. `isOpen` says that the file has changes that are not committed. Null where the folder is in no repository.
 */
export async function findChanges(
  folder: string,
  file: string,
  since: { readonly commit: string | null; readonly at: string; readonly lines: readonly [number, number] | null },
): Promise<{ readonly commits: readonly Commit[]; readonly isOpen: boolean } | null> {
  if (!(await isInRepository(folder))) return null;
  const state = await git(folder, ["status", "--porcelain", "--", file], "").catch(() => "");
  const isKnown = since.commit !== null && (await findCommit(folder, since.commit).catch(() => null)) !== null;
  const range = isKnown ? [`${since.commit}..HEAD`] : [`--since=${since.at}`, "HEAD"];
  const format = "--format=%H%x09%aI%x09%an%x09%s";
  const whole = () => git(folder, ["log", format, "-n", "50", ...range, "--", file], "").catch(() => "");
  // Lines that HEAD does not have, as they are not committed yet, can not be followed.
  const listed =
    since.lines === null || state.trim() !== ""
      ? await whole()
      : await git(folder, ["log", format, "-s", "-n", "50", `-L${since.lines.join(",")}:${file}`, ...range], "").catch(
          whole,
        );
  const commits = listed.split("\n").flatMap((line): Commit[] => {
    const [id = "", at = "", author = "", ...subject] = line.split("\t");
    return id ? [{ id, at, author, subject: subject.join("\t") }] : [];
  });
  return { commits, isOpen: state.trim() !== "" };
}
