/** Recording: a program with many small calls and one with few large ones, recorded beside bare, in Python and Node.js. */
import { spawn } from "node:child_process";
import { mkdirSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { readRecording } from "@/engine/recording/read-calls";
import { findRuntime } from "@/engine/toolchains/toolchains";

const ROUNDS = 3;

type Program = {
  readonly language: string;
  readonly title: string;
  readonly files: Readonly<Record<string, string>>;
  readonly main: string;
};

const PROGRAMS: readonly Program[] = [
  {
    language: "python",
    title: "400,000 small calls",
    main: "main.py",
    files: {
      "tide.py":
        "def level(hour, range_m):\n    phase = hour % 12\n    if phase > 6:\n        phase = 12 - phase\n    return range_m * phase / 6\n\n\ndef label(value):\n    if value > 3:\n        return 'high'\n    return 'low' if value < 1 else 'mid'\n",
      "main.py":
        "from tide import label, level\ncount = {}\nfor hour in range(200000):\n    name = label(level(hour, 4.2))\n    count[name] = count.get(name, 0) + 1\nprint(count)\n",
    },
  },
  {
    language: "python",
    title: "300 calls over long lists",
    main: "main.py",
    files: {
      "rows.py":
        "def fold(rows, step):\n    total = 0\n    for row in rows:\n        for sign in row['note']:\n            total += ord(sign) % step\n        total += row['level'] * step\n    return total\n",
      "main.py":
        "from rows import fold\nrows = [{'level': n % 17, 'note': 'calm water by the quay ' * 4} for n in range(400)]\nprint(sum(fold(rows, step) for step in range(1, 301)))\n",
    },
  },
  {
    language: "javascript",
    title: "4,000,000 small calls",
    main: "main.mjs",
    files: {
      "tide.mjs":
        "export function level(hour, range) {\n  let phase = hour % 12;\n  if (phase > 6) phase = 12 - phase;\n  return (range * phase) / 6;\n}\nexport function label(value) {\n  if (value > 3) return 'high';\n  return value < 1 ? 'low' : 'mid';\n}\n",
      "main.mjs":
        "import { label, level } from './tide.mjs';\nconst count = new Map();\nfor (let hour = 0; hour < 2000000; hour++) {\n  const name = label(level(hour, 4.2)) + (hour % 97);\n  count.set(name, (count.get(name) ?? 0) + 1);\n}\nconsole.log(count.size);\n",
    },
  },
  {
    language: "javascript",
    title: "300 calls over long lists",
    main: "main.mjs",
    files: {
      "rows.mjs":
        "export function fold(rows, step) {\n  let total = 0;\n  for (const row of rows) {\n    for (const sign of row.note) total += sign.codePointAt(0) % step;\n    total += row.level * step;\n  }\n  return total;\n}\n",
      "main.mjs":
        "import { fold } from './rows.mjs';\nconst rows = Array.from({ length: 4000 }, (_, n) => ({ level: n % 17, note: 'calm water by the quay '.repeat(4) }));\nlet sum = 0;\nfor (let step = 1; step <= 300; step++) sum += fold(rows, step);\nconsole.log(sum);\n",
    },
  },
];

/** One line a program. */
export async function benchRecord(work: string, say: (line: string) => void): Promise<void> {
  for (const [index, program] of PROGRAMS.entries()) {
    const folder = path.join(work, `record-${index}`);
    mkdirSync(folder, { recursive: true });
    for (const [name, text] of Object.entries(program.files)) writeFileSync(path.join(folder, name), text);
    const recorder = DRIVERS[program.language]?.recording;
    if (!recorder) continue;
    const bare = [...(await findRuntime(program.language)), program.main];
    const out = path.join(folder, "calls");
    const settings = path.join(folder, "settings.json");
    const files = Object.keys(program.files).filter((name) => name !== program.main);
    writeFileSync(settings, JSON.stringify({ ...(await recorder.settings(folder, files)), out }));
    const recorded = recorder.start(bare, { home: driversFolder(), settings });
    const rounds: { bare: number; recorded: number; seen: number }[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      rmSync(out, { recursive: true, force: true });
      mkdirSync(out);
      const bareSeconds = await timed(bare, folder, {});
      const seconds = await timed(recorded.command, folder, recorded.environment);
      rounds.push({ bare: bareSeconds, recorded: seconds, seen: (await readRecording(out)).seen });
    }
    const middle = rounds.sort((left, right) => left.recorded / left.bare - right.recorded / right.bare)[1];
    if (!middle) continue;
    say(
      `recording, ${program.language}, ${program.title}: ${middle.recorded.toFixed(2)} s (${middle.seen.toLocaleString("en")} calls seen) against ${middle.bare.toFixed(2)} s bare: ratio ${(middle.recorded / middle.bare).toFixed(2)} (reach: 4, then 2)`,
    );
  }
}

async function timed(command: readonly string[], cwd: string, env: Readonly<Record<string, string>>): Promise<number> {
  const [program = "", ...args] = command;
  const started = performance.now();
  await new Promise<void>((resolve, reject) => {
    spawn(program, args, { cwd, env: { ...process.env, ...env }, stdio: ["ignore", "ignore", "inherit"] })
      .once("error", reject)
      .once("close", (code) => (code === 0 ? resolve() : reject(new Error(`${command.join(" ")} ended with ${code}`))));
  });
  return (performance.now() - started) / 1000;
}
