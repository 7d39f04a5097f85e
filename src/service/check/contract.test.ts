/**
 * The contracts of docs/formats.md, one by one, through whole checks: from Python to TypeScript, from TypeScript to
 * Python, and from a language to itself.
 */
import { describe, expect, it } from "vitest";
import type { CaseReport } from "@/core/formats/report";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const PYTHON = `
import datetime, decimal, enum, typing
class Fare(typing.NamedTuple):
    total_pence: int
    label: str
class Ferry:
    def __init__(self, name, seats=3):
        self.name = name; self.seats_left = seats
    def board(self, party):
        if party > self.seats_left: raise OverflowError("full")
        self.seats_left -= party
        return self.seats_left
    def join(self, other): return [self.name, other.name]
    @property
    def is_full(self): return self.seats_left == 0
def named(n): return Fare(n, "x")
def as_list(): return Fare(1, "a")
def price(): return decimal.Decimal("2.40")
def half(n): return n / 2
def keep_names(): return {"plot_no": 1, "data_key": 2, "Plain": 3, "A B": {"in_side": 4}}
def gen(n):
    for i in range(n): yield i * 2
async def agen(n):
    for i in range(n): yield i * 2
async def later(n): return n + 1
def nothing(): pass
def maybe(flag): return {"a": None} if flag else {}
def mutate(items): items.append(9)
def mutate_named(*, box): box["n"] += 1; return None
def say(text): print(text); print("é")
def fails(kind):
    if kind == "after": raise ValueError("bad")
    return 1
def fails_after(items): items.clear(); raise LookupError("gone")
def day(d): return d + datetime.timedelta(days=1)
def moment(t): return t
def sets(): return {3, 1, 2}
def keyed(): return {1: "a", 2: "b"}
def big(): return 2 ** 53 + 1
def text(s): return len(s)
def func(): return len
def spread(a, b=2, *, c=3): return [a, b, c]
def tup(): return (1, (2, 3))
def raw(b): return bytes(reversed(b))
def bool_num(): return True
`;

const TYPESCRIPT = `
export class Ferry {
  seatsLeft: number;
  constructor(readonly name: string, seats = 3) { this.seatsLeft = seats; }
  board(party: number) { if (party > this.seatsLeft) throw new OverflowError("full"); this.seatsLeft -= party; return this.seatsLeft; }
  join(other: Ferry) { return [this.name, other.name]; }
  get isFull() { return this.seatsLeft === 0; }
}
class OverflowError extends Error {}
class ValueError extends Error {}
class LookupError extends Error {}
export const named = (n: number) => ({ totalPence: n, label: "x" });
export const asList = () => [1, "a"];
export const price = () => 2.4;
export const half = (n: number) => n / 2;
export const keepNames = () => ({ plot_no: 1, dataKey: 2, Plain: 3, "A B": { inSide: 4 } });
export function* gen(n: number) { for (let i = 0; i < n; i++) yield i * 2; }
export async function* agen(n: number) { for (let i = 0; i < n; i++) yield i * 2; }
export const later = async (n: number) => n + 1;
export const nothing = () => {};
export const maybe = (flag: boolean) => (flag ? { a: null } : { a: undefined });
export const mutate = (items: number[]) => { items.push(9); };
export const mutateNamed = ({ box }: { box: { n: number } }) => { box.n++; return undefined; };
export const say = (text: string) => { console.log(text); console.log("é"); };
export const fails = (kind: string) => { if (kind === "after") throw new ValueError("bad"); return 1; };
export const failsAfter = (items: number[]) => { items.length = 0; throw new LookupError("gone"); };
export const day = (d: Date) => new Date(d.getTime() + 86400000);
export const moment = (t: Date) => t;
export const sets = () => new Set([1, 2, 3]);
export const keyed = () => ({ 1: "a", 2: "b" });
export const big = () => 2n ** 53n + 1n;
export const text = (s: string) => s.length;
export const func = () => Math.max;
export const spread = (a: number, b = 2, { c = 3 } = {}) => [a, b, c];
export const tup = () => [1, [2, 3]];
export const raw = (b: Uint8Array) => Uint8Array.from(b).reverse();
export const boolNum = () => 1;
`;

type Body = {
  readonly call?: string;
  readonly args?: readonly unknown[];
  readonly kwargs?: object;
  readonly steps?: readonly object[];
};
type Row = readonly [what: string, outcome: string, body: Body];
const steps = (...list: object[]) => ({ steps: list });
const call = (name: string, args: unknown[] = [], kwargs: object = {}) => ({ call: name, args, kwargs });

/** What each contract line asks, with names and keys as Python writes them. */
const TABLE: readonly Row[] = [
  ["a named tuple equals an object", "agree", call("named", [4])],
  ["a named tuple equals a list", "agree", call("as_list")],
  ["a decimal equals a float of the same value", "agree", call("price")],
  ["an int equals a float of the same value", "agree", call("half", [4])],
  ["a float is told from another", "agree", call("half", [3])],
  ["keys are converted, kept names and data keys are not", "agree", call("keep_names")],
  ["a generator is read to its end", "agree", call("gen", [3])],
  ["a generator that is too long is cut on both sides alike", "agree", call("gen", [10_050])],
  ["an asynchronous generator is read as well", "agree", call("agen", [3])],
  ["a promise is awaited", "agree", call("later", [3])],
  ["no value equals undefined", "agree", call("nothing")],
  ["a key with undefined equals no key", "agree", call("maybe", [false])],
  ["a key with null is a key", "agree", call("maybe", [true])],
  ["a changed argument is an output", "agree", call("mutate", [[1]])],
  ["so is a changed named argument", "agree", call("mutate_named", [], { box: { n: 1 } })],
  ["what is printed is compared", "agree", call("say", ["hello"])],
  ["errors are compared by class and message", "agree", call("fails", ["after"])],
  ["arguments are compared after a throw", "agree", call("fails_after", [[1, 2]])],
  ["a date goes over and comes back", "agree", call("day", [{ "~date": "2031-02-28" }])],
  ["a time with an offset is an instant", "agree", call("moment", [{ "~time": "2031-04-02T06:10:00+02:00" }])],
  ["a naive time is read as UTC", "agree", call("moment", [{ "~time": "2031-04-02T06:10:00" }])],
  ["sets have no order", "agree", call("sets")],
  ["number keys equal their text", "agree", call("keyed")],
  ["big integers are exact", "agree", call("big")],
  ["text is counted as the language counts", "differ", call("text", ["🐦"])],
  ["a function is never equal", "differ", call("func")],
  ["named arguments are a last options object", "agree", call("spread", [1, 5], { c: 7 })],
  ["arguments may be left to their defaults", "agree", call("spread", [1])],
  ["tuples equal lists, nested too", "agree", call("tup")],
  ["bytes go over and come back", "agree", call("raw", [{ "~bytes": "AQID" }])],
  ["a boolean is not a number", "differ", call("bool_num")],
  ["a section that is missing is skipped", "skipped", call("only_original")],
  [
    "objects are driven by steps, properties read, throws survived",
    "agree",
    steps(
      { new: "Ferry", args: ["Tern", 2], as: "f" },
      { call: "board", on: "f", args: [1] },
      { get: "seats_left", on: "f" },
      { call: "board", on: "f", args: [5] },
      { set: "seats_left", on: "f", value: 0 },
      { get: "is_full", on: "f" },
      { new: "Ferry", args: ["Knot"], as: "g" },
      { call: "join", on: "f", args: [{ "~as": "g" }] },
    ),
  ],
];

async function outcomes(
  port: object,
  files: Record<string, string>,
  rows: readonly Row[],
): Promise<Map<string, CaseReport>> {
  const cases = rows.map(([what, , body]) => ({ id: what, module: "m", ...body }));
  const folder = temporaryFolder({ "side-twin.json": port, ...files, "cases/m.jsonl": cases });
  const { report } = await runCheckOfFile(folder, {});
  return new Map(report.cases.map((item) => [item.id, item]));
}

const expectAll = (found: ReadonlyMap<string, CaseReport>, rows: readonly Row[]) => {
  const told = rows.map(([what]) => [what, found.get(what)?.outcome ?? "none"]);
  expect(told).toEqual(rows.map(([what, outcome]) => [what, outcome]));
};

describe("from Python to TypeScript", () => {
  it("every contract line holds", async () => {
    const port = portFile({ names: { functions: "snake-to-camel", keys: "snake-to-camel", keep: ["plot_*"] } });
    const original = `${PYTHON}\ndef only_original(): return 1\n`;
    expectAll(await outcomes(port, { "original/m.py": original, "twin/m.ts": TYPESCRIPT }, TABLE), TABLE);
  });

  it("each default can be made strict", async () => {
    const strict: readonly Row[] = [
      ["int and float", "differ", call("half", [4])],
      ["decimal", "differ", call("price")],
      ["tuples", "differ", call("tup")],
      ["kinds of nothing", "differ", call("nothing")],
      ["number keys", "differ", call("keyed")],
    ];
    const equality = {
      intFloat: "strict",
      decimal: "strict",
      tupleList: "strict",
      nullKinds: "strict",
      mapKeysAsText: "strict",
    };
    const port = portFile({ names: { functions: "snake-to-camel", keys: "snake-to-camel" }, equality });
    expectAll(await outcomes(port, { "original/m.py": PYTHON, "twin/m.ts": TYPESCRIPT }, strict), strict);
  });
});

describe("from TypeScript to Python", () => {
  it("the same lines hold the other way round", async () => {
    const camel = (name: string) => name.replace(/_([a-z])/g, (_all, letter: string) => letter.toUpperCase());
    // Named arguments are Python's; a case written for TypeScript hands over an options object, through a hookup.
    const rows = TABLE.filter(
      ([, , { call: name, kwargs = {} }]) => name !== undefined && Object.keys(kwargs).length === 0,
    ).map(
      ([what, outcome, body]): Row => [what, outcome, { ...body, call: camel(body.call ?? ""), kwargs: undefined }],
    );
    const port = portFile({
      original: { root: "original", language: "typescript" },
      twins: [{ name: "py", root: "twin", language: "python" }],
      names: { functions: "camel-to-snake", keys: "camel-to-snake", keep: ["plot_*"] },
      hookups: [{ original: "m.spread", args: ["$1"] }],
    });
    const original = `${TYPESCRIPT}\nexport const onlyOriginal = () => 1;\n`;
    expectAll(await outcomes(port, { "original/m.ts": original, "twin/m.py": PYTHON }, rows), rows);
  });
});

describe("from a language to itself", () => {
  it.each([
    ["python", "m.py", PYTHON],
    [
      "typescript",
      "m.ts",
      TYPESCRIPT.replaceAll(
        /export const ([a-z]+)([A-Z])([a-z]+) =/g,
        (_all, head, letter, rest) => `export const ${head}_${letter.toLowerCase()}${rest} =`,
      ),
    ],
  ])("%s agrees with itself, functions aside", async (language, file, source) => {
    const side = { root: "original", language };
    const port = portFile({ original: side, twins: [{ name: "copy", root: "twin", language }] });
    const rows = TABLE.filter(([what]) => !/steps|missing|named arg/.test(what)).map(
      ([what, , body]): Row => [what, what.startsWith("a function") ? "differ" : "agree", body],
    );
    expectAll(await outcomes(port, { [`original/${file}`]: source, [`twin/${file}`]: source }, rows), rows);
  });
});
