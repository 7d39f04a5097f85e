/** What must hold of phrases whatever the source: layout does not matter, places never meet, twice is once. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { parsePhrasebook } from "@/core/formats/phrasebook";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { type FileRun, runFile } from "@/core/phrasebook/run-file";
import { matchesFile } from "@/core/values/file-pattern";
import { loadParser } from "@/engine/source/parse";
import { testPattern } from "@/engine/within";

const parse: ParseText = await loadParser(["javascript"]);

const { phrases, scales } = parsePhrasebook(
  JSON.stringify({
    format: "side-twin/phrasebook",
    version: 1,
    phrases: [
      {
        id: "moor",
        kind: "code",
        language: "javascript",
        from: "(:boat:).moor((:where:), (:rest..:))",
        to: "(:boat:).tie({ to: (:where:) }, (:rest..:))",
      },
      { id: "deep", kind: "code", language: "javascript", from: "deep((:n:))", to: "depth((:n:), 1)" },
      { id: "home", kind: "name", from: "old.quay", to: "new.pier" },
    ],
  }),
  "phrases.json",
);

const run = (source: string): FileRun =>
  runFile("f.js", source, "javascript", {
    phrases,
    scales,
    parse,
    testPattern,
    covers: () => true,
    matchesFile,
    isRefused: () => false,
  });

/** Tokens of an expression, so that any layout may stand between them. */
const expression: fc.Arbitrary<readonly string[]> = fc.letrec<{ tree: readonly string[] }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3 },
    fc.constantFrom(["a"], ["7"], ["'moor(1)'"], ["old.quay.x"], ["old . quay"], ["c.old.quay"]),
    tie("tree").map((inner) => ["deep", "(", ...inner, ")"]),
    fc.tuple(tie("tree"), tie("tree")).map(([one, two]) => ["boat", ".", "moor", "(", ...one, ",", ...two, ")"]),
    fc.tuple(tie("tree"), tie("tree")).map(([one, two]) => ["[", ...one, ",", ...two, "]"]),
  ),
})).tree;

const gap = fc.constantFrom("", " ", "\n  ", "\t", " /* deep(1) */ ", " // old moor\n");

/** The tokens with a layout of their own; a list of gaps is used again and again. */
const laidOut = (tokens: readonly string[], gaps: readonly string[]): string =>
  `v = ${tokens.map((token, index) => `${token}${gaps[index % gaps.length] ?? ""}`).join("")};\n`;

const places = ({ occurrences }: FileRun) => occurrences.filter(({ state }) => state === "ready");

describe("phrases, whatever the source", () => {
  it("find the same places in any layout", () => {
    fc.assert(
      fc.property(expression, fc.array(gap, { minLength: 1, maxLength: 5 }), (tokens, gaps) => {
        const plain = places(run(laidOut(tokens, [" "])));
        const laid = places(run(laidOut(tokens, gaps)));
        const names = (list: typeof plain) => list.map(({ phrase }) => phrase).sort();
        expect(names(laid)).toEqual(names(plain));
      }),
      { numRuns: 150 },
    );
  });

  it("change nothing the second time", () => {
    fc.assert(
      fc.property(expression, fc.array(gap, { minLength: 1, maxLength: 4 }), (tokens, gaps) => {
        const once = run(laidOut(tokens, gaps)).text;
        expect(run(once).text).toBe(once);
      }),
      { numRuns: 150 },
    );
  });

  it("have places of one phrase that are apart or within one another, never across", () => {
    fc.assert(
      fc.property(expression, fc.array(gap, { minLength: 1, maxLength: 4 }), (tokens, gaps) => {
        const list = places(run(laidOut(tokens, gaps)));
        for (const one of list)
          for (const other of list) {
            const isAcross = one.from < other.from && other.from < one.to && one.to < other.to;
            expect(isAcross, `${one.phrase} ${one.from}-${one.to} across ${other.from}-${other.to}`).toBe(false);
          }
      }),
      { numRuns: 150 },
    );
  });

  it("leave every byte outside of places as it was", () => {
    fc.assert(
      fc.property(fc.array(gap, { minLength: 1, maxLength: 6 }), (gaps) => {
        const source = laidOut(["[", "a", ",", "'é\u{1F6A2}'", "]"], gaps).replace(/\n/g, "\r\n");
        expect(run(source).text).toBe(source);
      }),
      { numRuns: 50 },
    );
  });
});
