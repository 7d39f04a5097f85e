import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { findLayers } from "@/core/order/layers";
import { findUntie } from "@/core/order/untie";

const needs = (of: Readonly<Record<string, readonly string[]>>) => new Map(Object.entries(of));

describe("what unties a knot", () => {
  it("is one import of a circle, and one of two circles that share it", () => {
    expect(findUntie(["a", "b", "c"], needs({ a: ["b"], b: ["c"], c: ["a", "z"] }))).toMatchObject({
      isLeast: true,
      imports: [{}],
    });
    const shared = needs({ a: ["b"], b: ["c", "d"], c: ["a"], d: ["a"] });
    expect(findUntie(["a", "b", "c", "d"], shared)).toEqual({ imports: [{ from: "a", to: "b" }], isLeast: true });
  });

  it("leaves no circle, and no fewer imports would where it says so", () => {
    let knots = 0;
    const edge = fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 6 }));
    fc.assert(
      fc.property(fc.array(edge, { maxLength: 16 }), (edges) => {
        const graph = new Map<string, string[]>(Array.from({ length: 7 }, (_, index) => [`m${index}`, []]));
        for (const [from, to] of edges) if (from !== to) graph.get(`m${from}`)?.push(`m${to}`);
        for (const [name, list] of graph) graph.set(name, [...new Set(list)]);
        for (const knot of findLayers(graph).knots) {
          knots++;
          const { imports } = findUntie(knot, graph);
          const cut = new Map(
            [...graph].map(([from, list]) => [
              from,
              list.filter((to) => !imports.some((one) => one.from === from && one.to === to)),
            ]),
          );
          const left = findLayers(cut).knots.filter((other) => other.every((name) => knot.includes(name)));
          expect(left).toEqual([]);
        }
      }),
    );
    expect(knots).toBeGreaterThan(20);
  });
});
