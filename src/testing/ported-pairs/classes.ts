/** Small classes in Python with JavaScript twins of one or two faults each, and what is done with their objects. */
// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code of twins has templates
import type { Json } from "@/core/formats/json";

/** A step: the method and its arguments; the object is made first. */
type Call = readonly [method: string, ...args: Json[]];

/** A class of the original and its twin. */
export type PortedClassPair = {
  readonly name: string;
  /** Method → the cause that must be named first for its family; null for a slip. */
  readonly faults: Readonly<Record<string, string | null>>;
  readonly original: string;
  readonly twin: string;
  /** The arguments of the constructor, and the calls; one case each. */
  readonly scripts: readonly { readonly made: readonly Json[]; readonly calls: readonly Call[] }[];
};

const script = (made: readonly Json[], ...calls: Call[]) => ({ made, calls });

export const CLASSES: readonly PortedClassPair[] = [
  {
    name: "Ballast",
    faults: { share: "integer-division" },
    original:
      "class Ballast:\n    def __init__(self, tons):\n        self.tons = tons\n    def share(self, tanks):\n        return self.tons // tanks\n    def add(self, more):\n        self.tons += more\n        return self.tons",
    twin: "export class Ballast { constructor(tons) { this.tons = tons; } share(tanks) { return this.tons / tanks; } add(more) { this.tons += more; return this.tons; } }",
    scripts: [script([10], ["share", 4]), script([7], ["add", 2], ["share", 2]), script([9], ["share", 4])],
  },
  {
    name: "Rota",
    faults: { names: "sort-order" },
    original:
      "class Rota:\n    def __init__(self):\n        self.kept = []\n    def put(self, name):\n        self.kept.append(name)\n        return len(self.kept)\n    def names(self):\n        return sorted(self.kept)",
    twin: "export class Rota { constructor() { this.kept = []; } put(name) { this.kept.push(name); return this.kept.length; } names() { return [...this.kept].sort((a, b) => a.localeCompare(b)); } }",
    scripts: [
      script([], ["put", "Bo"], ["put", "al"], ["names"]),
      script([], ["put", "b"], ["put", "C"], ["names"]),
      script([], ["put", "a"], ["names"]),
    ],
  },
  {
    name: "Purse",
    faults: { split: "rounding-mode" },
    original:
      "class Purse:\n    def __init__(self, pence):\n        self.pence = pence\n    def split(self, hands):\n        return round(self.pence / hands)",
    twin: "export class Purse { constructor(pence) { this.pence = pence; } split(hands) { return Math.round(this.pence / hands); } }",
    scripts: [5, 1, 9, 13, 4, 7].map((pence) => script([pence], ["split", 2])),
  },
  {
    name: "Beacon",
    faults: { turn: "remainder-sign" },
    original:
      "class Beacon:\n    def __init__(self, at):\n        self.at = at\n    def turn(self, by):\n        self.at = (self.at - by) % 12\n        return self.at",
    twin: "export class Beacon { constructor(at) { this.at = at; } turn(by) { this.at = (this.at - by) % 12; return this.at; } }",
    scripts: [script([3], ["turn", 5]), script([9], ["turn", 2]), script([0], ["turn", 1]), script([4], ["turn", 7])],
  },
  {
    name: "Sign",
    faults: { paint: "text-case" },
    original:
      "class Sign:\n    def __init__(self, text):\n        self.text = text\n    def paint(self):\n        return self.text.upper()",
    twin: "export class Sign { constructor(text) { this.text = text; } paint() { return this.text; } }",
    scripts: ["north", "Quay", "tide 7"].map((text) => script([text], ["paint"])),
  },
  {
    name: "Hold",
    faults: { top: "last-item" },
    original:
      "class Hold:\n    def __init__(self):\n        self.crates = []\n    def load(self, crate):\n        self.crates.append(crate)\n        return len(self.crates)\n    def top(self, count):\n        return self.crates[:count + 1]",
    twin: "export class Hold { constructor() { this.crates = []; } load(crate) { this.crates.push(crate); return this.crates.length; } top(count) { return this.crates.slice(0, count); } }",
    scripts: [
      script([], ["load", "a"], ["load", "b"], ["load", "c"], ["top", 1]),
      script([], ["load", "x"], ["load", "y"], ["top", 0]),
      script([], ["load", "p"], ["load", "q"], ["load", "r"], ["top", 2]),
    ],
  },
  {
    name: "Toll",
    faults: { pay: "boundary" },
    original:
      "class Toll:\n    def __init__(self, limit):\n        self.limit = limit\n    def pay(self, tons):\n        if tons >= self.limit:\n            return 'heavy'\n        return 'light'",
    twin: "export class Toll { constructor(limit) { this.limit = limit; } pay(tons) { if (tons > this.limit) return 'heavy'; return 'light'; } }",
    scripts: [script([10], ["pay", 10]), script([10], ["pay", 11]), script([5], ["pay", 5]), script([7], ["pay", 3])],
  },
  {
    name: "Almanac",
    faults: { month: "zero-based-month" },
    original:
      "import datetime\nclass Almanac:\n    def __init__(self, day):\n        self.day = datetime.date.fromisoformat(day)\n    def month(self):\n        return self.day.month\n    def year(self):\n        return self.day.year",
    twin: "export class Almanac { constructor(day) { this.day = new Date(`${day}T00:00:00Z`); } month() { return this.day.getUTCMonth(); } year() { return this.day.getUTCFullYear(); } }",
    scripts: ["2031-02-03", "2030-12-31", "2029-07-14"].map((day) => script([day], ["month"], ["year"])),
  },
  {
    name: "Roster",
    faults: { find: "null-and-missing" },
    original:
      "class Roster:\n    def __init__(self):\n        self.by = {}\n    def put(self, name, berth):\n        self.by[name] = berth\n        return berth\n    def find(self, name):\n        berth = self.by.get(name)\n        return 'at ' + ('none' if berth is None else str(berth))",
    twin: "export class Roster { constructor() { this.by = {}; } put(name, berth) { this.by[name] = berth; return berth; } find(name) { return `at ${this.by[name]}`; } }",
    scripts: [
      script([], ["put", "a", 3], ["find", "a"], ["find", "b"]),
      script([], ["find", "x"]),
      script([], ["put", "q", 1], ["find", "q"]),
    ],
  },
  {
    name: "Gauge",
    faults: { read: "unit-factor" },
    original:
      "class Gauge:\n    def __init__(self, metres):\n        self.metres = metres\n    def read(self):\n        return self.metres * 100",
    twin: "export class Gauge { constructor(metres) { this.metres = metres; } read() { return this.metres * 1000; } }",
    scripts: [1, 2.5, 7, 4].map((metres) => script([metres], ["read"])),
  },
  {
    name: "Watch",
    faults: { next: "off-by-one" },
    original:
      "class Watch:\n    def __init__(self):\n        self.number = 1\n    def next(self):\n        given = self.number\n        self.number += 1\n        return given",
    twin: "export class Watch { constructor() { this.number = 1; } next() { this.number += 1; return this.number; } }",
    scripts: [script([], ["next"]), script([], ["next"], ["next"]), script([], ["next"], ["next"], ["next"])],
  },
  {
    name: "Hatch",
    faults: { open: "error-swallowed" },
    original:
      "class Hatch:\n    def __init__(self, locked):\n        self.locked = locked\n    def open(self):\n        if self.locked:\n            raise RuntimeError('locked')\n        return 'open'",
    twin: "export class Hatch { constructor(locked) { this.locked = locked; } open() { if (this.locked) return null; return 'open'; } }",
    scripts: [script([true], ["open"]), script([false], ["open"]), script([true], ["open"], ["open"])],
  },
  {
    name: "Chart",
    faults: { line: "separator", code: "whitespace" },
    original:
      "class Chart:\n    def __init__(self, stops):\n        self.stops = stops\n    def line(self):\n        return ' - '.join(self.stops)\n    def code(self):\n        return self.stops[0].strip()",
    twin: "export class Chart { constructor(stops) { this.stops = stops; } line() { return this.stops.join('-'); } code() { return this.stops[0]; } }",
    scripts: [
      script([["a", "b"]], ["line"]),
      script([["x", "y", "z"]], ["line"]),
      script([[" q ", "r"]], ["code"]),
      script([["  m", "n"]], ["code"]),
      script([["k"]], ["line"], ["code"]),
    ],
  },
  {
    name: "Locker",
    faults: { number: "text-and-number" },
    original:
      "class Locker:\n    def __init__(self, label):\n        self.label = label\n    def number(self):\n        return int(self.label) + 1",
    twin: "export class Locker { constructor(label) { this.label = label; } number() { return this.label + 1; } }",
    scripts: ["4", "17", "9"].map((label) => script([label], ["number"])),
  },
  {
    name: "Signal",
    faults: { of: "code-units" },
    original:
      "class Signal:\n    def __init__(self, text):\n        self.text = text\n    def of(self):\n        return len(self.text)",
    twin: "export class Signal { constructor(text) { this.text = text; } of() { return this.text.length; } }",
    scripts: ["ab", "𝔘", "x👍", "né"].map((text) => script([text], ["of"])),
  },
  {
    name: "Winch",
    faults: { pull: "sign-flip" },
    original:
      "class Winch:\n    def __init__(self):\n        self.out = 0\n    def pull(self, by):\n        return self.out - by",
    twin: "export class Winch { constructor() { this.out = 0; } pull(by) { return this.out + by; } }",
    scripts: [3, 8, 1].map((by) => script([], ["pull", by])),
  },
  {
    name: "Ledger",
    faults: { total: null },
    original:
      "class Ledger:\n    def __init__(self):\n        self.paid = 0\n        self.owed = 0\n    def pay(self, n):\n        self.paid += n\n        return self.paid\n    def owe(self, n):\n        self.owed += n\n        return self.owed\n    def total(self):\n        return self.paid * 2 - self.owed",
    twin: "export class Ledger { constructor() { this.paid = 0; this.owed = 0; } pay(n) { this.paid += n; return this.paid; } owe(n) { this.owed += n; return this.owed; } total() { return this.paid * 2 - this.paid; } }",
    scripts: [
      script([], ["pay", 5], ["owe", 3], ["total"]),
      script([], ["owe", 7], ["total"]),
      script([], ["pay", 4], ["owe", 1], ["total"]),
    ],
  },
  {
    name: "Lamp",
    faults: { lit: null },
    original:
      "class Lamp:\n    def __init__(self, oil):\n        self.oil = oil\n    def lit(self, dark):\n        return self.oil > 0 and dark",
    twin: "export class Lamp { constructor(oil) { this.oil = oil; } lit(dark) { return this.oil > 0 && !dark; } }",
    scripts: [script([1], ["lit", true]), script([0], ["lit", true]), script([2], ["lit", false])],
  },
  {
    name: "Crew",
    faults: { card: "key-naming" },
    original:
      "class Crew:\n    def __init__(self, name, berth):\n        self.name = name\n        self.berth = berth\n    def card(self):\n        return {'full_name': self.name, 'berth_no': self.berth}",
    twin: "export class Crew { constructor(name, berth) { this.name = name; this.berth = berth; } card() { return { fullName: this.name, berthNo: this.berth }; } }",
    scripts: [script(["a", 1], ["card"]), script(["b", 7], ["card"])],
  },
  {
    name: "Raft",
    faults: { mean: "floor-or-truncate" },
    original:
      "import math\nclass Raft:\n    def __init__(self, drift):\n        self.drift = drift\n    def mean(self, hours):\n        return math.floor(self.drift / hours)",
    twin: "export class Raft { constructor(drift) { this.drift = drift; } mean(hours) { return Math.trunc(this.drift / hours); } }",
    scripts: [script([-7], ["mean", 2]), script([7], ["mean", 2]), script([-9], ["mean", 4]), script([8], ["mean", 4])],
  },
];
