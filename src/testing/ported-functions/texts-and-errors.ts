/** Ported functions whose faults concern texts, keys, times and errors, and correct ones. */
import { day, entry, type PortedFunction, range, say, wait } from "@/testing/ported-functions/entry";

export const TEXTS_AND_ERRORS: readonly PortedFunction[] = [
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
  entry(
    "first-or-last",
    "name_by_code",
    (pairs: [string, string][]) => Object.fromEntries([...pairs].reverse()),
    (pairs: [string, string][]) => Object.fromEntries(pairs),
    [
      [
        [
          ["a", "Auk"],
          ["a", "Ant"],
        ],
      ],
      [[["b", "Bee"]]],
      [
        [
          ["c", "Cod"],
          ["d", "Dab"],
          ["c", "Cat"],
        ],
      ],
    ],
  ),
  entry(
    "first-or-last",
    "skipper_of",
    (crew: { boat: string; name: string }[], boat: string) => crew.find((one) => one.boat === boat)?.name ?? null,
    (crew: { boat: string; name: string }[], boat: string) => crew.findLast((one) => one.boat === boat)?.name ?? null,
    [
      [
        [
          { boat: "x", name: "Ada" },
          { boat: "x", name: "Bo" },
        ],
        "x",
      ],
      [[{ boat: "y", name: "Cy" }], "y"],
      [
        [
          { boat: "y", name: "Di" },
          { boat: "z", name: "Ed" },
          { boat: "y", name: "Fay" },
        ],
        "y",
      ],
    ],
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
