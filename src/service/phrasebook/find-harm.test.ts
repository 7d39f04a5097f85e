/** Phrases that make some cases worse: the places that did it are found, and taken back alone. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { applyPhrases } from "@/service/phrasebook/apply-phrases";
import { findHarm, takeBack } from "@/service/phrasebook/find-harm";
import { openPort, readCases } from "@/service/port/open-port";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

/** Halves go up in the third and the last of these; the others never see one. */
const ORIGINAL = `import math

def whole(n): return round(n * 2)
def tenth(n): return round(n * 10)
def up(n): return math.floor(n + 0.5)
def double(n): return round(n + n)
def other(n): return round(n)
def both(n): return math.floor(n + 0.5) + math.floor(n + 0.5)
`;
const TWIN = `export const whole = (n) => Math.round(n * 2);
export const tenth = (n) => Math.round(n * 10);
export const up = (n) => Math.round(n);
export const double = (n) => Math.round(n + n);
export const other = (n) => Math.round(n);
export const both = (n) => Math.round(n) + Math.round(n);
export const toEven = (n) => (n % 1 === 0.5 && Math.floor(n) % 2 === 0 ? Math.floor(n) : Math.floor(n + 0.5));
`;

async function applied(more: Readonly<Record<string, unknown>> = {}) {
  const folder = temporaryFolder({
    "p/side-twin.json": portFile({
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      phrasebook: ["phrases.json"],
    }),
    "p/phrases.json": JSON.stringify({
      format: "side-twin/phrasebook",
      version: 1,
      phrases: [
        { id: "even", kind: "code", language: "javascript", from: "Math.round((:x:))", to: "toEven((:x:))" },
        ...((more.phrases as object[]) ?? []),
      ],
    }),
    "p/original/m.py": ORIGINAL,
    "p/twin/m.js": TWIN,
    "p/cases/m.jsonl": ["whole", "tenth", "up", "double", "other", "both"].map((call) => ({
      id: call,
      module: "m",
      call,
      args: [2.5],
    })),
  });
  const open = await openPort(path.join(folder, "p"));
  const data = temporaryFolder({});
  const done = await applyPhrases(open, { twin: "js", data });
  if (!done.application) throw new Error("nothing was applied");
  const snapshots = Snapshots.open(data, open.file);
  const twin = path.join(folder, "p/twin/m.js");
  return { open, snapshots, application: done.application, twin, cases: await readCases(open) };
}

describe("the places of phrases that made cases worse", () => {
  it("are found by halving, each with the cases that it explains", async () => {
    const { open, snapshots, application, cases } = await applied();
    expect(application.places).toHaveLength(7);
    const worse = cases.filter(({ id }) => id === "up" || id === "both");
    const harms = await findHarm(open, snapshots, { twin: "js", applied: application, cases: worse });
    expect(harms.map((harm) => [harm.cases, harm.places.map(({ line }) => line)])).toEqual([
      [["up"], [3]],
      [["both"], [6, 6]],
    ]);
  });

  it("are none where a case differs without them too", async () => {
    const { open, snapshots, application, cases } = await applied();
    // Of a twin that rounds halves up, this one differed before.
    const before = cases.filter(({ id }) => id === "other");
    expect(await findHarm(open, snapshots, { twin: "js", applied: application, cases: before })).toEqual([]);
  });

  it("are taken back alone, with a snapshot, and not over a later change", async () => {
    const { snapshots, application, twin } = await applied();
    const harm = application.places.filter(({ line }) => line === 3);
    const { snapshot, applied: rest } = await takeBack(snapshots, application, harm);
    expect(readFileSync(twin, "utf8")).toBe(
      TWIN.replaceAll("Math.round(", "toEven(").replace("up = (n) => toEven(n)", "up = (n) => Math.round(n)"),
    );
    expect(rest.places).toHaveLength(6);
    expect(snapshots.list()[0]).toMatchObject({ id: snapshot, what: "1 place of the phrasebook taken back" });
    writeFiles(path.dirname(twin), { "m.js": "// by hand\n" });
    await expect(takeBack(snapshots, rest, rest.places.slice(0, 1))).rejects.toThrow(/saved while/);
    expect(readFileSync(twin, "utf8")).toBe("// by hand\n");
  });

  it("cannot be told apart where files moved", async () => {
    const { open, snapshots, application, cases } = await applied({
      phrases: [{ id: "move", kind: "file", from: "(:name:).js", to: "lib/(:name:).js" }],
    });
    await expect(findHarm(open, snapshots, { twin: "js", applied: application, cases })).rejects.toThrow(/moved files/);
  });
});
