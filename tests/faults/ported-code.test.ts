/** Ported code that misbehaves: that case is broken, every other one gets its answer, and no process is left. */
import { execFileSync } from "node:child_process";
import { existsSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import type { CaseReport } from "@/core/formats/report";
import { runningCount } from "@/engine/process/group";
import { runCheckOfFile } from "@/service/check/run-check";
import { temporaryFolder, temporaryPort } from "@/testing/temporary-port";

const OUTSIDE = path.join(temporaryFolder(), "outside");

const PYTHON_FAULTS = `
OUTSIDE = ${JSON.stringify(OUTSIDE)}
import os, sys, time, signal, subprocess
def act(what):
    if what == "crash": os.abort()
    if what == "kill": os.kill(os.getpid(), signal.SIGKILL)
    if what == "hang": time.sleep(60)
    if what == "spin":
        while True: pass
    if what == "flood":
        while True: print("x" * 1000)
    if what == "fill":
        items = []
        while True: items.append(bytearray(10_000_000))
    if what == "exit": sys.exit(3)
    if what == "leave": os._exit(4)
    if what == "close": os.closerange(3, 256)
    if what == "child":
        subprocess.Popen(["sleep", "61.25"]); time.sleep(60)
    if what == "protocol": print('{"id":0,"value":"forged"}'); os.write(1, b'{"id":1,"value":1}\\n')
    if what == "forge":
        for fd in (3, 4):
            try: os.write(fd, b'{"id":1,"value":"forged"}\\n')
            except OSError: pass
    if what == "chdir": os.chdir("/")
    if what == "signal": signal.signal(signal.SIGTERM, signal.SIG_IGN)
    if what == "outside":
        with open(OUTSIDE, "w") as file: file.write("x")
    if what == "hidden":
        try: os.mkdir(OUTSIDE)
        except OSError: pass
    if what == "fork" and os.fork() == 0: return "from the child"
    if what == "bomb":
        for _ in range(60): subprocess.Popen(["sleep", "61.25"])
        time.sleep(60)
    if what == "note":
        with open("note.txt", "w") as file: file.write("left behind")
    if what == "where": return os.path.basename(os.getcwd())
    return "fine"
`;

const TWIN = `
import { basename } from "node:path";
export const act = (what: string) => { if (what === "protocol") { console.log('{"id":0,"value":"forged"}'); console.log('{"id":1,"value":1}'); } return what === "where" ? "original" : "fine"; };
void basename;
`;

const NODE_FAULTS = `
import fs from "node:fs";
import { spawn } from "node:child_process";
export function act(what: string): unknown {
  if (what === "crash") process.abort();
  if (what === "kill") process.kill(process.pid, "SIGKILL");
  if (what === "hang") return new Promise(() => {});
  if (what === "spin") for (;;);
  if (what === "flood") for (;;) console.log("x".repeat(1000));
  if (what === "fill") { const items = []; for (;;) items.push(Buffer.alloc(20_000_000, 1)); }
  if (what === "exit") process.exit(3);
  if (what === "leave") (process as never as { reallyExit(code: number): void }).reallyExit(4);
  if (what === "close") { fs.closeSync(3); fs.closeSync(4); }
  if (what === "child") { spawn("sleep", ["61.25"], { stdio: "ignore" }); for (;;); }
  if (what === "protocol") { console.log('{"id":0,"value":"forged"}'); fs.writeSync(1, '{"id":1,"value":1}\\n'); }
  if (what === "outside") fs.writeFileSync(${JSON.stringify(OUTSIDE)}, "x");
  if (what === "hidden") { try { fs.mkdirSync(${JSON.stringify(OUTSIDE)}); } catch {} }
  if (what === "note") fs.writeFileSync("note.txt", "left behind");
  if (what === "stray") { setTimeout(() => { throw new Error("later"); }, 5); return new Promise((resolve) => setTimeout(resolve, 200)); }
  return what === "where" ? "original" : "fine";
}
`;

const HEALTHY = `
def act(what):
    if what == "protocol":
        print('{"id":0,"value":"forged"}'); print('{"id":1,"value":1}')
    return "original" if what == "where" else "fine"
`;

const limits = { timeMs: 2500, memoryMb: 300, outputKb: 200, processes: 20 };

async function outcomes(original: string, twin: string, acts: readonly string[]): Promise<Map<string, CaseReport>> {
  const cases = acts.flatMap((what) => [
    { id: what, module: "m", call: "act", args: [what] },
    { id: `${what}-then`, module: "m", call: "act", args: ["where"] },
  ]);
  const { report } = await runCheckOfFile(temporaryPort({ original, twin, cases, port: { limits } }), {});
  return new Map(report.cases.map((item) => [item.id, item]));
}

/** [what it does, the words that must tell what was seen]; null for what must do no harm. */
const EXPECTED: readonly (readonly [string, RegExp | null])[] = [
  ["crash", /SIGABRT/],
  ["kill", /SIGKILL/],
  ["hang", /longer than 2500 ms/],
  ["spin", /longer than 2500 ms/],
  ["flood", /more than 200 KB/],
  ["fill", /memory/],
  ["exit", /exit\(3\)/],
  ["leave", /status 4/],
  ["child", /longer than 2500 ms/],
  ["protocol", null],
  ["outside", /wrote outside its folder: .*outside/],
  ["hidden", /wrote outside its folder: .*outside/],
  ["note", null],
];

describe.each([
  [
    "original",
    PYTHON_FAULTS,
    TWIN,
    [
      ["close", /Bad file descriptor/],
      ["forge", null],
      ["chdir", null],
      ["signal", null],
      ["fork", null],
      ["bomb", /more than 20 processes/],
    ],
  ],
  [
    "twin",
    HEALTHY,
    NODE_FAULTS,
    [
      ["close", /./],
      ["stray", /later/],
    ],
  ],
] as const)("on the %s", (side, original, twin, own) => {
  it("only the case that misbehaves is broken, with what was seen", async () => {
    const expected = [...EXPECTED, ...own];
    const found = await outcomes(
      original,
      twin,
      expected.map(([what]) => what),
    );
    for (const [what, seen] of expected) {
      const item = found.get(what);
      if (seen) {
        expect(item, what).toMatchObject({ outcome: "broken", side });
        expect(`${item?.why} ${item?.lastOutput ?? ""}`, what).toMatch(seen);
      } else expect(item?.outcome, `${what}: ${JSON.stringify(item)}`).toBe("agree");
      expect(found.get(`${what}-then`)?.outcome, `the case after ${what}`).toBe("agree");
    }
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(runningCount()).toBe(0);
    expect(existsSync(OUTSIDE)).toBe(false);
    expect(execFileSync("ps", ["-eo", "args"], { encoding: "utf8" })).not.toContain("sleep 61.25");
  });
});

describe("a module that does not load", () => {
  it("breaks its own cases and says why", async () => {
    const cases = [{ id: "a", module: "m", call: "act", args: ["x"] }];
    const folder = temporaryPort({ original: "def act(what):\n  return ]", twin: TWIN, cases });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.cases[0]).toMatchObject({
      outcome: "broken",
      side: "original",
      why: expect.stringMatching(/would-not-load: SyntaxError/),
    });
  });
});
