import { describe, expect, it } from "vitest";
import { type Phrase, parsePhrasebook } from "@/core/formats/phrasebook";
import { matchPath, targetOf } from "@/core/phrasebook/moves";

describe("a path pattern", () => {
  const held = (file: string, pattern: string) => {
    const found = matchPath(file, pattern);
    return found && Object.fromEntries(found);
  };

  it.each([
    ["src/quay.js", "src/(:name:).js", { name: "quay" }],
    ["src/a/b/quay.js", "src/(:path..:)/(:name:).js", { path: "a/b", name: "quay" }],
    ["src/a/b.js", "src/(:name:).js", null],
    ["quay/quay.js", "(:name:)/(:name:).js", { name: "quay" }],
    ["quay/tide.js", "(:name:)/(:name:).js", null],
    ["src/quay.test.js", "src/(:_:).js", {}],
    ["src/quay+1.js", "src/quay+1.js", {}],
    ["srcXquay.js", "src.quay.js", null],
  ])("%s fits %s as %j", (file, pattern, expected) => expect(held(file, pattern)).toEqual(expected));
});

describe("where a file goes", () => {
  const phrase = (fields: object): Phrase => {
    const text = JSON.stringify({
      format: "side-twin/phrasebook",
      version: 1,
      phrases: [{ id: "m", kind: "file", ...fields }],
    });
    const [first] = parsePhrasebook(text, "p.json").phrases;
    if (!first) throw new Error("no phrase");
    return first;
  };
  const test = (pattern: string, text: string) => new RegExp(`^(?:${pattern})$`).test(text);
  const target = (file: string, fields: object) => targetOf(file, phrase(fields), test);

  it.each([
    ["src/quay.js", { from: "src/(:n:).js", to: "lib/(:n:).ts" }, { to: "lib/quay.ts" }],
    [
      "src/BerthList.js",
      { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { style: "pascal-to-snake" } } },
      { to: "berth_list.ts" },
    ],
    [
      "src/a/BigBerth.js",
      { from: "src/(:n..:).js", to: "(:n:).ts", blanks: { n: { style: "pascal-to-snake" } } },
      { to: "a/big_berth.ts" },
    ],
    ["src/old_quay.js", { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { strip: "old_" } } }, { to: "quay.ts" }],
    ["src/quay_old.js", { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { strip: "_old" } } }, { to: "quay.ts" }],
    [
      "src/quay.js",
      { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { turn: { quay: "pier" } } } },
      { to: "pier.ts" },
    ],
    ["src/quay.js", { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { matches: "t.*" } } }, null],
    ["src/tide.js", { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { matches: "t.*" } } }, { to: "tide.ts" }],
    ["other/quay.js", { from: "src/(:n:).js", to: "(:n:).ts" }, null],
  ])("%s by %j", (file, fields, expected) => expect(target(file, fields)).toEqual(expected));

  it("is open where a table of turns lacks the name, own keys only", () => {
    const fields = { from: "src/(:n:).js", to: "(:n:).ts", blanks: { n: { turn: { quay: "pier" } } } };
    expect(target("src/tide.js", fields)).toEqual({ open: "no turn for tide" });
    expect(target("src/constructor.js", fields)).toEqual({ open: "no turn for constructor" });
  });
});
