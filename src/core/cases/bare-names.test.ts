import { describe, expect, it } from "vitest";
import { bareNames } from "@/core/cases/bare-names";

describe("bare names", () => {
  it.each<[string, readonly string[], Readonly<Record<string, string>>]>([
    ["stand for the one method of that name", ["Fares", "Fares.fare"], { fare: "Fares.fare" }],
    ["of nested classes too", ["A.B.c"], { c: "A.B.c" }],
    ["are left to a function of that name", ["fare", "Fares.fare"], {}],
    ["that two classes have stand for none", ["A.f", "B.f", "A.g"], { g: "A.g" }],
    ["of functions are their names already", ["fare", "zone"], {}],
    ["given twice count once", ["A.f", "A.f"], { f: "A.f" }],
  ])("%s", (_what, sections, expected) => {
    const source = { sections: sections.map((name) => ({ name })) };
    expect(Object.fromEntries(bareNames([source]))).toEqual(expected);
  });
});
