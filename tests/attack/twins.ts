/** Misbehaving twins: each fault stands between good cases, which must keep their verdicts; nothing may be left behind. */
import { execFileSync } from "node:child_process";
import { existsSync, rmSync } from "node:fs";
import path from "node:path";
import { runCheckOfFile } from "@/service/check/run-check";
import { NODE_FAULTS, nodeModule } from "./faults-node";
import { PYTHON_FAULTS, pythonModule } from "./faults-python";
import type { Finding } from "./finding";
import { portFile, scratchFolder } from "./scratch";

const ORIGINAL = `def act(word):
    if not word.startswith("good"):
        return "fine"
    return {"word": word, "numbers": [2, 4, 6], "text": "a-b", "seen": 1}
`;
/** What these return when they did no harm to themselves says "wrong": the original's answer can only be forged. */
const NEVER_AGREES = /^forges (a reply|many|a reply with)/;
const GOOD_AROUND = 3;
const LIMITS = { timeMs: 1500, memoryMb: 300, outputKb: 256 };

export type Language = "javascript" | "python";

const FAULTS = { javascript: NODE_FAULTS, python: PYTHON_FAULTS };
export const FAULT_COUNT = NODE_FAULTS.size + PYTHON_FAULTS.size;

/** Checks some faults of a language in one port. */
export async function attackTwin(language: Language, names: readonly string[]): Promise<Finding[]> {
  const outside = path.join(scratchFolder(), "outside");
  const faults = names.map((name) => [name, FAULTS[language].get(name) ?? ""] as const);
  const words = names.flatMap((name, index) => [
    ...Array.from({ length: GOOD_AROUND }, (_, at) => `good ${index}-${at}`),
    name,
  ]);
  words.push("good last");
  const folder = scratchFolder({
    "side-twin.json": portFile({ twins: [{ name: "t", root: "twin", language }], limits: LIMITS }),
    "original/m.py": ORIGINAL,
    [language === "python" ? "twin/m.py" : "twin/m.cjs"]:
      language === "python" ? pythonModule(faults, outside) : nodeModule(faults, outside),
    "cases/c.jsonl": words.map((word, index) => ({ id: `c${index}`, module: "m", call: "act", args: [word] })),
  });
  const { report } = await runCheckOfFile(folder, {});
  const outcomes = new Map(report.cases.map(({ id, outcome, why }) => [id, { outcome, why }]));
  const wrong = words.flatMap((word, index) => {
    const found = outcomes.get(`c${index}`);
    if (!found) return [`no verdict on "${word}"`];
    if (word.startsWith("good"))
      return found.outcome === "agree" ? [] : [`"${word}" is ${found.outcome}: ${found.why ?? ""}`];
    return NEVER_AGREES.test(word) && found.outcome === "agree" ? [`"${word}" agrees`] : [];
  });
  if (existsSync(outside)) wrong.push("something was written outside");
  rmSync(outside, { recursive: true, force: true });
  const left = await leftBehind();
  if (left > 0) wrong.push(`${left} processes were left`);
  return [{ group: `twins in ${language}`, what: names.join(", "), count: names.length, wrong }];
}

/** Those that the faults start; they are given a moment to be gone. */
async function leftBehind(): Promise<number> {
  let count = 0;
  for (let tries = 0; tries < 20; tries++) {
    const listed = execFileSync("ps", ["-eo", "stat=,args="], { encoding: "utf8" });
    count = listed.split("\n").filter((line) => /^[^Z]\S*\s+sleep 71\.25/.test(line.trim())).length;
    if (count === 0) return 0;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return count;
}

/** All names of a language, or every nth from a place on. */
export const faultNames = (language: Language, every = 1, from = 0): string[] =>
  [...FAULTS[language].keys()].filter((_name, index) => index % every === from % every);
