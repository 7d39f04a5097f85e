/** What is chosen on the Cases view, while lists change under it. */
import { describe, expect, it } from "vitest";
import type { CaseListing } from "@/api/case-listing";
import type { FamilyView } from "@/api/views";
import { type CaseLists, choiceFrom, chosenIn, filterFamilies, stepped } from "@/ui/state/cases-choice";

const listing = (id: string): CaseListing => ({
  id,
  module: "m",
  section: "f",
  mark: "differ",
  from: null,
  stale: false,
});
const family = (id: string, ...cases: string[]): FamilyView => ({
  id,
  mark: "differ",
  module: "m",
  call: "f",
  at: "value",
  sentence: "",
  simplest: cases[0] ?? "",
  cases,
  suspects: [],
  inner: null,
});
const lists: CaseLists = {
  families: [family("1-1", "a", "b"), family("1-2", "c")],
  cases: ["a", "b", "c"].map(listing),
  allowances: [],
};
const at = (given: Record<string, string>) => choiceFrom(given);

describe("what is chosen", () => {
  it("comes from the address: a case opens the list of all unless the tab says otherwise", () => {
    expect(at({})).toMatchObject({ tab: "families", case: null, words: "" });
    expect(at({ case: "b" }).tab).toBe("all");
    expect(at({ case: "b", tab: "families" }).tab).toBe("families");
    expect(at({ tab: "nonsense" }).tab).toBe("families");
  });

  it("is the first where nothing is, and the simplest case of its family", () => {
    expect(chosenIn(at({}), lists)).toMatchObject({ family: { id: "1-1" }, case: "a", caseAt: 0 });
    expect(chosenIn({ ...at({}), family: "1-2" }, lists)).toMatchObject({ case: "c" });
  });

  it("finds a family again by its case when a check has named the families anew", () => {
    const choice = { ...at({ tab: "families", case: "b" }), family: "1-1" };
    const anew = { ...lists, families: [family("2-1", "c"), family("2-2", "a", "b")] };
    expect(chosenIn(choice, anew)).toMatchObject({ family: { id: "2-2" }, case: "b" });
  });

  it("stays at its case where a filter takes others away, and begins anew where it is gone", () => {
    expect(chosenIn(at({ case: "c" }), { ...lists, cases: [listing("b"), listing("c")] }).caseAt).toBe(1);
    expect(chosenIn(at({ case: "c" }), { ...lists, cases: [listing("b")] })).toMatchObject({ case: "b", caseAt: 0 });
    expect(chosenIn(at({ case: "c" }), { ...lists, cases: [] }).case).toBeNull();
  });

  it("is walked within its list and stops at the ends", () => {
    const down = stepped(at({}), lists, 1);
    expect(chosenIn(down, lists).family?.id).toBe("1-2");
    expect(chosenIn(stepped(down, lists, 1), lists).family?.id).toBe("1-2");
    const all = stepped(at({ case: "a" }), lists, 1);
    expect(all.case).toBe("b");
    expect(stepped(at({ case: "a" }), lists, -1).case).toBe("a");
    expect(stepped(at({ tab: "make" }), lists, 1)).toEqual(at({ tab: "make" }));
  });
});

describe("the filter of families", () => {
  const family = (fields: object) =>
    ({
      module: "quay",
      call: "berth",
      sentence: "Numbers differ",
      at: "value.total",
      mark: "differ",
      ...fields,
    }) as never;
  const families = [
    family({}),
    family({ module: null, call: "run", sentence: "Timed out", mark: "broken", at: "the twin" }),
  ];
  const found = (words: string) => filterFamilies(families, words).map(({ call }) => call);

  it.each([
    ["", ["berth", "run"]],
    ["  ", ["berth", "run"]],
    ["QUAY numbers", ["berth"]],
    ["program", ["run"]],
    ["broken", ["run"]],
    ["value.total", ["berth"]],
    ["quay broken", []],
  ])("%j", (words, calls) => expect(found(words)).toEqual(calls));
});
