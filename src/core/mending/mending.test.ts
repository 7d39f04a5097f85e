// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code that is changed has templates
import { describe, expect, it } from "vitest";
import { branchesIn } from "@/core/mending/branches";
import { applyEdit, diffOf } from "@/core/mending/edit";
import { MEND_LANGUAGES } from "@/core/mending/languages/index";
import { scoreLines } from "@/core/mending/places";
import { loadParser } from "@/engine/source/parse";

type Given = {
  readonly numbers?: readonly number[];
  readonly texts?: readonly string[];
  readonly causes?: readonly string[];
  readonly branches?: readonly string[];
};

const changesOf = async (language: string, text: string, given: Given = {}) => {
  const tree = (await loadParser([language]))(text, language);
  const edits = MEND_LANGUAGES.get(language)?.editsOf({
    root: tree?.root as never, // the grammar ships
    text,
    isSuspect: (line) => line === 2,
    numbers: given.numbers ?? [],
    texts: given.texts ?? [],
    causes: given.causes ?? [],
    branches: given.branches ?? [],
  });
  const made = (edits ?? []).map((edit) => ({ ...edit, after: applyEdit(text, edit).split("\n")[1]?.trim() }));
  tree?.free();
  return made;
};
const js = async (line: string, given = {}) =>
  (await changesOf("typescript", `async function f(a, b) {\n  ${line}\n}\n`, given)).map(({ after }) => after);
const py = async (line: string, given = {}) =>
  (await changesOf("python", `def f(a, b):\n    ${line}\n`, given)).map(({ after }) => after);

describe("changes of JavaScript and TypeScript", () => {
  it.each([
    ["return a < b;", "return a <= b;"],
    ["return a % b;", "return (((a % b) + (b)) % (b));"],
    ["return a / b;", "return Math.floor(a / b);"],
    ["return Math.trunc(a);", "return Math.floor(a);"],
    ["return a || b;", "return a ?? b;"],
    ["return a.sort();", "return a.sort((a, b) => a - b);"],
    ["return a.localeCompare(b);", "return (a < b ? -1 : a > b ? 1 : 0);"],
    ["return g(a, b);", "return g(b, a);"],
    ["return g(a, b);", "return (await g(a, b));"],
    ["return a + 1;", "return a;"],
    ["if (a) return b;", "if (!(a)) return b;"],
    ["return a ? 1 : 2;", "return a ? 2 : 1;"],
    ["return a.length;", "return [...a].length;"],
    ["return a.trim();", "return a.trimEnd();"],
    ["return new Date(a);", "return new Date((a) * 1000);"],
    ["return -a;", "return a;"],
    ["return a;", "return b;"],
    ["b.push(a);", ";"],
    ["m.set(1, a);", "m.set(1, { ...a });"],
    ["return a && b;", "return a && !b;"],
    ["return a.map(f).filter(g);", "return a.filter(g).map(f);"],
    ["return { x: 1, y: 2 };", "return { x: 2, y: 1 };"],
    ["return `${a}-${b}`;", "return `${b}-${a}`;"],
    ["return `${a} kn`;", "return `${(a).toFixed(2)} kn`;"],
    ["return [...a].sort();", "return [...new Set(a)].sort();"],
    ["return a ? 1 : 0;", "return (a);"],
    ["return a ? 0 : 1;", "return !(a);"],
    ["return a.slice(0, 2);", "return (a.slice(0, 2)).toUpperCase();"],
    ["return a.getUTCMonth();", "return (a.getUTCMonth() + 1);"],
    ["return a + 2;", "return Number(a) + 2;"],
    ["return Array.from({ length: a - b });", "return Array.from({ length: a - b + 1 });"],
    ["const f = (x) => x.name;", "const f = (x) => (x.name).trim();"],
  ])("%s can become %s", async (line, wanted) => {
    expect(await js(line)).toContain(wanted);
  });

  it("take the numbers and texts of the original, those that the twin lacks first", async () => {
    const made = await changesOf("javascript", "function f(a) {\n  return a > 41 ? 'x' : 7;\n}\n", {
      numbers: [40, 7],
      texts: ["gate"],
    });
    expect(made.map(({ after }) => after)).toEqual(
      expect.arrayContaining(["return a > 40 ? 'x' : 7;", 'return a > 41 ? "gate" : 7;']),
    );
    const prior = (text: string) => made.find(({ after }) => after === text)?.prior ?? 0;
    expect(prior("return a > 40 ? 'x' : 7;")).toBeGreaterThan(prior("return a > 7 ? 'x' : 7;"));
  });

  it("spell keys as the original does, one or all at once", async () => {
    const made = (
      await changesOf("javascript", "function f(a) {\n  return { firstName: a, lastName: a };\n}\n", {
        texts: ["first_name", "last_name", "age"],
      })
    ).map(({ after }) => after);
    expect(made).toContain('return { "first_name": a, lastName: a };');
    expect(made).toContain('return { "first_name": a, "last_name": a };');
  });

  it("add a branch that the original has and the twin lacks, before each statement and to an arrow's expression", async () => {
    const branches = ["if (fog) return 'horn';", "if (a) return 1;"];
    const block = await changesOf("javascript", "function f(a, fog) {\n  if (a) return 1;\n  return 2;\n}\n", {
      branches,
    });
    const added = block.filter(({ what }) => what === "a branch of the original is added");
    expect(added.map(({ text }) => text)).toEqual(["if (fog) return 'horn'; ", "if (fog) return 'horn'; "]);
    const arrow = await changesOf("javascript", "const f =\n  (a, fog) => (a ? 1 : 2);\n", {
      branches: branches.slice(0, 1),
    });
    expect(arrow.map(({ after }) => after)).toContain("(a, fog) => { if (fog) return 'horn'; return a ? 1 : 2; };");
  });

  it("are likelier where a cause is suspected, and none is made elsewhere", async () => {
    const best = async (causes: string[]) =>
      (await changesOf("javascript", "function f(a) {\n  return Math.round(a);\n}\nf(1);\n", { causes })).toSorted(
        (x, y) => y.prior - x.prior,
      )[0];
    expect((await best(["rounding-mode"]))?.what).toBe("halves go to the even neighbour");
    const all = await changesOf("javascript", "function f(a) {\n  return a;\n}\nf(1);\n");
    expect(new Set(all.map(({ line }) => line))).toEqual(new Set([2]));
  });
});

describe("changes of Python", () => {
  it.each([
    ["return a // b", "return a / b"],
    ["return round(a)", "return int((a) // 1 + ((a) % 1 >= 0.5))"],
    ["return a or b", "return (b if a is None else a)"],
    ["return a and b", "return a or b"],
    ["return sorted(a)", "return sorted(a, key=str)"],
    ["return list(range(a))", "return list(range((a) + 1))"],
    ["return a.strip()", "return a.rstrip()"],
    ["return a <= b", "return a < b"],
    ["return g(a, b)", "return g(b, a)"],
    ["return not a", "return a"],
    ["return 1 if a else 2", "return 2 if a else 1"],
    ["return date(a, b, 1)", "return date(a, b - 1, 1)"],
    ["b.append(a)", "pass"],
    ["return [a]", "return [b]"],
    ["return a and b", "return a and (not b)"],
    ["return a[:2]", "return (a[:2]).upper()"],
    ["return {'x': 1, 'y': 2}", "return {'x': 2, 'y': 1}"],
    ["return a + b", "return a * b"],
  ])("%s can become %s", async (line, wanted) => {
    expect(await py(line)).toContain(wanted);
  });
});

describe("branches", () => {
  const of = async (language: string, text: string, withheld: RegExp | null = null) => {
    const tree = (await loadParser([language]))(text, language);
    const found = branchesIn(tree?.root as never, { from: 1, to: text.split("\n").length }, withheld); // the grammar ships
    tree?.free();
    return found;
  };

  it("of JavaScript are each an if of its own, those of a chain too", async () => {
    const code = "function f(a) {\n  if (a > 1) return 1;\n  else if (a < 0) { return helper(a); }\n  return 0;\n}\n";
    expect(await of("javascript", code)).toEqual(["if (a > 1) return 1;", "if (a < 0) { return helper(a); }"]);
    expect(await of("javascript", code, /\bhelper\b/)).toEqual(["if (a > 1) return 1;"]);
  });

  it("of Python begin at the left edge, and can be put before a statement of a twin", async () => {
    const code =
      "def f(a):\n    if a > 1:\n        b = 2\n        return b\n    elif a < 0:\n        return 3\n    return 0\n";
    const branches = await of("python", code);
    expect(branches).toEqual(["if a > 1:\n    b = 2\n    return b\n", "if a < 0:\n    return 3\n"]);
    const made = await changesOf("python", "def f(a):\n    return 0\n", { branches });
    const added = made.filter(({ what }) => what === "a branch of the original is added");
    expect(added.map(({ text }) => text)).toEqual([
      "if a > 1:\n        b = 2\n        return b\n    ",
      "if a < 0:\n        return 3\n    ",
    ]);
  });
});

describe("places and diffs", () => {
  it("score lines by how much more differing cases run them than agreeing ones", () => {
    const scores = scoreLines([
      { lines: new Set([1, 2]), isDiffering: true },
      { lines: new Set([1, 2]), isDiffering: true },
      { lines: new Set([1, 3]), isDiffering: false },
    ]);
    expect(scores.get(2)).toBe(1);
    expect(scores.get(1)).toBeCloseTo(2 / Math.sqrt(6));
    expect(scores.has(3)).toBe(false);
  });

  it("show a change with three lines around, at the ends of a file too", () => {
    const before = "1\n2\n3\n4\n5\n6\n7\n";
    expect(diffOf("a.ts", before, before.replace("5", "five\nmore"))).toBe(
      "--- a.ts\n+++ a.ts\n@@ -2,7 +2,8 @@\n 2\n 3\n 4\n-5\n+five\n+more\n 6\n 7\n \n",
    );
    expect(diffOf("a.ts", "x\n", "y\n")).toBe("--- a.ts\n+++ a.ts\n@@ -1,2 +1,2 @@\n-x\n+y\n \n");
  });
});

/** The likeliest changes of a line, the first ones first. */
const LIKELIEST: readonly (readonly [language: string, line: string, given: Given, likeliest: readonly string[]])[] = [
  [
    "typescript",
    "return a < b;",
    {},
    [
      "return a <= b;",
      "return a >= b;",
      "return a > b;",
      "return b < b;",
      "return a < a;",
      "return (a < b) + 1;",
      "return (a < b) - 1;",
    ],
  ],
  [
    "typescript",
    "return a >= 3;",
    { numbers: [4] },
    [
      "return a >= 4;",
      "return a < 3;",
      "return a <= 3;",
      "return a > 3;",
      "return a >= 2;",
      "return b >= 3;",
      "return (a >= 3) + 1;",
    ],
  ],
  [
    "typescript",
    "return a === b && !a;",
    {},
    [
      "return a === b || !a;",
      "return a !== b && !a;",
      "return a === b && a;",
      "return b === b && !a;",
      "return a === a && !a;",
      "return a === b && !b;",
      "return a === b;",
    ],
  ],
  [
    "typescript",
    "return a * 2 + b;",
    { numbers: [7] },
    [
      "return a * 7 + b;",
      "return a * 2 - b;",
      "return a * 2 * b;",
      "return a + 2 + b;",
      "return a - 2 + b;",
      "return a / 2 + b;",
      "return a % 2 + b;",
    ],
  ],
  [
    "typescript",
    "return a[0];",
    {},
    [
      "return a[1];",
      "return a[-1];",
      "return b[0];",
      "return (a[0]) + 1;",
      "return (a[0]) - 1;",
      "return -(a[0]);",
      "return !(a[0]);",
    ],
  ],
  [
    "typescript",
    "return Math.round(a * 100) / 100;",
    {},
    [
      "return Math.round(a * 100) * 100;",
      "return Math.round(a * 100) % 100;",
      "return ((value) => Math.abs(value % 1) === 0.5 ? 2 * Math.round(value / 2) : Math.round(value))(a * 100) / 100;",
      "return (await Math.round(a * 100)) / 100;",
      "return Math.floor(a * 100) / 100;",
      "return Math.trunc(a * 100) / 100;",
      "return Math.ceil(a * 100) / 100;",
    ],
  ],
  [
    "typescript",
    "return a.slice(1, 3);",
    {},
    [
      "return (await a.slice(1, 3));",
      "return a.substring(1, 3);",
      "return a.slice(2, 3);",
      "return a.slice(0, 3);",
      "return a.slice(1, 4);",
      "return a.slice(1, 2);",
      "return a.slice(3, 1);",
    ],
  ],
  [
    "typescript",
    "return a ? b : 0;",
    {},
    [
      "return a ? b : 1;",
      "return a ? b : -1;",
      "return a ? 0 : b;",
      "return b ? b : 0;",
      "return a ? a : 0;",
      "return (a ? b : 0) + 1;",
      "return (a ? b : 0) - 1;",
    ],
  ],
  [
    "typescript",
    "return a ?? b;",
    {},
    [
      "return a || b;",
      "return b ?? b;",
      "return a ?? a;",
      "return (a ?? b) + 1;",
      "return (a ?? b) - 1;",
      "return -(a ?? b);",
      "return !(a ?? b);",
    ],
  ],
  [
    "typescript",
    "if (a > 1) return b;",
    {},
    [
      "if (a < 1) return b;",
      "if (a <= 1) return b;",
      "if (a >= 1) return b;",
      "if (!(a > 1)) return b;",
      "if (a > 2) return b;",
      "if (a > 0) return b;",
      "if (b > 1) return b;",
    ],
  ],
  [
    "typescript",
    "return `${a} of ${b}`;",
    { texts: ["at"] },
    [
      "return `${b} of ${b}`;",
      "return `${a} of ${a}`;",
      "return `${b} of ${a}`;",
      "return (`${a} of ${b}`) + 1;",
      "return (`${a} of ${b}`) - 1;",
      "return -(`${a} of ${b}`);",
      "return !(`${a} of ${b}`);",
    ],
  ],
  [
    "typescript",
    "return a.toFixed(2);",
    {},
    [
      "return (await a.toFixed(2));",
      "return a.toFixed(3);",
      "return a.toFixed(1);",
      "return b.toFixed(2);",
      "return (a.toFixed(2)) + 1;",
      "return (a.toFixed(2)) - 1;",
      "return a.toFixed(2 - 1);",
    ],
  ],
  [
    "typescript",
    "return { n: a, m: b };",
    { texts: ["N"] },
    [
      'return { "N": a, m: b };',
      "return { n: b, m: b };",
      "return { n: a, m: a };",
      "return ({ n: a, m: b }) + 1;",
      "return ({ n: a, m: b }) - 1;",
      "return -({ n: a, m: b });",
      "return !({ n: a, m: b });",
    ],
  ],
  [
    "typescript",
    "return a.map((x) => x + 1);",
    {},
    [
      "return (await a.map((x) => x + 1));",
      "return a.map((x) => x - 1);",
      "return a.map((x) => x * 1);",
      "return a.map((x) => x + 2);",
      "return a.map((x) => x);",
      "return b.map((x) => x + 1);",
      "return (a.map((x) => x + 1)) + 1;",
    ],
  ],
  ["typescript", "a += 1;", {}, ["a -= 1;", "a += 2;", "a += 0;", "b += 1;", ";", "a += 10;", "a += 1000;"]],
  [
    "typescript",
    "return 'kn';",
    { texts: ["km", "kn"] },
    [
      'return "km";',
      'return "kn";',
      "return ('kn') + 1;",
      "return ('kn') - 1;",
      "return -('kn');",
      "return !('kn');",
      "return Object.is('kn', -0) ? 0 : 'kn';",
    ],
  ],
  [
    "typescript",
    "return parseInt(a);",
    {},
    [
      "return (await parseInt(a));",
      "return Number(a);",
      "return (a);",
      "return parseInt(b);",
      "return (parseInt(a)) + 1;",
      "return (parseInt(a)) - 1;",
      "return parseInt(a - 1);",
    ],
  ],
  [
    "typescript",
    "return a.join(',');",
    {},
    [
      "return (await a.join(','));",
      "return b.join(',');",
      "return (a.join(',')) + 1;",
      "return (a.join(',')) - 1;",
      "return -(a.join(','));",
      "return !(a.join(','));",
      "return Object.is(a.join(','), -0) ? 0 : a.join(',');",
    ],
  ],
  [
    "typescript",
    "throw new Error('low');",
    { texts: ["high"] },
    ['throw new Error("high");', "throw new a('low');", "throw new b('low');"],
  ],
  [
    "typescript",
    "for (let i = 0; i < a; i++) b += i;",
    {},
    [
      "for (let i = 0; i <= a; i++) b += i;",
      "for (let i = 0; i >= a; i++) b += i;",
      "for (let i = 0; i > a; i++) b += i;",
      "for (let i = 1; i < a; i++) b += i;",
      "for (let i = -1; i < a; i++) b += i;",
      "for (let i = 0; i < a; i--) b += i;",
      "for (let i = 0; i < a; i++) b -= i;",
    ],
  ],
  [
    "typescript",
    "return a === null;",
    {},
    [
      "return a !== null;",
      "return a == null;",
      "return b === null;",
      "return a === undefined;",
      "return (a === null) + 1;",
      "return (a === null) - 1;",
      "return -(a === null);",
    ],
  ],
  [
    "typescript",
    "return new Date(a).getMonth();",
    {},
    [
      "return (await new Date(a).getMonth());",
      "return new Date(a).getUTCMonth();",
      "return (new Date(a).getMonth() + 1);",
      "return new a(a).getMonth();",
      "return new b(a).getMonth();",
      "return new Date(b).getMonth();",
      "return new Date((a) * 1000).getMonth();",
    ],
  ],
  [
    "typescript",
    "return [a, b];",
    {},
    [
      "return [b, b];",
      "return [a, a];",
      "return ([a, b]) + 1;",
      "return ([a, b]) - 1;",
      "return -([a, b]);",
      "return !([a, b]);",
      "return Object.is([a, b], -0) ? 0 : [a, b];",
    ],
  ],
  [
    "typescript",
    "return a.replace('x', 'y');",
    {},
    [
      "return a.replaceAll('x', 'y');",
      "return (await a.replace('x', 'y'));",
      "return a.replace('y', 'x');",
      "return b.replace('x', 'y');",
      "return (a.replace('x', 'y')) + 1;",
      "return (a.replace('x', 'y')) - 1;",
      "return -(a.replace('x', 'y'));",
    ],
  ],
  [
    "python",
    "return a < b",
    {},
    [
      "return a <= b",
      "return a >= b",
      "return a > b",
      "return b < b",
      "return a < a",
      "return (a < b) + 1",
      "return (a < b) - 1",
    ],
  ],
  [
    "python",
    "return a >= 3",
    { numbers: [4] },
    [
      "return a >= 4",
      "return a < 3",
      "return a <= 3",
      "return a > 3",
      "return a >= 2",
      "return b >= 3",
      "return (a >= 3) + 1",
    ],
  ],
  [
    "python",
    "return a == b and not a",
    {},
    [
      "return a != b and not a",
      "return a == b or not a",
      "return a == b and a",
      "return b == b and not a",
      "return a == a and not a",
      "return a == b and not b",
      "return a == b",
    ],
  ],
  [
    "python",
    "return a * 2 + b",
    { numbers: [7] },
    [
      "return a * 7 + b",
      "return a * 2 - b",
      "return a * 2 * b",
      "return a + 2 + b",
      "return a - 2 + b",
      "return a / 2 + b",
      "return a // 2 + b",
    ],
  ],
  [
    "python",
    "return a[0]",
    {},
    [
      "return a[1]",
      "return a[-1]",
      "return b[0]",
      "return (a[0]) + 1",
      "return (a[0]) - 1",
      "return -(a[0])",
      "return not (a[0])",
    ],
  ],
  [
    "python",
    "return round(a, 2)",
    {},
    [
      "return floor(a, 2)",
      "return trunc(a, 2)",
      "return ceil(a, 2)",
      "return round(a, 3)",
      "return round(a, 1)",
      "return round(2, a)",
      "return round(b, 2)",
    ],
  ],
  [
    "python",
    "return a[1:3]",
    {},
    [
      "return a[2:3]",
      "return a[0:3]",
      "return a[1:4]",
      "return a[1:2]",
      "return b[1:3]",
      "return (a[1:3]) + 1",
      "return (a[1:3]) - 1",
    ],
  ],
  [
    "python",
    "return b if a else 0",
    {},
    [
      "return b if a else 1",
      "return b if a else -1",
      "return 0 if a else b",
      "return a if a else 0",
      "return b if b else 0",
      "return (b if a else 0) + 1",
      "return (b if a else 0) - 1",
    ],
  ],
  [
    "python",
    "return a or b",
    {},
    [
      "return a and b",
      "return (b if a is None else a)",
      "return b or b",
      "return a or a",
      "return a",
      "return b",
      "return (not a) or b",
    ],
  ],
  [
    "python",
    "if a > 1: return b",
    {},
    [
      "if a < 1: return b",
      "if a <= 1: return b",
      "if a >= 1: return b",
      "if not (a > 1): return b",
      "if a > 2: return b",
      "if a > 0: return b",
      "if b > 1: return b",
    ],
  ],
  [
    "python",
    "return f'{a} of {b}'",
    { texts: ["at"] },
    [
      "return f'{b} of {b}'",
      "return f'{a} of {a}'",
      "return (f'{a} of {b}') + 1",
      "return (f'{a} of {b}') - 1",
      "return -(f'{a} of {b}')",
      "return not (f'{a} of {b}')",
      "return f'{a:02d} of {b}'",
    ],
  ],
  [
    "python",
    "return a // b",
    {},
    [
      "return a * b",
      "return a / b",
      "return a % b",
      "return int((a) / (b))",
      "return b // a",
      "return b // b",
      "return a // a",
    ],
  ],
  [
    "python",
    "return {'n': a, 'm': b}",
    { texts: ["N"] },
    [
      "return {\"N\": a, 'm': b}",
      "return {'n': a, \"N\": b}",
      "return {'n': b, 'm': b}",
      "return {'n': a, 'm': a}",
      "return ({'n': a, 'm': b}) + 1",
      "return ({'n': a, 'm': b}) - 1",
      "return {'m': a, 'n': b}",
    ],
  ],
  [
    "python",
    "return [x + 1 for x in a]",
    {},
    [
      "return [x - 1 for x in a]",
      "return [x * 1 for x in a]",
      "return [x + 2 for x in a]",
      "return [x for x in a]",
      "return [a + 1 for x in a]",
      "return [b + 1 for x in a]",
      "return [x + 1 for a in a]",
    ],
  ],
  ["python", "a += 1", {}, ["a -= 1", "a += 2", "a += 0", "b += 1", "pass", "a += 10", "a += 1000"]],
  [
    "python",
    "return 'kn'",
    { texts: ["km", "kn"] },
    [
      'return "km"',
      'return "kn"',
      "return ('kn') + 1",
      "return ('kn') - 1",
      "return -('kn')",
      "return not ('kn')",
      "return ('kn').upper()",
    ],
  ],
  [
    "python",
    "return int(a)",
    {},
    [
      "return int((a) // 1)",
      "return round(a)",
      "return int(b)",
      "return float(a)",
      "return (int(a)) + 1",
      "return (int(a)) - 1",
      "return (a)",
    ],
  ],
  [
    "python",
    "return ','.join(a)",
    {},
    [
      "return ','.join(b)",
      "return (','.join(a)) + 1",
      "return (','.join(a)) - 1",
      "return ','.join(a - 1)",
      "return ','.join(a + 1)",
      "return -(','.join(a))",
      "return not (','.join(a))",
    ],
  ],
  ["python", "raise ValueError('low')", { texts: ["high"] }, ['raise ValueError("high")']],
  [
    "python",
    "return sorted(a)",
    {},
    [
      "return sorted(a, reverse=True)",
      "return sorted(a, key=str)",
      "return sorted(a, key=str.lower)",
      "return sorted(b)",
      "return list(a)",
      "return (sorted(a)) + 1",
      "return (sorted(a)) - 1",
    ],
  ],
  [
    "python",
    "return a is None",
    {},
    [
      "return a is not None",
      "return b is None",
      "return (a is None) + 1",
      "return (a is None) - 1",
      "return -(a is None)",
      "return not (a is None)",
      "return (a is None).upper()",
    ],
  ],
  [
    "python",
    "return a.strip()",
    {},
    [
      "return a.rstrip()",
      "return a.lstrip()",
      "return a",
      "return b.strip()",
      "return (a.strip()) + 1",
      "return (a.strip()) - 1",
      "return -(a.strip())",
    ],
  ],
  [
    "python",
    "return a.replace('x', 'y')",
    {},
    [
      "return a.replace('y', 'x')",
      "return b.replace('x', 'y')",
      "return (a.replace('x', 'y')) + 1",
      "return (a.replace('x', 'y')) - 1",
      "return -(a.replace('x', 'y'))",
      "return not (a.replace('x', 'y'))",
      "return (a.replace('x', 'y')).upper()",
    ],
  ],
  [
    "python",
    "for x in range(a): b += x",
    {},
    [
      "for x in range((a) + 1): b += x",
      "for x in range((a) - 1): b += x",
      "for x in range(a): b -= x",
      "for a in range(a): b += x",
      "for b in range(a): b += x",
      "for x in range(b): b += x",
      "for x in range(a): a += x",
    ],
  ],
];

it.each(LIKELIEST)("in %s %s is changed first in the likeliest ways", async (language, line, given, likeliest) => {
  const text = language === "python" ? `def f(a, b):\n    ${line}\n` : `async function f(a, b) {\n  ${line}\n}\n`;
  const made = (await changesOf(language, text, given)).sort((left, right) => right.prior - left.prior);
  expect([...new Set(made.map(({ after }) => after))].slice(0, likeliest.length)).toEqual(likeliest);
});
