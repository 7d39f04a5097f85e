/** Small ported functions with a known fault: one family each, the right cause first or among the first. */
import { describe, expect, it } from "vitest";
import type { CallAnswer, StepsAnswer } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import { CAUSES } from "@/core/explain/causes/index";
import type { CaseFacts } from "@/core/explain/facets";
import { findFamilies } from "@/core/explain/families";
import type { Json } from "@/core/formats/json";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { freshState, PORTED_CLASSES, type PortedClass, type PortedStep } from "@/testing/ported-classes";
import { type PortedFunction, printed } from "@/testing/ported-functions/entry";
import { PORTED } from "@/testing/ported-functions/index";

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
  const base = { kind: "call", kwargs: {} } as const;
  printed.text = "";
  try {
    const value = notation(side(...args));
    return { ...base, value, args: args.map(notation), printed: printed.text };
  } catch (error) {
    const { kind = "TypeError", message } = error as Error & { kind?: string };
    return { ...base, thrown: { kind, message }, args: args.map(notation), printed: printed.text };
  }
}

/** Does the steps of a script on new objects; every step's result is an answer. */
function drive(side: PortedClass["original"], script: readonly PortedStep[]): StepsAnswer {
  freshState();
  const objects = new Map<string, Record<string, (...args: unknown[]) => unknown>>();
  const steps = script.map((step): StepsAnswer["steps"][number] => {
    const given = (step.args ?? []) as never[]; // the class's own inputs
    if ("new" in step) {
      objects.set(step.new, new side(...given) as never); // its methods are looked up by name
      return { value: null };
    }
    return { value: notation(objects.get(step.on)?.[step.call]?.(...given)) };
  });
  return { kind: "steps", steps, printed: "" };
}

function classFamilies({ name, original, twin, scripts }: PortedClass) {
  const facts = scripts.map((script, index): CaseFacts => {
    const answers = { original: drive(original, script), twin: drive(twin, script) };
    const { divergences } = compareAnswers(answers.original, answers.twin, {
      equality: DEFAULT_EQUALITY,
      allowances: [],
    });
    const steps = script.map((step) =>
      "new" in step
        ? { new: name, as: step.new, args: (step.args ?? []).map(notation) }
        : { call: step.call, on: step.on, args: (step.args ?? []).map(notation) },
    );
    return { id: `c${index}`, item: { id: `c${index}`, module: "m", steps }, ...answers, divergences };
  });
  return findFamilies(
    facts.filter(({ divergences }) => divergences.length > 0),
    facts.filter(({ divergences }) => divergences.length === 0),
  );
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

describe("the ported functions", () => {
  it("are two or more for every cause, and some without a fault", () => {
    const causes = [...PORTED, ...PORTED_CLASSES].map(({ cause }) => cause);
    const few = CAUSES.filter(({ name }) => causes.filter((cause) => cause === name).length < 2);
    expect(few.map(({ name }) => name)).toEqual([]);
    expect(causes.filter((cause) => cause === null).length).toBeGreaterThan(2);
  });

  it.each(PORTED_CLASSES.map((ported) => [ported.name, ported] as const))(
    "of the class %s are told as they are",
    (_name, ported) => {
      const families = classFamilies(ported);
      expect(families).toHaveLength(1);
      expect(families[0]?.suspects[0]?.cause).toBe(ported.cause);
    },
  );
});

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
