// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code has templates
import type { PortedProgram } from "@/testing/ported-programs/program";

export const BERTH: PortedProgram = {
  from: "javascript",
  to: "python",
  functions: "camel-to-snake",
  files: {
    "original/berths.mjs": `// Berth planning.
const CLASSES = { small: 12, medium: 24, large: 60 };

export function classOf(length) {
  for (const [name, limit] of Object.entries(CLASSES)) if (length <= limit) return name;
  return "oversize";
}

export function fee(length, nights, { member = false, power } = {}) {
  if (nights < 1) throw new RangeError("at least one night");
  let total = length * 1.8 * nights;
  if (member) total *= 0.9;
  if (power) total += nights * 4.5;
  return Math.round(total * 100) / 100;
}

export class Plan {
  #berths = new Map();
  constructor(count) {
    for (let at = 1; at <= count; at++) this.#berths.set(at, null);
  }
  get free() {
    return [...this.#berths.values()].filter((boat) => boat === null).length;
  }
  assign(boat) {
    for (const [berth, held] of this.#berths) {
      if (held === null) {
        this.#berths.set(berth, boat);
        return berth;
      }
    }
    return null;
  }
  leave(boat) {
    for (const [berth, held] of this.#berths) {
      if (held === boat) {
        this.#berths.set(berth, null);
        return true;
      }
    }
    return false;
  }
  list() {
    return [...this.#berths].map(([berth, boat]) => \`\${berth}:\${boat ?? "-"}\`).join(" ");
  }
}

export function nextFree(taken, wanted) {
  const used = new Set(taken);
  for (let step = 0; ; step++) if (!used.has(wanted + step)) return wanted + step;
}
`,
    "original/messages.mjs": `// Radio messages.
export const escape = (text) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");

export function parse(line) {
  const [head, ...rest] = line.split(":");
  const [from, to = "all"] = head.split(">");
  return { from: from.trim(), to: to.trim(), text: rest.join(":").trim() };
}

export const shorten = (text, width = 12) => (text.length > width ? \`\${text.slice(0, width - 1)}…\` : text);

export function digest(lines) {
  const byFrom = {};
  for (const line of lines) {
    const { from, text } = parse(line);
    (byFrom[from] ??= []).push(shorten(text));
  }
  return byFrom;
}

export const stamp = (seconds) => new Date(seconds * 1000).toISOString();

export const sortKeys = (record) => Object.keys(record).sort();

export function checksum(text) {
  let sum = 0;
  for (const letter of text) sum = (sum * 33 + letter.codePointAt(0)) | 0;
  return sum >>> 0;
}

export const ratio = (part, whole) => (whole === 0 ? null : \`\${((part / whole) * 100).toFixed(1)} %\`);

export const quoteAll = (words) => words.map((word) => \`"\${word}"\`).join(", ");
`,
    "twin/berths.py": `"""Berth planning."""

CLASSES = {"small": 12, "medium": 24, "large": 60}


def class_of(length):
    for name, limit in CLASSES.items():
        if length < limit:
            return name
    return "oversize"


def fee(length, nights, options=None):
    options = options or {}
    if nights < 1:
        raise ValueError("at least one night")
    total = length * 1.8 * nights
    if options.get("member", True):
        total *= 0.9
    if options.get("power"):
        total += nights * 4.5
    return round(total, 2)


class Plan:
    def __init__(self, count):
        self._berths = {at: None for at in range(1, count)}

    @property
    def free(self):
        return len([boat for boat in self._berths.values() if boat is None])

    def assign(self, boat):
        for berth, held in self._berths.items():
            if held is None:
                self._berths[berth] = boat
                return berth
        return None

    def leave(self, boat):
        for berth, held in self._berths.items():
            if held == boat:
                self._berths[berth] = None
                return True
        return False

    def list(self):
        return " ".join(f"{berth}:{boat}" for berth, boat in self._berths.items())


def next_free(taken, wanted):
    step = 0
    while wanted + step in taken:
        step += 1
    return step
`,
    "twin/messages.py": `"""Radio messages."""
from datetime import datetime


def escape(text):
    return text.replace("<", "&lt;").replace(">", "&gt;").replace("&", "&amp;")


def parse(line):
    head, text = line.split(":", 1)
    parts = head.split(">")
    return {"from": parts[0].strip(), "to": parts[1].strip() if len(parts) > 1 else "all", "text": text.strip()}


def shorten(text, width=12):
    return text[:width] + "…" if len(text) > width else text


def digest(lines):
    by_from = {}
    for line in lines:
        parsed = parse(line)
        by_from.setdefault(parsed["from"], []).append(shorten(parsed["text"]))
    return by_from


def stamp(seconds):
    return datetime.utcfromtimestamp(seconds).isoformat()


def sort_keys(record):
    return sorted(record, key=str.lower)


def checksum(text):
    total = 0
    for letter in text:
        total = total * 33 + ord(letter)
    return total


def ratio(part, whole):
    if not whole:
        return None
    return f"{round(part / whole * 100)} %"


def quote_all(words):
    return ",".join(f'"{word}"' for word in words)
`,
  },
  faults: [
    { section: "berths.classOf", cause: "boundary" },
    { section: "berths.Plan.free", cause: "off-by-one" },
    { section: "berths.fee", cause: "error-kind" },
    { section: "messages.shorten", cause: "off-by-one" },
    { section: "messages.escape", cause: "escaping" },
    { section: "messages.checksum", cause: "int32-wrap" },
    { section: "messages.quoteAll", cause: "separator" },
    { section: "messages.parse", cause: "error-added" },
    { section: "messages.sortKeys", cause: "sort-order" },
  ],
  calls: [
    ["berths", "classOf", [5]],
    ["berths", "classOf", [12]],
    ["berths", "classOf", [13]],
    ["berths", "classOf", [24]],
    ["berths", "classOf", [25]],
    ["berths", "classOf", [59]],
    ["berths", "classOf", [60]],
    ["berths", "classOf", [61]],
    ["berths", "fee", [10, 2]],
    ["berths", "fee", [10, 2, { member: true }]],
    ["berths", "fee", [10, 0]],
    ["berths", "fee", [7.5, 3, { power: true }]],
    ["berths", "fee", [8, 1, { member: false }]],
    ["berths", "fee", [11, 5, { member: true, power: true }]],
    ["berths", "fee", [9, -1]],
    ["berths", "nextFree", [[1, 2], 1]],
    ["berths", "nextFree", [[], 4]],
    ["berths", "nextFree", [[5, 6, 7], 5]],
    ["berths", "nextFree", [[2], 3]],
    ["messages", "escape", ["a & b"]],
    ["messages", "escape", ["<b>"]],
    ["messages", "escape", ["x > y & z"]],
    ["messages", "escape", ["plain"]],
    ["messages", "parse", ["Tern>Auk: all well: yes"]],
    ["messages", "parse", ["Auk: leaving now at once"]],
    ["messages", "parse", ["Gull > Tern : ok"]],
    ["messages", "parse", ["nothing here"]],
    ["messages", "parse", ["Tern:short"]],
    ["messages", "shorten", ["short"]],
    ["messages", "shorten", ["a longer message text"]],
    ["messages", "shorten", ["exactly12chr"]],
    ["messages", "shorten", ["thirteen char"]],
    ["messages", "shorten", ["abcdef", 4]],
    ["messages", "digest", [["Tern>Auk: all well: yes", "Auk: leaving now at once", "Gull > Tern : ok"]]],
    ["messages", "digest", [["Tern:short", "Auk: leaving now at once"]]],
    ["messages", "digest", [[]]],
    ["messages", "stamp", [0]],
    ["messages", "stamp", [1932883200]],
    ["messages", "stamp", [1500000000.5]],
    ["messages", "sortKeys", [{ b: 1, A: 2, c: 3 }]],
    ["messages", "sortKeys", [{ a: 1, b: 2 }]],
    ["messages", "sortKeys", [{ Z: 1, a: 2 }]],
    ["messages", "checksum", ["a"]],
    ["messages", "checksum", ["harbour master"]],
    ["messages", "checksum", ["quay and bollard"]],
    ["messages", "checksum", [""]],
    ["messages", "ratio", [1, 3]],
    ["messages", "ratio", [1, 2]],
    ["messages", "ratio", [5, 0]],
    ["messages", "ratio", [2, 3]],
    ["messages", "quoteAll", [["a", "b"]]],
    ["messages", "quoteAll", [["x"]]],
    ["messages", "quoteAll", [["p", "q", "r"]]],
  ],
  steps: [
    [
      "berths",
      [
        { "new": "Plan", args: [1], as: "p" },
        { get: "free", on: "p" },
        { call: "assign", on: "p", args: ["Tern"] },
        { call: "assign", on: "p", args: ["Auk"] },
        { call: "leave", on: "p", args: ["Tern"] },
        { call: "list", on: "p" },
      ],
    ],
    [
      "berths",
      [
        { "new": "Plan", args: [2], as: "p" },
        { get: "free", on: "p" },
        { call: "assign", on: "p", args: ["Tern"] },
        { call: "assign", on: "p", args: ["Auk"] },
        { call: "leave", on: "p", args: ["Tern"] },
        { call: "list", on: "p" },
      ],
    ],
    [
      "berths",
      [
        { "new": "Plan", args: [3], as: "p" },
        { get: "free", on: "p" },
        { call: "assign", on: "p", args: ["Tern"] },
        { call: "assign", on: "p", args: ["Auk"] },
        { call: "leave", on: "p", args: ["Tern"] },
        { call: "list", on: "p" },
      ],
    ],
  ],
};
