/** Suspects of real ports: functions in Python with faulty JavaScript twins, checked by the real interpreters with their code in view. */
import { describe, expect, it } from "vitest";
import type { Report } from "@/core/formats/report";
import { runCheckOfFile } from "@/service/check/run-check";
import { CLASSES } from "@/testing/ported-pairs/classes";
import { FIRST } from "@/testing/ported-pairs/first";
import type { PortedPair } from "@/testing/ported-pairs/pair";
import { SECOND } from "@/testing/ported-pairs/second";
import { THIRD } from "@/testing/ported-pairs/third";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

/** Each pair is a module of its own, as its code stands. */
async function familiesOf(pairs: readonly PortedPair[]): Promise<ReadonlyMap<string, Report["families"]>> {
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      names: { functions: "snake-to-camel" },
    }),
    ...Object.fromEntries(
      pairs.flatMap(({ call, original, twin }) => [
        [`original/${call}_m.py`, `${original}\n`],
        [`twin/${call}_m.js`, `${twin}\n`],
      ]),
    ),
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

describe.each([
  ["those that the signs were tuned on", FIRST, 0.95],
  ["those that were written afterwards", SECOND, 0.95],
  ["those that were held out at first", THIRD, 0.95],
] as const)("suspects on %s", (_which, pairs, share) => {
  it("name the right cause first, in one family a fault, and none for slips with certainty", async () => {
    const families = await familiesOf(pairs);
    const wrong = pairs.flatMap(({ call, cause }) => {
      const own = families.get(call) ?? [];
      const best = own[0]?.suspects[0];
      const isRight = cause === null ? (best?.score ?? 0) <= SURE : best?.cause === cause;
      return isRight && own.length === 1 ? [] : [`${call}: ${cause}, not ${best?.cause} ${best?.score}`];
    });
    expect(wrong.length / pairs.length, wrong.join("; ")).toBeLessThanOrEqual(1 - share);
  });

  it("name a line of the twin where the cause has signs", async () => {
    const families = await familiesOf(pairs);
    const placed = [...families.values()].flat().filter(({ suspects }) => suspects[0]?.place !== undefined);
    expect(placed.length).toBeGreaterThan(pairs.length / 3);
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
