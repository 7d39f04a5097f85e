/** Every kind of allowance against its own examples, through the comparison as a check runs it. */
import { describe, expect, it } from "vitest";
import { allowancesFor } from "@/core/allowances/allowances";
import { ALLOWANCE_KINDS } from "@/core/allowances/kinds";
import type { CallAnswer } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import { allowSchema } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { DEFAULT_EQUALITY } from "@/core/values/equality";

describe.each(ALLOWANCE_KINDS)("the kind $key", (kind) => {
  it("has a title, an example, and a description of each setting", () => {
    expect(kind.title).toMatch(/^[A-Z]/);
    expect(kind.examples.length).toBeGreaterThan(0);
    for (const { setting } of kind.examples) {
      expect(allowSchema.safeParse({ [kind.key]: setting }).success).toBe(true);
      expect(kind.describe(setting)).toMatch(/^[a-z0-9]/);
    }
  });

  it("excuses its examples and leaves the others", () => {
    for (const { setting, excuses, leaves, thrown } of kind.examples) {
      for (const pair of excuses) expect([pair, outcome(setting, pair, thrown)]).toEqual([pair, "allowed"]);
      for (const pair of leaves) expect([pair, outcome(setting, pair, thrown)]).toEqual([pair, "differ"]);
    }
  });

  function outcome(setting: unknown, [original, twin]: readonly [unknown, unknown], isThrown = false): string {
    const allow = allowSchema.parse({ [kind.key]: setting });
    const allowances = allowancesFor([{ id: "a", where: {}, allow, reason: "a test" }], scope);
    const answers = [original, twin].map((part) => answer(part as Json, isThrown)); // examples are JSON
    const [one, other] = answers;
    return one && other ? compareAnswers(one, other, { equality: DEFAULT_EQUALITY, allowances }).outcome : "";
  }
});

const scope = { id: "c", module: "m", call: "f", twin: "t" };

function answer(part: Json, isThrown: boolean): CallAnswer {
  const base = { kind: "call", args: [], kwargs: {}, printed: "" } as const;
  return isThrown ? { ...base, thrown: part as { kind: string; message: string } } : { ...base, value: part };
}
