import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeOf } from "@/core/drift/change";
import {
  findDrift,
  isFollowed,
  type Remembered,
  type SectionProof,
  type SectionText,
  toRemember,
} from "@/core/drift/drift";
import { formatMemoryLines, parseMemoryLines } from "@/core/formats/memory-line";
import { tokensOf } from "@/core/source/tokens";

const text = (body: string, extra: Partial<SectionText> = {}): SectionText => ({
  section: "fare",
  twinSection: "fare",
  file: "m.py",
  from: 11,
  text: body,
  tokens: tokensOf(body, "python"),
  ...extra,
});
const row = (body: string, extra: Partial<Remembered> = {}): Remembered => ({
  ...text(body),
  twin: "ts",
  module: "m",
  at: "2031-04-02T08:00:00.000Z",
  basis: "paired",
  commit: null,
  ...extra,
});

describe("tokens", () => {
  it.each([
    ["python", "def f(a):\n    return a + 1  # one\n", "# about f\ndef f( a ):\n\n  return a+1\n"],
    ["javascript", "const f = (a) => a + 1; // one", "const f=(a)=>\n  /* two */ a + 1;"],
    ["php", "$a = 1; # one\n", "$a=1; // two\n"],
    ["python", "f(1,\n  2)", "f(1, 2)"],
  ])("of %s say nothing of comments and layout", (language, one, other) => {
    expect(tokensOf(one, language)).toBe(tokensOf(other, language));
  });

  it.each([
    ["python", "if a:\n    b()\n    c()", "if a:\n    b()\nc()"],
    ["python", "x = '# no comment'", "x = '# other'"],
    ["javascript", "a = 'x // y'", "a = 'x'"],
    ["javascript", "a = 10", "a = 1.0"],
    ["c", "a->b", "a.b"],
  ])("of %s tell what the code is", (language, one, other) => {
    expect(tokensOf(one, language)).not.toBe(tokensOf(other, language));
  });
});

describe("drift", () => {
  const twins = new Set(["fare"]);

  it("is a section whose tokens are others than when it was ported", () => {
    expect(findDrift([row("x = 1")], [text("x  =  1 # same")], twins)).toEqual([]);
    expect(findDrift([row("x = 1")], [text("x = 2")], twins)).toMatchObject([{ now: { text: "x = 2" } }]);
  });

  it("is a section that is gone while its twin is there, and not one that has another name now", () => {
    expect(findDrift([row("x = 1")], [], twins)).toMatchObject([{ now: null }]);
    expect(findDrift([row("x = 1")], [], new Set())).toEqual([]);
    expect(findDrift([row("x = 1")], [text("x = 1", { section: "price" })], twins)).toEqual([]);
  });

  const proof = (proven: readonly number[], agrees = true): SectionProof => ({
    agrees,
    lines: { executable: new Set([11, 12, 13]), proven: new Set(proven) },
  });

  it("is followed when agreeing cases ran through every line that is new", () => {
    const drifted = { before: row("a\nb\nc"), now: text("a\nB\nc") };
    expect(isFollowed(drifted, proof([12]))).toBe(true);
    expect(isFollowed(drifted, proof([11, 13]))).toBe(false);
    expect(isFollowed(drifted, proof([12], false))).toBe(false);
    expect(isFollowed(drifted, { agrees: true, lines: null })).toBe(true);
    // What is only taken away needs no case that runs it.
    expect(isFollowed({ before: row("a\nb"), now: text("a") }, proof([]))).toBe(true);
    expect(isFollowed({ before: row("a"), now: null }, proof([11]))).toBe(false);
  });

  it("is told by what is remembered: first pairs, proofs, and what followed", () => {
    const about = { twin: "ts", module: "m", at: "2031-05-01T00:00:00.000Z", commit: null };
    const remember = (rows: readonly Remembered[], now: SectionText, own: SectionProof) =>
      toRemember(rows, [now], { ...about, proofOf: () => own }).map(({ basis, text: body }) => [basis, body]);
    expect(remember([], text("x = 1"), proof([], false))).toEqual([["paired", "x = 1"]]);
    expect(remember([row("x = 1")], text("x = 1"), proof([]))).toEqual([["proven", "x = 1"]]);
    expect(remember([row("x = 1", { basis: "proven" })], text("x = 1"), proof([]))).toEqual([]);
    expect(remember([row("x = 1")], text("x = 2"), proof([], true))).toEqual([]);
    expect(remember([row("x = 1")], text("x = 2"), proof([11]))).toEqual([["proven", "x = 2"]]);
  });
});

describe("a change", () => {
  it("shows what went and came, word by word, with a few lines around", () => {
    const before = ["a", "b", "c", "old word", "e", "f", "g", "h"].join("\n");
    const now = ["a", "b", "c", "new word", "e", "f", "g", "h", "more"].join("\n");
    expect(
      changeOf(before, now).map(({ kind, before: was, now: is, parts }) => [
        kind,
        was,
        is,
        parts.map((part) => part.text).join(""),
      ]),
    ).toEqual([
      ["same", 2, 2, "b"],
      ["same", 3, 3, "c"],
      ["gone", 4, null, "old word"],
      ["new", null, 4, "new word"],
      ["same", 5, 5, "e"],
      ["same", 6, 6, "f"],
      ["same", 7, 7, "g"],
      ["same", 8, 8, "h"],
      ["new", null, 9, "more"],
    ]);
    expect(changeOf("same", "same")).toEqual([]);
  });

  it("gives both texts back where nothing is left out", () => {
    let changed = 0;
    const lines = fc.array(fc.constantFrom("a", "b", "c", ""), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(lines, lines, (one, other) => {
        const shown = changeOf(one.join("\n"), other.join("\n"));
        if (shown.length > 0) changed++;
        for (const line of shown) {
          const written = line.parts.map(({ text: part }) => part).join("");
          if (line.before !== null) expect(written).toBe(one[line.before - 1]);
          if (line.now !== null) expect(written).toBe(other[line.now - 1]);
        }
        const gone = new Set(shown.flatMap(({ kind, before }) => (kind === "gone" ? [before] : [])));
        const came = new Set(shown.flatMap(({ kind, now }) => (kind === "new" ? [now] : [])));
        expect(one.filter((_line, index) => !gone.has(index + 1))).toEqual(
          other.filter((_line, index) => !came.has(index + 1)),
        );
      }),
    );
    expect(changed).toBeGreaterThan(20);
  });
});

describe("the memory in a file", () => {
  const { tokens: _tokens, from: _from, ...line } = { ...row("x = 1"), from: 0 };

  it("is read as it was written, whatever the order", () => {
    const lines = [
      { ...line, section: "b" },
      { ...line, section: "a", text: 'é "\n\t' },
    ];
    expect(formatMemoryLines(lines)).toBe(formatMemoryLines([...lines].reverse()));
    expect(parseMemoryLines(formatMemoryLines(lines), "m.jsonl")).toEqual([lines[1], lines[0]]);
  });

  it("is refused with its line and key", () => {
    const good = JSON.stringify(line);
    expect(() => parseMemoryLines(`${good}\n{`, "m.jsonl")).toThrow(/Not JSON in m.jsonl, line 2/);
    expect(() => parseMemoryLines(JSON.stringify({ ...line, when: 1 }), "m.jsonl")).toThrow(
      /Unknown key "when" in m.jsonl, line 1/,
    );
    expect(() => parseMemoryLines(JSON.stringify({ ...line, basis: "felt" }), "m.jsonl")).toThrow(/key basis/);
  });
});
