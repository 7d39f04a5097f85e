/**
 * `npm run bench [SIZE]`: prints the speed table of the design, each figure next to its reference, measured in one run.
 * Only ratios are meaningful: the machines are shared and noisy.
 */
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { availableParallelism, cpus, tmpdir, totalmem } from "node:os";
import path from "node:path";
import { Pool } from "@/engine/bridge/pool";
import { DRIVERS } from "@/engine/drivers/index";
import { packageRoot } from "@/engine/package-root";
import { environmentFor } from "@/engine/process/environment";
import { runPrograms } from "@/engine/runs/program-runs";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { LiveCheck } from "@/service/check/live-check";
import { PortReader } from "@/service/reading/reading";
import { Store } from "@/store/open";
import { savePort } from "@/store/ports";
import { benchCompare } from "./compare";
import { benchGenerate } from "./generate";
import { benchLanguages } from "./languages";
import { benchLoad } from "./load";
import { benchMend } from "./mend";
import { benchPhrases } from "./phrases";
import { benchPrograms } from "./programs";
import { benchRecord } from "./record";
import { benchSurvey } from "./survey";

const SIZE = Number(process.argv[2] ?? 50_000);
const LIMITS = { timeMs: 10_000, memoryMb: 1024, outputKb: 8192, processes: 64 };
const work = mkdtempSync(path.join(tmpdir(), "side-twin-bench-"));
const say = (line: string) => process.stdout.write(`${line}\n`);

const SOURCES: Readonly<Record<string, { file: string; code: string; echo: string }>> = {
  python: {
    file: "m.py",
    code: "def add(a, b):\n    return {'sum': a + b, 'half': a / 2}\n",
    echo: "import json, sys\nfor line in sys.stdin:\n    sys.stdout.write(json.dumps(json.loads(line)) + '\\n')\n    sys.stdout.flush()\n",
  },
  javascript: {
    file: "m.js",
    code: "exports.add = (a, b) => ({ sum: a + b, half: a / 2 });\n",
    echo: "const fs = require('fs'); const b = Buffer.alloc(65536); let r = ''; for (;;) { const n = fs.readSync(0, b); if (!n) break; r += b.toString('utf8', 0, n); let i; while ((i = r.indexOf('\\n')) !== -1) { fs.writeSync(1, JSON.stringify(JSON.parse(r.slice(0, i))) + '\\n'); r = r.slice(i + 1); } }",
  },
};

const requestLine = (id: number) => JSON.stringify({ id, op: "call", file: "m.py", name: "add", args: [id, 2] });

/** Seconds in which a bare process of the language reads that many JSON Lines, parses each and writes it back. */
async function timeEcho(language: string, count: number): Promise<number> {
  const source = SOURCES[language];
  const [program = "", ...args] = await findRuntime(language);
  const file = path.join(work, `echo.${language === "python" ? "py" : "cjs"}`);
  writeFileSync(file, source?.echo ?? "");
  const child = spawn(program, [...args, file], { stdio: ["pipe", "pipe", "inherit"] });
  const lines = Array.from({ length: count }, (_, id) => requestLine(id));
  const started = performance.now();
  let seen = 0;
  let rest = "";
  await new Promise<void>((resolve) => {
    child.stdout.setEncoding("utf8").on("data", (chunk: string) => {
      const parts = (rest + chunk).split("\n");
      rest = parts.pop() ?? "";
      for (const part of parts) JSON.parse(part);
      seen += parts.length;
      if (seen >= count) resolve();
    });
    child.stdin.end(`${lines.join("\n")}\n`);
  });
  const seconds = (performance.now() - started) / 1000;
  child.kill();
  return seconds;
}

async function timeBridge(language: string, count: number): Promise<number> {
  const source = SOURCES[language];
  const driver = DRIVERS[language];
  if (!source || !driver) throw new Error(`no ${language}`);
  writeFileSync(path.join(work, source.file), source.code);
  const program = path.join(packageRoot(), "src/engine/drivers", driver.program);
  const pool = new Pool({
    command: [...(await findRuntime(language)), ...driver.flags(LIMITS.memoryMb), program],
    cwd: work,
    env: environmentFor(),
    hello: { root: work, path: ["."], outputKb: LIMITS.outputKb },
    limits: LIMITS,
    jobs: 1,
  });
  let answered = 0;
  const started = performance.now();
  pool.add(
    Array.from({ length: count }, (_, id) => ({
      request: { op: "call", file: source.file, name: "add", args: [id, 2] },
      tries: 0,
      done: ({ result }) => {
        if (result.kind === "call") answered++;
      },
    })),
  );
  await pool.drained();
  const seconds = (performance.now() - started) / 1000;
  pool.stop();
  if (answered !== count) throw new Error(`${count - answered} calls were not answered`);
  return seconds;
}

/**
 * Measured three times in turn, reporting the median: neighbours on the machine change the speed from second to second.
 */
async function middleOf<T extends { readonly ratio: number }>(measure: () => Promise<T>): Promise<T | undefined> {
  const rounds: T[] = [];
  for (let round = 0; round < 3; round++) rounds.push(await measure());
  return rounds.sort((one, other) => one.ratio - other.ratio)[1];
}

async function benchBridge(): Promise<void> {
  for (const language of ["python", "javascript"]) {
    const middle = await middleOf(async () => {
      const echo = await timeEcho(language, SIZE);
      const bridge = await timeBridge(language, SIZE);
      return { echo, bridge, ratio: echo / bridge };
    });
    if (!middle) continue;
    const { echo, bridge, ratio } = middle;
    say(
      `bridge, ${language}: ${Math.round(SIZE / bridge)} calls/s against ${Math.round(SIZE / echo)} echoes/s: ratio ${ratio.toFixed(2)} (reach: 0.5)`,
    );
  }
}

async function benchCheck(count: number): Promise<void> {
  const folder = path.join(work, `port-${count}`);
  const lines = Array.from({ length: count }, (_, id) =>
    JSON.stringify({ id: `c${id}`, module: "m", call: "add", args: [id, 2] }),
  );
  const { mkdirSync } = await import("node:fs");
  for (const name of ["original", "twin", "cases"]) mkdirSync(path.join(folder, name), { recursive: true });
  writeFileSync(path.join(folder, "original/m.py"), SOURCES.python?.code ?? "");
  writeFileSync(path.join(folder, "twin/m.js"), SOURCES.javascript?.code ?? "");
  writeFileSync(path.join(folder, "cases/m.jsonl"), `${lines.join("\n")}\n`);
  const port = {
    format: "side-twin/port",
    version: 1,
    name: "bench",
    original: { root: "original", language: "python" },
    twins: [{ name: "ts", root: "twin", language: "javascript" }],
  };
  writeFileSync(path.join(folder, "side-twin.json"), JSON.stringify(port));
  const store = await Store.open(path.join(work, `data-${count}`), path.join(packageRoot(), "src/store/migrations"));
  await savePort(store, { id: "b", file: folder, name: "bench", addedAt: new Date() });
  const middle = await middleOf(() => checkOnce(count, folder, store));
  if (middle) say(middle.line);
  await store.close();
}

async function checkOnce(count: number, folder: string, store: Store): Promise<{ ratio: number; line: string }> {
  const echoStarted = performance.now();
  await Promise.all([timeEcho("python", count), timeEcho("javascript", count)]);
  const echo = (performance.now() - echoStarted) / 1000;
  // The longest block of the event loop is the longest a page would have waited.
  let longest = 0;
  let last = performance.now();
  const pulse = setInterval(() => {
    longest = Math.max(longest, performance.now() - last - 10);
    last = performance.now();
  }, 10);
  const started = performance.now();
  const reading = await new PortReader().read(folder);
  const read = (performance.now() - started) / 1000;
  await new LiveCheck(store, { portId: "b", reading, jobs: 1, emit: () => undefined }).run();
  const seconds = (performance.now() - started) / 1000;
  clearInterval(pulse);
  const memory = Math.round(process.memoryUsage().rss / 1024 / 1024);
  const line = `check of ${count} cases, compared, stored, proven lines noted: ${seconds.toFixed(1)} s (${read.toFixed(1)} s of it reading) against ${echo.toFixed(1)} s of two echoes: ratio ${(seconds / echo).toFixed(2)} (reach: 3); longest wait of the event loop ${Math.round(longest)} ms, ${memory} MB`;
  return { ratio: seconds / echo, line };
}

async function benchRuns(count: number): Promise<void> {
  const folder = path.join(work, "program");
  const { mkdirSync } = await import("node:fs");
  mkdirSync(folder, { recursive: true });
  writeFileSync(path.join(folder, "p.py"), "import json, sys\nprint(json.dumps({'n': int(sys.argv[1]) * 2}))\n");
  const [python = ""] = await findRuntime("python");
  const bare = async () => {
    let next = 0;
    const worker = async () => {
      while (next < count) {
        const id = next++;
        await new Promise((resolve) =>
          spawn(python, ["p.py", String(id)], { cwd: folder, stdio: "ignore" }).once("close", resolve),
        );
      }
    };
    const started = performance.now();
    await Promise.all([worker(), worker()]);
    return (performance.now() - started) / 1000;
  };
  const ours = async () => {
    const cases = Array.from({ length: count }, (_, id) => ({
      id: `r${id}`,
      run: { argv: [String(id)], stdin: "", env: {}, files: {} },
      observe: ["exit", "stdout"],
    }));
    const started = performance.now();
    await runPrograms(
      cases,
      { command: [python, "p.py"], root: folder, language: "python", env: {}, limits: LIMITS, jobs: 2 },
      () => undefined,
    );
    return (performance.now() - started) / 1000;
  };
  const [bareSeconds, ourSeconds] = [await bare(), await ours()];
  say(
    `${count} program runs, two at a time: ${ourSeconds.toFixed(1)} s against ${bareSeconds.toFixed(1)} s bare: ratio ${(ourSeconds / bareSeconds).toFixed(2)} (reach: 1.15)`,
  );
}

say(
  `${cpus()[0]?.model ?? "unknown processor"}, ${availableParallelism()} cores, ${Math.round(totalmem() / 1024 ** 3)} GiB, Node.js ${process.versions.node}`,
);
try {
  const part = process.argv[3];
  const wants = (name: string) => part === undefined || part === name;
  if (wants("bridge")) await benchBridge();
  if (wants("languages")) await benchLanguages(work, SIZE, say);
  if (wants("runs")) await benchRuns(200);
  if (wants("programs")) await benchPrograms(work, say);
  if (wants("check")) await benchCheck(SIZE * 2);
  if (wants("load")) await benchLoad(work, say, SIZE * 2);
  if (wants("compare")) await benchCompare(work, say);
  if (wants("survey")) await benchSurvey(work, say);
  if (wants("phrases")) await benchPhrases(work, say);
  if (wants("record")) await benchRecord(work, say);
  if (wants("generate"))
    await benchGenerate(work, say, {
      seconds: Number(process.argv[4] ?? 10),
      only: process.argv[5]?.split(",") ?? null,
    });
  if (wants("mend")) await benchMend(work, say);
} finally {
  rmSync(work, { recursive: true, force: true });
}
process.exit(0);
