import { describe, expect, it } from "vitest";
import { shiftsOf } from "@/core/phrasebook/edited-tree";

const source = "one(1)\ntwo(2)\nthree(3)\nfour(4)\n";
const at = (words: string) => ({ from: source.indexOf(words), to: source.indexOf(words) + words.length });
const change = (words: string, text: string, isCode = true) => ({ ...at(words), text, isCode });
// Only the texts and changes are looked at.
const shifts = (changes: readonly ReturnType<typeof change>[], ranges: readonly string[], words: readonly string[]) =>
  shiftsOf({ root: null as never, source, changes }, ranges.map(at), words);

describe("places in a tree that is older than the text", () => {
  it("lie as much further on as the changes before them are longer", () => {
    const changes = [change("one(1)", "uno(1, 1)"), change("three(3)", "tre()")];
    expect(shifts(changes, ["two(2)", "four(4)"], ["four"])).toEqual([3, 0]);
  });

  it("are looked for anew where a change is in their lines", () => {
    expect(shifts([change("two", "zwei")], ["two(2)"], [])).toBeNull();
    expect(shifts([change("two", "zwei")], ["three(3)"], [])).toEqual([1]);
  });

  it("are looked for anew where a change writes or takes one of their words", () => {
    expect(shifts([change("one(1)", "four(1)")], ["four(4)"], ["four"])).toBeNull();
    expect(shifts([change("four(4)", "x")], ["two(2)"], ["four"])).toBeNull();
    expect(shifts([change("one(1)", "fourth(1)")], ["four(4)"], ["four"])).toEqual([3]);
  });

  it("are looked for anew after a change that is not code", () => {
    expect(shifts([change("one(1)", "one( #", false)], ["four(4)"], [])).toBeNull();
  });
});
