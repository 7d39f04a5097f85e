/** Hostile zips and repositories: what they bring stays in its folder, and none of their programs is started. */
import { execFileSync } from "node:child_process";
import { chmodSync, createWriteStream, existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import { ZipFile } from "yazl";
import { isSideTwinError } from "@/core/errors";
import { unzip } from "@/engine/files/unzip";
import { copyRepository, findChanges, findCommit, readRepository } from "@/engine/git/git";
import { gitIn } from "@/testing/git";
import { type Finding, randomFrom } from "./finding";
import { scratchFolder } from "./scratch";

type Item = { readonly name: string; readonly content?: string | Buffer; readonly mode?: number };

async function zipBytes(items: readonly Item[]): Promise<Buffer> {
  const file = path.join(scratchFolder(), "made.zip");
  const zip = new ZipFile();
  for (const { name, content = "x = 1\n", mode = 0o100644 } of items)
    zip.addBuffer(Buffer.from(content), name, { mode });
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(file));
  return readFileSync(file);
}

/** A name that the library refuses to write is put in the place of one as long. */
const swap = (bytes: Buffer, from: string, to: string): Buffer =>
  Buffer.from(bytes.toString("latin1").replaceAll(from, to), "latin1");

const NAMES = [
  "../escape.py",
  "../../../../tmp/escape.py",
  "/tmp/side-twin-escape.py",
  "a/../../escape.py",
  "..\\escape.py",
  "C:\\escape.py",
  "\\\\host\\escape.py",
  "a/./b.py",
  "a//b.py",
  "./a.py",
  "..",
  "a/..",
  "a\0b.py",
  "nul\u0001.py",
  "CON",
  "a.py ",
  ".git/config",
  ".GIT/hooks/post-checkout",
  "deep/.git/config",
  "é.py",
];

export async function attackZips(count: number, seed: number): Promise<Finding[]> {
  const random = randomFrom(seed);
  const findings: Finding[] = [];
  for (let index = 0; index < count; index++) {
    const folder = scratchFolder();
    const file = path.join(folder, "sent.zip");
    const { what, bytes } = await hostileZip(index, random);
    writeFileSync(file, bytes);
    const wrong: string[] = [];
    try {
      await unzip(file, path.join(folder, "tree"), { entries: 1000, fileBytes: 1 << 20, totalBytes: 4 << 20 });
    } catch (error) {
      if (!isSideTwinError(error)) wrong.push(`throws ${error}`);
    }
    const outside = readdirSync(folder).filter((name) => name !== "sent.zip" && name !== "tree");
    if (outside.length > 0 || existsSync("/tmp/side-twin-escape.py"))
      wrong.push(`wrote outside: ${outside.join(", ")}`);
    if (existsSync(path.join(folder, "tree/.git"))) wrong.push("brought a git folder in");
    findings.push({ group: "hostile zips", what: `${what}, number ${index}`, count: 1, wrong });
  }
  return findings;
}

async function hostileZip(index: number, random: () => number): Promise<{ what: string; bytes: Buffer }> {
  const name = NAMES[index];
  if (name !== undefined) {
    const stand = "Q".repeat(Buffer.byteLength(name));
    return {
      what: `the name ${JSON.stringify(name)}`,
      bytes: swap(await zipBytes([{ name: stand }]), stand, Buffer.from(name).toString("latin1")),
    };
  }
  const plain = [{ name: "a.py" }, { name: "b/c.py", content: "y = 2\n".repeat(100) }];
  switch (index % 8) {
    case 0:
      return {
        what: "a link out",
        bytes: await zipBytes([{ name: "a", content: "/etc", mode: 0o120777 }, { name: "a/b.py" }]),
      };
    case 1:
      return { what: "a device", bytes: await zipBytes([{ name: "a", mode: 0o020666 }]) };
    case 2:
      return { what: "a set-user-id program", bytes: await zipBytes([{ name: "a", mode: 0o104755 }]) };
    case 3:
      return { what: "one name twice", bytes: await zipBytes([{ name: "a.py" }, { name: "A.PY" }]) };
    case 4:
      return { what: "a bomb", bytes: await zipBytes([{ name: "a.py", content: Buffer.alloc(8 << 20) }]) };
    case 5:
      return { what: "a file and a folder of one name", bytes: await zipBytes([{ name: "a" }, { name: "a/b.py" }]) };
    case 6: {
      const bytes = await zipBytes(plain);
      return { what: "a cut", bytes: bytes.subarray(0, Math.floor(random() * bytes.length)) };
    }
    default: {
      const bytes = await zipBytes(plain);
      for (let flips = 0; flips < 3; flips++) {
        const place = Math.floor(random() * bytes.length);
        bytes[place] = (bytes[place] ?? 0) ^ (1 << Math.floor(random() * 8));
      }
      return { what: "flipped bits", bytes };
    }
  }
}

/** Settings by which git starts a program, each alone. */
const SETTINGS = [
  "[core]\n\tfsmonitor = SCRIPT",
  "[core]\n\tpager = SCRIPT",
  "[core]\n\teditor = SCRIPT",
  "[core]\n\thooksPath = FOLDER",
  "[core]\n\tsshCommand = SCRIPT",
  "[core]\n\tgitProxy = SCRIPT",
  "[core]\n\tattributesFile = FOLDER/attributes",
  "[core]\n\tworktree = /etc",
  "[diff]\n\texternal = SCRIPT",
  '[diff "x"]\n\ttextconv = SCRIPT',
  '[diff "x"]\n\tcommand = SCRIPT',
  '[filter "x"]\n\tclean = SCRIPT\n\tsmudge = SCRIPT\n\trequired = true',
  '[filter "x"]\n\tprocess = SCRIPT\n\trequired = true',
  '[merge "x"]\n\tdriver = SCRIPT %A',
  "[log]\n\tshowSignature = true\n[gpg]\n\tprogram = SCRIPT",
  "[gpg]\n\tprogram = SCRIPT\n[commit]\n\tgpgSign = true",
  "[credential]\n\thelper = SCRIPT",
  "[uploadpack]\n\tpackObjectsHook = SCRIPT",
  "[sequence]\n\teditor = SCRIPT",
  "[pager]\n\tlog = SCRIPT\n\tbranch = SCRIPT",
  "[alias]\n\tlog = !SCRIPT\n\trev-parse = !SCRIPT",
  '[extensions]\n\tpartialClone = origin\n[remote "origin"]\n\tpromisor = true\n\turl = ssh://nohost/x\n[core]\n\tsshCommand = SCRIPT',
  '[extensions]\n\tpartialClone = origin\n[remote "origin"]\n\tpromisor = true\n\turl = "ext::SCRIPT"\n[protocol "ext"]\n\tallow = always',
  '[url "ext::SCRIPT"]\n\tinsteadOf = https://x\n[protocol]\n\tallow = always',
  "[include]\n\tpath = FOLDER/more",
  '[includeIf "gitdir:/"]\n\tpath = FOLDER/more',
  "[trailer]\n\tx.command = SCRIPT",
  "[receive]\n\tprocReceiveRefs = refs",
  "[maintenance]\n\tauto = true\n[gc]\n\tauto = 1",
];

const GONE = "1234567890123456789012345678901234567890";

/** One repository for each setting. */
export async function attackRepositories(settings = SETTINGS): Promise<Finding[]> {
  const findings: Finding[] = [];
  for (const setting of settings) {
    const folder = scratchFolder({
      "a.py": "def f():\n    return 1\n",
      ".gitattributes": "*.py filter=x diff=x merge=x\n",
    });
    const programs = scratchFolder({ "run.sh": "" });
    const [mark, script] = [path.join(programs, "pwned"), path.join(programs, "run.sh")];
    writeFileSync(script, `#!/bin/sh\ntouch ${mark}\ncat\n`);
    writeFileSync(path.join(programs, "more"), `[core]\n\tfsmonitor = ${script}\n[diff]\n\texternal = ${script}\n`);
    for (const hook of ["post-checkout", "pre-commit", "reference-transaction", "post-index-change"]) {
      writeFileSync(path.join(programs, hook), `#!/bin/sh\ntouch ${mark}\n`);
      chmodSync(path.join(programs, hook), 0o755);
    }
    chmodSync(script, 0o755);
    const git = gitIn(folder);
    git("init", "--quiet", "--initial-branch=main");
    git("add", ".");
    git("commit", "--quiet", "-m", "First");
    git("tag", "v1");
    const commit = git("rev-parse", "HEAD").trim();
    const config = path.join(folder, ".git/config");
    const text = setting.replaceAll("SCRIPT", script).replaceAll("FOLDER", programs);
    writeFileSync(config, `${readFileSync(config, "utf8")}\n${text}\n`);
    writeFileSync(path.join(folder, "a.py"), "def f():\n    return 7\n");
    for (const broken of [false, true]) {
      if (broken) writeFileSync(path.join(folder, ".git/refs/heads/missing"), `${GONE}\n`);
      const work: readonly (() => Promise<unknown>)[] = [
        () => readRepository(folder),
        () => findCommit(folder, "v1"),
        () => findCommit(folder, "missing"),
        () => findCommit(folder, "--upload-pack=touch"),
        () => findChanges(folder, "a.py", { commit, at: "2020-01-01", lines: [1, 2] }),
        () => findChanges(folder, "a.py", { commit: GONE, at: "2020-01-01", lines: null }),
        () => copyRepository(folder, path.join(scratchFolder(), "copy"), commit),
      ];
      for (const one of work) await one().catch(() => undefined);
    }
    const wrong = existsSync(mark) ? ["a program of the repository was started"] : [];
    findings.push({ group: "hostile repositories", what: setting.replaceAll("\n", " "), count: 1, wrong });
  }
  return findings;
}

/** Whether git is there at all. */
export const hasGit = (): boolean => {
  try {
    execFileSync("git", ["--version"]);
    return true;
  } catch {
    return false;
  }
};
