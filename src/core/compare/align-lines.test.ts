import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { alignLines, type LineHunk } from "@/core/compare/align-lines";

/** Both texts again, from one of them and the hunks. */
function apply(original: string, hunks: readonly LineHunk[]): string {
  const lines = original.split("\n");
  const out: string[] = [];
  let at = 0;
  for (const hunk of hunks) {
    out.push(...lines.slice(at, hunk.originalFrom));
    expect(out.length).toBe(hunk.twinFrom);
    expect(hunk.original).toEqual(lines.slice(hunk.originalFrom, hunk.originalTo));
    out.push(...hunk.twin);
    at = hunk.originalTo;
  }
  return [...out, ...lines.slice(at)].join("\n");
}

const log = (count: number) =>
  Array.from({ length: count }, (_, line) => `line ${line} of the log, with some words behind it ${line % 13}`);

describe("the lines of large texts", () => {
  it("have each change, each lost and each added line as a hunk of its own", () => {
    const original = log(5000);
    const twin = [...original];
    twin[4000] = "changed";
    twin.splice(3000, 1);
    twin.splice(1000, 0, "added", "twice");
    const hunks = alignLines(original.join("\n"), twin.join("\n"));
    expect(hunks.map((hunk) => [hunk.originalFrom, hunk.original.length, hunk.twin])).toEqual([
      [1000, 0, ["added", "twice"]],
      [3000, 1, []],
      [4000, 1, ["changed"]],
    ]);
  });

  it("meet again after a large block that only one side has", () => {
    const original = log(4000);
    const block = Array.from({ length: 700 }, (_, index) => `block ${index}`);
    const twin = [...original.slice(0, 1500), ...block, ...original.slice(1500)];
    expect(alignLines(original.join("\n"), twin.join("\n"))).toMatchObject([
      { originalFrom: 1500, originalTo: 1500, twinFrom: 1500, twinTo: 2200 },
    ]);
  });

  it("are told apart where one line is changed among many that are the same", () => {
    const original: string[] = Array.from({ length: 60_000 }, (_, index) => (index % 3 === 0 ? "}" : "  return;"));
    const twin = [...original];
    twin[30_000] = "x";
    twin.splice(45_000, 0, "y");
    const hunks = alignLines(original.join("\n"), twin.join("\n"));
    expect(hunks.map((hunk) => [hunk.originalFrom, hunk.original.length, hunk.twin])).toEqual([
      [30_000, 1, ["x"]],
      [45_000, 0, ["y"]],
    ]);
  });

  it("that have nothing in common are one hunk, and none for equal ones", () => {
    const other = Array.from({ length: 4000 }, (_, index) => `other ${index} and so on`);
    expect(alignLines(log(4000).join("\n"), other.join("\n"))).toMatchObject([{ originalTo: 4000, twinTo: 4000 }]);
    expect(alignLines(log(9000).join("\n"), log(9000).join("\n"))).toEqual([]);
    expect(alignLines(log(9000).join("\n"), "")).toMatchObject([{ originalTo: 9000, twinTo: 1 }]);
  });

  it("give the twin again from the original, whatever was changed", () => {
    const edit = fc.record({
      at: fc.nat(3500),
      lose: fc.nat(4),
      add: fc.array(fc.constantFrom("", "}", "new", "line 7 of the log"), { maxLength: 60 }),
    });
    let withHunks = 0;
    fc.assert(
      fc.property(fc.array(edit, { maxLength: 30 }), fc.boolean(), fc.boolean(), (edits, ends, repeats) => {
        const original = repeats ? log(3500).map((line, index) => (index % 3 ? line : "}")) : log(3500);
        const twin = [...original];
        for (const { at, lose, add } of edits) twin.splice(at, lose, ...add);
        const [one, other] = [original.join("\n"), twin.join("\n") + (ends ? "\n" : "")];
        const hunks = alignLines(one, other);
        expect(apply(one, hunks)).toBe(other);
        if (hunks.length > 0) withHunks++;
        // No more lines are taken to differ than were touched, and a few that are alike by chance.
        const touched = edits.reduce((sum, { lose, add }) => sum + lose + add.length, 1);
        const told = hunks.reduce((sum, hunk) => sum + hunk.original.length + hunk.twin.length, 0);
        expect(told).toBeLessThanOrEqual(4 * touched + 16 * edits.length);
      }),
      { numRuns: 60 },
    );
    expect(withHunks).toBeGreaterThan(20);
  });
});
