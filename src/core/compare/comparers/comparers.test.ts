/** The contract of every comparer, and what each says of documents that differ. */

import fc from "fast-check";
import { encode, type ImageData } from "fast-png";
import { describe, expect, it } from "vitest";
import { allowancesFor } from "@/core/allowances/allowances";
import { COMPARERS } from "@/core/compare/comparers";
import { ComparisonState } from "@/core/compare/comparison-state";
import type { Content } from "@/core/compare/document";
import { compareDocuments } from "@/core/compare/documents";
import { differencePicture, readPicture } from "@/core/compare/picture";
import { type Allow, allowanceSchema } from "@/core/formats/allowance";
import { type DocumentKind, documentKind } from "@/core/formats/document-kind";
import { DEFAULT_EQUALITY } from "@/core/values/equality";

type Terms = { readonly name?: string; readonly as?: DocumentKind; readonly allow?: Allow; readonly where?: string };

function compare(original: Content, twin: Content, { allow, where = "d", ...terms }: Terms = {}) {
  const allowances = allow ? [allowanceSchema.parse({ id: "a1", where: { at: where }, allow, reason: "a test" })] : [];
  const scope = { id: "c", module: "m", call: "f", twin: "ts" };
  const state = new ComparisonState(DEFAULT_EQUALITY, allowancesFor(allowances, scope));
  const kind = compareDocuments(state, "d", { original, twin }, terms);
  return { kind, state, found: state.divergences.map(({ at, kind: what }) => [at, what]) };
}

describe("the comparers", () => {
  it("are all that the formats name", () => {
    expect(COMPARERS.map(({ kind }) => kind).sort()).toEqual([...documentKind.options].sort());
  });

  describe.each(COMPARERS.map((entry) => [entry.kind, entry] as const))("%s", (kind, entry) => {
    it("says what it compares", () => {
      expect([entry.title.length > 2, entry.description.length > 20]).toEqual([true, true]);
      expect(entry.fires.length * entry.staysQuiet.length).toBeGreaterThan(0);
    });

    it("notices its examples, and finds out that they are its own", () => {
      for (const { original, twin } of entry.fires) {
        const { state, kind: found } = compare(original.content, twin.content, { name: original.name });
        expect([found, state.unexcused > 0]).toEqual([kind, true]);
      }
    });

    it("shows its examples, or leaves them to lines of text", () => {
      for (const both of entry.fires) {
        const { rows = [], table, picture, values } = entry.show("d", both);
        for (const row of rows) expect(row.at.startsWith("d")).toBe(true);
        if (table ?? picture) expect(rows.some(({ differs }) => differs)).toBe(true);
        if (kind === "text") expect([rows, table, picture, values]).toEqual([[], undefined, undefined, undefined]);
      }
    });

    it("leaves what is the same alone", () => {
      for (const both of entry.staysQuiet) {
        const state = new ComparisonState(DEFAULT_EQUALITY, []);
        expect([entry.compare(state, "d", both, false), state.divergences]).toEqual([true, []]);
      }
    });
  });
});

describe("tables", () => {
  const table = (...rows: readonly string[]) => `${["no,boat,fare", ...rows].join("\n")}\n`;

  it("are compared by key and heading, cell by cell", () => {
    const one = table("T1,Tern,2.50", "T2,Auk,3", "T3,Gull,4");
    const other = table("T2,Auk,3", "T4,Knot,4", "T1,Tern,2.75");
    const { found, state } = compare(one, other, { name: "a.csv" });
    expect(found).toEqual([
      ["d.T1.fare", "number"],
      ["d.T3", "missing"],
      ["d.T4", "extra"],
      ["d", "order"],
    ]);
    expect(state.divergences[0]).toMatchObject({ original: 2.5, twin: 2.75 });
  });

  it("have a lost, an added or a moved column as one divergence", () => {
    expect(compare("a,b\n1,2\n3,4\n", "a,c\n1,2\n3,4\n").found).toEqual([
      ["d.header.b", "missing"],
      ["d.header.c", "extra"],
    ]);
    expect(compare("a,b\n1,2\n3,4\n", "b,a\n2,1\n4,3\n").found).toEqual([["d.header", "order"]]);
  });

  it("without a key are aligned, and rows count from 1 below the heading", () => {
    const one = "boat,fare\nTern,1\nTern,1\nAuk,2\n";
    expect(compare(one, "boat,fare\nTern,1\nAuk,2\n").found).toEqual([["d.2", "missing"]]);
    expect(compare(one, "boat,fare\nTern,1\nTern,9\nAuk,2\n").found).toEqual([["d.2.fare", "number"]]);
  });

  it("agree to the letter only: other quotes, line ends or digits are a difference", () => {
    expect(compare(table("T1,Tern,2"), table('T1,"Tern",2'), { name: "a.csv" }).found).toEqual([["d.2", "text"]]);
    expect(compare(table("T1,Tern,2.0"), table("T1,Tern,2"), { name: "a.csv" }).found).toEqual([["d.T1.fare", "text"]]);
  });

  it("take allowances for the numbers in cells and for the order of rows", () => {
    const [one, other] = [table("T1,Tern,2.5", "T2,Auk,3"), table("T2,Auk,3", "T1,Tern,2.501")];
    const number = compare(one, other, { name: "a.csv", allow: { number: { abs: 0.01 } }, where: "d.*.fare" });
    expect(number.state.divergences.map(({ at, allowance }) => [at, allowance])).toEqual([
      ["d.T1.fare", "a1"],
      ["d", undefined],
    ]);
    expect(compare(one, table("T2,Auk,3", "T1,Tern,2.5"), { allow: { unordered: true } }).state.unexcused).toBe(0);
  });

  it("are not what prose with commas is taken for", () => {
    const prose = "Terns, auks and gulls\nleave at ten, or later, if the tide\nis out, says the log\n";
    expect(compare(prose, prose.replace("ten", "nine")).kind).toBe("text");
    expect(compare("1,2\n3,4\n", "1,2\n3,5\n").kind).toBe("text");
    expect(compare("1,2\n3,4\n", "1,2\n3,5\n", { as: "csv" }).kind).toBe("text");
  });
});

describe("pictures", () => {
  const picture = (pixels: readonly number[], facts: Partial<ImageData> = {}) =>
    encode({ width: pixels.length, height: 1, data: Uint8Array.from(pixels), depth: 8, channels: 1, ...facts });

  it("tell the first pixel that differs, with the colours of both", () => {
    const { found, state } = compare(picture([1, 2, 3]), picture([1, 2, 9]));
    expect(found).toEqual([["d.pixels.2,0", "image"]]);
    expect(state.divergences[0]).toMatchObject({ original: { rgba: [3, 3, 3, 255] }, twin: { rgba: [9, 9, 9, 255] } });
  });

  it("of another size differ in that", () => {
    expect(compare(picture([1, 2]), picture([1, 2, 3])).found).toEqual([["d.size", "image-size"]]);
  });

  it.each<[Allow["image"], boolean]>([
    [{ channel: 6 }, true],
    [{ channel: 5 }, false],
    [{ share: 0.5 }, true],
    [{ share: 0.2 }, false],
    [{ channel: 1, share: 0.25 }, true],
  ])("are allowed by channel and share: %j is %s", (image, allowed) => {
    const { state } = compare(picture([1, 2, 3, 4]), picture([1, 3, 9, 4]), { allow: { image }, where: "d.**" });
    expect(state.unexcused === 0).toBe(allowed);
    if (allowed) expect(state.excuses[0]?.needed).toHaveProperty("share");
  });

  it("once agreed to differ again when any other pixel does", () => {
    const { state } = compare(picture([1, 2, 3]), picture([2, 2, 3]));
    const { original, twin, at } = state.divergences[0] ?? { original: null, twin: null, at: "" };
    const allow = { exactly: { original, twin } };
    expect(compare(picture([1, 2, 3]), picture([2, 2, 3]), { allow, where: at }).state.unexcused).toBe(0);
    expect(compare(picture([1, 2, 3]), picture([2, 2, 4]), { allow, where: at }).state.unexcused).toBe(1);
  });

  it("are the same at another depth and with other channels, and exact at sixteen bits", () => {
    const grey = picture([0, 255]);
    const deep = encode({ width: 2, height: 1, data: Uint16Array.from([0, 65535]), depth: 16, channels: 1 });
    const colour = encode({
      width: 2,
      height: 1,
      data: Uint8Array.from([0, 0, 0, 255, 255, 255]),
      depth: 8,
      channels: 3,
    });
    expect(readPicture(deep)).toEqual(readPicture(grey));
    expect(readPicture(colour)).toEqual(readPicture(grey));
    const off = encode({ width: 2, height: 1, data: Uint16Array.from([1, 65535]), depth: 16, channels: 1 });
    expect(compare(deep, off).found).toEqual([["d.pixels.0,0", "image"]]);
  });

  it("that are damaged are compared as bytes", () => {
    const whole = picture([1, 2, 3]);
    expect(compare(whole, whole.slice(0, -20)).kind).toBe("bytes");
  });

  it("give a picture of where they differ", () => {
    const [one, other] = [readPicture(picture([10, 20, 30])), readPicture(picture([10, 99]))];
    const shown = one && other && readPicture(differencePicture(one, other));
    const colours = [0, 1, 2].map((pixel) => [...(shown?.rgba.subarray(pixel * 4, pixel * 4 + 3) ?? [])].join());
    expect(shown?.width).toBe(3);
    expect(colours[1]).toBe(colours[2]);
    expect(colours[0]).not.toBe(colours[1]);
  });
});

describe("bytes", () => {
  it("tell the first offset that differs with what is around it, and another length", () => {
    const one = Uint8Array.from({ length: 40 }, (_, index) => 128 + index);
    const other = one.slice(0, 39);
    other[20] = 7;
    const { found, state } = compare(one, other);
    expect(found).toEqual([
      ["d.length", "length"],
      ["d.20", "bytes"],
    ]);
    const near = Buffer.from(one.slice(12, 29)).toString("base64");
    expect(state.divergences[1]).toMatchObject({ original: { bytes: { "~bytes": near } } });
  });
});

describe("JSON documents", () => {
  it("differ in whole numbers that a double cannot hold, and in nothing else of them", () => {
    const { state } = compare(
      '{"n": [9007199254740993, "9007199254740993"]}',
      '{"n": [9007199254740992, "9007199254740993"]}',
    );
    expect(state.divergences).toMatchObject([{ at: "d.n.0", original: { "~int": "9007199254740993" } }]);
    expect(compare("[12345678901234567890]", "[ 12345678901234567890 ]").found).toEqual([]);
  });

  it("have an inserted item as one divergence", () => {
    const items = Array.from({ length: 200 }, (_, index) => ({ no: index }));
    const { state } = compare(JSON.stringify({ items }), JSON.stringify({ items: [{ no: -1 }, ...items] }));
    expect(state.divergences.map(({ at }) => at)).toEqual(["d.items.length", "d.items.0"]);
  });

  it("are told from texts, unless somebody says what they are", () => {
    expect(compare("12", "13").kind).toBe("text");
    expect(compare("12", "13", { as: "json" }).found).toEqual([["d", "number"]]);
    expect(compare('{"a":1}', '{"a":2}', { as: "text" }).found).toEqual([["d.1", "text"]]);
    expect(compare(`${"[".repeat(9000)}${"]".repeat(9000)}`, "[]").kind).toBe("text");
  });

  it("say the same with and without an allowance that fits nothing", () => {
    let differing = 0;
    const document = fc.jsonValue({ maxDepth: 3 }).map((value) => JSON.stringify([value]));
    fc.assert(
      fc.property(document, document, fc.boolean(), (one, other, isSame) => {
        const twin = isSame ? one : other;
        const quick = compare(one, twin).state;
        const slow = compare(one, twin, { allow: { ignore: true }, where: "elsewhere" }).state;
        expect(quick.divergences).toEqual(slow.divergences);
        if (quick.found) differing++;
      }),
      { numRuns: 500 },
    );
    expect(differing).toBeGreaterThan(100);
  });
});
