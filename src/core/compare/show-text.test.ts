/** Texts and bytes that differ, as a person can see it. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { alignAnswers } from "@/core/compare/aligned";
import type { Answer } from "@/core/compare/answer";
import { byteLines, visiblePair, visibleText, windowOf } from "@/core/compare/show-text";
import type { Json } from "@/core/formats/json";

describe("letters that nobody sees", () => {
  it("are named, so that no direction mark turns the line round", () => {
    expect(visibleText("a\u202eb\u200b")).toBe("a⟨U+202E right-to-left override⟩b⟨U+200B zero-width space⟩");
    expect(visibleText("\ufeffx\u00a0y\u0007")).toBe("⟨U+FEFF byte order mark⟩x⟨U+00A0 no-break space⟩y⟨U+0007⟩");
  });

  it("are left alone where they have a look: tabs, line ends, joiners within one sign", () => {
    for (const text of ["a\tb\r\n", "👩\u200d🚀", "plain, ü, 漢"]) expect(visibleText(text)).toBe(text);
    expect(visibleText("a\u200db")).toBe("a⟨U+200D zero-width joiner⟩b");
  });

  it("tell normal forms apart", () => {
    expect(visiblePair("Zo\u00eb", "Zoe\u0308")).toEqual({ original: "Zoë", twin: "Zoe⟨U+0308⟩" });
    expect(visiblePair("e\u0308a", "e\u0308b")).toEqual({ original: "e\u0308a", twin: "e\u0308b" });
  });
});

describe("a window around the first difference", () => {
  const long = "a".repeat(3000);

  it("has its position, counted from 1", () => {
    const { original, twin, from } = windowOf(`${long}x${long}`, `${long}y${long}`, 400);
    expect(from).toBe(3001);
    expect(original).toBe(`…${"a".repeat(60)}x${"a".repeat(239)}…`);
    expect(twin.at(61)).toBe("y");
  });

  it("is the whole of what is short", () => {
    expect(windowOf("ab", "ac", 400)).toEqual({ original: "ab", twin: "ac", from: null });
  });

  it("always shows the first letter that differs, and never half of one", () => {
    const letters = fc.string({ unit: fc.constantFrom("a", "b", "🐦"), maxLength: 700 });
    fc.assert(
      fc.property(letters, letters, (left, right) => {
        fc.pre(left !== right);
        const { original, twin } = windowOf(left, right, 40);
        expect(original).not.toBe(twin);
        expect(/^…?[\udc00-\udfff]/.test(original)).toBe(false);
      }),
    );
  });
});

describe("bytes", () => {
  it("are lines of sixteen around the first difference", () => {
    const one = Uint8Array.from({ length: 300 }, (_, index) => index % 256);
    const other = one.with(100, 0);
    const { lines, more } = byteLines(one, other);
    expect(lines.map(({ at }) => at)).toEqual([80, 96, 112, 128, 144, 160, 176, 192]);
    expect(lines.filter(({ differs }) => differs).map(({ at }) => at)).toEqual([96]);
    expect(lines[1]?.original).toBe("60 61 62 63 64 65 66 67 68 69 6a 6b 6c 6d 6e 6f  `abcdefghijklmno");
    expect(lines[1]?.twin).toBe("60 61 62 63 00 65 66 67 68 69 6a 6b 6c 6d 6e 6f  `abc·efghijklmno");
    expect(more).toBe(300 - 208);
  });

  it("end on one side before the other", () => {
    const { lines } = byteLines(new Uint8Array(16), new Uint8Array(17));
    expect(lines).toMatchObject([{ differs: false }, { at: 16, original: null, twin: "00  ·", differs: true }]);
  });
});

describe("the reader's rows", () => {
  const answer = (value: Json): Answer => ({ kind: "call", value, args: [], kwargs: {}, printed: "" });
  const rows = (original: Json, twin: Json) =>
    alignAnswers(answer(original), answer(twin)).rows.map(({ label, original, twin, differs }) => [
      label,
      original,
      twin,
      differs,
    ]);

  it("show a text with line breaks as lines", () => {
    expect(rows("one\ntwo\n", "one\ntoo\n")).toEqual([
      ["value", "2 lines", "2 lines", true],
      ["1", "one", "one", false],
      ["2", "two", "too", true],
      ["3", "", "", false],
    ]);
  });

  it("show where a long text differs, and bytes as bytes", () => {
    const long = "b".repeat(3000);
    expect(rows(`${long}x`, `${long}y`)).toEqual([
      ["value, from character 3,001", `"…${"b".repeat(60)}x"`, `"…${"b".repeat(60)}y"`, true],
    ]);
    expect(rows({ "~bytes": "AAE=" }, { "~bytes": "AAI=" })).toEqual([
      ["value", "2 bytes", "2 bytes", true],
      ["byte 0", "00 01  ··", "00 02  ··", true],
    ]);
  });
});
