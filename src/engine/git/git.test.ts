import { chmodSync, existsSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { copyRepository, findChanges, findCommit, isInRepository, readRepository } from "@/engine/git/git";
import { gitIn } from "@/testing/git";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

const GONE = "1234567890123456789012345678901234567890";

/** A repository of two commits: `a.py` returns 1, then 2. */
function repository(): { folder: string; git: ReturnType<typeof gitIn> } {
  const folder = temporaryFolder({ "a.py": "def f():\n    return 1\n", "deep/b.py": "B = 1\n" });
  const git = gitIn(folder);
  git("init", "--quiet", "--initial-branch=main");
  git("add", ".");
  git("commit", "--quiet", "-m", "First");
  git("tag", "v1");
  writeFileSync(path.join(folder, "a.py"), "def f():\n    return 2\n");
  git("commit", "--quiet", "-a", "-m", "Second");
  return { folder, git };
}

/** The configuration of a repository, with every setting by which git starts a program that only it names. */
function poison(folder: string): { touched: () => boolean } {
  const mark = path.join(temporaryFolder(), "pwned");
  const script = path.join(temporaryFolder({ "run.sh": `#!/bin/sh\ntouch ${mark}\ncat\n` }), "run.sh");
  chmodSync(script, 0o755);
  const config = path.join(folder, ".git/config");
  writeFileSync(
    config,
    `${readFileSync(config, "utf8")}
[extensions]
	partialClone = origin
[remote "origin"]
	promisor = true
	url = ssh://nohost/x
[core]
	sshCommand = ${script};
	fsmonitor = ${script}
	pager = ${script}
	hooksPath = ${path.dirname(script)}
[protocol "ext"]
	allow = always
[log]
	showSignature = true
[gpg]
	program = ${script}
[diff]
	external = ${script}
[diff "x"]
	textconv = ${script}
[filter "x"]
	clean = ${script}
	smudge = ${script}
	required = true
[uploadpack]
	packObjectsHook = ${script}
`,
  );
  writeFiles(folder, { ".gitattributes": "*.py filter=x diff=x\n", ".git/refs/heads/missing": `${GONE}\n` });
  return { touched: () => existsSync(mark) };
}

describe("a repository", () => {
  it("gives its branches and tags with their commits", async () => {
    const { folder, git } = repository();
    git("branch", "side", "v1");
    const { head, branch, revisions } = await readRepository(folder);
    expect([head, branch]).toEqual([git("rev-parse", "HEAD").trim(), "main"]);
    expect(revisions.map(({ name, kind }) => `${kind} ${name}`).sort()).toEqual([
      "branch main",
      "branch side",
      "tag v1",
    ]);
    expect(await findCommit(folder, "v1")).toBe(git("rev-parse", "v1^{commit}").trim());
    await expect(findCommit(folder, "nope")).rejects.toMatchObject({ what: 'There is no revision "nope"' });
  });

  it("is found from a folder inside it, and where the references are packed", async () => {
    const { folder, git } = repository();
    git("pack-refs", "--all");
    git("gc", "--quiet");
    expect(await isInRepository(path.join(folder, "deep"))).toBe(true);
    expect((await readRepository(path.join(folder, "deep"))).revisions).toHaveLength(2);
    expect(await isInRepository(temporaryFolder())).toBe(false);
    await expect(readRepository(temporaryFolder())).rejects.toMatchObject({ code: "bad-input" });
  });

  it("is read from a linked work tree, and as a bare one", async () => {
    const { folder, git } = repository();
    const linked = path.join(temporaryFolder(), "linked");
    git("worktree", "add", "--quiet", linked, "v1");
    expect((await readRepository(linked)).head).toBe(git("rev-parse", "v1^{commit}").trim());
    const bare = path.join(temporaryFolder(), "bare.git");
    git("clone", "--quiet", "--bare", folder, bare);
    expect((await readRepository(bare)).branch).toBe("main");
  });

  it("without a commit says so", async () => {
    const folder = temporaryFolder();
    gitIn(folder)("init", "--quiet");
    await expect(readRepository(folder)).rejects.toMatchObject({ what: expect.stringContaining("no commit yet") });
  });

  it("is copied whole, so that the copy stands by itself", async () => {
    const { folder, git } = repository();
    const to = path.join(temporaryFolder(), "copy");
    await copyRepository(folder, to, git("rev-parse", "v1").trim());
    expect(readFileSync(path.join(to, "a.py"), "utf8")).toContain("return 1");
    expect(existsSync(path.join(to, ".git/objects/info/alternates"))).toBe(false);
    expect(gitIn(to)("log", "--format=%s", "main").trim().split("\n")).toEqual(["Second", "First"]);
    expect(gitIn(to)("config", "remote.origin.url").trim()).toBe(folder);
  });

  it("tells what changed lines, and whether the file differs from what is committed", async () => {
    const { folder, git } = repository();
    const since = { commit: git("rev-parse", "v1").trim(), at: "2020-01-01", lines: [2, 2] as const };
    expect(await findChanges(folder, "a.py", since)).toMatchObject({ commits: [{ subject: "Second" }], isOpen: false });
    expect(await findChanges(path.join(folder, "deep"), "b.py", since)).toEqual({ commits: [], isOpen: false });
    writeFileSync(path.join(folder, "a.py"), "def f():\r\n    return 2\r\n");
    expect((await findChanges(folder, "a.py", since))?.isOpen).toBe(false);
    writeFileSync(path.join(folder, "a.py"), "def f():\n    return 3\n");
    expect((await findChanges(folder, "a.py", since))?.isOpen).toBe(true);
  });
});

describe("a stranger's repository", () => {
  it("gets none of the programs started that its configuration names", async () => {
    const { folder, git } = repository();
    const commit = git("rev-parse", "v1").trim();
    const { touched } = poison(folder);
    writeFileSync(path.join(folder, "a.py"), "def f():\n    return 7\n");
    await expect(readRepository(folder)).rejects.toMatchObject({ what: expect.stringContaining("missing object") });
    await expect(findCommit(folder, "missing")).rejects.toMatchObject({ code: "bad-input" });
    await expect(findCommit(folder, GONE)).rejects.toMatchObject({ code: "bad-input" });
    await findChanges(folder, "a.py", { commit, at: "2020-01-01", lines: null });
    await findChanges(folder, "a.py", { commit, at: "2020-01-01", lines: [1, 2] });
    await copyRepository(folder, path.join(temporaryFolder(), "copy"), commit).catch(() => undefined);
    expect(touched()).toBe(false);
  });

  it.each([
    ["a HEAD that names nothing", { ".git/HEAD": "nothing\n" }],
    ["a reftable", { ".git/reftable/x": "" }],
  ])("with %s is refused", async (_what, files) => {
    const { folder } = repository();
    writeFiles(folder, files);
    await expect(readRepository(folder)).rejects.toMatchObject({ code: "bad-input" });
  });
});
