import { describe, expect, it } from "vitest";
import { findCallback, relateCallbacks } from "@/core/cases/callbacks";

describe("a callback", () => {
  it.each([
    [
      "an error first",
      ["id", "reply"],
      "function f(id, reply) {\n  if (!id) return reply(new RangeError('id'));\n}",
      "node",
    ],
    ["null first", ["id", "then"], "const f = (id, then) => then(null, id);", "node"],
    ["an error that came", ["id", "k"], "read(id, (err, v) => { if (err) return k(err); });", "node"],
    ["None first, in Python", ["key", "report"], "def f(key, report):\n    report(None, 1)", "node"],
    ["its name, and the answer first", ["id", "cb"], "function f(id, cb) { cb(id + 1); }", "value"],
    ["its name, where it is passed on", ["id", "done"], "function f(id, done) { read(id, done); }", "node"],
    ["its name, where it may be missing", ["id", "callback"], "callback?.(null, 1)", "node"],
  ])("is known by %s", (_how, params, text, style) =>
    expect(findCallback(params, text)).toEqual({ param: params.at(-1), style }),
  );

  it.each([
    ["a function that maps", ["list", "fn"], "list.map((item) => fn(item))"],
    ["a number", ["left", "right"], "return left * right;"],
    ["no parameter", [], "done(null)"],
    ["a method of that name", ["item", "set"], "item.set(null)"],
    ["a longer name", ["x", "ok"], "book(null)"],
    ["rest parameters", ["...rest"], "rest(null)"],
  ])("is not %s", (_what, params, text) => expect(findCallback(params, text)).toBeNull());
});

describe("two sides", () => {
  const done = { param: "done", style: "node" } as const;
  it("relate by who takes a callback", () => {
    expect(relateCallbacks(done, null, false)).toEqual({ param: "done", relation: "left-out" });
    expect(relateCallbacks(null, done, false)).toEqual({ param: "done", relation: "needed" });
    expect(relateCallbacks(null, done, true)).toEqual({ param: "done", relation: "handed-over" });
    expect(relateCallbacks(done, done, false)).toBeNull();
    expect(relateCallbacks(null, null, false)).toBeNull();
  });
});
