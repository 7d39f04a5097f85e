/** Runs the table of `table.ts` through one driver. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import { packageRoot } from "@/engine/package-root";
import { type StartedSide, startSide } from "./side";
import { ROWS, SHAPES, STEPS } from "./table";

const text = (value: Json) => canonicalText(fromNotation(value), DEFAULT_EQUALITY);

/** `file` is the side's source under `sides/`, `name` how it is called in the port. */
export function conformance(language: string, file: string, name: string): void {
  let side: StartedSide;
  beforeAll(async () => {
    const source = readFileSync(path.join(packageRoot(), "tests/conformance/sides", file), "utf8");
    const modules = [{ name: "side", original: [name] }];
    side = await startSide(language, { [name]: source }, { modules, port: { shapes: SHAPES } });
  }, 120_000);
  afterAll(() => side?.close());

  describe(`calls in ${language}`, () => {
    it.each(ROWS.map((row, index) => [`${index} ${row.name}(${JSON.stringify(row.args).slice(1, -1)})`, row] as const))(
      "%s",
      async (_title, row) => {
        const own = row.in?.[language];
        if (own === null) return;
        const { gives, args } = { ...row, ...own };
        const answer = await side.callIn("side", row.name, ...args);
        const expected = gives as { thrown?: string; broken?: string; missing?: true } | null;
        if (typeof expected === "object" && expected?.missing) expect(answer).toMatchObject({ kind: "skipped" });
        else if (typeof expected === "object" && expected?.broken !== undefined) {
          expect(answer).toMatchObject({ kind: "broken", what: expect.stringContaining(expected.broken) });
        } else if (typeof expected === "object" && expected?.thrown !== undefined) {
          expect(answer.thrown?.kind).toBe(expected.thrown);
        } else {
          expect(answer).toMatchObject({ kind: "call", printed: row.printed ?? "" });
          expect(text(answer.value ?? null)).toBe(text(gives));
          expect(answer.args.map(text)).toEqual((row.after ?? args).map(text));
        }
      },
    );
  });

  it(`steps in ${language} change an object, read it, hand it on, and go on after a throw`, async () => {
    const answer = await side.steps(STEPS.map(({ step }) => step));
    expect(answer.kind).toBe("steps");
    for (const [index, expected] of STEPS.entries()) {
      if (!("gives" in expected)) continue;
      const given = answer.steps[index];
      const own = "in" in expected ? (expected.in as { readonly [language: string]: Json })[language] : undefined;
      const wanted = own ?? (expected.gives as Json);
      if (typeof wanted === "object" && wanted !== null && "thrown" in wanted)
        expect(given?.thrown?.kind).toBe(wanted.thrown);
      else expect(text(given?.value ?? null)).toBe(text(wanted));
    }
  });
}
