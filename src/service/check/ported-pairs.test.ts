/** Suspects of real ports: functions with faulty twins, checked by the real interpreters with their code in view. */
import { describe, expect, it } from "vitest";
import type { Report } from "@/core/formats/report";
import { runCheckOfFile } from "@/service/check/run-check";
import { ACROSS, type Across } from "@/testing/ported-pairs/across";
import { CLASSES } from "@/testing/ported-pairs/classes";
import { FIFTH } from "@/testing/ported-pairs/fifth";
import { FIRST } from "@/testing/ported-pairs/first";
import { FOURTH_FROM_PYTHON, FOURTH_TO_PYTHON } from "@/testing/ported-pairs/fourth";
import { SECOND } from "@/testing/ported-pairs/second";
import { THIRD } from "@/testing/ported-pairs/third";
import { TO_PYTHON } from "@/testing/ported-pairs/to-python";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const FROM_PYTHON = {
  from: { language: "python", ending: "py" },
  to: { language: "javascript", ending: "js" },
  functions: "snake-to-camel",
};
const FROM_JAVASCRIPT = {
  from: { language: "javascript", ending: "js" },
  to: { language: "python", ending: "py" },
  functions: "camel-to-snake",
};

/** Each pair is a module of its own, as its code stands. */
async function familiesOf(port: Across): Promise<ReadonlyMap<string, Report["families"]>> {
  const { from, to, functions, pairs } = port;
  const wrap = port.wrap ?? ((code) => code);
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: from.language },
      twins: [{ name: "twin", root: "twin", language: to.language }],
      ...(functions ? { names: { functions } } : {}),
    }),
    ...Object.fromEntries(
      pairs.flatMap(({ call, original, twin }) => [
        [`original/${call}_m.${from.ending}`, wrap(`${original}\n`, `${call}_m`, "original")],
        [`twin/${call}_m.${to.ending}`, wrap(`${twin}\n`, `${call}_m`, "twin")],
      ]),
    ),
    "original/package.json": { type: "module" },
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": pairs.flatMap(({ call, inputs }) =>
      inputs.map((args, index) => ({ id: `${call}-${index}`, module: `${call}_m`, call, args })),
    ),
  });
  const { report } = await runCheckOfFile(folder, {});
  return new Map(pairs.map(({ call }) => [call, report.families.filter((family) => family.call === call)]));
}

/** A slip must name no cause with more certainty than this. */
const SURE = 0.9;
const MAX_WRONG = 0.05;

describe.each<[string, Across]>([
  ["those that the signs were tuned on", { ...FROM_PYTHON, pairs: FIRST }],
  ["those that were written afterwards", { ...FROM_PYTHON, pairs: SECOND }],
  ["those that were held out at first", { ...FROM_PYTHON, pairs: THIRD }],
  ["ports into Python, held out at first", { ...FROM_JAVASCRIPT, pairs: TO_PYTHON }],
  ["longer ones into Python", { ...FROM_JAVASCRIPT, pairs: FOURTH_TO_PYTHON }],
  ["longer ones from Python", { ...FROM_PYTHON, pairs: FOURTH_FROM_PYTHON }],
  ...[...ACROSS, ...FIFTH].map((port): [string, Across] => [
    `ports from ${port.from.language} to ${port.to.language}`,
    port,
  ]),
])("suspects on %s", (_which, port) => {
  it("name the right cause first, in one family a fault, none for slips with certainty, and lines of the twin", async () => {
    const families = await familiesOf(port);
    const wrong = port.pairs.flatMap(({ call, cause }) => {
      const own = families.get(call) ?? [];
      const best = own[0]?.suspects[0];
      const isRight = cause === null ? (best?.score ?? 0) <= SURE : best?.cause === cause;
      return isRight && own.length === 1 ? [] : [`${call}: ${cause}, not ${best?.cause} ${best?.score}`];
    });
    expect(wrong.length / port.pairs.length, wrong.join("; ")).toBeLessThanOrEqual(MAX_WRONG);
    const placed = [...families.values()].flat().filter(({ suspects }) => suspects[0]?.place !== undefined);
    expect(placed.length).toBeGreaterThan(port.pairs.length / 5);
  });
});

describe("suspects on classes", () => {
  it("name the right cause first, in one family a fault", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "js", root: "twin", language: "javascript" }] }),
      ...Object.fromEntries(
        CLASSES.flatMap(({ name, original, twin }) => [
          [`original/${name.toLowerCase()}_m.py`, `${original}\n`],
          [`twin/${name.toLowerCase()}_m.js`, `${twin}\n`],
        ]),
      ),
      "twin/package.json": { type: "module" },
      "cases/c.jsonl": CLASSES.flatMap(({ name, scripts }) =>
        scripts.map(({ made, calls }, index) => ({
          id: `${name}-${index}`,
          module: `${name.toLowerCase()}_m`,
          steps: [
            { new: name, args: made, as: "it" },
            ...calls.map(([method, ...args]) => ({ call: method, on: "it", args })),
          ],
        })),
      ),
    });
    const { report } = await runCheckOfFile(folder, {});
    const wrong = CLASSES.flatMap(({ name, faults }) => {
      const own = report.families.filter(({ module }) => module === `${name.toLowerCase()}_m`);
      const found = own.map(({ suspects: [best] }) => ((best?.score ?? 0) > SURE ? best?.cause : null));
      const wanted = Object.values(faults);
      const isRight = wanted.every((cause) =>
        cause === null ? found.length > 0 : own.some(({ suspects }) => suspects[0]?.cause === cause),
      );
      return isRight && own.length === wanted.length
        ? []
        : [`${name}: ${wanted}, not ${own.map(({ at, suspects: [best] }) => `${at} ${best?.cause} ${best?.score}`)}`];
    });
    expect(wrong).toEqual([]);
  });
});
