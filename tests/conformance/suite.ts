/** Runs the table of `table.ts` through one driver. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import { packageRoot } from "@/engine/package-root";
import { SideAnswers } from "@/service/check/side-answers";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";
import { ROWS, STEPS } from "./table";

const text = (value: Json) => canonicalText(fromNotation(value), DEFAULT_EQUALITY);

/** `file` is the side's source under `sides/`, `name` how it is called in the port. */
export function conformance(language: string, file: string, name: string): void {
  let side: SideAnswers;
  beforeAll(async () => {
    const source = readFileSync(path.join(packageRoot(), "tests/conformance/sides", file), "utf8");
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language },
        modules: [{ name: "side", original: [name] }],
      }),
      [`original/${name}`]: source,
      "twin/keep.txt": "",
    });
    const open = await openPort(folder);
    side = new SideAnswers({
      open,
      side: open.original,
      name: "original",
      jobs: 1,
      answersFolder: null,
      resume: null,
      fresh: true,
      lines: false,
      onVersion: () => undefined,
    });
    await side.drivers();
  }, 120_000);
  afterAll(() => side?.close());
  const ask = async (
    item: Parameters<SideAnswers["feed"]>[0][number],
    order: Parameters<SideAnswers["feed"]>[1]["order"],
  ) => {
    let found: unknown;
    await side.feed([item], {
      order,
      files: (module) => module.original,
      arrived: (_index, { result }) => {
        found = result;
      },
    });
    return found as {
      kind: string;
      why?: string;
      what?: string;
      value?: Json;
      thrown?: { kind: string };
      args: Json[];
      printed: string;
      steps: { value?: Json; thrown?: { kind: string } }[];
    }; // an answer of any kind
  };

  describe(`calls in ${language}`, () => {
    it.each(ROWS.map((row, index) => [`${index} ${row.name}(${JSON.stringify(row.args).slice(1, -1)})`, row] as const))(
      "%s",
      async (_title, row) => {
        const own = row.in?.[language];
        if (own === null) return;
        const { gives, args } = { ...row, ...own };
        const item = { id: "c", module: "side", call: row.name, args: [...args], kwargs: {} };
        const answer = await ask(item, () => ({ kind: "call", module: "side", names: [row.name], args, kwargs: {} }));
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
    const steps = STEPS.map(({ step }) => step);
    const item = { id: "s", module: "side", steps: steps as never };
    const order = steps.map((step) =>
      Object.fromEntries(
        Object.entries(step).map(([key, value]) => [key, /^(new|call|get|set)$/.test(key) ? [value] : value]),
      ),
    );
    const answer = await ask(item, () => ({ kind: "steps", module: "side", steps: order as never }));
    expect(answer.kind).toBe("steps");
    for (const [index, expected] of STEPS.entries()) {
      if (!("gives" in expected)) continue;
      const given = answer.steps[index];
      const wanted = expected.gives as Json;
      if (typeof wanted === "object" && wanted !== null && "thrown" in wanted)
        expect(given?.thrown?.kind).toBe(wanted.thrown);
      else expect(text(given?.value ?? null)).toBe(text(wanted));
    }
  });
}
