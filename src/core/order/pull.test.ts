import { describe, expect, it } from "vitest";
import { findLayers } from "@/core/order/layers";
import { findPull } from "@/core/order/pull";

const needs = new Map(
  Object.entries({
    sheet: ["fares", "tides"],
    fares: ["money", "dates"],
    money: [],
    dates: ["clock"],
    clock: [],
    tides: ["clock"],
    other: ["clock"],
  }),
);
const { layer } = findLayers(needs);
const pull = (wanted: string[], done: string[] = []) =>
  findPull(wanted, {
    needs,
    layer: (name) => layer.get(name) ?? 0,
    isDone: (name) => done.includes(name),
    lines: (name) => name.length,
  });

describe("what a wanted module pulls along", () => {
  it("is all that it needs and that is not done, what is needed first", () => {
    expect(pull(["fares"])).toEqual({ modules: ["clock", "money", "dates", "fares"], lines: 20 });
    expect(pull(["sheet"], ["clock", "money"]).modules).toEqual(["dates", "tides", "fares", "sheet"]);
  });

  it("is nothing for what is done or not there, and each module once for several", () => {
    expect(pull(["money"], ["money"])).toEqual({ modules: [], lines: 0 });
    expect(pull(["nowhere"]).modules).toEqual([]);
    expect(pull(["fares", "dates"]).modules).toEqual(pull(["fares"]).modules);
  });

  it("does not look below what is done", () => {
    expect(pull(["fares"], ["dates"]).modules).toEqual(["money", "fares"]);
  });

  it("holds a knot as a whole", () => {
    const knot = new Map([
      ["a", ["b"]],
      ["b", ["a"]],
    ]);
    const found = findPull(["a"], { needs: knot, layer: () => 0, isDone: () => false, lines: () => 1 });
    expect(found).toEqual({ modules: ["a", "b"], lines: 2 });
  });
});
