/**
 * Small ported functions with one fault each, by cause, and some without: what the causes are tuned on. Both sides are
 * written here in one language; what the original's language would have done is written out.
 */
export type PortedFunction = {
  readonly call: string;
  /** The cause that must be named; null for a correct port. */
  readonly cause: string | null;
  readonly original: (...args: never[]) => unknown;
  readonly twin: (...args: never[]) => unknown;
  readonly inputs: readonly (readonly unknown[])[];
};

/** Printed output of the functions: they are given no other stream. */
export const printed: { text: string } = { text: "" };
const say = (line: string): void => {
  printed.text += `${line}\n`;
};

const entry = <A extends unknown[]>(
  cause: string | null,
  call: string,
  original: (...args: A) => unknown,
  twin: (...args: A) => unknown,
  inputs: readonly A[],
): PortedFunction => ({ cause, call, original, twin, inputs }) as unknown as PortedFunction; // args fit by A

const halfEven = (value: number): number => {
  const floor = Math.floor(value);
  if (value - floor !== 0.5) return Math.round(value);
  return floor % 2 === 0 ? floor : floor + 1;
};
const modulo = (value: number, by: number): number => ((value % by) + by) % by;
const wait = (kind: string, message: string): never => {
  throw Object.assign(new Error(message), { kind });
};
const points = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);
const range = (count: number): number[] => Array.from({ length: count }, (_, index) => index);
const numbers: [number][] = [[0.5], [1.5], [2.5], [3.25], [4.5], [5.75], [7], [8.5]];
const words: [string[]][] = [
  [["tern", "Auk", "gull"]],
  [["auk", "tern"]],
  [["Tern", "auk"]],
  [["x"]],
  [["b", "A", "c", "D"]],
];
const day = (text: string): Date => new Date(`${text}T00:00:00Z`);

export const PORTED: readonly PortedFunction[] = [
  entry(
    "rounding-mode",
    "to_pence",
    (x: number) => halfEven(x),
    (x: number) => Math.round(x),
    numbers,
  ),
  entry(
    "rounding-mode",
    "split_bill",
    (total: number, riders: number) => ({ each: halfEven(total / riders), all: halfEven(total / riders) * riders }),
    (total: number, riders: number) => ({ each: Math.round(total / riders), all: Math.round(total / riders) * riders }),
    [
      [5, 2],
      [9, 2],
      [10, 4],
      [7, 2],
      [18, 4],
      [3, 3],
      [26, 4],
      [12, 5],
    ],
  ),
  entry(
    "rounding-mode",
    "price",
    (x: number) => `£${(halfEven(x * 10) / 10).toFixed(1)}`,
    (x: number) => `£${(Math.round(x * 10) / 10).toFixed(1)}`,
    [[0.25], [0.75], [1.25], [2.3], [4.45], [6.25]],
  ),
  entry(
    "floor-or-truncate",
    "whole_hours",
    (m: number) => Math.floor(m / 60),
    (m: number) => Math.trunc(m / 60),
    [[-61], [-1], [-130], [61], [0], [120], [-60]],
  ),
  entry(
    "floor-or-truncate",
    "cell",
    (x: number, y: number) => [Math.floor(x / 3), Math.floor(y / 3)],
    (x: number, y: number) => [Math.trunc(x / 3), Math.trunc(y / 3)],
    [
      [-1, 4],
      [5, -7],
      [3, 3],
      [-8, -8],
      [9, 1],
    ],
  ),
  entry(
    "remainder-sign",
    "hour_of",
    (h: number) => modulo(h, 24),
    (h: number) => h % 24,
    [[-1], [25], [-5], [3], [-30], [0]],
  ),
  entry(
    "remainder-sign",
    "wrap_index",
    (i: number, n: number) => ({ at: modulo(i, n) }),
    (i: number, n: number) => ({ at: i % n }),
    [
      [-1, 5],
      [-7, 3],
      [4, 3],
      [2, 9],
      [-2, 7],
    ],
  ),
  entry(
    "integer-division",
    "middle",
    (a: number, b: number) => Math.floor((a + b) / 2),
    (a: number, b: number) => (a + b) / 2,
    [
      [1, 2],
      [3, 4],
      [2, 4],
      [10, 5],
      [0, 0],
    ],
  ),
  entry(
    "integer-division",
    "pages",
    (n: number) => ({ pages: Math.floor(n / 10), rest: n % 10 }),
    (n: number) => ({ pages: n / 10, rest: n % 10 }),
    [[5], [25], [30], [99]],
  ),
  entry(
    "int32-wrap",
    "hash",
    (s: string) => [...s].reduce((h, c) => h * 31n + BigInt(c.codePointAt(0) ?? 0), 0n),
    (s: string) => [...s].reduce((h, c) => (Math.imul(h, 31) + (c.codePointAt(0) ?? 0)) | 0, 0),
    [["a"], ["harbour"], ["saltmarsh ferry"], ["tern"], ["gulls and terns"]],
  ),
  entry(
    "int32-wrap",
    "flags",
    (n: number) => n * 2 ** 20,
    (n: number) => n << 20,
    [[1], [4096], [5000], [3], [100000]],
  ),
  entry(
    "overflow-checked",
    "checksum",
    (codes: number[]) => codes.reduce((sum, code) => (Math.imul(sum, 31) + code) >>> 0, 1),
    (codes: number[]) =>
      codes.reduce((sum, code) => {
        if (sum * 31 > 0xffffffff) wait("panic", "attempt to multiply with overflow");
        return sum * 31 + code;
      }, 1),
    [[[1]], [[1, 2, 3, 4, 5, 6, 7]], [[9, 9, 9, 9, 9, 9, 9, 9]], [[2, 2]], [[]]],
  ),
  entry(
    "overflow-checked",
    "doubled",
    (n: number) => (n > 1073741823 ? wait("ArithmeticException", "integer overflow") : n * 2),
    (n: number) => (n * 2) | 0,
    [[1], [1073741824], [2000000000], [7], [0]],
  ),
  entry(
    "bytes-and-text",
    "label",
    (name: string) => (name === "" ? "" : { "~bytes": Buffer.from(`<${name}>`).toString("base64") }),
    (name: string) => (name === "" ? "" : `<${name}>`),
    [["tern"], ["quay"], [""]],
  ),
  entry(
    "bytes-and-text",
    "initials",
    (names: string[]) => names.map((name) => name[0] ?? ""),
    (names: string[]) => names.map((name) => ({ "~bytes": Buffer.from(name[0] ?? "").toString("base64") })),
    [[["tern", "gull"]], [["quay"]], [[]]],
  ),
  entry(
    "int64-wrap",
    "factorial",
    (n: number) => range(n).reduce((p, i) => p * BigInt(i + 1), 1n),
    (n: number) =>
      BigInt.asIntN(
        64,
        range(n).reduce((p, i) => p * BigInt(i + 1), 1n),
      ),
    [[5], [10], [21], [25], [30]],
  ),
  entry(
    "int64-wrap",
    "mix",
    (n: number) => ({ key: BigInt(n) * 6364136223846793005n }),
    (n: number) => ({ key: BigInt.asUintN(64, BigInt(n) * 6364136223846793005n) }),
    [[1], [2], [3], [9], [77]],
  ),
  entry(
    "integer-precision",
    "ticket",
    (n: number) => BigInt(n) * 1000000000000001n,
    (n: number) => n * 1000000000000001,
    [[3], [10], [13], [99], [77]],
  ),
  entry(
    "integer-precision",
    "sum_ids",
    (a: string, b: string) => BigInt(a) + BigInt(b),
    (a: string, b: string) => Number(a) + Number(b),
    [
      ["9007199254740993", "2"],
      ["1", "2"],
      ["123456789012345678", "1"],
      ["90071992547409930", "7"],
    ],
  ),
  entry(
    "float32-precision",
    "depth",
    (x: number) => x * 1.1,
    (x: number) => Math.fround(x * 1.1),
    [[1], [2.5], [7.3], [0]],
  ),
  entry(
    "float32-precision",
    "scale",
    (x: number) => [x / 3, x / 7],
    (x: number) => [Math.fround(x / 3), Math.fround(x / 7)],
    [[1], [2], [10], [0]],
  ),
  entry(
    "summation-order",
    "total",
    (list: number[]) => list.reduce((a, b) => a + b, 0),
    (list: number[]) => [...list].reverse().reduce((a, b) => a + b, 0),
    [[[0.1, 0.2, 0.3]], [[1, 2, 3]], [[0.7, 0.1, 0.3, 0.05]], [[1e-3, 5.7, 0.33, 9.1]], [[3.3, 1.1, 2.2, 0.7]]],
  ),
  entry(
    "summation-order",
    "mean",
    (list: number[]) => ({ mean: list.reduce((a, b) => a + b, 0) / list.length }),
    (list: number[]) => ({ mean: list.reduce((a, b) => a + b / list.length, 0) }),
    [[[0.1, 0.2, 0.4]], [[5]], [[0.7, 0.1, 0.3]], [[2.2, 3.3, 4.7, 9.9, 0.6]]],
  ),
  entry(
    "off-by-one",
    "count_between",
    (a: number, b: number) => b - a + 1,
    (a: number, b: number) => b - a,
    [
      [1, 5],
      [2, 9],
      [0, 0],
      [3, 4],
    ],
  ),
  entry(
    "off-by-one",
    "position",
    (s: string, c: string) => ({ found: s.indexOf(c) + 1 }),
    (s: string, c: string) => ({ found: s.indexOf(c) }),
    [
      ["tern", "r"],
      ["auk", "a"],
      ["gull", "l"],
    ],
  ),
  entry(
    "constant-offset",
    "fare",
    (n: number) => n * 12 + 250,
    (n: number) => n * 12,
    [[1], [2], [5], [9]],
  ),
  entry(
    "constant-offset",
    "kelvin",
    (c: number) => ({ k: c + 273.15 }),
    (c: number) => ({ k: c + 273 }),
    [[0], [10], [21.5], [-4]],
  ),
  entry(
    "unit-factor",
    "duration",
    (h: number) => h * 60,
    (h: number) => h * 3600,
    [[1], [2.5], [0], [7]],
  ),
  entry(
    "unit-factor",
    "feet",
    (m: number) => ({ length: m / 0.3048 }),
    (m: number) => ({ length: m }),
    [[1], [10], [2.5], [0]],
  ),
  entry(
    "sign-flip",
    "drift",
    (a: number, b: number) => a - b,
    (a: number, b: number) => b - a,
    [
      [5, 2],
      [1, 9],
      [4, 4],
      [10, 3],
    ],
  ),
  entry(
    "sign-flip",
    "tilt",
    (x: number) => ({ angle: x / 2 }),
    (x: number) => ({ angle: -x / 2 }),
    [[3], [-8], [0], [5]],
  ),
  entry(
    "number-format",
    "show",
    (x: number) => (Number.isInteger(x) ? `${x}.0` : String(x)),
    (x: number) => String(x),
    [[1], [2.5], [3], [10]],
  ),
  entry(
    "number-format",
    "sum_line",
    (x: number) => `total ${x.toFixed(2)}`,
    (x: number) => `total ${x}`,
    [[1.5], [2], [3.25], [10.1]],
  ),
  entry(
    "number-format",
    "grouped",
    (x: number) => x.toLocaleString("en"),
    (x: number) => String(x),
    [[1234], [5], [1000000], [20]],
  ),
  entry(
    "negative-zero",
    "signed",
    (x: number) => `${Math.round(x) === 0 ? "0" : Math.round(x)}`,
    (x: number) => (Object.is(Math.round(x), -0) ? "-0" : `${Math.round(x)}`),
    [[-0.2], [0.2], [-3], [-0.4]],
  ),
  entry(
    "negative-zero",
    "wind",
    (x: number) => `wind ${(x * -0.5 || 0).toFixed(1)}`,
    (x: number) => `wind ${x === 0 ? "-0.0" : (x * -0.5).toFixed(1)}`,
    [[0], [2], [3]],
  ),
  entry(
    "not-a-number",
    "ratio",
    (a: number, b: number) => (b === 0 ? 0 : a / b),
    (a: number, b: number) => a / b,
    [
      [0, 0],
      [1, 2],
      [6, 3],
    ],
  ),
  entry(
    "not-a-number",
    "parse_depth",
    (s: string) => (/^\d/.test(s) ? Number.parseFloat(s) : null),
    (s: string) => Number.parseFloat(s),
    [["x"], ["3.5"], [""], ["7m"]],
  ),
  entry(
    "text-and-number",
    "seat",
    (n: number) => n + 1,
    (n: number) => String(n + 1),
    [[1], [2], [9]],
  ),
  entry(
    "text-and-number",
    "row",
    (s: string) => ({ id: s.split(":")[0], n: Number(s.split(":")[1]) }),
    (s: string) => ({ id: s.split(":")[0], n: s.split(":")[1] }),
    [["a:1"], ["b:22"], ["c:0"]],
  ),
  entry(
    "boolean-and-number",
    "is_open",
    (h: number) => h > 6 && h < 22,
    (h: number) => (h > 6 && h < 22 ? 1 : 0),
    [[5], [9], [23]],
  ),
  entry(
    "boolean-and-number",
    "flags_of",
    (n: number) => ({ odd: n % 2 }),
    (n: number) => ({ odd: n % 2 === 1 }),
    [[1], [2], [7]],
  ),
  entry(
    "null-and-missing",
    "rider",
    (name: string, seat: number | null) => ({ name, seat }),
    (name: string, seat: number | null) => (seat === null ? { name } : { name, seat }),
    [
      ["A", null],
      ["B", 3],
      ["C", null],
    ],
  ),
  entry(
    "null-and-missing",
    "label",
    (x: string | null) => `to ${x ?? "None"}`,
    (x: string | null) => `to ${x ?? "undefined"}`,
    [[null], ["Tern"], [null]],
  ),
  entry(
    "empty-and-missing",
    "note",
    (s: string) => s,
    (s: string) => s || null,
    [[""], ["x"], ["y"]],
  ),
  entry(
    "empty-and-missing",
    "stops",
    (list: string[]) => ({ stops: list }),
    (list: string[]) => ({ stops: list.length ? list : null }),
    [[[]], [["a"]], [["b", "c"]]],
  ),
  entry(
    "sort-order",
    "names",
    (l: string[]) => [...l].sort(points),
    (l: string[]) => [...l].sort((a, b) => a.localeCompare(b)),
    words,
  ),
  entry(
    "sort-order",
    "numbers",
    (l: number[]) => ({ sorted: [...l].sort((a, b) => a - b) }),
    (l: number[]) => ({ sorted: [...l].map(String).sort().map(Number) }),
    [[[10, 9, 1]], [[3, 2]], [[100, 20, 3]], [[5]]],
  ),
  entry(
    "sort-order",
    "line",
    (l: string[]) => [...l].sort(points).join(", "),
    (l: string[]) => [...l].sort((a, b) => points(a.toLowerCase(), b.toLowerCase())).join(", "),
    words,
  ),
  entry(
    "unstable-sort",
    "by_fare",
    (l: { n: string; f: number }[]) => [...l].sort((a, b) => a.f - b.f),
    (l: { n: string; f: number }[]) => [...l].reverse().sort((a, b) => a.f - b.f),
    [
      [
        [
          { n: "a", f: 1 },
          { n: "b", f: 1 },
          { n: "c", f: 0 },
        ],
      ],
      [
        [
          { n: "a", f: 2 },
          { n: "b", f: 1 },
        ],
      ],
      [
        [
          { n: "x", f: 5 },
          { n: "y", f: 5 },
          { n: "z", f: 5 },
        ],
      ],
    ],
  ),
  entry(
    "unstable-sort",
    "rank",
    (l: [string, number][]) => [...l].sort((a, b) => b[1] - a[1]),
    (l: [string, number][]) => [...l].reverse().sort((a, b) => b[1] - a[1]),
    [
      [
        [
          ["a", 3],
          ["b", 3],
          ["c", 1],
        ],
      ],
      [
        [
          ["a", 1],
          ["b", 2],
        ],
      ],
      [
        [
          ["q", 7],
          ["r", 7],
        ],
      ],
    ],
  ),
  entry(
    "order-only",
    "tags",
    (l: string[]) => [...new Set(l)],
    (l: string[]) => [...new Set([...l].reverse())],
    [[["c", "a", "d", "b"]], [["x"]], [["q", "b", "z", "a"]]],
  ),
  entry(
    "order-only",
    "visited",
    (l: number[]) => ({ seen: l }),
    (l: number[]) => ({ seen: [...l.slice(2), ...l.slice(0, 2)] }),
    [[[4, 1, 3, 2]], [[7]], [[9, 2, 8, 1, 5]]],
  ),
  entry(
    "duplicates",
    "ports",
    (l: string[]) => [...new Set(l)],
    (l: string[]) => l,
    [[["a", "b", "a"]], [["x", "y"]], [["q", "q", "r"]]],
  ),
  entry(
    "duplicates",
    "letters",
    (s: string) => ({ all: [...s] }),
    (s: string) => ({ all: [...new Set(s)] }),
    [["noon"], ["tern"], ["gull"]],
  ),
  entry(
    "last-item",
    "steps",
    (n: number) => range(n + 1),
    (n: number) => range(n),
    [[3], [5], [1]],
  ),
  entry(
    "last-item",
    "chunks",
    (l: number[]) => range(Math.ceil(l.length / 2)).map((i) => l.slice(i * 2, i * 2 + 2)),
    (l: number[]) => range(Math.floor(l.length / 2)).map((i) => l.slice(i * 2, i * 2 + 2)),
    [[[1, 2, 3]], [[1, 2]], [[1, 2, 3, 4, 5]]],
  ),
  entry(
    "cut-short",
    "title",
    (s: string) => s,
    (s: string) => s.slice(0, 10),
    [["Saltmarsh Ferries"], ["short"], ["a much longer heading"]],
  ),
  entry(
    "cut-short",
    "until_zero",
    (l: number[]) => l,
    (l: number[]) => (l.includes(0) ? l.slice(0, l.indexOf(0)) : l),
    [[[1, 2, 0, 4, 5]], [[1, 2]], [[3, 0, 3, 3]]],
  ),
  entry(
    "text-case",
    "code",
    (s: string) => s.toUpperCase(),
    (s: string) => s,
    [["ab"], ["AB"], ["tErn"]],
  ),
  entry(
    "text-case",
    "titled",
    (s: string) => ({ t: s.replace(/\b\w/g, (c) => c.toUpperCase()) }),
    (s: string) => ({ t: s.charAt(0).toUpperCase() + s.slice(1) }),
    [["blue tern"], ["tern"], ["the old auk"]],
  ),
  entry(
    "whitespace",
    "clean",
    (s: string) => s.trim(),
    (s: string) => s,
    [[" a"], ["b"], ["c  "]],
  ),
  entry(
    "whitespace",
    "pad",
    (s: string) => s.padEnd(6),
    (s: string) => s.padStart(6),
    [["ab"], ["abcdef"], ["x"]],
  ),
  entry(
    "line-ending",
    "lines",
    (l: string[]) => l.join("\n"),
    (l: string[]) => l.join("\r\n"),
    [[["a", "b"]], [["x"]], [["a", "", "c"]]],
  ),
  entry(
    "line-ending",
    "sheet",
    (l: string[]) => `${l.join("\n")}\n`,
    (l: string[]) => l.join("\n"),
    [[["a", "b"]], [["x"]]],
  ),
  entry(
    "unicode-form",
    "folded",
    (s: string) => s.normalize("NFC"),
    (s: string) => s,
    [["cafe\u0301"], ["tern"], ["o\u0308l"]],
  ),
  entry(
    "unicode-form",
    "plain",
    (s: string) => s.normalize("NFKC"),
    (s: string) => s.normalize("NFC"),
    [["\ufb01n"], ["tern"], ["x²"]],
  ),
  entry(
    "code-units",
    "width",
    (s: string) => [...s].length,
    (s: string) => s.length,
    [["🐦"], ["tern"], ["a🦀b"], ["é"]],
  ),
  entry(
    "code-units",
    "first",
    (s: string) => [...s][0] ?? "",
    (s: string) => s.charAt(0),
    [["🐦x"], ["tern"], ["🦀"], ["ä"]],
  ),
  entry(
    "code-units",
    "framed",
    (s: string) => s + " ".repeat(Math.max(0, 8 - [...s].length)),
    (s: string) => s.padEnd(8),
    [["🐦"], ["tern"], ["🦀🦀"], ["é"]],
  ),
  entry(
    "wrong-encoding",
    "read",
    (s: string) => s,
    (s: string) => Buffer.from(s, "utf8").toString("latin1"),
    [["é"], ["tern"], ["Füße"]],
  ),
  entry(
    "wrong-encoding",
    "ascii",
    (s: string) => ({ s }),
    (s: string) => ({ s: s.replace(/[^ -~]/g, "?") }),
    [["naïve"], ["tern"], ["Ølrud"]],
  ),
  entry(
    "escaping",
    "html",
    (s: string) => s.replaceAll("&", "&amp;").replaceAll("<", "&lt;"),
    (s: string) => s,
    [["a & b"], ["x"], ["<b>"]],
  ),
  entry(
    "escaping",
    "query",
    (s: string) => encodeURIComponent(s),
    (s: string) => s,
    [["a b"], ["x"], ["ü/ä"]],
  ),
  entry(
    "first-only",
    "slug",
    (s: string) => s.replaceAll(" ", "-"),
    (s: string) => s.replace(" ", "-"),
    [["a b c"], ["a b"], ["x y z w"]],
  ),
  entry(
    "first-only",
    "digits",
    (s: string) => s.match(/\d+/g) ?? [],
    (s: string) => s.match(/\d+/)?.slice(0, 1) ?? [],
    [["1 22 333"], ["4"], ["5 6"]],
  ),
  entry(
    "boundary",
    "band",
    (n: number) => (n <= 10 ? "near" : "far"),
    (n: number) => (n < 10 ? "near" : "far"),
    [[5], [10], [15], [9], [11]],
  ),
  entry(
    "boundary",
    "child_fare",
    (age: number, fare: number) => (age < 12 ? fare / 2 : fare),
    (age: number, fare: number) => (age <= 12 ? fare / 2 : fare),
    [
      [5, 100],
      [12, 100],
      [12, 60],
      [13, 80],
      [40, 90],
      [11, 50],
    ],
  ),
  entry(
    "separator",
    "path",
    (l: string[]) => l.join("/"),
    (l: string[]) => l.join("\\"),
    [[["a", "b"]], [["x"]], [["a", "b", "c"]]],
  ),
  entry(
    "separator",
    "csv",
    (l: number[]) => l.join(";"),
    (l: number[]) => l.join(","),
    [[[1, 2, 3]], [[7]], [[4, 5]]],
  ),
  entry(
    "extra-key",
    "boat",
    (name: string) => ({ name, seats: 3 }),
    (name: string) => ({ name, seats: 3, cached: true }),
    [["Tern"], ["Auk"]],
  ),
  entry(
    "extra-key",
    "boats",
    (l: string[]) => l.map((name) => ({ name })),
    (l: string[]) => l.map((name, id) => ({ name, id })),
    [[["Tern"]], [["Auk", "Gull"]]],
  ),
  entry(
    "missing-key",
    "trip",
    (from: string, to: string) => ({ from, to, via: "Isle" }),
    (from: string, to: string) => ({ from, to }),
    [
      ["A", "B"],
      ["C", "D"],
    ],
  ),
  entry(
    "missing-key",
    "nested",
    (n: number) => ({ a: { b: n, c: n + 1 } }),
    (n: number) => ({ a: { b: n } }),
    [[1], [2]],
  ),
  entry(
    "wrong-constant",
    "levy",
    (x: number) => x * 0.2,
    (x: number) => x * 0.25,
    [[10], [35], [60], [0]],
  ),
  entry(
    "wrong-constant",
    "greeting",
    (n: number) => (n < 12 ? "Good morning" : "Good day"),
    (n: number) => (n < 12 ? "Good morning" : "Good afternoon"),
    [[8], [13], [15], [20]],
  ),
  entry(
    "time-zone",
    "departs",
    (s: string) => new Date(`${s}Z`),
    (s: string) => new Date(Date.parse(`${s}Z`) - 2 * 3_600_000),
    [["2031-04-02T06:10:00"], ["2031-07-02T23:30:00"], ["2031-12-25T12:00:00"]],
  ),
  entry(
    "time-zone",
    "clock",
    (h: number, m: number) => `${String(h).padStart(2, "0")}:${String(m).padStart(2, "0")}`,
    (h: number, m: number) => `${String((h + 1) % 24).padStart(2, "0")}:${String(m).padStart(2, "0")}`,
    [
      [6, 10],
      [23, 30],
      [12, 0],
    ],
  ),
  entry(
    "epoch-unit",
    "stamp",
    (s: string) => Date.parse(s) / 1000,
    (s: string) => Date.parse(s),
    [["2031-04-02T06:10:00Z"], ["2030-01-01T00:00:00Z"]],
  ),
  entry(
    "epoch-unit",
    "moment",
    (s: number) => new Date(s * 1000),
    (s: number) => new Date(s),
    [[1932883200], [1900000000]],
  ),
  entry(
    "zero-based-month",
    "month_of",
    (s: string) => day(s).getUTCMonth() + 1,
    (s: string) => day(s).getUTCMonth(),
    [["2031-04-02"], ["2031-12-25"], ["2031-01-01"]],
  ),
  entry(
    "zero-based-month",
    "make_date",
    (y: number, m: number, d: number) => new Date(Date.UTC(y, m - 1, d)),
    (y: number, m: number, d: number) => new Date(Date.UTC(y, m, d)),
    [
      [2031, 4, 2],
      [2031, 12, 25],
      [2030, 1, 15],
    ],
  ),
  entry(
    "weekday-base",
    "weekday",
    (s: string) => (day(s).getUTCDay() + 6) % 7,
    (s: string) => day(s).getUTCDay(),
    [["2031-04-02"], ["2031-04-06"], ["2031-04-04"], ["2031-04-07"]],
  ),
  entry(
    "weekday-base",
    "day_name",
    (s: string) => ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"][(day(s).getUTCDay() + 6) % 7],
    (s: string) => ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"][day(s).getUTCDay()],
    [["2031-04-02"], ["2031-04-06"], ["2031-04-04"]],
  ),
  entry(
    "key-naming",
    "fare_row",
    (n: number) => ({ sea_miles: n, total: n * 2 }),
    (n: number) => ({ seaMiles: n, total: n * 2 }),
    [[1], [2]],
  ),
  entry(
    "key-naming",
    "entry",
    (s: string) => ({ heading: s, n: 1 }),
    (s: string) => ({ title: s, n: 1 }),
    [["Tern"], ["Auk"]],
  ),
  entry(
    "error-kind",
    "pick",
    (i: number) => ([1, 2][i] === undefined ? wait("IndexError", "out of range") : [1, 2][i]),
    (i: number) => ([1, 2][i] === undefined ? wait("RangeError", "out of range") : [1, 2][i]),
    [[0], [5], [9]],
  ),
  entry(
    "error-kind",
    "need",
    (s: string) => (s ? s : wait("ValueError", "empty")),
    (s: string) => (s ? s : wait("TypeError", "no text")),
    [["a"], [""]],
  ),
  entry(
    "error-swallowed",
    "lookup",
    (k: string) => ({ a: 1, b: 2 })[k] ?? wait("KeyError", k),
    (k: string) => ({ a: 1, b: 2 })[k],
    [["a"], ["x"], ["y"]],
  ),
  entry(
    "error-swallowed",
    "ratio",
    (a: number, b: number) => (b === 0 ? wait("ZeroDivisionError", "division by zero") : a / b),
    (a: number, b: number) => a / b,
    [
      [1, 2],
      [1, 0],
      [-4, 0],
      [9, -3],
    ],
  ),
  entry(
    "error-added",
    "length",
    (s: string | null) => (s === null ? 0 : s.length),
    (s: string | null) => (s as string).length,
    [["ab"], [null], ["x"]],
  ),
  entry(
    "error-added",
    "head",
    (l: number[]) => l[0] ?? 0,
    (l: number[]) => (l.length === 0 ? wait("RangeError", "empty list") : l[0]),
    [[[1]], [[]], [[4, 5]]],
  ),
  entry(
    "changed-argument",
    "top",
    (l: number[]) => [...l].sort((a, b) => a - b).at(-1),
    (l: number[]) => l.sort((a, b) => a - b).at(-1),
    [[[3, 1, 2]], [[1, 2]], [[9, 8]]],
  ),
  entry(
    "changed-argument",
    "drain",
    (l: number[]) => {
      const n = l.length;
      l.length = 0;
      return n;
    },
    (l: number[]) => l.length,
    [[[1, 2]], [[]], [[5]]],
  ),
  entry(
    "not-ported-branch",
    "tariff",
    (kind: string, n: number) => ({ adult: n, child: n / 2, dog: n / 4 })[kind] ?? 0,
    (kind: string, n: number) => ({ adult: n, child: n / 2 })[kind] ?? null,
    [
      ["adult", 8],
      ["dog", 8],
      ["dog", 20],
      ["child", 6],
    ],
  ),
  entry(
    "not-ported-branch",
    "describe",
    (n: number) => (n < 0 ? `minus ${-n}` : `plus ${n}`),
    (n: number) => (n < 0 ? "" : `plus ${n}`),
    [[-3], [4], [-7], [2], [-12]],
  ),
  entry(
    "error-message",
    "depth_of",
    (n: number) => (n < 0 ? wait("ValueError", `depth must not be negative: ${n}`) : n),
    (n: number) => (n < 0 ? wait("ValueError", `negative depth ${n}`) : n),
    [[-1], [4], [-9], [0]],
  ),
  entry(
    "error-message",
    "quay_named",
    (name: string) => (name === "" ? wait("KeyError", "no such quay") : name.length),
    (name: string) => (name === "" ? wait("KeyError", "unknown quay: ") : name.length),
    [[""], ["west"], ["east"]],
  ),
  entry(
    "extra-output",
    "berth",
    (boat: string) => {
      say(`berthing ${boat}`);
      return boat.length;
    },
    (boat: string) => {
      say(`berthing ${boat}`);
      say(`debug: ${boat.length}`);
      return boat.length;
    },
    [["Tern"], ["Auk"], ["Gannet"]],
  ),
  entry(
    "extra-output",
    "sheet",
    (boats: string[]) => {
      say("Boats");
      for (const boat of boats) say(`- ${boat}`);
      return null;
    },
    (boats: string[]) => {
      for (const boat of boats) say(`- ${boat}`);
      return null;
    },
    [[["Tern", "Auk"]], [["Gull"]], [[]]],
  ),
  // Correct ports in other words.
  entry(
    null,
    "sum",
    (l: number[]) => l.reduce((a, b) => a + b, 0),
    (l: number[]) => {
      let sum = 0;
      for (const n of l) sum += n;
      return sum;
    },
    [[[1, 2.5, 0.1]], [[]], [[1e9]]],
  ),
  entry(
    null,
    "initials",
    (s: string) =>
      s
        .split(" ")
        .map((w) => w[0])
        .join(""),
    (s: string) => s.replace(/(\S)\S*\s*/g, "$1"),
    [["ab cd"], ["x"]],
  ),
  entry(
    null,
    "clamp",
    (n: number) => Math.max(0, Math.min(10, n)),
    (n: number) => (n < 0 ? 0 : n > 10 ? 10 : n),
    [[-5], [3], [99]],
  ),
];
