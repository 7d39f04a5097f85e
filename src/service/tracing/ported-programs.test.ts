/** Programs of several functions with faults in some: each fault is one family, with its cause, whatever calls lead to it. */
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { partFamilies } from "@/service/tracing/part-families";
import { BERTH } from "@/testing/ported-programs/berth";
import { FERRY } from "@/testing/ported-programs/ferry";
import { programFolder } from "@/testing/ported-programs/program";
import { TIDE } from "@/testing/ported-programs/tide";

describe.each([
  ["tide", TIDE],
  ["ferry", FERRY],
  ["berth", BERTH],
])("the faults of %s", (_name, program) => {
  it("are one family each, with the right cause first", async () => {
    const { report } = await runCheckOfFile(programFolder(program), { part: partFamilies });
    const found = report.families.map(
      ({ module, call, inner, suspects }) => `${inner?.section ?? `${module}.${call}`}: ${suspects[0]?.cause}`,
    );
    for (const { section, cause } of program.faults)
      expect(
        found.filter((one) => one === `${section}: ${cause}`),
        `${section}\n${found.join("\n")}`,
      ).toHaveLength(1);
    // A case of several families counts once.
    expect(report.families.filter(({ inner, cases }) => (inner?.shared ?? 0) > cases.length)).toEqual([]);
    // Each case that differs is in a family.
    const placed = new Set(report.families.flatMap(({ cases }) => cases));
    expect(report.cases.filter(({ id, outcome }) => outcome === "differ" && !placed.has(id))).toEqual([]);
  });
});
