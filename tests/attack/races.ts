/** Races on every file that the product writes: edits of screens among each other, with an editor, and of two processes. */
import { execFile } from "node:child_process";
import { readdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import path from "node:path";
import { packageRoot } from "@/engine/package-root";
import { Workbench } from "@/service/server/workbench";
import { type Finding, randomFrom } from "./finding";
import { portFile, scratchFolder } from "./scratch";

const MODULES = Array.from({ length: 20 }, (_, index) => `m${index}`);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function withPort<T>(work: (bench: Workbench, id: string, folder: string) => Promise<T>): Promise<T> {
  const folder = scratchFolder({
    "side-twin.json": portFile({ memory: "memory.jsonl" }),
    ...Object.fromEntries(MODULES.map((name) => [`original/${name}.py`, "def f(n):\n    return n\n"])),
    ...Object.fromEntries(MODULES.map((name) => [`twin/${name}.js`, "export const f = (n) => n;\n"])),
    "cases/hand.jsonl": MODULES.map((name) => ({ id: `c-${name}`, module: name, call: "f", args: [1] })),
  });
  const bench = await Workbench.open({ data: scratchFolder(), browse: folder });
  try {
    return await work(bench, (await bench.addPort(folder)).id, folder);
  } finally {
    await bench.close();
  }
}

/** Rounds of edits from the screens at once; in half of them an editor saves the file meanwhile, by renaming or in place. */
export async function attackPortFile(rounds: number, seed: number): Promise<Finding[]> {
  const random = randomFrom(seed);
  return withPort(async (bench, id, folder) => {
    const file = path.join(folder, "side-twin.json");
    const findings: Finding[] = [];
    for (let round = 0; round < rounds; round++) {
      const before = JSON.parse(readFileSync(file, "utf8"));
      const pinned = !(before.pins?.length > 0);
      const edits = [
        ...MODULES.slice(0, 6).map((module) => bench.edit.pin(id, { module, pinned })),
        ...MODULES.slice(6, 12).map((module) => bench.edit.leaveOut(id, { module, reason: pinned ? "r" : null })),
        bench.edit.addSnag(id, { name: `snag ${round}`, match: "json.*" }),
        bench.edit.pairByHand(id, { module: "m15", on: "js", original: "f", twin: "f", note: `${round}` }),
      ];
      const name = `Saved ${round}`;
      const saves = round % 2 === 1 ? save(file, name, random) : Promise.resolve();
      const failed = (await Promise.allSettled(edits)).filter((result) => result.status === "rejected");
      await saves;
      const wrong = failed.map((result) => `an edit failed: ${(result as PromiseRejectedResult).reason}`);
      const after = parse(readFileSync(file, "utf8"));
      if (!after) wrong.push("the file is no JSON any more");
      else {
        if ((after.pins?.length ?? 0) !== (pinned ? 6 : 0)) wrong.push(`${after.pins?.length} pins`);
        const left = (after.modules ?? []).filter((module: { leftOut?: string }) => module.leftOut).length;
        if (left !== (pinned ? 6 : 0)) wrong.push(`${left} modules left out`);
        if (after.snags?.length !== round + 1) wrong.push(`${after.snags?.length} snags`);
        if (round % 2 === 1 && after.name !== name) wrong.push("the editor's save was lost");
      }
      if (readdirSync(folder).some((entry) => entry.endsWith(".part"))) wrong.push("a temporary file was left");
      findings.push({ group: "races on the port file", what: `round ${round}, seed ${seed}`, count: 1, wrong });
    }
    return findings;
  });
}

const parse = (text: string) => {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
};

/** As an editor saves that was opened a moment ago: it reads the file, changes the name, and writes all of it. */
async function save(file: string, name: string, random: () => number): Promise<void> {
  await pause(random() * 8);
  const text = readFileSync(file, "utf8").replace(/"name": ?"[^"]*"/, `"name":"${name}"`);
  if (random() < 0.5) writeFileSync(file, text);
  else {
    writeFileSync(`${file}.editor`, text);
    renameSync(`${file}.editor`, file);
  }
}

/** Cases from several pages at once, one id of them twice. */
export async function attackCases(rounds: number): Promise<Finding[]> {
  return withPort(async (bench, id, folder) => {
    const file = path.join(folder, "cases/hand.jsonl");
    const findings: Finding[] = [];
    let expected = MODULES.length;
    for (let round = 0; round < rounds; round++) {
      const add = (name: string) =>
        bench.edit.addCase(id, { id: `${name}-${round}`, module: "m1", call: "f", args: [2], kwargs: {} });
      const results = await Promise.allSettled(["a", "b", "c", "d", "a"].map(add));
      expected += 4;
      const wrong: string[] = [];
      const kept = results.filter((result) => result.status === "fulfilled").length;
      if (kept !== 4) wrong.push(`${kept} of 5 were kept`);
      const ids = readFileSync(file, "utf8")
        .trim()
        .split("\n")
        .map((line) => parse(line)?.id);
      if (ids.includes(undefined)) wrong.push("a line is no JSON");
      if (ids.length !== expected || new Set(ids).size !== ids.length)
        wrong.push(`${ids.length} lines for ${expected} cases`);
      findings.push({ group: "races on case files", what: `round ${round}`, count: 1, wrong });
    }
    return findings;
  });
}

/** Checks in several processes that keep answers in one folder, and a shrink, a baseline and a check at once in one. */
export async function attackAnswers(rounds: number): Promise<Finding[]> {
  const findings: Finding[] = [];
  const folder = scratchFolder({
    "side-twin.json": portFile(),
    "original/m.py": "def f(n):\n    return n\n",
    "twin/m.js": "export const f = (n) => (n % 7 === 3 ? -n : n);\n",
    "cases/c.jsonl": Array.from({ length: 300 }, (_, n) => ({ id: `c${n}`, module: "m", call: "f", args: [n] })),
  });
  const data = scratchFolder();
  const check = () =>
    new Promise<string>((resolve) => {
      const program = path.join(packageRoot(), "bin/side-twin.mjs");
      const args = [program, "check", folder, "--json", "--data", data];
      execFile(process.execPath, args, { maxBuffer: 1 << 26 }, (_error, stdout) => resolve(stdout));
    });
  for (let round = 0; round < rounds; round++) {
    writeFileSync(path.join(folder, "twin/m.js"), `export const f = (n) => (n % 7 === 3 ? -n : n);\n// ${round}\n`);
    const reports = await Promise.all([check(), check(), check()]);
    const wrong = reports.flatMap((text) => {
      const totals = parse(text)?.totals;
      return totals?.agree === 257 && totals?.differ === 43 ? [] : [`${JSON.stringify(totals)}: ${text.slice(0, 100)}`];
    });
    findings.push({ group: "checks at once on one folder", what: `round ${round}`, count: 3, wrong });
  }
  const wrong = await allAtOnce(folder);
  return [
    ...findings,
    { group: "everything at once on one port", what: "check, shrink, baseline, bring-in", count: 1, wrong },
  ];
}

async function allAtOnce(folder: string): Promise<string[]> {
  const bench = await Workbench.open({ data: scratchFolder(), browse: path.dirname(folder) });
  try {
    const { id } = await bench.addPort(folder);
    const results = await Promise.allSettled([
      bench.runs.startCheck(id, {}),
      bench.runs.startCheck(id, {}),
      bench.runs.startBaseline(id),
      bench.shrink(id, { caseId: "c3" }),
      bench.shrink(id, { caseId: "c10" }),
      bench.addPort(folder),
      bench.order(id),
      bench.cases(id),
    ]);
    const refused = results.flatMap((result) => (result.status === "rejected" ? [result.reason] : []));
    const wrong = refused.filter((reason) => reason?.code !== "already-running").map(String);
    for (let waited = 0; bench.runs.isRunning(id); waited++) {
      if (waited > 600) return [...wrong, "it never ended"];
      await pause(50);
    }
    const { totals } = await bench.card(id);
    return totals.agree === 257 && totals.differ === 43 ? wrong : [...wrong, JSON.stringify(totals)];
  } finally {
    await bench.close();
  }
}
