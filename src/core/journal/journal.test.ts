import { describe, expect, it } from "vitest";
import { lineToAdd, makeEntry, parseJournal } from "@/core/journal/journal";

const line = (entry: object) =>
  `${JSON.stringify({ id: "a", at: "2031-01-01T00:00:00Z", kind: "note", text: "t", ...entry })}\n`;

describe("the journal", () => {
  it("is read in order; a later line of the same id closes the first", () => {
    const { entries } = parseJournal(
      line({ kind: "assumption", holds: "open" }) +
        line({ id: "b" }) +
        line({ kind: "assumption", holds: "false", at: "2031-02-01T00:00:00Z" }),
    );
    expect(entries.map(({ id, holds, at }) => [id, holds, at.slice(0, 7)])).toEqual([
      ["a", "false", "2031-01"],
      ["b", undefined, "2031-01"],
    ]);
  });

  it("tells lines that are no entries, and a last one that was cut short, and keeps the others", () => {
    const { entries, problems } = parseJournal(`${line({})}{"id":"x"}\nnothing\n${line({ id: "b" }).slice(0, 20)}`);
    expect(entries.map(({ id }) => id)).toEqual(["a"]);
    expect(problems.map(({ line: at, what }) => [at, what.slice(0, 12)])).toEqual([
      [2, "at: Invalid "],
      [3, "Not JSON"],
      [4, "The last lin"],
    ]);
  });

  it("mends a torn last line before it adds one", () => {
    const entry = makeEntry(
      { kind: "assumption", text: " it holds ", module: null },
      { id: "j", at: "2031-01-01T00:00:00Z" },
    );
    expect(entry).toEqual({ id: "j", at: "2031-01-01T00:00:00Z", kind: "assumption", text: "it holds", holds: "open" });
    expect(lineToAdd('{"torn', entry).startsWith("\n{")).toBe(true);
    expect(lineToAdd("", entry).startsWith("{")).toBe(true);
    expect(() => makeEntry({ kind: "note", text: " " }, { id: "j", at: "" })).toThrow(/needs a text/);
  });

  it("reads a hundred thousand entries", () => {
    const many = Array.from({ length: 100_000 }, (_, index) => line({ id: String(index) })).join("");
    expect(parseJournal(many).entries).toHaveLength(100_000);
  });
});
