/** Small ported functions with a known fault: one family each, the right cause first or among the first. */
import { describe, expect, it } from "vitest";
import type { CallAnswer } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import { DEFAULT_EQUALITY } from "@/core/compare/equality";
import type { CaseFacts } from "@/core/explain/facets";
import { findFamilies } from "@/core/explain/families";
import type { Json } from "@/core/formats/json";
import { PORTED, type PortedFunction } from "@/testing/ported-functions";

/** As the driver for JavaScript writes a value, as far as these functions go. */
function notation(value: unknown): Json {
  if (value === undefined) return { "~none": "undefined" };
  if (typeof value === "bigint") return { "~int": value.toString() };
  if (typeof value === "number") {
    if (Number.isNaN(value)) return { "~num": "NaN" };
    if (!Number.isFinite(value)) return { "~num": String(value) };
    return Number.isInteger(value) && !Number.isSafeInteger(value) ? { "~float": String(value) } : value;
  }
  if (value instanceof Date) return { "~time": value.toISOString() };
  if (typeof value === "string" && !value.isWellFormed())
    return { "~utf16": Buffer.from(value, "utf16le").toString("base64") };
  if (Array.isArray(value)) return value.map(notation);
  if (typeof value === "object" && value !== null)
    return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, notation(item)]));
  return value as Json; // a text, a truth value or null
}

function run(side: PortedFunction["original"], given: readonly unknown[]): CallAnswer {
  const args = structuredClone(given) as never[]; // the function's own inputs
  const base = { kind: "call", kwargs: {}, printed: "" } as const;
  try {
    const value = notation(side(...args));
    return { ...base, value, args: args.map(notation) };
  } catch (error) {
    const { kind = "TypeError", message } = error as Error & { kind?: string };
    return { ...base, thrown: { kind, message }, args: args.map(notation) };
  }
}

function familiesOf(ported: PortedFunction) {
  const facts = ported.inputs.map((given, index): CaseFacts => {
    const [original, twin] = [run(ported.original, given), run(ported.twin, given)];
    const { divergences } = compareAnswers(original, twin, { equality: DEFAULT_EQUALITY, allowances: [] });
    const item = { id: `c${index}`, module: "m", call: ported.call, args: given.map(notation), kwargs: {} };
    return { id: item.id, item, original, twin, divergences };
  });
  const isControl = ({ divergences }: CaseFacts) => divergences.length === 0;
  return findFamilies(
    facts.filter((item) => !isControl(item)),
    facts.filter(isControl),
  );
}

describe.each(PORTED.map((ported) => [`${ported.cause ?? "correct"}: ${ported.call}`, ported] as const))(
  "%s",
  (_name, ported) => {
    it("is told as it is", () => {
      const families = familiesOf(ported);
      const told = families.map(({ suspects }) => suspects.slice(0, 3).map(({ cause }) => cause));
      if (ported.cause === null) expect(families).toEqual([]);
      else {
        expect(told).toHaveLength(1);
        expect(told[0]?.[0]).toBe(ported.cause);
      }
    });
  },
);
