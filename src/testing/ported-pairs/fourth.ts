/**
 * Functions of several lines ported from JavaScript to Python and from Python to JavaScript, with one fault each, some of them
 * slips. They were held out after everything before them had been mended: the figures are in docs/testing.md.
 */
// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code has templates
import { each, type PortedPair, pair } from "@/testing/ported-pairs/pair";

export const FOURTH_TO_PYTHON: readonly PortedPair[] = [
  pair(
    "rounding-mode",
    "shareOut",
    "export function shareOut(pence, people) {\n  const each = pence / people;\n  const rounded = Math.round(each);\n  return { each: rounded, over: pence - rounded * people };\n}",
    'def share_out(pence, people):\n    each = pence / people\n    rounded = round(each)\n    return {"each": rounded, "over": pence - rounded * people}',
    [
      [5, 2],
      [9, 2],
      [10, 4],
      [7, 3],
      [13, 2],
      [8, 2],
    ],
  ),
  pair(
    "sort-order",
    "rankBoats",
    "export function rankBoats(boats) {\n  return boats\n    .slice()\n    .sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))\n    .map((boat) => boat.name);\n}",
    'def rank_boats(boats):\n    ordered = sorted(boats, key=lambda boat: boat["name"].lower())\n    return [boat["name"] for boat in ordered]',
    each(
      [{ name: "auk" }, { name: "Bee" }, { name: "cod" }],
      [{ name: "Zed" }, { name: "ant" }],
      [{ name: "a" }, { name: "b" }],
    ),
  ),
  pair(
    "int32-wrap",
    "mixBits",
    "export function mixBits(seed) {\n  let state = seed | 0;\n  for (let turn = 0; turn < 3; turn++) state = (state << 5) ^ (state >> 2) ^ turn;\n  return state;\n}",
    "def mix_bits(seed):\n    state = seed\n    for turn in range(3):\n        state = (state << 5) ^ (state >> 2) ^ turn\n    return state",
    each(1, 99999, 123456789, 40, 2000000000),
  ),
  pair(
    "code-units",
    "cutLabel",
    "export function cutLabel(text, width) {\n  if (text.length <= width) return text;\n  return `${text.slice(0, width - 1)}~`;\n}",
    'def cut_label(text, width):\n    if len(text) <= width:\n        return text\n    return text[: width - 1] + "~"',
    [
      ["harbour", 4],
      ["😀😀😀", 4],
      ["ab😀cd", 5],
      ["pier", 9],
    ],
  ),
  pair(
    "null-and-missing",
    "passengerRow",
    "export function passengerRow(person) {\n  const row = { name: person.name };\n  if (person.cabin) row.cabin = person.cabin;\n  return row;\n}",
    'def passenger_row(person):\n    return {"name": person["name"], "cabin": person.get("cabin")}',
    each({ name: "Ada", cabin: "B2" }, { name: "Bo" }, { name: "Cy", cabin: "A1" }, { name: "Di" }),
  ),
  pair(
    "zero-based-month",
    "quarterOf",
    "export function quarterOf(iso) {\n  const date = new Date(`${iso}T00:00:00Z`);\n  return [date.getUTCFullYear(), date.getUTCMonth()];\n}",
    "from datetime import date\n\ndef quarter_of(iso):\n    day = date.fromisoformat(iso)\n    return [day.year, day.month]",
    each("2031-01-15", "2030-08-01", "2029-12-31"),
  ),
  pair(
    "error-added",
    "totalFee",
    "export function totalFee(items) {\n  let total = 0;\n  for (const item of items) total += Number(item.fee ?? 0);\n  return total;\n}",
    'def total_fee(items):\n    total = 0\n    for item in items:\n        total += int(item["fee"])\n    return total',
    each([{ fee: 3 }, { fee: 4 }], [{ fee: 3 }, {}], [], [{}]),
  ),
  pair(
    "first-only",
    "slug",
    'export function slug(title) {\n  const plain = title.toLowerCase().trim();\n  return plain.replace(" ", "-");\n}',
    'def slug(title):\n    plain = title.lower().strip()\n    return plain.replace(" ", "-")',
    each("North Pier", "The Old Sea Wall", "Quay", "a b c d"),
  ),
  pair(
    "boundary",
    "tariff",
    "export function tariff(metres) {\n  if (metres < 8) return 10;\n  if (metres < 15) return 25;\n  return 60;\n}",
    "def tariff(metres):\n    if metres <= 8:\n        return 10\n    if metres < 15:\n        return 25\n    return 60",
    each(5, 8, 9, 14, 15, 30),
  ),
  pair(
    "wrong-constant",
    "fuelFor",
    "export function fuelFor(miles, rate) {\n  const litres = miles * rate * 1.15;\n  return litres + 20;\n}",
    "def fuel_for(miles, rate):\n    litres = miles * rate * 1.1\n    return litres + 20",
    [
      [10, 2],
      [33, 4],
      [7, 9],
      [120, 1],
    ],
  ),
  pair(
    null,
    "netWeight",
    "export function netWeight(gross, tare, count) {\n  const each = gross - tare;\n  return each * count;\n}",
    "def net_weight(gross, tare, count):\n    each = gross - tare\n    return each * tare",
    [
      [10, 2, 5],
      [8, 3, 7],
      [20, 4, 2],
    ],
  ),
  pair(
    null,
    "nextTide",
    "export function nextTide(times, now) {\n  for (const time of times) {\n    if (time > now) return time;\n  }\n  return null;\n}",
    "def next_tide(times, now):\n    found = None\n    for time in times:\n        if time > now:\n            found = time\n    return found",
    [
      [[3, 9, 15], 4],
      [[1, 2], 5],
      [[6, 12], 1],
      [[7], 3],
    ],
  ),
];

export const FOURTH_FROM_PYTHON: readonly PortedPair[] = [
  pair(
    "integer-division",
    "mean_load",
    "def mean_load(loads):\n    if not loads:\n        return 0\n    return sum(loads) // len(loads)",
    "export function meanLoad(loads) {\n  if (loads.length === 0) return 0;\n  return loads.reduce((sum, load) => sum + load, 0) / loads.length;\n}",
    each([3, 4], [10, 10, 11], [], [6, 2]),
  ),
  pair(
    "empty-and-missing",
    "greeting",
    'def greeting(name, title=None):\n    shown = title if title is not None else "Captain"\n    return f"{shown} {name}"',
    'export function greeting(name, title = null) {\n  const shown = title || "Captain";\n  return `${shown} ${name}`;\n}',
    [["Ada", "Mate"], ["Bo", ""], ["Cy", null], ["Di"]],
  ),
  pair(
    "remainder-sign",
    "compass",
    "def compass(bearing, turn):\n    now = (bearing - turn) % 360\n    return now // 90",
    "export function compass(bearing, turn) {\n  const now = (bearing - turn) % 360;\n  return Math.floor(now / 90);\n}",
    [
      [10, 100],
      [200, 20],
      [0, 1],
      [350, 90],
    ],
  ),
  pair(
    "whitespace",
    "read_fields",
    'def read_fields(line):\n    return [part.strip() for part in line.split(";")]',
    'export const readFields = (line) => line.split(";");',
    each("a; b", "x;y", " p ;q", "one"),
  ),
  pair(
    "number-format",
    "price_line",
    'def price_line(name, price):\n    return f"{name}: {price:.2f}"',
    "export const priceLine = (name, price) => `${name}: ${price}`;",
    [
      ["rope", 3.5],
      ["tar", 2],
      ["oil", 10.25],
      ["net", 7.1],
    ],
  ),
  pair(
    "error-swallowed",
    "berth_by",
    'def berth_by(berths, name):\n    if name not in berths:\n        raise LookupError(f"no berth for {name}")\n    return berths[name]',
    "export const berthBy = (berths, name) => berths[name];",
    [
      [{ auk: 3 }, "auk"],
      [{ auk: 3 }, "tern"],
      [{}, "gull"],
      [{ gull: 1 }, "gull"],
    ],
  ),
  pair(
    "order-only",
    "seen_ports",
    "def seen_ports(visits):\n    return sorted(set(visits))",
    "export const seenPorts = (visits) => [...new Set(visits)];",
    each(["b", "a"], ["c", "a", "c"], ["a", "b"]),
  ),
  pair(
    "off-by-one",
    "light_cycle",
    "def light_cycle(flashes):\n    total = 0\n    for flash in range(1, flashes + 1):\n        total += flash * 2\n    return total",
    "export function lightCycle(flashes) {\n  let total = 0;\n  for (let flash = 1; flash < flashes; flash++) total += flash * 2;\n  return total;\n}",
    each(1, 2, 5, 9),
  ),
  pair(
    "epoch-unit",
    "sailed_at",
    "from datetime import datetime\n\ndef sailed_at(iso):\n    return int(datetime.fromisoformat(iso).timestamp())",
    "export const sailedAt = (iso) => new Date(iso).getTime();",
    each("2031-01-05T10:00:00+00:00", "2029-07-01T00:00:30+00:00", "2030-12-31T23:59:59+00:00"),
  ),
  pair(
    "missing-key",
    "log_entry",
    'def log_entry(wind, sea):\n    return {"wind": wind, "sea": sea, "calm": wind < 4}',
    "export const logEntry = (wind, sea) => ({ wind, sea });",
    [
      [3, "flat"],
      [7, "rough"],
    ],
  ),
  pair(
    null,
    "longest_leg",
    "def longest_leg(legs):\n    longest = 0\n    for leg in legs:\n        if leg > longest:\n            longest = leg\n    return longest",
    "export function longestLeg(legs) {\n  let longest = 0;\n  for (const leg of legs) {\n    if (leg > longest) longest += leg;\n  }\n  return longest;\n}",
    each([3, 5, 4], [2], [1, 2, 9], [6, 7]),
  ),
  pair(
    null,
    "discount",
    "def discount(total, member):\n    if member:\n        return total * 0.9\n    return total",
    "export function discount(total, member) {\n  if (!member) return total * 0.9;\n  return total;\n}",
    [
      [100, true],
      [50, false],
      [30, true],
    ],
  ),
];
