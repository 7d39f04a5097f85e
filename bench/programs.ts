/**
 * A check of program runs that do something: a Python original and its Node.js twin of some ten modules each, which read a
 * file, parse, compute and print for about a tenth of a second. Held against the same commands started bare, two at a time.
 */
import { spawn } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { runCheckOfFile } from "@/service/check/run-check";

const MODULES = 10;

const pythonModule = (index: number) => `import json, re, csv, io, datetime, collections

WORDS = re.compile(r"[a-z]+")

def shape(rows, step):
    """Folds the rows of one tide table."""
    seen = collections.Counter()
    total = 0
    for at, row in enumerate(rows):
        level = int(row["level"]) + ${index}
        if level % 3 == 0:
            total += level * step
        elif level % 5 == 0:
            total -= step
        else:
            total += 1
        for word in WORDS.findall(row["note"]):
            seen[word] += 1
    return total, sorted(seen.items())[:3]
`;

const nodeModule = (index: number) => `const WORDS = /[a-z]+/g;
exports.shape = (rows, step) => {
  const seen = new Map();
  let total = 0;
  for (const row of rows) {
    const level = Number(row.level) + ${index};
    if (level % 3 === 0) total += level * step;
    else if (level % 5 === 0) total -= step;
    else total += 1;
    for (const word of row.note.match(WORDS) ?? []) seen.set(word, (seen.get(word) ?? 0) + 1);
  }
  return [total, [...seen].sort((a, b) => (a[0] < b[0] ? -1 : 1)).slice(0, 3)];
};
`;

const PYTHON_MAIN = `import csv, json, sys
${Array.from({ length: MODULES }, (_, index) => `import part${index}`).join("\n")}

PARTS = [${Array.from({ length: MODULES }, (_, index) => `part${index}`).join(", ")}]

def main(step):
    with open("tides.csv", newline="") as source:
        rows = list(csv.DictReader(source))
    for part in PARTS:
        print(json.dumps(part.shape(rows, step)))

main(int(sys.argv[1]))
`;

const NODE_MAIN = `const fs = require("fs");
const [head, ...lines] = fs.readFileSync("tides.csv", "utf8").trim().split("\\n");
const names = head.split(",");
const rows = lines.map((line) => Object.fromEntries(line.split(",").map((cell, at) => [names[at], cell])));
const text = (value) => JSON.stringify(value).replaceAll(",", ", ");
for (let index = 0; index < ${MODULES}; index++) console.log(text(require("./part" + index).shape(rows, Number(process.argv[2]))));
`;

/** Writes the port below a folder and prints what both programs took. */
export async function benchPrograms(work: string, say: (line: string) => void, count = 271): Promise<void> {
  const folder = path.join(work, "programs");
  for (const side of ["original", "twin", "cases"]) mkdirSync(path.join(folder, side), { recursive: true });
  const [python = ""] = await findRuntime("python");
  const table = `level,note\n${Array.from({ length: 1500 }, (_, row) => `${(row * 37) % 101},spring tide ${row} at quay`).join("\n")}\n`;
  for (let index = 0; index < MODULES; index++) {
    writeFileSync(path.join(folder, `original/part${index}.py`), pythonModule(index));
    writeFileSync(path.join(folder, `twin/part${index}.js`), nodeModule(index));
  }
  writeFileSync(path.join(folder, "original/main.py"), PYTHON_MAIN);
  writeFileSync(path.join(folder, "twin/main.js"), NODE_MAIN);
  for (const side of ["original", "twin"]) writeFileSync(path.join(folder, side, "tides.csv"), table);
  const commands = { original: [python, "main.py"], twin: [process.execPath, "main.js"] };
  writeFileSync(
    path.join(folder, "side-twin.json"),
    JSON.stringify({
      format: "side-twin/port",
      version: 1,
      name: "Programs",
      original: { root: "original", language: "python", run: commands.original },
      twins: [{ name: "js", root: "twin", language: "javascript", run: commands.twin }],
      cases: ["cases/*.jsonl"],
    }),
  );
  const cases = Array.from({ length: count }, (_, id) => ({ id: `r${id}`, run: { argv: [String(id)] } }));
  writeFileSync(path.join(folder, "cases/c.jsonl"), cases.map((item) => `${JSON.stringify(item)}\n`).join(""));
  const bare = await timeBare(folder, commands, count);
  const started = performance.now();
  const { report } = await runCheckOfFile(path.join(folder, "side-twin.json"), { jobs: 1, fresh: true });
  const ours = (performance.now() - started) / 1000;
  const proven = report.modules.reduce((sum, module) => sum + (module.provenLines ?? 0), 0);
  say(
    `check of ${count} program runs on both sides, with lines (${proven} proven) and steadiness, ${report.totals.agree} agree: ${ours.toFixed(1)} s against ${bare.toFixed(1)} s bare, two at a time: ratio ${(ours / bare).toFixed(2)} (reach: 1.25)`,
  );
}

/** Seconds for all runs of both commands, one of each at a time, as a check with one job a side has them. */
async function timeBare(
  folder: string,
  commands: Readonly<Record<"original" | "twin", readonly string[]>>,
  count: number,
): Promise<number> {
  const started = performance.now();
  const side = async (name: "original" | "twin") => {
    const [program = "", ...args] = commands[name];
    for (let id = 0; id < count; id++) {
      await new Promise((resolve) =>
        spawn(program, [...args, String(id)], { cwd: path.join(folder, name), stdio: "ignore" }).once("close", resolve),
      );
    }
  };
  await Promise.all([side("original"), side("twin")]);
  return (performance.now() - started) / 1000;
}
