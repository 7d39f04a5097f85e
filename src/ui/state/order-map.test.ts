import { describe, expect, it } from "vitest";
import type { ModuleView } from "@/api/views";
import { emptyTotals } from "@/core/formats/report";
import {
  layersOf,
  neighbour,
  readZoom,
  relationsOf,
  untieWords,
  waitsFor,
  walkAlong,
  zoomFor,
} from "@/ui/state/order-map";

const NEEDS: Readonly<Record<string, readonly string[]>> = {
  sheet: ["fares", "tides"],
  fares: ["money", "dates"],
  tides: ["clock"],
  money: [],
  dates: ["clock"],
  clock: [],
};
const LAYERS: Readonly<Record<string, number>> = { sheet: 3, fares: 2, tides: 1, dates: 1, money: 0, clock: 0 };

const modules = Object.entries(NEEDS).map(
  ([name, needs]): ModuleView => ({
    name,
    state: name === "money" ? "proven" : "ready",
    mark: "idle",
    stale: false,
    bar: [],
    lines: 10,
    textLines: 12,
    provenLines: null,
    totals: emptyTotals(),
    needs,
    neededBy: Object.keys(NEEDS).filter((other) => NEEDS[other]?.includes(name)),
    layer: LAYERS[name] ?? 0,
    leftOut: null,
    drift: null,
    pull: null,
  }),
);
const named = (name: string) => modules.find((module) => module.name === name) as ModuleView; // one of those above

describe("the map of the Order", () => {
  it("has layers from the top, and a knot together in one of them", () => {
    const knot = { members: ["tides", "dates"], untie: { imports: [{ from: "tides", to: "dates" }], isLeast: true } };
    const layers = layersOf({ modules, knots: [knot] });
    expect(layers.map((layer) => layer.map((group) => group.modules.map(({ name }) => name)))).toEqual([
      [["sheet"]],
      [["fares"]],
      [["tides", "dates"]],
      [["money"], ["clock"]],
    ]);
    expect(layers[2]?.[0]?.knot).toBe(knot);
    expect(untieWords(knot)).toBe("import cycle: cut tides → dates, 1 import");
  });

  it("lights up the whole path of a module, one step apart from what lies beyond", () => {
    expect(Object.fromEntries(relationsOf(modules, named("dates")))).toEqual({
      dates: "chosen",
      clock: "needed",
      fares: "waits",
      sheet: "above",
    });
    expect(relationsOf(modules, named("sheet")).get("clock")).toBe("below");
  });

  it("is walked by layers and along what needs what, the same key going on to the next", () => {
    const layers = layersOf({ modules, knots: [] });
    expect(neighbour(layers, named("sheet"), 1, 0).name).toBe("fares");
    expect(neighbour(layers, named("money"), 0, 9).name).toBe("clock");
    let step = walkAlong(modules, named("fares"), { walk: null, side: "needs" });
    expect(step.chosen).toBe("money");
    step = walkAlong(modules, named(step.chosen), { walk: step.walk, side: "needs" });
    expect(step.chosen).toBe("dates");
    step = walkAlong(modules, named("dates"), { walk: null, side: "needs" });
    expect(step.chosen).toBe("clock");
    expect(walkAlong(modules, named("clock"), { walk: step.walk, side: "needs" }).chosen).toBe("clock");
    expect(walkAlong(modules, named("clock"), { walk: null, side: "neededBy" }).chosen).toBe("tides");
  });

  it("is looked at from as far as the port is large, and says what a module waits for", () => {
    expect([10, 100, 2000].map(zoomFor)).toEqual([0, 1, 2]);
    expect(waitsFor(named("fares"), modules)).toEqual(["dates"]);
  });

  it("reads a zoom by its name, and nothing else", () => {
    expect(["bars", "names", "marks", "near", "0", "", null].map(readZoom)).toEqual([0, 1, 2, null, null, null, null]);
  });
});
