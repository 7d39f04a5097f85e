/** Reading what changed gives what reading everything gives: any files come, go and change, in any order. */
import { rmSync } from "node:fs";
import path from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PortReader, type PortReading, stampOf } from "@/service/reading/reading";
import { FactsCache, surveyFolder } from "@/service/reading/survey-folder";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

const NAMES = ["quay", "tides", "lamps", "ropes"] as const;

/** Ways in which a file of Python can be written: with imports of others, of what lies outside, and passing names on. */
const python = (own: string, other: string): string[] => [
  `def ${own}(n):\n    return n + 1\n`,
  `from ${other} import ${other}\n\ndef ${own}(n):\n    return ${other}(n)\n`,
  `import json as tool\n\ndef ${own}(n):\n    return tool.dumps(n)\n`,
  `from ${other} import tool\n\nclass Box:\n    def ${own}(self):\n        return tool.loads('1')\n`,
  `import ${other}\n${own.toUpperCase()} = ${other}.LIMIT\n`,
  "def (((\n",
  "",
];
const typescript = (own: string, other: string): string[] => [
  `export function ${own}(n: number) { return n + 1; }\n`,
  `import { ${other} } from "./${other}.js";\nexport const ${own} = (n: number) => ${other}(n);\n`,
  `export class Box { ${own}() { return JSON.parse("1"); } }\n`,
];

const name = fc.constantFrom(...NAMES);
const change = fc.record({
  side: fc.constantFrom("original", "original", "twin"),
  own: name,
  other: name,
  manner: fc.nat(20),
  isGone: fc.boolean(),
  text: fc.option(fc.constantFrom("see quay.py", "json and tides", "")),
});
type Change = typeof change extends fc.Arbitrary<infer T> ? T : never;

let round = 0;
function apply(folder: string, { side, own, other, manner, isGone, text }: Change): void {
  if (text !== null) writeFiles(folder, { "original/notes.md": text });
  const file = side === "original" ? `original/${own}.py` : `twin/${own}.ts`;
  if (isGone) rmSync(path.join(folder, file), { force: true });
  else {
    const manners = (side === "original" ? python : typescript)(own, other);
    // Each text has a length of its own: two within one tick of the clock are told apart by it.
    writeFiles(folder, { [file]: `${manners[manner % manners.length]}${"\n".repeat(++round % 997)}` });
  }
}

const start = () =>
  temporaryFolder({
    "side-twin.json": portFile(),
    "original/quay.py": python("quay", "tides")[1],
    "original/tides.py": python("tides", "lamps")[0],
    "twin/quay.ts": typescript("quay", "tides")[0],
    "cases/c.jsonl": [{ id: "a", module: "quay", call: "quay", args: [1] }],
  });
const changes = fc.array(fc.array(change, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 5 });

describe("reading again what changed", () => {
  it("makes the survey that reading all makes", async () => {
    await fc.assert(
      fc.asyncProperty(changes, async (steps) => {
        const folder = start();
        const root = path.join(folder, "original");
        const known = new FactsCache();
        await surveyFolder(root, { known });
        for (const step of steps) {
          for (const one of step) apply(folder, one);
          expect(await surveyFolder(root, { known })).toEqual(await surveyFolder(root));
        }
        expect(await surveyFolder(root, { known })).toBe(known.last?.survey);
      }),
      { numRuns: 15 },
    );
  });

  it("makes the reading of a port that reading all makes, and the same one when nothing changed", async () => {
    await fc.assert(
      fc.asyncProperty(changes, async (steps) => {
        const folder = start();
        const reader = new PortReader(new FactsCache());
        await reader.read(folder);
        for (const step of steps) {
          for (const one of step) apply(folder, one);
          const [again, anew] = [await told(reader, folder), await told(new PortReader(), folder)];
          expect(again.shown).toEqual(anew.shown);
          if (again.reading) expect(await reader.read(folder)).toBe(again.reading);
        }
      }),
      { numRuns: 15 },
    );
  });
});

/** What a reader says of a port: what it read, or why it cannot, as when a case names a module that is gone. */
async function told(reader: PortReader, folder: string) {
  return reader.read(folder).then(
    (reading) => ({ reading, shown: plain(reading) as unknown }),
    (thrown: Error) => ({ reading: null, shown: thrown.message as unknown }),
  );
}

/** A reading as far as it can be compared: with the stamps of its modules, which stand for their code. */
function plain(reading: PortReading) {
  const { modules, layers, cases } = reading;
  return {
    modules,
    cases,
    layers: [...layers.layer].sort(),
    knots: layers.knots.map((knot) => [...knot].sort()),
    stamps: modules.map((module) => stampOf(reading, module.name, "ts")),
    whole: stampOf(reading, null, "ts"),
  };
}
