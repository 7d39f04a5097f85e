import { describe, expect, it } from "vitest";
import { orderForTwin, readOriginalAnswer, readTwinAnswer, twinTerms } from "@/core/cases/hand-over";
import type { CallCase, StepsCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { type Hookup, type Names, parsePortFile } from "@/core/formats/port-file";
import { benchRows, cutAtSections } from "@/core/pairing/bench-rows";
import { assignByName, assignFolderFiles } from "@/core/pairing/by-name";
import { fillHookup, readBack } from "@/core/pairing/hookups";
import { resolveModules } from "@/core/pairing/modules";
import { findMoved } from "@/core/pairing/moved";
import { convertKeys, convertName, nameCandidates, nameWithoutOwner } from "@/core/pairing/naming";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { PAIRED_BY_HAND, pairSections } from "@/core/pairing/sections";
import { traceOf } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";
import { portFile } from "@/testing/temporary-port";

const port = (extra: object = {}) =>
  parsePortFile(
    JSON.stringify(portFile({ names: { functions: "snake-to-camel", keys: "snake-to-camel" }, ...extra })),
    "p",
  );
const names: Names = { functions: "snake-to-camel", keys: "snake-to-camel", keep: ["plot_*"] };

describe("names", () => {
  it.each([
    ["fare_for", "fareFor"],
    ["_private_name", "_privateName"],
    ["ALL_CAPS", "ALL_CAPS"],
    ["plain", "plain"],
    ["point_2d", "point2d"],
    ["alreadyCamel", "alreadyCamel"],
    ["plot_no", "plot_no"],
    ["__init__", "__init__"],
  ])("%s becomes %s", (one, other) => {
    expect(convertName(one, "snake-to-camel", names.keep)).toBe(other);
  });

  it("go the other ways too", () => {
    expect(convertName("fareFor", "camel-to-snake")).toBe("fare_for");
    expect(convertName("parseURLPath", "camel-to-snake")).toBe("parse_url_path");
    expect(convertName("fare_for", "snake-to-pascal")).toBe("FareFor");
    expect(convertName("fare_for", "same")).toBe("fare_for");
  });

  it("are tried exactly first, then converted", () => {
    expect(nameCandidates("fare_for", names)).toEqual(["fare_for", "fareFor"]);
    expect(nameCandidates("Harbour.berth_of", names)).toEqual(["Harbour.berth_of", "Harbour.berthOf"]);
  });

  it("of keys are converted in objects and maps, and data keys are left alone", () => {
    const value: Json = {
      wave_dm: 1,
      "Gannet Point": { plot_no: 2, low_tide: [{ at_sea: 3 }] },
      t: { "~obj": "Fare", fields: { in_pence: 4 } },
      m: {
        "~map": [
          ["a_b", 5],
          [1, 6],
        ],
      },
    };
    expect(convertKeys(value, names)).toEqual({
      waveDm: 1,
      "Gannet Point": { plot_no: 2, lowTide: [{ atSea: 3 }] },
      t: { "~obj": "Fare", fields: { inPence: 4 } },
      m: {
        "~map": [
          ["aB", 5],
          [1, 6],
        ],
      },
    });
  });
});

describe("hookups", () => {
  const given = { args: [1, 2, 3], kwargs: { child: true } };
  const hookup = (extra: Partial<Hookup>): Hookup => ({ original: "m.f", ...extra });

  it.each<[string, Partial<Hookup>, { args: Json[]; kwargs: Json; gaps?: number[] }]>([
    ["positions and names", { args: ["$2", { child: "$child" }] }, { args: [2, { child: true }], kwargs: {} }],
    [
      "a placeholder that is not given is a gap before one that is",
      { args: ["$1", "$9", { a: "$none", b: 1 }, ["$8", "$2", "$7"]] },
      {
        args: [1, { "~none": "undefined" }, { b: 1 }, [{ "~none": "undefined" }, 2]],
        kwargs: {},
        gaps: [1],
      },
    ],
    [
      "a placeholder that is not given is left out at the end",
      { args: ["$1", "$9", "$none"] },
      { args: [1], kwargs: {} },
    ],
    ["the rest is spread", { args: ["$3", "$all"] }, { args: [3, 1, 2], kwargs: {} }],
    [
      "named arguments by template",
      { kwargs: { isChild: "$child", n: "$1" } },
      { args: [1, 2, 3], kwargs: { isChild: true, n: 1 } },
    ],
    ["other JSON as it stands", { args: ["plain", null, "$"] }, { args: ["plain", null, "$"], kwargs: {} }],
    ["no template leaves all as it is", { result: { take: "x" } }, { args: [1, 2, 3], kwargs: { child: true } }],
  ])("hand over: %s", (_what, extra, expected) => {
    expect(fillHookup(hookup(extra), given)).toEqual(expected);
  });

  it("read one field or several back", () => {
    expect(readBack(hookup({ result: { take: "total" } }), { total: 5, other: 1 })).toBe(5);
    expect(readBack(hookup({ result: { take: "a.b" } }), { a: { "~obj": "X", fields: { b: 2 } } })).toBe(2);
    expect(readBack(hookup({ result: { fields: ["a", "b"] } }), { a: 1, b: 2 })).toEqual({ "~tuple": [1, 2] });
    expect(readBack(hookup({ result: { take: "gone" } }), { a: 1 })).toEqual({ "~none": "undefined" });
  });
});

describe("a case handed to the twin", () => {
  const callCase: CallCase = {
    id: "c",
    module: "fares",
    call: "fare_for",
    args: [{ sea_miles: 3 }],
    kwargs: { on_day: 1 },
  };

  it("is spelled in its names, with keys converted", () => {
    const terms = twinTerms(port(), "ts", ["fares"]);
    expect(orderForTwin(callCase, terms)).toEqual({
      kind: "call",
      module: "fares",
      names: ["fare_for", "fareFor"],
      args: [{ seaMiles: 3 }],
      kwargs: { onDay: 1 },
    });
  });

  it("goes through its hookup, to another module when it names one", () => {
    const terms = twinTerms(
      port({ hookups: [{ original: "fares.fare_for", twin: "prices.forTrip", args: ["$on_day", "$1"] }] }),
      "ts",
      ["fares", "prices"],
    );
    expect(orderForTwin(callCase, terms)).toEqual({
      kind: "call",
      module: "prices",
      names: ["forTrip"],
      args: [1, { seaMiles: 3 }],
      kwargs: {},
    });
  });

  it("drives objects by the names of their class, hookups of new and of methods included", () => {
    const item: StepsCase = {
      id: "s",
      module: "berths",
      steps: [
        { new: "Harbour", args: [3], as: "h" },
        { call: "assign_boat", on: "h", args: ["Tern"] },
        { get: "free_berths", on: "h" },
      ],
    };
    const hookups = [
      { original: "berths.Harbour", twin: "berths.Port", args: [{ berths: "$1" }] },
      { original: "berths.Harbour.assign_boat", twin: "berths.Port.take", result: { take: "berth" } },
    ];
    const terms = twinTerms(port({ hookups }), "ts", ["berths"]);
    const order = orderForTwin(item, terms);
    expect(order).toMatchObject({
      steps: [
        { new: ["Port"], args: [{ berths: 3 }], as: "h" },
        { call: ["take"], on: "h" },
        { get: ["free_berths", "freeBerths"] },
      ],
    });
    const answer = {
      kind: "steps",
      printed: "",
      steps: [{ value: 0, args: [1] }, { value: { berth: 1 } }, { value: 2 }],
    } as const;
    expect(readTwinAnswer(item, answer, terms)).toMatchObject({
      steps: [{ value: 0, args: undefined }, { value: 1 }, { value: 2 }],
    });
  });

  it("has only the original's answer converted", () => {
    const answer = { kind: "call", value: { a_b: 1 }, args: [{ c_d: 2 }], kwargs: { e_f: 3 }, printed: "" } as const;
    expect(readOriginalAnswer(answer, names)).toMatchObject({ value: { aB: 1 }, args: [{ cD: 2 }], kwargs: { eF: 3 } });
  });
});

describe("modules", () => {
  it("come from the list, the map, then the likeness of names", () => {
    const definition = port({
      modules: [{ name: "cli", original: ["ferry/__main__.py"], twins: { ts: ["src/main.ts"] } }],
      moduleMap: [{ original: "ferry/*.py", twin: "src/*.ts" }],
    });
    const modules = resolveModules(definition, {
      original: ["ferry/__main__.py", "ferry/crew_rest.py", "ferry/tides.py", "lib/deep/odd_one.py", "notes.txt"],
      twins: { ts: ["src/main.ts", "src/crew-rest.ts", "src/more/oddOne.ts"] },
    });
    expect(modules.map(({ name, twins }) => [name, twins.ts])).toEqual([
      ["cli", ["src/main.ts"]],
      ["crew_rest", ["src/crew-rest.ts"]],
      ["tides", []],
      ["odd_one", ["src/more/oddOne.ts"]],
    ]);
  });

  it("are named with folders when their names are not unique", () => {
    const modules = resolveModules(port(), { original: ["a/io.py", "b/io.py", "b/__init__.py"], twins: { ts: [] } });
    expect(modules.map((module) => module.name)).toEqual(["a/io", "b/io", "b"]);
  });
});

const section = (name: string, from: number, extra: Partial<PlacedSection> = {}): PlacedSection => ({
  name,
  kind: "function",
  from,
  to: from + 2,
  complexity: 1,
  params: [],
  file: "f",
  ...extra,
});

describe("sections", () => {
  it("are paired by name through naming styles, each once", () => {
    const pairs = pairSections(
      [section("fare_for", 1), section("Harbour.__init__", 5, { kind: "method" }), section("lost", 9)],
      [section("Harbour.constructor", 1, { kind: "method" }), section("fareFor", 9)],
    );
    expect(pairs.map(({ original, twin, relation }) => [original, twin, relation])).toEqual([
      ["fare_for", "fareFor", "renamed"],
      ["Harbour.__init__", "Harbour.constructor", "renamed"],
    ]);
  });

  it("with other parameters are reshaped", () => {
    const [pair] = pairSections([section("f", 1, { params: ["a", "b"] })], [section("f", 1, { params: ["a"] })]);
    expect(pair?.relation).toBe("reshaped");
    const [gathered] = pairSections(
      [section("f", 1, { params: ["a", "b"] })],
      [section("f", 1, { params: ["a", "options"] })],
    );
    expect(gathered?.relation).toBe("same");
  });

  const traced = (name: string, from: number, text: string, extra: Partial<PlacedSection> = {}) =>
    section(name, from, { trace: traceOf(text), ...extra });

  it("with other names are paired by the texts, numbers and calls in them", () => {
    const original = [
      traced("price", 1, "check_age(age); return lookup('adult') * 250 + round_up(17)"),
      traced("label", 9, "return 'Gannet Point' + pad('west', 40)"),
    ];
    const twin = [
      traced("quayName", 1, 'return "Gannet Point" + pad("west", 40);'),
      traced("costOfTrip", 9, "checkAge(age); return lookup('adult') * 250 + roundUp(17);"),
    ];
    expect(pairSections(original, twin).map((pair) => [pair.original, pair.twin, pair.relation])).toEqual([
      ["price", "costOfTrip", "renamed"],
      ["label", "quayName", "renamed"],
    ]);
  });

  it("of one class are not paired by the name of the class alone", () => {
    const pairs = pairSections(
      [section("ropeAndQuayPlan.find_half", 1, { kind: "method" }), section("ropeAndQuayPlan.tell_next_boat", 90)],
      [
        section("RopeAndQuayPlan.makeKnots", 500, { kind: "method", params: ["a", "b", "c"] }),
        section("RopeAndQuayPlan.tellBoatNext", 3),
      ],
    );
    expect(pairs.map((pair) => [pair.original, pair.twin])).toEqual([
      ["ropeAndQuayPlan.tell_next_boat", "RopeAndQuayPlan.tellBoatNext"],
    ]);
  });

  it("with wholly other names are paired by what stands in one of each side alone", () => {
    const original = [
      traced("price", 1, "if n > 4711: return 'no berth left'"),
      traced("label", 9, "return 'no berth left at the quay of gulls'", { params: ["n"] }),
      traced("first", 20, "return 'to be had' + 'twice over'"),
      traced("second", 30, "return 'to be had' + 'twice over'"),
      traced("odd", 40, "return 'shared' + '123' + 'nothing' + 'else is' + 'alike' + 'here'"),
    ];
    const twin = [
      traced("q7", 5, "return 'to be had' + 'twice over'", { params: ["x", "y", "z"] }),
      traced("mooring", 50, "return 'no berth left at the quay of gulls';", { params: ["a", "b"] }),
      traced("costOfTrip", 90, "if (n > 4711) return 'no berth left';", { params: ["m"] }),
      traced("plain", 120, "return 'shared' + 'of its own' + 'own again' + 'and again'", { params: ["u", "v"] }),
    ];
    const pairs = pairSections(original, twin);
    expect(pairs.map((pair) => [pair.original, pair.twin])).toEqual([
      ["price", "costOfTrip"],
      ["label", "mooring"],
    ]);
    expect(pairs[0]?.reasons[0]).toBe('nothing else holds 4711, "no berth left"');
  });

  it("with wholly other names are paired with whom they share the most, whichever stands first", () => {
    const original = [
      traced("weak", 1, "return 'left' + 'right' + 'oars' + 'are out'", { params: ["a"] }),
      traced("strong", 9, "return 'anchor' + 'chain' + 'winch' + 'aground'", { params: ["b"] }),
    ];
    const twin = [
      traced("q9", 70, "return 'anchor' + 'chain' + 'winch' + 'left' + 'right'", { params: ["x", "y", "z"] }),
    ];
    expect(pairSections(original, twin).map((pair) => pair.original)).toEqual(["strong"]);
  });

  it("whose names and calls say nothing are paired by place, parameters and what is in them, or not at all", () => {
    const original = [
      traced("open_day", 1, "return 'gates at 6'", { params: ["day", "hour"] }),
      traced("tally", 5, "return a + b", { params: ["boats"] }),
      traced("close_day", 9, "return 'gates shut'", { params: ["day"] }),
      traced("never_ported", 20, "return 'wholly other', 999", { params: ["x", "y", "z"] }),
    ];
    const twin = [
      traced("q1", 1, "return 'gates at 6'", { params: ["day", "hour"] }),
      traced("tally", 5, "return a + b", { params: ["boats"] }),
      traced("q2", 9, "return 'gates shut'", { params: ["day"] }),
    ];
    expect(pairSections(original, twin).map((pair) => [pair.original, pair.twin])).toEqual([
      ["open_day", "q1"],
      ["tally", "tally"],
      ["close_day", "q2"],
    ]);
    const alike = [traced("one", 1, "", { params: ["n"] }), traced("two", 5, "", { params: ["n"] })];
    expect(pairSections(alike, [traced("q", 50, "", { params: ["n"] })])).toEqual([]);
  });

  it("that only share words of their names are not, when their texts have nothing in common", () => {
    const original = [traced("fare_for_child_trips", 1, "return halve(lookup('child'), 125, 'half')")];
    const twin = [traced("fareForAdultTrips", 1, "print('adult'); audit(99, 'x y z', 1000, 'more')")];
    expect(pairSections(original, twin)).toEqual([]);
  });

  it("that became several, or one of several, are told as parts of what they are paired with", () => {
    const whole = "open_log('day.log'); fill('Tern', 120); fill('Auk', 340); close_log('end of day')";
    const pairs = pairSections(
      [
        traced("day", 1, whole),
        traced("opening", 20, "open_log('start'); greet('Gannet'); ring(7777)"),
        traced("start", 30, "begin()"),
      ],
      [
        traced("day", 1, "fillAll(); openLog('day.log'); closeLog('end of day')"),
        traced("fillAll", 9, "fill('Tern', 120); fill('Auk', 340)"),
        traced("start", 20, "begin(); openLog('start'); greet('Gannet'); ring(7777)"),
      ],
    );
    expect(pairs.map((pair) => [pair.original, pair.twin, pair.relation])).toEqual([
      ["day", "day", "same"],
      ["day", "fillAll", "split"],
      ["opening", "start", "merged"],
      ["start", "start", "same"],
    ]);
  });

  it("are held together by their class, whose name may be another, and by what makes an object in either language", () => {
    const pairs = pairSections(
      [section("Url", 1), section("Url.parse", 5, { kind: "method" }), section("Url.parseHost", 9, { kind: "method" })],
      [
        section("MutableURL", 1, { kind: "class", to: 30 }),
        section("MutableURL.__init__", 2, { kind: "method" }),
        section("MutableURL.parse", 8, { kind: "method" }),
        section("MutableURL.parse_host", 12, { kind: "method" }),
      ],
    );
    expect(pairs.map(({ original, twin, relation }) => [original, twin, relation])).toEqual([
      ["Url", "MutableURL", "renamed"],
      ["Url", "MutableURL.__init__", "split"],
      ["Url.parse", "MutableURL.parse", "renamed"],
      ["Url.parseHost", "MutableURL.parse_host", "renamed"],
    ]);
    expect(pairs[0]?.reasons).toEqual(["2 of 2 methods that are paired are paired with its own"]);
  });

  it("that only one section on each side can mean are paired though their owners differ, and not where two can", () => {
    const method = (name: string, from: number) => section(name, from, { kind: "method", params: ["a"] });
    const other = (name: string, from: number) => section(name, from, { kind: "method", params: ["b", "c"] });
    expect(pairSections([section("scan_marks", 1, { params: ["a"] })], [other("Reader.scanMarks", 1)])).toMatchObject([
      { twin: "Reader.scanMarks", reasons: ["the same name, owned by another"] },
    ]);
    const two = [other("Reader.scanMarks", 1), other("Writer.scanMarks", 9)];
    expect(pairSections([method("Quay.scan_marks", 1)], two)).toEqual([]);
  });

  it("are found through a prefix that a side carries, makers of any language, accessors, and words cut short", () => {
    const pairs = pairSections(
      [
        section("vent", 1, { kind: "class" }),
        section("vent_new", 3),
        section("vent_open_wide", 9),
        section("vent_fmt_state", 15),
        section("vent_get_angle", 21),
      ],
      [
        section("Vent", 1, { kind: "class" }),
        section("Vent.constructor", 2, { kind: "method" }),
        section("openWide", 9),
        section("formatState", 15),
        section("Vent.angle", 21, { kind: "method" }),
      ],
    );
    expect(pairs.map(({ original, twin }) => [original, twin])).toEqual([
      ["vent", "Vent"],
      ["vent_new", "Vent.constructor"],
      ["vent_open_wide", "openWide"],
      ["vent_fmt_state", "formatState"],
      ["vent_get_angle", "Vent.angle"],
    ]);
    const [made] = pairSections(
      [section("Fare", 1, { kind: "class" }), section("Fare.__init__", 2, { kind: "method" })],
      [section("Fare", 1, { kind: "class" }), section("NewFare", 9)],
    ).filter(({ original }) => original === "Fare.__init__");
    expect(made?.twin).toBe("NewFare");
  });

  it("have their reasons told, what weighs most first", () => {
    const [pair] = pairSections(
      [traced("fare_for", 1, "return lookup('adult') * 250", { params: ["age"] })],
      [traced("fareFor", 1, "return lookup('adult') * 250", { params: ["age"] })],
    );
    expect(pair?.reasons).toEqual([
      "the same name in another style",
      "the same parameter age",
      'both have "adult", 250, lookup()',
    ]);
  });

  it("are what a person says before all else: paired, dropped or new", () => {
    const original = [section("one", 1), section("three", 9)];
    const twin = [section("one", 1), section("two", 5)];
    const pairs = pairSections(original, twin, {
      hooked: new Map(),
      manual: new Map([
        ["one", "two"],
        ["three", null],
      ]),
      isNew: new Set(["one"]),
    });
    expect(pairs).toEqual([
      {
        original: "one",
        twin: "two",
        originalFrom: 1,
        twinFrom: 5,
        relation: "renamed",
        score: 1,
        reasons: [PAIRED_BY_HAND],
      },
    ]);
  });

  it("leave the same trace in any language", () => {
    const python = traceOf("# about 12 boats\nlog(f'to {quay} by noon', 1_000)\nif (x): make_boat()");
    // biome-ignore lint/suspicious/noTemplateCurlyInString: the code that is looked at has one
    const script = traceOf("// 99 boats\nlog(`to ${quay} by noon`, 1000);\nif (x) makeBoat();");
    expect([...python.literals].sort()).toEqual(["1000", "by noon", "to"]);
    expect(script).toEqual(python);
  });

  it("split their names into words in any style", () => {
    expect(wordsOf("parseHTTPPort_2")).toEqual(["parse", "http", "port", "2"]);
  });

  it.each([
    ["Fare.__init__", "Fare.constructor", "Fare.new", "Fare.Fare", "Fare.initialize"],
    ["Fare.__str__", "Fare.toString", "Fare.to_s", "Fare.fmt", "Fare.ToString"],
    ["Fare.__eq__", "Fare.equals", "Fare.eq", "Fare.Equals"],
    ["Fare.__lt__", "Fare.compareTo", "Fare.cmp"],
    ["Fare.__hash__", "Fare.hashCode", "Fare.GetHashCode"],
  ])("take what languages call by themselves for one: %s", (first, ...others) => {
    for (const other of others) expect(wordsOf(other)).toEqual(wordsOf(first));
    expect(wordsOf("eq")).toEqual(["eq"]);
  });
});

describe("bench rows", () => {
  const lines = ["import x", "", "# about f", "def f():", "  return 1", "", "A = 1"];
  const text = {
    file: "m.py",
    lines,
    sections: [section("f", 4, { to: 5 }), section("A", 7, { to: 7, kind: "constant" })],
  };

  it("cut a text so that every line with text is in one piece", () => {
    expect(cutAtSections(text).map(({ section: found, piece }) => [found?.name ?? null, piece.from, piece.to])).toEqual(
      [
        [null, 1, 1],
        ["f", 3, 5],
        ["A", 7, 7],
      ],
    );
  });

  it("lay pairs level, leave a place for what is missing, and put what is new at the end", () => {
    const twin = {
      file: "m.ts",
      lines: ["export const A = 1;", "export function g() {}"],
      sections: [section("A", 1, { to: 1, kind: "constant" }), section("g", 2, { to: 2 })],
    };
    const rows = benchRows(
      [text],
      [twin],
      pairSections(
        [...text.sections],
        [...twin.sections].map((entry) => ({ ...entry, file: "m.ts" })),
      ),
    );
    expect(rows.map((row) => [row.name, row.relation, row.original?.from ?? null, row.twin?.from ?? null])).toEqual([
      ["", "between", 1, null],
      ["f", "missing", 3, null],
      ["A", "same", 7, 1],
      ["g", "new", null, 2],
    ]);
  });
});

describe("sections that left their module", () => {
  const left = (original: readonly string[], twin: readonly (readonly [string | null, string])[]) =>
    findMoved({
      original: new Map([["fares", original.map((name, index) => section(name, index * 5 + 1))]]),
      twin: twin.map(([module, name], index) => ({
        module,
        section: section(name, index * 5 + 1, { file: "money.ts" }),
      })),
    });

  it("are found in a file of another module or of none, when their name is left over once on each side", () => {
    const found = left(
      ["round_fare", "clamp"],
      [
        ["money", "roundFare"],
        [null, "clamp"],
      ],
    );
    expect(
      found.get("fares")?.map(({ original, twin, relation, twinFile }) => [original, twin, relation, twinFile]),
    ).toEqual([
      ["round_fare", "roundFare", "moved", "money.ts"],
      ["clamp", "clamp", "moved", "money.ts"],
    ]);
  });

  it("are not when two have the name, when it says little, or in their own module", () => {
    expect(
      left(
        ["round_fare"],
        [
          ["money", "roundFare"],
          ["tides", "roundFare"],
        ],
      ).size,
    ).toBe(0);
    expect(left(["run"], [["money", "run"]]).size).toBe(0);
    expect(left(["round_fare"], [["fares", "roundFare"]]).size).toBe(0);
  });

  it("face no text on the Bench and are named with their file; what a person dropped says why", () => {
    const text = {
      file: "m.py",
      lines: ["def f():", "  return 1", "def g():", "  return 2"],
      sections: [section("f", 1, { to: 2 }), section("g", 3, { to: 4 })],
    };
    const moved = {
      original: "f",
      twin: "f",
      originalFrom: 1,
      twinFrom: 1,
      relation: "moved",
      score: 0.9,
      reasons: [],
      twinFile: "other.ts",
    } as const;
    const rows = benchRows([text], [], [moved], { dropped: new Map([["g", "nobody calls it"]]), isNew: new Set() });
    expect(rows).toMatchObject([
      { name: "f", relation: "moved", twinName: "f in other.ts", twin: null },
      { name: "g", relation: "dropped", reasons: ["nobody calls it"], isManual: true },
    ]);
  });
});

describe("modules and files of one name", () => {
  const module = (file: string) => ({ name: file, files: [file] });
  const placed = (modules: readonly string[], files: readonly string[]) =>
    Object.fromEntries([...assignByName(modules.map(module), files.map(module))].map(([name, [file]]) => [name, file]));

  it("are told apart by their folders, and left open where those say nothing", () => {
    expect(placed(["a/io.py", "b/io.py"], ["src/a/io.ts", "src/b/io.ts"])).toEqual({
      "a/io.py": "src/a/io.ts",
      "b/io.py": "src/b/io.ts",
    });
    expect(placed(["x/io.py", "y/io.py"], ["q/io.ts"])).toEqual({});
    expect(placed(["deep/er/odd_one.py"], ["src/oddOne.ts"])).toEqual({ "deep/er/odd_one.py": "src/oddOne.ts" });
  });

  it("that are their folder's own go with each other", () => {
    const found = assignFolderFiles(
      ["index.js", "sub/index.js", "a.js"].map(module),
      ["pkg/__init__.py", "pkg/sub/__init__.py"].map(module),
    );
    expect([...found].sort()).toEqual([
      ["index.js", ["pkg/__init__.py"]],
      ["sub/index.js", ["pkg/sub/__init__.py"]],
    ]);
  });
});

it.each([
  ["gauge_add", "gauge", "add"],
  ["gauge_add_all", "gauge_new", "add_all"],
  ["tide_gauge_add", "TideGauge", "add"],
  ["gauge_t_add", "gauge_t", "t_add"],
  ["gauge", "gauge", null],
  ["add", "gauge", null],
  ["gauges_add", "gauge", null],
])("a method's own name: %s of %s is %s", (name, owner, own) => {
  expect(nameWithoutOwner(name, owner)).toBe(own);
});

describe("a function of C that takes its object first", () => {
  const item: StepsCase = {
    id: "s",
    module: "gauge",
    steps: [
      { call: "gauge_new", args: [1], as: "g" },
      { call: "gauge_add", on: "g", args: [2] },
    ],
  };
  const port = (language: string) =>
    parsePortFile(
      JSON.stringify({
        format: "side-twin/port",
        version: 1,
        name: "p",
        original: { root: "o", language },
        twins: [{ name: "t", root: "t", language: "rust" }],
        hookups: [{ original: "gauge.gauge_add", args: ["$1", 9] }],
      }),
      "side-twin.json",
    );
  const second = (language: string) => {
    const order = orderForTwin(item, twinTerms(port(language), "t", ["gauge"]));
    return order.kind === "steps" ? order.steps[1] : null;
  };

  it("is tried as a method without the type's name, and hooked up by its own", () => {
    expect(second("c")).toMatchObject({ call: ["gauge_add", "add"], args: [2, 9] });
  });

  it("is no custom of other languages: a hookup of a module's function is not one of a method", () => {
    const named: StepsCase = { ...item, steps: [{ new: "gauge", as: "g" }, ...item.steps.slice(1)] };
    const order = orderForTwin(named, twinTerms(port("python"), "t", ["gauge"]));
    expect(order).toMatchObject({ steps: [{}, { call: ["gauge_add"], args: [2] }] });
  });
});
