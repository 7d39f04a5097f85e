// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code that is drafted has templates
/** Checks which Python the drafts translate into JavaScript and TypeScript, and which they leave as not ported. */
import { expect, it } from "vitest";
import { pythonJavascript } from "@/core/drafting/pairs/python-javascript/index";
import { loadParser } from "@/engine/source/parse";

const parse = loadParser(["python"]);

async function translated(text: string, language: string) {
  const tree = (await parse)(text, "python");
  if (!tree) throw new Error("no tree");
  const made = pythonJavascript.translate({
    root: tree.root,
    language,
    spell: (name) => name,
    key: (name) => name,
    seen: () => [],
    isReshaped: () => false,
    importOf: () => null,
  });
  tree.free();
  return { text: made.text, unsaid: made.unsaid.map(({ line, why }) => `${line}: ${why}`) };
}

/** Parameters, what a function of them returns, and that in JavaScript. */
const EXPRESSIONS: readonly (readonly [params: string, python: string, javascript: string])[] = [
  ["a: int, b: int", "a // b", "pyFloorDivide(a, b)"],
  ["a: int, b: int", "a % b", "pyModulo(a, b)"],
  ["a: int, b: int", "a ** b", 'notPorted("a ** b")'],
  ["a: int, b: int", "a / b", "pyDivide(a, b)"],
  ["a: float, b: float", "a // b", "pyFloorDivide(a, b)"],
  ["a: int, b: int", "-a + b * 2", "(-a) + (b * 2)"],
  ["a: int, b: int", "not a < b", "!(a < b)"],
  ["a: int, b: int", "a < b <= 9", "a < b && b <= 9"],
  ["a: int, b: int", "a == b", "a === b"],
  ["a: int", "a != 3 and a > 1", "(a !== 3) && (a > 1)"],
  ["a: str", "a == 'x'", 'a === "x"'],
  ["a", "a is None", "a === null"],
  ["a", "a is not None", "a !== null"],
  ["a: str, b: str", "a + b", "a + b"],
  ["a: str", "a * 3", "a.repeat(Math.max(0, 3))"],
  ["a: list[int]", "a + [1]", "[...a, ...[1]]"],
  ["a: list[int]", "len(a)", "a.length"],
  ["a: str", "a[0]", 'pyItemAt([...a], 0, "string")'],
  ["a: str", "a[-1]", 'pyItemAt([...a], -1, "string")'],
  ["a: str", "a[1:]", '[...a].slice(1).join("")'],
  ["a: list[int]", "a[1:-1]", "a.slice(1, -1)"],
  ["a: list[int]", "a[::-1]", 'notPorted("a[::-1]")'],
  ["a: list[int]", "a[-1]", "pyItemAt(a, -1)"],
  ["a: dict[str, int]", "a['k']", 'pyValueOf(a, "k")'],
  ["a: dict[str, int]", "a.get('k')", 'Object.hasOwn(a, "k") ? a["k"] : null'],
  ["a: dict[str, int]", "a.get('k', 0)", 'Object.hasOwn(a, "k") ? a["k"] : 0'],
  ["a: dict[str, int]", "'k' in a", 'Object.hasOwn(a, "k")'],
  ["a: list[int]", "3 in a", "a.includes(3)"],
  ["a: list[int]", "3 not in a", "!a.includes(3)"],
  ["a: str", "'x' in a", 'a.includes("x")'],
  ["a: str", "a.strip()", "a.trim()"],
  ["a: str", "a.upper()", "a.toUpperCase()"],
  ["a: str", "a.lower()", "a.toLowerCase()"],
  ["a: str", "a.split(',')", 'a.split(",")'],
  ["a: str", "a.split()", "pySplitWords(a)"],
  ["a: str", "a.startswith('x')", 'a.startsWith("x")'],
  ["a: str", "a.endswith('x')", 'a.endsWith("x")'],
  ["a: str", "a.replace('a', 'b')", 'a.replaceAll("a", () => "b")'],
  ["a: list[str]", "', '.join(a)", 'a.join(", ")'],
  ["a: str", "a.find('x')", "notPorted(\"a.find('x')\")"],
  ["a: str", "a.lstrip()", "a.trimStart()"],
  ["a: str", "a.rstrip('0')", "notPorted(\"a.rstrip('0')\")"],
  ["a: str", "a.isdigit()", 'notPorted("a.isdigit()")'],
  ["a: str", "a.zfill(3)", 'notPorted("a.zfill(3)")'],
  ["a: str", "a.ljust(4)", 'notPorted("a.ljust(4)")'],
  ["a: str", "a.count('x')", "notPorted(\"a.count('x')\")"],
  ["a: str", "a.title()", 'notPorted("a.title()")'],
  ["a: int", "f'{a} kn'", "`${a} kn`"],
  ["a: float", "f'{a:.2f}'", "notPorted(\"f'{a:.2f}'\")"],
  ["a: int", "f'{a:03d}'", "notPorted(\"f'{a:03d}'\")"],
  ["a: int", "'%d of %d' % (a, 3)", "`${a} of ${3}`"],
  ["a: int", "str(a)", "String(a)"],
  ["a: str", "int(a)", 'notPorted("int(a)")'],
  ["a: str", "float(a)", 'notPorted("float(a)")'],
  ["a: float", "int(a)", "Math.trunc(a) + 0"],
  ["a: float", "round(a)", "pyRound(a)"],
  ["a: float", "round(a, 2)", 'notPorted("round(a, 2)")'],
  ["a: float", "abs(a)", "Math.abs(a)"],
  ["a: int, b: int", "max(a, b)", "Math.max(a, b)"],
  ["a: list[int]", "max(a)", 'notPorted("max(a)")'],
  ["a: list[int]", "min(a, default=0)", 'notPorted("min(a, default=0)")'],
  ["a: list[int]", "sum(a)", "a.reduce((sum, item) => sum + item, 0)"],
  ["a: list[int]", "sorted(a)", "[...a].sort((a, b) => a - b)"],
  ["a: list[str]", "sorted(a, key=len)", 'notPorted("sorted(a, key=len)")'],
  ["a: list[int]", "sorted(a, reverse=True)", 'notPorted("sorted(a, reverse=True)")'],
  ["a: list[int]", "list(reversed(a))", 'notPorted("list(reversed(a))")'],
  ["a: int", "list(range(a))", 'notPorted("list(range(a))")'],
  ["a: int", "[x * 2 for x in range(a)]", "pyRange(0, a).map((x) => x * 2)"],
  ["a: list[int]", "[x for x in a if x > 2]", "a.filter((x) => x > 2)"],
  ["a: list[int]", "{x: 1 for x in a}", 'notPorted("{x: 1 for x in a}")'],
  ["a: list[int]", "any(x > 2 for x in a)", "a.some((x) => x > 2)"],
  ["a: list[int]", "all(a)", 'notPorted("all(a)")'],
  ["a: list[int]", "list(enumerate(a))", 'notPorted("list(enumerate(a))")'],
  ["a: list[int], b: list[int]", "list(zip(a, b))", 'notPorted("list(zip(a, b))")'],
  ["a: list[int]", "set(a)", 'notPorted("set(a)")'],
  ["a: list[int]", "tuple(a)", 'notPorted("tuple(a)")'],
  ["a: dict[str, int]", "list(a.items())", 'notPorted("list(a.items())")'],
  ["a: dict[str, int]", "list(a)", 'notPorted("list(a)")'],
  ["a: dict[str, int]", "list(a.values())", "[...pyItems(a).map(([, value]) => value)]"],
  ["a: int", "1 if a > 2 else 0", "(a > 2) ? 1 : 0"],
  ["a: int", "a or 3", "a || 3"],
  ["a: str", "a or 'none'", 'a || "none"'],
  ["a: bool", "not a", "!a"],
  ["a: int", "bool(a)", 'notPorted("bool(a)")'],
  ["a: int, b: int", "divmod(a, b)", "[pyFloorDivide(a, b), pyModulo(a, b)]"],
  ["a: float", "math.floor(a)", "Math.floor(a) + 0"],
  ["a: float", "math.ceil(a)", "Math.ceil(a) + 0"],
  ["a: float", "math.sqrt(a)", 'notPorted("math.sqrt(a)")'],
  ["a: float", "math.pi * a", "Math.PI * a"],
  ["a: int, b: int", "math.gcd(a, b)", 'notPorted("math.gcd(a, b)")'],
  ["a: int", "a & 7 | 8", 'notPorted("a & 7 | 8")'],
  ["a: int", "a << 2", 'notPorted("a << 2")'],
  ["a: int", "a >> 1", 'notPorted("a >> 1")'],
  ["a: int", "~a", 'notPorted("~a")'],
  ["a: str", "ord(a)", 'notPorted("ord(a)")'],
  ["a: int", "chr(a)", 'notPorted("chr(a)")'],
  ["a: int", "hex(a)", 'notPorted("hex(a)")'],
  ["a", "isinstance(a, str)", 'notPorted("isinstance(a, str)")'],
  ["a", "isinstance(a, (int, float))", 'notPorted("isinstance(a, (int, float))")'],
  ["a: int", "lambda x: x + a", 'notPorted("lambda x: x + a")'],
  ["a: list[int]", "list(map(str, a))", 'notPorted("list(map(str, a))")'],
  ["a: list[int]", "(a, 1)", "[a, 1]"],
  ["", "[1, 2, *[3]]", 'notPorted("[1, 2, *[3]]")'],
  ["", "{'a': 1, **{'b': 2}}", "notPorted(\"{'a': 1, **{'b': 2}}\")"],
  ["a: int", "print(a)", 'notPorted("print(a)")'],
  ["", "None", "null"],
  ["", "True", "true"],
  ["", "'it\\'s'", '"it\'s"'],
  ["", '"a\\nb"', '"a\\nb"'],
  ["", "1_000", "1_000"],
  ["", "0x1f", "0x1f"],
  ["", "1e3", "1e3"],
  ["", "...", 'notPorted("...")'],
  ["a: complex", "a.real", 'notPorted("a.real")'],
  ["a: list[int]", "a.index(3)", 'notPorted("a.index(3)")'],
  ["a: list[int]", "a.copy()", 'notPorted("a.copy()")'],
  ["a: str", "a.encode()", 'notPorted("a.encode()")'],
  ["a: str", "list(a)", 'notPorted("list(a)")'],
  ["a: int", "int(a)", "Math.trunc(a) + 0"],
  ["a: int", "a.bit_length()", 'notPorted("a.bit_length()")'],
];

it.each(EXPRESSIONS)("of (%s) %s is %s", async (params, python, javascript) => {
  const { text } = await translated(`import math\n\n\ndef f(${params}):\n    return ${python}\n`, "javascript");
  expect(/return (.*);/.exec(text)?.[1]).toBe(javascript);
});

type Statement = {
  readonly python: string;
  readonly javascript: string;
  /** With types, for some. */
  readonly typescript?: string;
  readonly unsaid: readonly string[];
};

const STATEMENTS: readonly Statement[] = [
  {
    python: `def f(a: int):
    if a > 1:
        return 1
    elif a == 0:
        return 2
    else:
        return 3
`,
    javascript: `export function f(a) {
  if (a > 1) {
    return 1;
  } else if (a === 0) {
    return 2;
  } else {
    return 3;
  }
}
`,
    typescript: `export function f(a: number) {
  if (a > 1) {
    return 1;
  } else if (a === 0) {
    return 2;
  } else {
    return 3;
  }
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    total = 0
    for x in range(a):
        total += x
    return total
`,
    javascript: `export function f(a) {
  let total, x;
  total = 0;
  for (x of pyRange(0, a)) {
    total += x;
  }
  return total;
}
`,
    typescript: `export function f(a: number) {
  let total: any, x: any;
  total = 0;
  for (x of pyRange(0, a)) {
    total += x;
  }
  return total;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    for x in range(1, a + 1):
        if x == 3:
            continue
        if x > 5:
            break
    return x
`,
    javascript: `export function f(a) {
  let x;
  for (x of pyRange(1, a + 1)) {
    if (x === 3) {
      continue;
    }
    if (x > 5) {
      break;
    }
  }
  return x;
}
`,
    typescript: `export function f(a: number) {
  let x: any;
  for (x of pyRange(1, a + 1)) {
    if (x === 3) {
      continue;
    }
    if (x > 5) {
      break;
    }
  }
  return x;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    while a > 0:
        a -= 1
    return a
`,
    javascript: `export function f(a) {
  while (a > 0) {
    a -= 1;
  }
  return a;
}
`,
    typescript: `export function f(a: number) {
  while (a > 0) {
    a -= 1;
  }
  return a;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    n = a // 2
    n *= 3
    n %= 5
    return n
`,
    javascript: `export function f(a) {
  let n;
  n = Math.floor(a / 2);
  n *= 3;
  notPorted("n %= 5"); // line 4: n %= 5
  return n;
}
`,
    typescript: `export function f(a: number) {
  let n: any;
  n = Math.floor(a / 2);
  n *= 3;
  notPorted("n %= 5"); // line 4: n %= 5
  return n;
}
`,
    unsaid: ["4: %= has no sure counterpart"],
  },
  {
    python: `def f(a: list[int]):
    for i, x in enumerate(a):
        a[i] = x + 1
    return a
`,
    javascript: `export function f(a) {
  let i, x;
  for ([i, x] of a.map((item, index) => [index, item])) {
    notPorted("a[i] = x + 1"); // line 3: a[i] = x + 1
  }
  return a;
}
`,
    typescript: `export function f(a: any[]) {
  let i: any, x: any;
  for ([i, x] of a.map((item, index) => [index, item])) {
    notPorted("a[i] = x + 1"); // line 3: a[i] = x + 1
  }
  return a;
}
`,
    unsaid: ["3: this target"],
  },
  {
    python: `def f(a: dict[str, int]):
    for key, value in a.items():
        if value > 2:
            return key
    return None
`,
    javascript: `export function f(a) {
  let key, value;
  for ([key, value] of pyItems(a)) {
    if (value > 2) {
      return key;
    }
  }
  return null;
}
`,
    typescript: `export function f(a: any) {
  let key: any, value: any;
  for ([key, value] of pyItems(a)) {
    if (value > 2) {
      return key;
    }
  }
  return null;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: str):
    if not a:
        raise ValueError('empty')
    return a
`,
    javascript: `export function f(a) {
  if (!(a !== "")) {
    throw new ValueError("empty");
  }
  return a;
}
`,
    typescript: `export function f(a: string) {
  if (!(a !== "")) {
    throw new ValueError("empty");
  }
  return a;
}
`,
    unsaid: [],
  },
  {
    python: `class E(Exception):
    pass


def f(a: int):
    if a < 0:
        raise E(f'{a} is low')
    return a
`,
    javascript: `export class E extends Error {
  name = "E";
}

export function f(a) {
  if (a < 0) {
    throw new E(\`\${a} is low\`);
  }
  return a;
}
`,
    typescript: `export class E extends Error {
  name = "E";
}

export function f(a: number) {
  if (a < 0) {
    throw new E(\`\${a} is low\`);
  }
  return a;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    try:
        return g(a)
    except ValueError:
        return 0


def g(a: int):
    if a > 1:
        raise ValueError('x')
    return a
`,
    javascript: `export function f(a) {
  notPorted("try:"); // line 2: try:
  return null;
}

export function g(a) {
  if (a > 1) {
    throw new ValueError("x");
  }
  return a;
}
`,
    unsaid: ["2: what is caught may be thrown otherwise here"],
  },
  {
    python: `def f(a: int, b=2, *rest):
    return a + b
`,
    javascript: `export function f(...args) {
  notPorted("def f(a: int, b=2, *rest):"); // line 1: def f(a: int, b=2, *rest):
}
`,
    unsaid: ["1: its parameters"],
  },
  {
    python: `def f(a: int, *, b: int = 3):
    return a - b
`,
    javascript: `export function f(a, b = 3) {
  return a - b;
}
`,
    unsaid: [],
  },
  {
    python: `class C:
    def __init__(self, n: int):
        self.n = n
        self.list = []

    def add(self, x: int):
        self.list.append(x)
        return len(self.list) + self.n

    @property
    def size(self):
        return self.n

    @staticmethod
    def make(n: int):
        return C(n)
`,
    javascript: `// not ported: class C:
// not ported:     def __init__(self, n: int):
// not ported:         self.n = n
// not ported:         self.list = []
// not ported:
// not ported:     def add(self, x: int):
// not ported:         self.list.append(x)
// not ported:         return len(self.list) + self.n
// not ported:
// not ported:     @property
// not ported:     def size(self):
// not ported:         return self.n
// not ported:
// not ported:     @staticmethod
// not ported:     def make(n: int):
// not ported:         return C(n)
`,
    unsaid: ["1: such a class has no sure counterpart"],
  },
  {
    python: `LIMIT = 3
NAMES = ['a', 'b']


def f():
    return LIMIT
`,
    javascript: `export const LIMIT = 3;
export const NAMES = ["a", "b"];

export function f() {
  return LIMIT;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: list[int]):
    a.append(1)
    a.sort()
    a.pop()
    return a
`,
    javascript: `export function f(a) {
  a.push(1);
  notPorted("a.sort()"); // line 3: a.sort()
  notPorted("a.pop()"); // line 4: a.pop()
  return a;
}
`,
    unsaid: ["3: sort of list has no sure counterpart", "4: pop of list has no sure counterpart"],
  },
  {
    python: `def f(a: list[int]):
    x, y = a[0], a[1]
    return x - y
`,
    javascript: `export function f(a) {
  let x, y;
  [x, y] = [pyItemAt(a, 0), pyItemAt(a, 1)];
  return x - y;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: dict[str, int], k: str):
    a[k] = a.get(k, 0) + 1
    return a
`,
    javascript: `export function f(a, k) {
  a[k] = (Object.hasOwn(a, k) ? a[k] : 0) + 1;
  return a;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    """Says it.

    More.
    """
    # why
    return a  # now
`,
    javascript: `/**
 * Says it.
 *
 * More.
 */
export function f(a) {
  // why
  return a;
  // now
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int) -> str:
    return 'x' if a else 'y'
`,
    javascript: `export function f(a) {
  return (a !== 0) ? "x" : "y";
}
`,
    unsaid: [],
  },
  {
    python: `async def f(a: int):
    return a
`,
    javascript: `export async function f(a) {
  return a;
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int):
    yield a
`,
    javascript: `export function f(a) {
  notPorted("yield a"); // line 2: yield a
  return null;
}
`,
    unsaid: ["2: yield has no counterpart here"],
  },
  {
    python: `def f(a: int):
    def inner(x: int):
        return x + a
    return inner(2)
`,
    javascript: `export function f(a) {
  notPorted("def inner(x: int):"); // line 2: def inner(x: int):
  return notPorted("inner(2)"); // line 4: return inner(2)
}
`,
    unsaid: ["2: function definition has no counterpart here", "4: inner of this has no sure counterpart"],
  },
  {
    python: `def f(a: int):
    assert a > 0, 'low'
    return a
`,
    javascript: `export function f(a) {
  notPorted("assert a > 0, 'low'"); // line 2: assert a > 0, 'low'
  return a;
}
`,
    unsaid: ["2: assert statement has no counterpart here"],
  },
  {
    python: `def f(a: int):
    global N
    N = a
`,
    javascript: `export function f(a) {
  let N;
  notPorted("global N"); // line 2: global N
  N = a;
  return null;
}
`,
    unsaid: ["2: global statement has no counterpart here"],
  },
  {
    python: `def f(a: int):
    with open('x') as handle:
        return handle.read()
`,
    javascript: `export function f(a) {
  notPorted("with open('x') as handle:"); // line 2: with open('x') as handle:
  return null;
}
`,
    unsaid: ["2: with statement has no counterpart here"],
  },
  {
    python: `def f(a: int):
    del a
`,
    javascript: `export function f(a) {
  notPorted("del a"); // line 2: del a
  return null;
}
`,
    unsaid: ["2: delete statement has no counterpart here"],
  },
  {
    python: `def f(a: int):
    pass
`,
    javascript: `export function f(a) {
  return null;
}
`,
    unsaid: [],
  },
  {
    python: `import json


def f(a: str):
    return json.loads(a)
`,
    javascript: `export function f(a) {
  return notPorted("json.loads(a)"); // line 5: return json.loads(a)
}
`,
    unsaid: ["5: json is not known here"],
  },
  {
    python: `if __name__ == '__main__':
    print(1)
`,
    javascript: `// not ported: if __name__ == '__main__':
// not ported:     print(1)
`,
    unsaid: ["1: what is run when the module is loaded"],
  },
  {
    python: `def f(items: list[str]):
    out = []
    for item in items:
        out.append(item.upper())
    return ', '.join(out)
`,
    javascript: `export function f(items) {
  let out, item;
  out = [];
  for (item of items) {
    out.push(item.toUpperCase());
  }
  return out.join(", ");
}
`,
    unsaid: [],
  },
  {
    python: `def f(a: int, index: int):
    for index in range(a):
        a += index
    return a
`,
    javascript: `export function f(a, index) {
  for (index of pyRange(0, a)) {
    a += index;
  }
  return a;
}
`,
    unsaid: [],
  },
];

it.each(STATEMENTS)("$python is $javascript", async ({ python, javascript, typescript, unsaid }) => {
  expect(await translated(python, "javascript")).toEqual({ text: javascript, unsaid });
  if (typescript !== undefined) expect(await translated(python, "typescript")).toEqual({ text: typescript, unsaid });
});
