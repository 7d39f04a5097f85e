import { describe, expect, it } from "vitest";
import { type Shape, shapeOf } from "@/core/exploring/shapes";

/** As nested objects: a list is one in a list, a field without a shape is 0. */
function plain(shape: Shape | null): unknown {
  if (!shape) return 0;
  const record = Object.fromEntries([...shape.fields].map(([name, inner]) => [name, plain(inner)]));
  return shape.isList ? [record] : record;
}

describe("the shape of a parameter", () => {
  it.each<[string, string, string, unknown]>([
    ["of fields", "return ship.tons * ship?.crew + ship['flag'];", "ship", { tons: 0, crew: 0, flag: 0 }],
    ["of fields of fields", "return ship.owner.name + ship.owner.port;", "ship", { owner: { name: 0, port: 0 } }],
    ["of what is taken apart", "const { tons, crew: hands = 2 } = ship;", "ship", { tons: 0, crew: 0 }],
    ["of a copy", "const opts = { ...options }; if (opts.dry) return opts.deep;", "options", { dry: 0, deep: 0 }],
    ["of one with a default", "const opts = options || {}; return opts.dry;", "options", { dry: 0 }],
    ["of a list", "for (const ship of ships) sum += ship.tons;", "ships", [{ tons: 0 }]],
    ["of a list that is mapped", "return ships.filter((s) => s.tons > 3).length;", "ships", [{ tons: 0 }]],
    ["of a list in a field", "for (const d of log.days) sum += d.fog;", "log", { days: [{ fog: 0 }] }],
    [
      "of Python's keys",
      'x = ship["tons"] + ship.get("crew", 1)\nif "flag" in ship: y = 1',
      "ship",
      { tons: 0, crew: 0, flag: 0 },
    ],
    ["of Python's lists", 'return [s["name"] for s in ships if s["tons"]]', "ships", [{ name: 0, tons: 0 }]],
    ["is none for a text", "return text.length + text.trim().slice(1);", "text", 0],
    ["is none for a number", "return n * 2 + other.n;", "n", 0],
  ])("%s", (_what, code, name, expected) => {
    expect(plain(shapeOf(code, name))).toEqual(expected);
  });
});
