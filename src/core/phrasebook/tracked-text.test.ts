import { describe, expect, it } from "vitest";
import { LineIndex, lineEndOf, TrackedText } from "@/core/phrasebook/tracked-text";

const written = (text: string, anchor: number) => ({ text, origin: null, anchor });

describe("a text that remembers where its parts came from", () => {
  it("gives the place on disk of each character, and of what was written the place it was written at", () => {
    const text = new TrackedText("one two three");
    text.replace([{ from: 4, to: 7, pieces: [written("2 and more", 4)] }]);
    expect(text.text).toBe("one 2 and more three");
    expect([0, 4, 10, 15, 19].map((at) => text.originAt(at))).toEqual([0, 4, 4, 8, 12]);
    expect(text.originAt(99)).toBe(13);
  });

  it("moves parts of itself, which keep their origin", () => {
    const text = new TrackedText("a(b, c)");
    const [b, c] = [text.slice(2, 3), text.slice(5, 6)];
    text.replace([{ from: 0, to: 7, pieces: [...c, written(".a(", 0), ...b, written(")", 0)] }]);
    expect(text.text).toBe("c.a(b)");
    expect(text.originsOf(0, 6)).toEqual([
      { from: 5, to: 6 },
      { from: 2, to: 3 },
    ]);
    expect(text.originAt(0)).toBe(5);
  });

  it("takes several edits at once, and one upon the other", () => {
    const text = new TrackedText("aa bb cc");
    text.replace([
      { from: 0, to: 2, pieces: [written("A", 0)] },
      { from: 6, to: 8, pieces: [] },
    ]);
    text.replace([{ from: 2, to: 4, pieces: [written("B", 3)] }]);
    expect(text.text).toBe("A B ");
    expect(text.originAt(3)).toBe(5);
  });

  it("is empty where everything goes", () => {
    const text = new TrackedText("x");
    text.replace([{ from: 0, to: 1, pieces: [] }]);
    expect(text.text).toBe("");
    expect(text.originAt(0)).toBe(0);
  });
});

describe("lines of a text", () => {
  const text = "a\r\nbb\rccc\n\nd";
  const lines = new LineIndex(text);

  it.each([
    [0, 1, 1],
    [1, 1, 2],
    [3, 2, 1],
    [6, 3, 1],
    [10, 4, 1],
    [11, 5, 1],
  ])("offset %i is line %i, column %i", (offset, line, column) =>
    expect(lines.placeOf(offset)).toEqual({ line, column }),
  );

  it("are whole around a range, without the last end", () => {
    expect(lines.linesAround(4, 7)).toBe("bb\rccc");
    expect(lines.linesAround(0, 0)).toBe("a");
    expect(lines.lineStart(8)).toBe(6);
  });

  it.each([
    ["a\nb\n", "\n"],
    ["a\r\nb\r\nc\n", "\r\n"],
    ["", "\n"],
  ])("of %j end in %j", (source, end) => expect(lineEndOf(source)).toBe(end));
});
