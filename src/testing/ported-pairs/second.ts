/** Small functions in Python with JavaScript twins of one fault each, by cause: written after the signs in the code were, to see whether they hold. */
// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code of twins has templates
import type { PortedPair } from "@/testing/ported-pairs/pair";

export const SECOND: readonly PortedPair[] = [
  {
    call: "knots",
    cause: "unit-factor",
    original: "def knots(kmh):\n    return kmh / 1.852",
    twin: "export function knots(kmh) { return kmh / 1852; }",
    inputs: [[10], [18.52], [3], [40], [7]],
  },
  {
    call: "harbour_fee",
    cause: "not-ported-branch",
    original:
      "def harbour_fee(length, kind):\n    fee = length * 4\n    if kind == 'tanker':\n        fee += 250\n    elif kind == 'sail':\n        fee -= 10\n    return fee",
    twin: "export function harbourFee(length, kind) { let fee = length * 4; if (kind === 'sail') fee -= 10; return fee; }",
    inputs: [
      [10, "tanker"],
      [12, "sail"],
      [9, "other"],
      [30, "tanker"],
      [8, "sail"],
    ],
  },
  {
    call: "note_line",
    cause: "null-and-missing",
    original:
      "def note_line(id, note=None):\n    if note is None:\n        return f'#{id}'\n    return f'#{id} {note}'",
    twin: "export function noteLine(id, note) { return `#${id} ${note}`; }",
    inputs: [[1, "ok"], [2, null], [3], [4, "late"]],
  },
  {
    call: "pick_depth",
    cause: "empty-and-missing",
    original: "def pick_depth(given, usual):\n    if given is None:\n        given = usual\n    return given * 2",
    twin: "export function pickDepth(given, usual) { return (given || usual) * 2; }",
    inputs: [
      [0, 4],
      [3, 4],
      [null, 5],
      [0, 7],
    ],
  },
  {
    call: "log_head",
    cause: "epoch-unit",
    original:
      "import datetime\ndef log_head(t, who):\n    when = datetime.datetime.fromtimestamp(t, datetime.timezone.utc).isoformat()\n    return f'[{when}] {who} came'",
    twin: "export function logHead(t, who) { return `[${new Date(t).toISOString().replace('.000Z', '+00:00')}] ${who} came`; }",
    inputs: [
      [1700000000, "a"],
      [1650000000, "b"],
      [1750000000, "c"],
    ],
  },
  {
    call: "by_rank",
    cause: "unstable-sort",
    original: "def by_rank(rows):\n    return [r['n'] for r in sorted(rows, key=lambda r: -r['rank'])]",
    twin: "export function byRank(rows) { return rows.map((r, i) => [r, i]).sort((a, b) => b[0].rank - a[0].rank || b[1] - a[1]).map(([r]) => r.n); }",
    inputs: [
      [
        [
          {
            n: "a",
            rank: 1,
          },
          {
            n: "b",
            rank: 1,
          },
          {
            n: "c",
            rank: 2,
          },
        ],
      ],
      [
        [
          {
            n: "x",
            rank: 3,
          },
          {
            n: "y",
            rank: 1,
          },
        ],
      ],
      [
        [
          {
            n: "p",
            rank: 5,
          },
          {
            n: "q",
            rank: 5,
          },
        ],
      ],
    ],
  },
  {
    call: "vat",
    cause: "rounding-mode",
    original: "def vat(net):\n    return round(net * 0.25, 1)",
    twin: "export function vat(net) { return Math.round(net * 0.25 * 10) / 10; }",
    inputs: [[1], [3], [5], [7], [9], [10], [11], [4.2]],
  },
  {
    call: "single_half",
    cause: "rounding-mode",
    original: "def single_half(n, d):\n    return round(n / d)",
    twin: "export function singleHalf(n, d) { return Math.round(n / d); }",
    inputs: [
      [9, 2],
      [7, 3],
      [10, 4.1],
      [8, 3],
    ],
  },
  {
    call: "clock_hand",
    cause: "remainder-sign",
    original: "def clock_hand(m):\n    return (m - 15) % 60",
    twin: "export function clockHand(m) { return (m - 15) % 60; }",
    inputs: [[0], [10], [15], [30], [59], [5]],
  },
  {
    call: "row_of",
    cause: "floor-or-truncate",
    original: "import math\ndef row_of(y):\n    return math.floor(y / 24)",
    twin: "export function rowOf(y) { return parseInt(y / 24); }",
    inputs: [[0], [-1], [25], [-30], [48], [-24.5]],
  },
  {
    call: "pairs_in",
    cause: "integer-division",
    original: "def pairs_in(n):\n    return n // 2 + 1",
    twin: "export function pairsIn(n) { return n / 2 + 1; }",
    inputs: [[2], [3], [5], [8], [11]],
  },
  {
    call: "crew_list",
    cause: "sort-order",
    original: "def crew_list(names):\n    return ', '.join(sorted(names))",
    twin: "export function crewList(names) { return [...names].sort((a, b) => a.localeCompare(b)).join(', '); }",
    inputs: [[["bo", "Al", "cy"]], [["Zed", "amy"]], [["a", "b"]]],
  },
  {
    call: "label_cut",
    cause: "code-units",
    original: "def label_cut(s):\n    return s[:3]",
    twin: "export function labelCut(s) { return s.slice(0, 3); }",
    inputs: [["abcd"], ["🐦🐦x"], ["a🐦bc"], ["né"], ["🚀"]],
  },
  {
    call: "quarter_of",
    cause: "zero-based-month",
    original: "import datetime\ndef quarter_of(text):\n    m = datetime.date.fromisoformat(text).month\n    return m",
    twin: "export function quarterOf(text) { return new Date(text + 'T00:00:00Z').getUTCMonth(); }",
    inputs: [["2031-01-05"], ["2031-06-30"], ["2031-12-01"], ["2031-03-09"]],
  },
  {
    call: "day_no",
    cause: "weekday-base",
    original: "import datetime\ndef day_no(text):\n    return datetime.date.fromisoformat(text).isoweekday()",
    twin: "export function dayNo(text) { return new Date(text + 'T00:00:00Z').getUTCDay(); }",
    inputs: [["2031-01-05"], ["2031-06-29"], ["2031-12-01"], ["2031-03-09"], ["2031-01-12"]],
  },
  {
    call: "sorted_copy",
    cause: "changed-argument",
    original: "def sorted_copy(xs):\n    return sorted(xs, reverse=True)",
    twin: "export function sortedCopy(xs) { return xs.sort((a, b) => b - a); }",
    inputs: [[[1, 3, 2]], [[5, 9]], [[4, 4]]],
  },
  {
    call: "clean",
    cause: "whitespace",
    original: "def clean(s):\n    return ' '.join(s.split())",
    twin: "export function clean(s) { return s.trim(); }",
    inputs: [["a  b"], [" x y "], ["p\tq"], ["one"]],
  },
  {
    call: "csv_row",
    cause: "separator",
    original: "def csv_row(xs):\n    return ';'.join(str(x) for x in xs)",
    twin: "export function csvRow(xs) { return xs.join(','); }",
    inputs: [[[1, 2]], [["a", "b", "c"]], [[7]]],
  },
  {
    call: "percent",
    cause: "number-format",
    original: "def percent(x):\n    return f'{x:.1f} %'",
    twin: "export function percent(x) { return `${x} %`; }",
    inputs: [[5], [12.25], [3.5], [100]],
  },
  {
    call: "undash",
    cause: "first-only",
    original: "def undash(s):\n    return s.replace('-', '')",
    twin: "export function undash(s) { return s.replace('-', ''); }",
    inputs: [["a-b"], ["a-b-c"], ["-x-"], ["q"]],
  },
  {
    call: "depth_of",
    cause: "not-a-number",
    original: "def depth_of(s):\n    try:\n        return float(s)\n    except ValueError:\n        return None",
    twin: "export function depthOf(s) { return Number(s === '' ? 'x' : s); }",
    inputs: [["1.5"], ["deep"], [""], ["7"], ["4m"]],
  },
  {
    call: "checksum",
    cause: "int32-wrap",
    original: "def checksum(n):\n    return n << 4",
    twin: "export function checksum(n) { return n << 4; }",
    inputs: [[1], [2000000000], [500000000], [77]],
  },
  {
    call: "serial",
    cause: "integer-precision",
    original: "def serial(n):\n    return n + 1",
    twin: "export function serial(n) { return Number(n) + 1; }",
    inputs: [
      [5],
      [
        {
          "~int": "9007199254740993",
        },
      ],
      [
        {
          "~int": "12345678901234567890",
        },
      ],
      [41],
    ],
  },
  {
    call: "tags",
    cause: "duplicates",
    original:
      "def tags(text):\n    seen = []\n    for w in text.split():\n        if w not in seen:\n            seen.append(w)\n    return seen",
    twin: "export function tags(text) { return text.split(/\\s+/).filter((w) => w !== ''); }",
    inputs: [["a b a"], ["x"], ["p p p q"], ["one two"]],
  },
  {
    call: "initials",
    cause: "text-case",
    original: "def initials(s):\n    return ''.join(w[0].upper() for w in s.split())",
    twin: "export function initials(s) { return s.split(/\\s+/).map((w) => w[0]).join(''); }",
    inputs: [["ann bo"], ["Cy Dee"], ["x y z"]],
  },
  {
    call: "tail_end",
    cause: "last-item",
    original: "def tail_end(xs):\n    return [x * 2 for x in xs]",
    twin: "export function tailEnd(xs) { const out = []; for (let i = 0; i < xs.length - 1; i++) out.push(xs[i] * 2); return out; }",
    inputs: [[[1, 2, 3]], [[4]], [[5, 6]], [[7, 8, 9, 10]]],
  },
  {
    call: "berth_ok",
    cause: "boundary",
    original: "def berth_ok(length):\n    return length <= 120",
    twin: "export function berthOk(length) { return length < 120; }",
    inputs: [[100], [120], [121], [90], [300]],
  },
  {
    call: "open_gate",
    cause: "error-swallowed",
    original: "def open_gate(level):\n    if level > 9:\n        raise ValueError('too high')\n    return 'open'",
    twin: "export function openGate(level) { try { if (level > 9) throw new Error('too high'); return 'open'; } catch { return 'open'; } }",
    inputs: [[1], [12], [5], [30]],
  },
  {
    call: "must_have",
    cause: "error-added",
    original: "def must_have(d):\n    return d.get('depth', 0)",
    twin: "export function mustHave(d) { return d.depth.valueOf(); }",
    inputs: [
      [
        {
          depth: 3,
        },
      ],
      [{}],
      [
        {
          other: 1,
        },
      ],
      [
        {
          depth: 9,
        },
      ],
    ],
  },
  {
    call: "msg_of",
    cause: "error-message",
    original: "def msg_of(n):\n    if n < 0:\n        raise ValueError('level below zero')\n    return n",
    twin: "export function msgOf(n) { if (n < 0) throw new ValueError('negative level'); return n; }\nclass ValueError extends Error {}",
    inputs: [[1], [-1], [-5], [2]],
  },
  {
    call: "pair_up",
    cause: "key-naming",
    original: "def pair_up(a):\n    return {'total': a, 'count': 1}",
    twin: "export function pairUp(a) { return { sum: a, count: 1 }; }",
    inputs: [[1], [2], [3]],
  },
  {
    call: "with_tax",
    cause: "extra-key",
    original: "def with_tax(n):\n    return {'n': n}",
    twin: "export function withTax(n) { return { n, tax: n / 5 }; }",
    inputs: [[5], [10], [15]],
  },
  {
    call: "balance",
    cause: "sign-flip",
    original: "def balance(inn, out):\n    return inn - out",
    twin: "export function balance(inn, out) { return out - inn; }",
    inputs: [
      [5, 3],
      [1, 9],
      [7, 2],
      [100, 1],
    ],
  },
  {
    call: "is_full",
    cause: "boolean-and-number",
    original: "def is_full(n, cap):\n    return n >= cap",
    twin: "export function isFull(n, cap) { return Number(n >= cap); }",
    inputs: [
      [1, 2],
      [2, 2],
      [5, 3],
    ],
  },
  {
    call: "as_id",
    cause: "text-and-number",
    original: "def as_id(n):\n    return str(n + 100)",
    twin: "export function asId(n) { return n + 100; }",
    inputs: [[1], [2], [50]],
  },
  {
    call: "weights",
    cause: "summation-order",
    original: "import math\ndef weights(xs):\n    return math.fsum(xs)",
    twin: "export function weights(xs) { let t = 0; for (const x of xs) t += x; return t; }",
    inputs: [
      [[0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1]],
      [[1e16, 1.0, -1e16]],
      [[0.1, 0.2, 0.3]],
      [[0.5, 0.5]],
    ],
  },
  {
    call: "slots",
    cause: "off-by-one",
    original: "def slots(a, b):\n    return b - a + 1",
    twin: "export function slots(a, b) { return b - a; }",
    inputs: [
      [1, 5],
      [2, 2],
      [10, 30],
    ],
  },
  {
    call: "angle",
    cause: "wrong-constant",
    original: "def angle(h):\n    return h * 30 + 15",
    twin: "export function angle(h) { return h * 30 + 51; }",
    inputs: [[1], [2], [3], [7]],
  },
  {
    call: "html",
    cause: "escaping",
    original: "import html as h\ndef html(s):\n    return h.escape(s)",
    twin: "export function html(s) { return s; }",
    inputs: [["a<b"], ["x&y"], ["plain"], ['"q"']],
  },
  {
    call: "kilo",
    cause: "float32-precision",
    original: "def kilo(x):\n    return x * 1.1",
    twin: "export function kilo(x) { return Math.fround(x * 1.1); }",
    inputs: [[1.5], [2.7], [3.3], [9.1]],
  },
  {
    call: "s_wrong_op",
    cause: null,
    original: "def s_wrong_op(a, b):\n    return a * b + 3",
    twin: "export function sWrongOp(a, b) { return a + b + 3; }",
    inputs: [
      [5, 2],
      [9, 4],
      [3, 7],
      [8, 6],
    ],
  },
  {
    call: "s_index",
    cause: null,
    original: "def s_index(xs):\n    return xs[0] + xs[-1]",
    twin: "export function sIndex(xs) { return xs[0] + xs[0]; }",
    inputs: [[[1, 2, 3]], [[4, 9]], [[5]], [[7, 1]]],
  },
  {
    call: "s_arg",
    cause: null,
    original: "def s_arg(a, b, c):\n    return f'{a}/{b}/{c}'",
    twin: "export function sArg(a, b, c) { return `${a}/${c}/${b}`; }",
    inputs: [
      ["x", "y", "z"],
      ["p", "q", "q"],
      ["k", "l", "m"],
    ],
  },
  {
    call: "s_ret",
    cause: null,
    original: "def s_ret(n):\n    if n % 3 == 0:\n        return 'fizz'\n    return str(n)",
    twin: "export function sRet(n) { if (n % 3 === 0) return String(n); return String(n); }",
    inputs: [[3], [4], [6], [7], [9]],
  },
];
