/** The contract of every cause: a title, a note, and examples that it must notice and leave alone. */
import { describe, expect, it } from "vitest";
import { CAUSES } from "@/core/explain/causes/index";
import { facetsOf } from "@/core/explain/facets";
import { splitFacts } from "@/testing/case-facts";

/** The names that outside checks rely on (docs/formats.md, section 5). */
const PROMISED =
  `rounding-mode floor-or-truncate remainder-sign integer-division int32-wrap int64-wrap integer-precision
  float32-precision summation-order off-by-one constant-offset unit-factor sign-flip number-format negative-zero not-a-number
  text-and-number boolean-and-number null-and-missing empty-and-missing sort-order unstable-sort order-only duplicates
  last-item cut-short text-case whitespace line-ending unicode-form code-units wrong-encoding escaping first-only boundary
  separator extra-output extra-key missing-key wrong-constant time-zone epoch-unit zero-based-month weekday-base key-naming
  error-kind error-swallowed error-added changed-argument shared-state not-ported-branch`.split(/\s+/);

describe("the causes", () => {
  it("have all the promised names, each once", () => {
    const names = CAUSES.map((cause) => cause.name);
    expect(PROMISED.filter((name) => !names.includes(name))).toEqual([]);
    expect(new Set(names).size).toBe(names.length);
  });

  describe.each(CAUSES.map((cause) => [cause.name, cause] as const))("%s", (_name, cause) => {
    it("says what it is, how it comes about and how it is mended", () => {
      expect(cause.title.length).toBeGreaterThan(5);
      expect(cause.note).toMatch(/Fix: /);
      expect([cause.fires.length >= 2, cause.staysQuiet.length >= 2]).toEqual([true, true]);
    });

    it.each(cause.fires.map((examples) => [JSON.stringify(examples), examples] as const))(
      "notices %s",
      (_text, examples) => {
        const { cases, controls } = splitFacts(examples);
        const finding = cause.examine(facetsOf(cases, controls));
        expect(finding?.cases.size).toBe(cases.length);
        expect(finding?.evidence).toMatch(/\d/);
      },
    );

    it.each(cause.staysQuiet.map((examples) => [JSON.stringify(examples), examples] as const))(
      "leaves %s alone",
      (_text, examples) => {
        const { cases, controls } = splitFacts(examples);
        expect(cases.length).toBeGreaterThan(0);
        expect(cause.examine(facetsOf(cases, controls))).toBeNull();
      },
    );
  });
});
