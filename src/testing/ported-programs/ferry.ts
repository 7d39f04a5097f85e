// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code has templates
import type { PortedProgram } from "@/testing/ported-programs/program";

export const FERRY: PortedProgram = {
  from: "python",
  to: "typescript",
  functions: "snake-to-camel",
  files: {
    "original/schedule.py": `"""Departures of a small ferry line."""
from datetime import date, timedelta

DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]
HOLIDAYS = {"2031-05-01", "2031-12-25"}


def parse_day(text):
    year, month, day = (int(part) for part in text.split("-"))
    return date(year, month, day)


def is_holiday(text):
    return text in HOLIDAYS or parse_day(text).weekday() == 6


def day_name(text):
    return DAYS[parse_day(text).weekday()]


def next_days(text, count):
    start = parse_day(text)
    return [(start + timedelta(days=step)).isoformat() for step in range(count)]


def departures(text, first, last, every):
    """Minutes of the day at which boats leave."""
    times = []
    at = first
    while at <= last:
        times.append(at)
        at += every * 2 if is_holiday(text) else every
    return times


def label(minutes, style="24h"):
    hours, rest = minutes // 60, minutes % 60
    if style == "12h":
        half = "am" if hours < 12 else "pm"
        return f"{(hours - 1) % 12 + 1}:{rest:02d} {half}"
    return f"{hours:02d}:{rest:02d}"


def board(text, first, last, every, style="24h"):
    return {"day": day_name(text), "boats": [label(at, style) for at in departures(text, first, last, every)]}
`,
    "original/stock.py": `class StockError(Exception):
    pass


class Store:
    def __init__(self, room=10):
        self.room = room
        self.items = {}

    def free(self):
        return self.room - sum(self.items.values())

    def put(self, name, count=1):
        if count <= 0:
            raise StockError(f"cannot put {count} of {name}")
        if count > self.free():
            raise StockError("full")
        self.items[name] = self.items.get(name, 0) + count
        return self.free()

    def take(self, name, count=1):
        have = self.items.get(name, 0)
        if have < count:
            raise StockError(f"only {have} of {name}")
        if have == count:
            del self.items[name]
        else:
            self.items[name] = have - count
        return have - count

    def report(self):
        return [f"{name}: {count}" for name, count in sorted(self.items.items())]


def merge(left, right):
    merged = dict(left)
    for name, count in right.items():
        merged[name] = merged.get(name, 0) + count
    return merged


def reorder(levels, minimum=3):
    """Names below the minimum, the fewest first."""
    low = [(count, name) for name, count in levels.items() if count < minimum]
    return [name for _, name in sorted(low)]


def share(total, parts):
    base, rest = divmod(total, parts)
    return [base + (1 if index < rest else 0) for index in range(parts)]
`,
    "original/textkit.py": `import re
import unicodedata


def slug(text):
    text = unicodedata.normalize("NFKD", text)
    text = "".join(c for c in text if not unicodedata.combining(c))
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")


def initials(name):
    return "".join(part[0].upper() for part in name.split() if part)


def wrap(text, width):
    lines, line = [], ""
    for word in text.split():
        if line and len(line) + 1 + len(word) > width:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}" if line else word
    if line:
        lines.append(line)
    return lines


def count_words(text):
    counts = {}
    for word in re.findall(r"\\w+", text.lower()):
        counts[word] = counts.get(word, 0) + 1
    return sorted(counts.items(), key=lambda pair: (-pair[1], pair[0]))


def mask(code, keep=4):
    return "*" * max(0, len(code) - keep) + code[-keep:]


def csv_line(cells):
    out = []
    for cell in cells:
        text = "" if cell is None else str(cell)
        if "," in text or '"' in text:
            text = '"' + text.replace('"', '""') + '"'
        out.append(text)
    return ",".join(out)
`,
    "twin/schedule.ts": `const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const HOLIDAYS = new Set(["2031-05-01", "2031-12-25"]);

export function parseDay(text: string): Date {
  const [year, month, day] = text.split("-").map(Number);
  return new Date(Date.UTC(year, month - 1, day));
}

export function isHoliday(text: string): boolean {
  return HOLIDAYS.has(text) || parseDay(text).getUTCDay() === 6;
}

export function dayName(text: string): string {
  return DAYS[parseDay(text).getUTCDay()];
}

export function nextDays(text: string, count: number): string[] {
  const start = parseDay(text).getTime();
  const days: string[] = [];
  for (let step = 1; step <= count; step++) days.push(new Date(start + step * 86400000).toISOString().slice(0, 10));
  return days;
}

export function departures(text: string, first: number, last: number, every: number): number[] {
  const times: number[] = [];
  let at = first;
  while (at < last) {
    times.push(at);
    at += isHoliday(text) ? every * 2 : every;
  }
  return times;
}

export function label(minutes: number, style = "24h"): string {
  const hours = Math.floor(minutes / 60);
  const rest = minutes % 60;
  if (style === "12h") {
    const half = hours < 12 ? "am" : "pm";
    return \`\${hours % 12}:\${String(rest).padStart(2, "0")} \${half}\`;
  }
  return \`\${String(hours).padStart(2, "0")}:\${String(rest).padStart(2, "0")}\`;
}

export function board(text: string, first: number, last: number, every: number, style = "24h") {
  return { day: dayName(text), boats: departures(text, first, last, every).map((at) => label(at, style)) };
}
`,
    "twin/stock.ts": `export class StockError extends Error {}

export class Store {
  items = new Map<string, number>();
  constructor(public room = 10) {}

  free(): number {
    let used = 0;
    for (const count of this.items.values()) used += count;
    return this.room - used;
  }

  put(name: string, count = 1): number {
    if (count <= 0) throw new StockError(\`cannot put \${count} of \${name}\`);
    if (count > this.free()) throw new StockError("full");
    this.items.set(name, count);
    return this.free();
  }

  take(name: string, count = 1): number {
    const have = this.items.get(name) ?? 0;
    if (have < count) throw new StockError(\`only \${have} of \${name}\`);
    this.items.set(name, have - count);
    return have - count;
  }

  report(): string[] {
    return [...this.items].sort().map(([name, count]) => \`\${name}: \${count}\`);
  }
}

export function merge(left: Record<string, number>, right: Record<string, number>) {
  for (const [name, count] of Object.entries(right)) left[name] = (left[name] ?? 0) + count;
  return left;
}

export function reorder(levels: Record<string, number>, minimum = 5): string[] {
  const low = Object.entries(levels).filter(([, count]) => count < minimum);
  return low.sort((left, right) => left[1] - right[1]).map(([name]) => name);
}

export function share(total: number, parts: number): number[] {
  const base = Math.floor(total / parts);
  const rest = total % parts;
  return Array.from({ length: parts }, (_, index) => base + (index <= rest ? 1 : 0));
}
`,
    "twin/textkit.ts": `export function slug(text: string): string {
  const plain = text.normalize("NFKD").replace(/[\\u0300-\\u036f]/g, "");
  return plain.toLowerCase().replace(/[^a-z0-9]/g, "-").replace(/^-+|-+$/g, "");
}

export function initials(name: string): string {
  return name.split(" ").map((part) => part[0].toUpperCase()).join("");
}

export function wrap(text: string, width: number): string[] {
  const lines: string[] = [];
  let line = "";
  for (const word of text.split(/\\s+/).filter(Boolean)) {
    if (line && line.length + 1 + word.length > width) {
      lines.push(line);
      line = word;
    } else line = line ? \`\${line} \${word}\` : word;
  }
  return lines;
}

export function countWords(text: string): [string, number][] {
  const counts = new Map<string, number>();
  for (const word of text.toLowerCase().match(/\\w+/g) ?? []) counts.set(word, (counts.get(word) ?? 0) + 1);
  return [...counts].sort((left, right) => right[1] - left[1]);
}

export function mask(code: string, keep = 4): string {
  return "*".repeat(Math.max(0, code.length - keep)) + code.slice(-keep);
}

export function csvLine(cells: unknown[]): string {
  return cells
    .map((cell) => {
      let text = String(cell);
      if (text.includes(",") || text.includes('"')) text = \`"\${text.replace('"', '""')}"\`;
      return text;
    })
    .join(",");
}
`,
  },
  faults: [
    { section: "schedule.day_name", cause: "weekday-base" },
    { section: "schedule.is_holiday", cause: "weekday-base" },
    { section: "schedule.next_days", cause: "off-by-one" },
    { section: "schedule.departures", cause: "last-item" },
    { section: "stock.share", cause: "off-by-one" },
    { section: "stock.merge", cause: "changed-argument" },
    { section: "stock.reorder", cause: "wrong-constant" },
    { section: "textkit.wrap", cause: "last-item" },
    { section: "textkit.initials", cause: "error-added" },
    { section: "textkit.count_words", cause: "unstable-sort" },
    { section: "textkit.csv_line", cause: "null-and-missing" },
    { section: "textkit.csv_line", cause: "escaping" },
  ],
  calls: [
    ["schedule", "is_holiday", ["2031-05-01"]],
    ["schedule", "day_name", ["2031-05-01"]],
    ["schedule", "next_days", ["2031-05-01", 3]],
    ["schedule", "departures", ["2031-05-01", 360, 480, 30]],
    ["schedule", "departures", ["2031-05-01", 360, 475, 30]],
    ["schedule", "board", ["2031-05-01", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2031-05-01", 0, 100, 45]],
    ["schedule", "is_holiday", ["2031-05-03"]],
    ["schedule", "day_name", ["2031-05-03"]],
    ["schedule", "next_days", ["2031-05-03", 3]],
    ["schedule", "departures", ["2031-05-03", 360, 480, 30]],
    ["schedule", "departures", ["2031-05-03", 360, 475, 30]],
    ["schedule", "board", ["2031-05-03", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2031-05-03", 0, 100, 45]],
    ["schedule", "is_holiday", ["2031-05-04"]],
    ["schedule", "day_name", ["2031-05-04"]],
    ["schedule", "next_days", ["2031-05-04", 3]],
    ["schedule", "departures", ["2031-05-04", 360, 480, 30]],
    ["schedule", "departures", ["2031-05-04", 360, 475, 30]],
    ["schedule", "board", ["2031-05-04", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2031-05-04", 0, 100, 45]],
    ["schedule", "is_holiday", ["2031-05-05"]],
    ["schedule", "day_name", ["2031-05-05"]],
    ["schedule", "next_days", ["2031-05-05", 3]],
    ["schedule", "departures", ["2031-05-05", 360, 480, 30]],
    ["schedule", "departures", ["2031-05-05", 360, 475, 30]],
    ["schedule", "board", ["2031-05-05", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2031-05-05", 0, 100, 45]],
    ["schedule", "is_holiday", ["2031-01-31"]],
    ["schedule", "day_name", ["2031-01-31"]],
    ["schedule", "next_days", ["2031-01-31", 3]],
    ["schedule", "departures", ["2031-01-31", 360, 480, 30]],
    ["schedule", "departures", ["2031-01-31", 360, 475, 30]],
    ["schedule", "board", ["2031-01-31", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2031-01-31", 0, 100, 45]],
    ["schedule", "is_holiday", ["2032-02-28"]],
    ["schedule", "day_name", ["2032-02-28"]],
    ["schedule", "next_days", ["2032-02-28", 3]],
    ["schedule", "departures", ["2032-02-28", 360, 480, 30]],
    ["schedule", "departures", ["2032-02-28", 360, 475, 30]],
    ["schedule", "board", ["2032-02-28", 700, 790, 45], { style: "12h" }],
    ["schedule", "board", ["2032-02-28", 0, 100, 45]],
    ["schedule", "label", [0]],
    ["schedule", "label", [0, "12h"]],
    ["schedule", "label", [59]],
    ["schedule", "label", [59, "12h"]],
    ["schedule", "label", [60]],
    ["schedule", "label", [60, "12h"]],
    ["schedule", "label", [719]],
    ["schedule", "label", [719, "12h"]],
    ["schedule", "label", [720]],
    ["schedule", "label", [720, "12h"]],
    ["schedule", "label", [780]],
    ["schedule", "label", [780, "12h"]],
    ["schedule", "label", [1439]],
    ["schedule", "label", [1439, "12h"]],
    ["schedule", "label", [725]],
    ["schedule", "label", [725, "12h"]],
    ["stock", "merge", [{ a: 1 }, { b: 2 }]],
    ["stock", "merge", [{ a: 1 }, { a: 2 }]],
    ["stock", "merge", [{}, {}]],
    [
      "stock",
      "merge",
      [
        { x: 4, y: 1 },
        { y: 5, z: 1 },
      ],
    ],
    ["stock", "reorder", [{ a: 1, b: 9 }]],
    ["stock", "reorder", [{ a: 4, b: 2 }]],
    ["stock", "reorder", [{ z: 2, y: 2, x: 2 }]],
    ["stock", "reorder", [{ m: 5 }]],
    ["stock", "reorder", [{ q: 3, p: 1 }]],
    ["stock", "share", [10, 3]],
    ["stock", "share", [9, 3]],
    ["stock", "share", [7, 2]],
    ["stock", "share", [5, 5]],
    ["stock", "share", [0, 4]],
    ["stock", "share", [11, 4]],
    ["textkit", "slug", ["Hello World"]],
    ["textkit", "slug", ["Ålesund  –  Bergen"]],
    ["textkit", "slug", ["a--b"]],
    ["textkit", "slug", ["(x)"]],
    ["textkit", "slug", ["one, two"]],
    ["textkit", "slug", ["ÉCOLE"]],
    ["textkit", "initials", ["ada love"]],
    ["textkit", "initials", ["Bo"]],
    ["textkit", "initials", ["x  y"]],
    ["textkit", "initials", [" grace hopper"]],
    ["textkit", "initials", [""]],
    ["textkit", "wrap", ["the quick brown fox jumps over the lazy dog", 10]],
    ["textkit", "wrap", ["the quick brown fox jumps over the lazy dog", 20]],
    ["textkit", "wrap", ["the quick brown fox jumps over the lazy dog", 100]],
    ["textkit", "wrap", ["the quick brown fox jumps over the lazy dog", 5]],
    ["textkit", "wrap", ["", 5]],
    ["textkit", "wrap", ["one", 5]],
    ["textkit", "count_words", ["the quick brown fox jumps over the lazy dog"]],
    ["textkit", "count_words", ["b a b a"]],
    ["textkit", "count_words", ["x"]],
    ["textkit", "count_words", ["z y x"]],
    ["textkit", "count_words", ["Ä ä b"]],
    ["textkit", "mask", ["12345678"]],
    ["textkit", "mask", ["1234"]],
    ["textkit", "mask", ["12"]],
    ["textkit", "mask", [""]],
    ["textkit", "csv_line", [["a", "b"]]],
    ["textkit", "csv_line", [[null, 1]]],
    ["textkit", "csv_line", [["x,y", 'q"r"s']]],
    ["textkit", "csv_line", [['"']]],
    ["textkit", "csv_line", [[true, 2.0]]],
  ],
  steps: [
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["rope", 2] },
        { call: "put", on: "s", args: ["rope", 1] },
        { call: "take", on: "s", args: ["rope", 0] },
        { call: "report", on: "s" },
        { call: "put", on: "s", args: ["sail", 9] },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["b", 2] },
        { call: "put", on: "s", args: ["a", 1] },
        { call: "take", on: "s", args: ["b", 2] },
        { call: "report", on: "s" },
        { call: "free", on: "s" },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["rope", 2] },
        { call: "put", on: "s", args: ["rope", 1] },
        { call: "take", on: "s", args: ["rope", 1] },
        { call: "report", on: "s" },
        { call: "put", on: "s", args: ["sail", 8] },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["b", 2] },
        { call: "put", on: "s", args: ["a", 1] },
        { call: "take", on: "s", args: ["b", 2] },
        { call: "report", on: "s" },
        { call: "free", on: "s" },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["rope", 2] },
        { call: "put", on: "s", args: ["rope", 1] },
        { call: "take", on: "s", args: ["rope", 2] },
        { call: "report", on: "s" },
        { call: "put", on: "s", args: ["sail", 7] },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["b", 2] },
        { call: "put", on: "s", args: ["a", 1] },
        { call: "take", on: "s", args: ["b", 2] },
        { call: "report", on: "s" },
        { call: "free", on: "s" },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["rope", 2] },
        { call: "put", on: "s", args: ["rope", 1] },
        { call: "take", on: "s", args: ["rope", 3] },
        { call: "report", on: "s" },
        { call: "put", on: "s", args: ["sail", 6] },
      ],
    ],
    [
      "stock",
      [
        { "new": "Store", args: [6], as: "s" },
        { call: "put", on: "s", args: ["b", 2] },
        { call: "put", on: "s", args: ["a", 1] },
        { call: "take", on: "s", args: ["b", 2] },
        { call: "report", on: "s" },
        { call: "free", on: "s" },
      ],
    ],
  ],
};
