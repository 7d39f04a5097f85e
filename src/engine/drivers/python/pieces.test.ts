import { execFileSync } from "node:child_process";
import path from "node:path";
import { expect, it } from "vitest";
import { driversFolder } from "@/engine/drivers/index";

const BASE = `"""Doc."""
from __future__ import annotations
LIMIT = 3


def berth(ship, more=LIMIT):
    total = len(ship)
    return total + more


def same(function):
    return function


@same
def decorated(x):
    return x


class Quay:
    size = 2

    def __init__(self, n):
        self.n = n

    def twice(self):
        # a comment
# at the margin
        return [self.n * k for k in range(self.size)]


def outer(n):
    def within(k):
        return k + n
    return within(n)


def long():
    first = 1
    text = """
at the margin
"""
    return first, text


TEXT = """
def no_function():
    pass
"""
last = lambda x: x
`;

/** Runs each changed text whole and, where it can be, by its piece; prints \`whole\`, or whether both answer alike. */
const PROGRAM = `
import json, sys
sys.path.insert(0, sys.argv[1])
from pieces import compile_changed
base, changes = json.load(sys.stdin)
code = compile(base, "m.py", "exec")
def answer(code):
    names = {"__name__": "m"}
    try:
        exec(code, names)
        return repr([names["berth"]("auk"), names["decorated"](5), names["Quay"](3).twice(), names["outer"](4), names["long"](), names["TEXT"], names["last"](1)])
    except Exception as error:
        return repr(error)
found = []
for text in changes:
    changed = compile_changed(base.encode(), code, text.encode(), "m.py")
    found.append("whole" if changed is None else answer(changed) == answer(compile(text, "m.py", "exec")))
print(json.dumps(found))
`;

const CHANGES: readonly (readonly [from: string, to: string, expected: boolean | "whole"])[] = [
  ["total = len(ship)", "total = len(ship) * 2", true],
  ["return total + more", "return total - missing", true],
  ["    total = len(ship)\n", "    total = 0\n    for _ in ship:\n        total += 1\n", true],
  ["    return x\n", "    return x + 1\n", true],
  ["size = 2", "size = 4", true],
  ["self.n * k", "self.n + k", true],
  ["return k + n", "return k - n", true],
  ["first = 1", "first = 2", "whole"],
  ["return first, text", "return text, first", "whole"],
  ["return x\n", "return x +\n", "whole"],
  ["more=LIMIT", "more=4", "whole"],
  ["class Quay:", "class Quay(dict):", "whole"],
  ["LIMIT = 3", "LIMIT = 5", "whole"],
  ["    pass", "    return 1", "whole"],
  ["lambda x: x", "lambda x: x + 1", "whole"],
  ["def outer(n)", "def outer(m)", "whole"],
  ["@same\ndef decorated", "def decorated", "whole"],
];

it("compiles the piece that differs alone, and answers as the whole", () => {
  const changes = CHANGES.map(([from, to]) => BASE.replace(from, to));
  for (const changed of changes) expect(changed).not.toBe(BASE);
  const printed = execFileSync("python3", ["-c", PROGRAM, path.join(driversFolder(), "python")], {
    input: JSON.stringify([BASE, changes]),
    encoding: "utf8",
  });
  expect(JSON.parse(printed)).toEqual(CHANGES.map(([, , expected]) => expected));
});
