import { describe, expect, it } from "vitest";
import { nextModule } from "@/api/next-module";
import type { ModuleView } from "@/api/views";
import { emptyTotals } from "@/core/formats/report";

const module = (name: string, extra: Partial<ModuleView> = {}): ModuleView => ({
  name,
  state: "ready",
  mark: "idle",
  stale: false,
  bar: [],
  lines: 50,
  textLines: 60,
  provenLines: null,
  totals: emptyTotals(),
  needs: [],
  neededBy: [],
  layer: 0,
  leftOut: null,
  drift: null,
  pull: null,
  ...extra,
});
const cases = (counts: Partial<ModuleView["totals"]>) => ({ ...emptyTotals(), ...counts });
const next = (modules: readonly ModuleView[], knots: ReadonlyMap<string, readonly string[]> = new Map()) =>
  nextModule(modules, knots);

describe("the next module", () => {
  it("is what differs first, the lowest of it, and says what rests on it", () => {
    const differs = { state: "under-way", totals: cases({ cases: 9, differ: 2, broken: 1 }) } as const;
    expect(
      next([
        module("ready"),
        module("high", { ...differs, layer: 2 }),
        module("low", { ...differs, neededBy: ["high"] }),
      ]),
    ).toEqual({
      module: "low",
      reason: "3 of its 9 cases differ or are broken; high rests on it",
    });
  });

  it("is then what drifted", () => {
    const drift = { sections: ["fare", "tax"], through: [] };
    expect(next([module("ready"), module("old", { state: "agrees", drift })])).toEqual({
      module: "old",
      reason: "the original changed fare, tax after they were ported",
    });
  });

  it("is then what is ready and holds up most, with all the reasons", () => {
    const modules = [
      module("done", { state: "proven" }),
      module("few", { neededBy: ["a"] }),
      module("many", { neededBy: ["a", "b"], needs: ["done"], textLines: 20, totals: cases({ cases: 11 }) }),
      module("a", { state: "waiting", textLines: 90 }),
    ];
    expect(next(modules)).toEqual({
      module: "many",
      reason: "all it needs is proven; 2 modules wait for it; it is small (20 lines); 11 cases wait",
    });
  });

  it("is one of a knot together with the others", () => {
    const knot = ["one", "two"];
    const modules = [
      module("one", { needs: ["two"], neededBy: ["two"] }),
      module("two", { needs: ["one"], state: "waiting" }),
    ];
    expect(next(modules, new Map(knot.map((name) => [name, knot])))?.reason).toMatch(
      /^it is done together with two, as they need each other/,
    );
  });

  it("is looked for among what is pulled along by what is wanted soon, and is none where all is done", () => {
    expect(next([module("first", { neededBy: ["x", "y"] }), module("pulled", { pull: "pulled" })])?.module).toBe(
      "pulled",
    );
    expect(next([module("done", { state: "proven" })])).toBeNull();
  });
});
