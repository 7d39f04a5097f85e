// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code has templates
import type { PortedProgram } from "@/testing/ported-programs/program";

export const TIDE: PortedProgram = {
  from: "python",
  to: "javascript",
  functions: "snake-to-camel",
  files: {
    "original/ledger.py": `from decimal import Decimal, ROUND_HALF_UP

RATES = {"pilot": 125, "tug": 340, "berth": 18}


def line_total(kind, hours):
    rate = RATES[kind]
    return rate * hours


def discount(total, member):
    if member and total >= 1000:
        return total * 5 // 100
    return 0


def invoice(lines, member=False):
    total = 0
    out = []
    for kind, hours in lines:
        amount = line_total(kind, hours)
        out.append({"kind": kind, "hours": hours, "amount": amount})
        total += amount
    off = discount(total, member)
    return {"lines": out, "total": total, "discount": off, "due": total - off}


def by_kind(lines):
    totals = {}
    for kind, hours in lines:
        totals[kind] = totals.get(kind, 0) + line_total(kind, hours)
    return dict(sorted(totals.items()))
`,
    "original/manifest.py": `import re


def parse_line(line):
    line = line.strip()
    if not line or line.startswith("#"):
        return None
    parts = [part.strip() for part in line.split(";")]
    code, name = parts[0], parts[1] if len(parts) > 1 else ""
    weight = float(parts[2]) if len(parts) > 2 and parts[2] else None
    return {"code": code.upper(), "name": name, "weight": weight}


def parse(text):
    entries = []
    for line in text.splitlines():
        entry = parse_line(line)
        if entry is not None:
            entries.append(entry)
    return entries


def codes(text):
    return sorted({entry["code"] for entry in parse(text)})


def heaviest(text):
    weighed = [entry for entry in parse(text) if entry["weight"] is not None]
    if not weighed:
        raise ValueError("nothing is weighed")
    return max(weighed, key=lambda entry: entry["weight"])["code"]
`,
    "original/tide_table.py": `"""Tide tables of a small harbour."""
import datetime


def _band(height):
    if height < 0.5:
        return "low"
    if height < 2.5:
        return "mid"
    return "high"


def _stamp(minutes):
    hours, rest = divmod(minutes, 60)
    return f"{hours:02d}:{rest:02d}"


def rows(readings):
    """One line a reading."""
    lines = []
    for minutes, height in readings:
        lines.append(f"{_stamp(minutes)} {height:.1f} {_band(height)}")
    return lines


def summary(readings):
    counts = {}
    for _, height in readings:
        band = _band(height)
        counts[band] = counts.get(band, 0) + 1
    return counts


def highest(readings):
    best = None
    for minutes, height in readings:
        if best is None or height > best["height"]:
            best = {"at": _stamp(minutes), "height": height}
    return best


def mean(readings):
    if not readings:
        return None
    return round(sum(height for _, height in readings) / len(readings), 2)
`,
    "twin/ledger.js": `const RATES = { pilot: 125, tug: 430, berth: 18 };

export function lineTotal(kind, hours) {
  const rate = RATES[kind];
  return rate * hours;
}

export function discount(total, member) {
  if (member && total >= 1000) return (total * 5) / 100;
  return 0;
}

export function invoice(lines, member = false) {
  let total = 0;
  const out = [];
  for (const [kind, hours] of lines) {
    const amount = lineTotal(kind, hours);
    out.push({ kind, hours, amount });
    total += amount;
  }
  const off = discount(total, member);
  return { lines: out, total, discount: off, due: total - off };
}

export function byKind(lines) {
  const totals = {};
  for (const [kind, hours] of lines) totals[kind] = (totals[kind] ?? 0) + lineTotal(kind, hours);
  return totals;
}
`,
    "twin/manifest.js": `export function parseLine(line) {
  if (!line || line.startsWith("#")) return null;
  const parts = line.split(";").map((part) => part.trim());
  const [code, name = ""] = parts;
  const weight = parts[2] ? parseInt(parts[2]) : null;
  return { code: code.toUpperCase(), name, weight };
}

export function parse(text) {
  const entries = [];
  for (const line of text.split("\\n")) {
    const entry = parseLine(line);
    if (entry !== null) entries.push(entry);
  }
  return entries;
}

export function codes(text) {
  return [...new Set(parse(text).map((entry) => entry.code))].sort();
}

export function heaviest(text) {
  const weighed = parse(text).filter((entry) => entry.weight);
  if (weighed.length === 0) throw new Error("nothing is weighed");
  return weighed.reduce((best, entry) => (entry.weight > best.weight ? entry : best)).code;
}
`,
    "twin/tide_table.js": `// Tide tables of a small harbour.
function band(height) {
  if (height < 0.5) return "low";
  if (height <= 2.5) return "mid";
  return "high";
}

function stamp(minutes) {
  const hours = Math.floor(minutes / 60);
  const rest = minutes - hours * 60;
  return \`\${String(hours).padStart(2, "0")}:\${rest}\`;
}

export function rows(readings) {
  const lines = [];
  for (const [minutes, height] of readings) lines.push(\`\${stamp(minutes)} \${height.toFixed(1)} \${band(height)}\`);
  return lines;
}

export function summary(readings) {
  const counts = {};
  for (const [, height] of readings) {
    const name = band(height);
    counts[name] = (counts[name] ?? 0) + 1;
  }
  return counts;
}

export function highest(readings) {
  let best = null;
  for (const [minutes, height] of readings) {
    if (!best || height > best.height) best = { at: stamp(minutes), height };
  }
  return best;
}

export function mean(readings) {
  if (!readings.length) return null;
  return Math.round((readings.reduce((sum, [, height]) => sum + height, 0) / readings.length) * 100) / 100;
}
`,
  },
  faults: [
    { section: "tide_table._stamp", cause: "number-format" },
    { section: "tide_table._band", cause: "boundary" },
    { section: "ledger.line_total", cause: "wrong-constant" },
    { section: "ledger.line_total", cause: "error-swallowed" },
    { section: "ledger.discount", cause: "integer-division" },
    { section: "manifest.parse_line", cause: "floor-or-truncate" },
    { section: "manifest.heaviest", cause: "error-kind" },
  ],
  calls: [
    [
      "tide_table",
      "rows",
      [
        [
          [5, 0.2],
          [65, 2.5],
          [125, 3.1],
        ],
      ],
    ],
    [
      "tide_table",
      "summary",
      [
        [
          [5, 0.2],
          [65, 2.5],
          [125, 3.1],
        ],
      ],
    ],
    [
      "tide_table",
      "highest",
      [
        [
          [5, 0.2],
          [65, 2.5],
          [125, 3.1],
        ],
      ],
    ],
    [
      "tide_table",
      "mean",
      [
        [
          [5, 0.2],
          [65, 2.5],
          [125, 3.1],
        ],
      ],
    ],
    [
      "tide_table",
      "rows",
      [
        [
          [600, 1.0],
          [1439, 0.5],
        ],
      ],
    ],
    [
      "tide_table",
      "summary",
      [
        [
          [600, 1.0],
          [1439, 0.5],
        ],
      ],
    ],
    [
      "tide_table",
      "highest",
      [
        [
          [600, 1.0],
          [1439, 0.5],
        ],
      ],
    ],
    [
      "tide_table",
      "mean",
      [
        [
          [600, 1.0],
          [1439, 0.5],
        ],
      ],
    ],
    ["tide_table", "rows", [[]]],
    ["tide_table", "summary", [[]]],
    ["tide_table", "highest", [[]]],
    ["tide_table", "mean", [[]]],
    [
      "tide_table",
      "rows",
      [
        [
          [61, 2.49],
          [719, 2.5],
          [0, 2.6],
        ],
      ],
    ],
    [
      "tide_table",
      "summary",
      [
        [
          [61, 2.49],
          [719, 2.5],
          [0, 2.6],
        ],
      ],
    ],
    [
      "tide_table",
      "highest",
      [
        [
          [61, 2.49],
          [719, 2.5],
          [0, 2.6],
        ],
      ],
    ],
    [
      "tide_table",
      "mean",
      [
        [
          [61, 2.49],
          [719, 2.5],
          [0, 2.6],
        ],
      ],
    ],
    [
      "tide_table",
      "rows",
      [
        [
          [720, 1.25],
          [90, 1.35],
        ],
      ],
    ],
    [
      "tide_table",
      "summary",
      [
        [
          [720, 1.25],
          [90, 1.35],
        ],
      ],
    ],
    [
      "tide_table",
      "highest",
      [
        [
          [720, 1.25],
          [90, 1.35],
        ],
      ],
    ],
    [
      "tide_table",
      "mean",
      [
        [
          [720, 1.25],
          [90, 1.35],
        ],
      ],
    ],
    [
      "tide_table",
      "rows",
      [
        [
          [65, 0.05],
          [130, 0.25],
          [195, 0.35],
        ],
      ],
    ],
    [
      "tide_table",
      "summary",
      [
        [
          [65, 0.05],
          [130, 0.25],
          [195, 0.35],
        ],
      ],
    ],
    [
      "tide_table",
      "highest",
      [
        [
          [65, 0.05],
          [130, 0.25],
          [195, 0.35],
        ],
      ],
    ],
    [
      "tide_table",
      "mean",
      [
        [
          [65, 0.05],
          [130, 0.25],
          [195, 0.35],
        ],
      ],
    ],
    [
      "ledger",
      "invoice",
      [
        [
          ["pilot", 2],
          ["tug", 1],
        ],
      ],
    ],
    [
      "ledger",
      "invoice",
      [
        [
          ["pilot", 2],
          ["tug", 1],
        ],
        true,
      ],
    ],
    [
      "ledger",
      "by_kind",
      [
        [
          ["pilot", 2],
          ["tug", 1],
        ],
      ],
    ],
    ["ledger", "invoice", [[["berth", 10]]]],
    ["ledger", "invoice", [[["berth", 10]], true]],
    ["ledger", "by_kind", [[["berth", 10]]]],
    [
      "ledger",
      "invoice",
      [
        [
          ["tug", 3],
          ["tug", 1],
          ["pilot", 1],
        ],
      ],
    ],
    [
      "ledger",
      "invoice",
      [
        [
          ["tug", 3],
          ["tug", 1],
          ["pilot", 1],
        ],
        true,
      ],
    ],
    [
      "ledger",
      "by_kind",
      [
        [
          ["tug", 3],
          ["tug", 1],
          ["pilot", 1],
        ],
      ],
    ],
    [
      "ledger",
      "invoice",
      [
        [
          ["pilot", 9],
          ["berth", 3],
        ],
      ],
    ],
    [
      "ledger",
      "invoice",
      [
        [
          ["pilot", 9],
          ["berth", 3],
        ],
        true,
      ],
    ],
    [
      "ledger",
      "by_kind",
      [
        [
          ["pilot", 9],
          ["berth", 3],
        ],
      ],
    ],
    ["ledger", "invoice", [[["berth", 100]]]],
    ["ledger", "invoice", [[["berth", 100]], true]],
    ["ledger", "by_kind", [[["berth", 100]]]],
    ["ledger", "line_total", ["pilot", 2]],
    ["ledger", "line_total", ["tug", 3]],
    ["ledger", "line_total", ["berth", 4]],
    ["ledger", "line_total", ["boat", 1]],
    ["ledger", "discount", [1000, true]],
    ["ledger", "discount", [999, true]],
    ["ledger", "discount", [1010, true]],
    ["ledger", "discount", [1030, true]],
    ["ledger", "discount", [5000, false]],
    ["manifest", "parse", ["a1;Rope;2.5\n# no\nb2;Sail;\n"]],
    ["manifest", "codes", ["a1;Rope;2.5\n# no\nb2;Sail;\n"]],
    ["manifest", "heaviest", ["a1;Rope;2.5\n# no\nb2;Sail;\n"]],
    ["manifest", "parse", ["  c3 ; Buoy ; 10.75 \n\n"]],
    ["manifest", "codes", ["  c3 ; Buoy ; 10.75 \n\n"]],
    ["manifest", "heaviest", ["  c3 ; Buoy ; 10.75 \n\n"]],
    ["manifest", "parse", ["x;y;0\n"]],
    ["manifest", "codes", ["x;y;0\n"]],
    ["manifest", "heaviest", ["x;y;0\n"]],
    ["manifest", "parse", [""]],
    ["manifest", "codes", [""]],
    ["manifest", "heaviest", [""]],
    ["manifest", "parse", ["d4\ne5;Net;3.9\r\nd4;Again;3.2\n"]],
    ["manifest", "codes", ["d4\ne5;Net;3.9\r\nd4;Again;3.2\n"]],
    ["manifest", "heaviest", ["d4\ne5;Net;3.9\r\nd4;Again;3.2\n"]],
    ["manifest", "parse", ["# only\n"]],
    ["manifest", "codes", ["# only\n"]],
    ["manifest", "heaviest", ["# only\n"]],
    ["manifest", "parse", ["   # indented\nf6;Oar;1\n"]],
    ["manifest", "codes", ["   # indented\nf6;Oar;1\n"]],
    ["manifest", "heaviest", ["   # indented\nf6;Oar;1\n"]],
    ["manifest", "parse_line", ["  c3 ; Buoy ; 10.75 \n\n"]],
    ["manifest", "parse_line", ["x;y;0\n"]],
    ["manifest", "parse_line", ["  g7;Line;4.4"]],
    ["manifest", "parse_line", [""]],
    ["manifest", "parse_line", ["#"]],
  ],
  steps: [],
};
