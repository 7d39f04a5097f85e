/** Pairing against the truth of modules that are made up and translated: in other names, another order, with parts left out. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { pairPort } from "@/service/reading/pair-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const WORDS = [
  "quay",
  "tide",
  "berth",
  "rope",
  "lamp",
  "buoy",
  "crew",
  "fare",
  "gull",
  "keel",
  "mast",
  "sail",
] as const;
const VERBS = ["find", "count", "sort", "mend", "tell", "weigh", "close", "open"] as const;

/** A function as it is meant: what both sides are written from. */
type Meant = {
  readonly words: readonly string[];
  readonly text: string;
  readonly number: number;
  readonly shape: number;
  /** What becomes of it on the other side. */
  readonly fate: "kept" | "left out" | "renamed";
};

const meant: fc.Arbitrary<Meant> = fc.record({
  words: fc.tuple(fc.constantFrom(...VERBS), fc.constantFrom(...WORDS), fc.constantFrom(...WORDS)),
  text: fc.stringMatching(/^[a-z]{6,12}$/),
  number: fc.integer({ min: 1000, max: 99_999 }),
  shape: fc.nat(2),
  fate: fc.constantFrom("kept", "kept", "kept", "kept", "left out", "renamed"),
});

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);
const snake = ({ words }: Meant) => words.join("_");
const camel = ({ words: [first = "", ...rest] }: Meant) => first + rest.map(capital).join("");
/** A name that shares nothing with the first. */
const other = (index: number) =>
  `step${["Alpha", "Beta", "Gamma", "Delta", "Zeta", "Eta", "Theta", "Iota"][index % 8]}${index}`;

const inPython = (one: Meant): string =>
  [
    `def ${snake(one)}(n, limit):\n    if n > ${one.number}:\n        return '${one.text}'\n    return limit\n`,
    `def ${snake(one)}(items):\n    total = ${one.number}\n    for item in items:\n        total += len(item + '${one.text}')\n    return total\n`,
    `def ${snake(one)}(a, b, c):\n    return ['${one.text}', a, b, c, ${one.number}]\n`,
  ][one.shape] ?? "";
const inTypeScript = (one: Meant, name: string): string =>
  [
    `export function ${name}(n: number, limit: number) {\n  if (n > ${one.number}) return "${one.text}";\n  return limit;\n}\n`,
    `export const ${name} = (items: string[]) => {\n  let total = ${one.number};\n  for (const item of items) total += (item + "${one.text}").length;\n  return total;\n};\n`,
    `export const ${name} = (a: number, b: number, c: number) => ["${one.text}", a, b, c, ${one.number}];\n`,
  ][one.shape] ?? "";

describe("a module that was translated", () => {
  it("has its functions paired as they were meant, and none that was left out", async () => {
    const modules = fc.tuple(
      fc.uniqueArray(meant, { minLength: 4, maxLength: 14, selector: snake }),
      fc.integer({ min: 0, max: 1000 }),
    );
    const score = { right: 0, wrong: 0, missed: 0, pairs: 0 };
    await fc.assert(
      fc.asyncProperty(modules, async ([functions, turn]) => {
        const names = functions.map((one, index) => (one.fate === "renamed" ? other(index) : camel(one)));
        const there = functions.flatMap((one, index) =>
          one.fate === "left out" ? [] : [{ one, name: names[index] ?? "" }],
        );
        // Another order on the other side: turned, and backwards every other time.
        const at = turn % Math.max(1, there.length);
        const turned = [...there.slice(at), ...there.slice(0, at)];
        if (turn % 2 === 1) turned.reverse();
        const folder = temporaryFolder({
          "side-twin.json": portFile(),
          "original/m.py": functions.map(inPython).join("\n"),
          "twin/m.ts": turned.map((entry) => inTypeScript(entry.one, entry.name)).join("\n"),
        });
        const [module] = (await pairPort(folder)).modules;
        const found = new Map(module?.sections.map(({ original, twin }) => [original, twin]));
        for (const [index, one] of functions.entries()) {
          const truth = one.fate === "left out" ? undefined : names[index];
          const told = found.get(snake(one));
          if (truth !== undefined) score.pairs++;
          if (told === truth) score.right += truth === undefined ? 0 : 1;
          else if (told === undefined) score.missed++;
          else score.wrong++;
          // What keeps its name is never missed nor taken for another.
          if (one.fate === "kept") expect([snake(one), told]).toEqual([snake(one), truth]);
        }
      }),
      { numRuns: 60 },
    );
    expect(score.pairs).toBeGreaterThan(300);
    expect(score.right / score.pairs).toBeGreaterThan(0.95);
    expect(score.wrong / score.pairs).toBeLessThan(0.02);
  });
});
