import { expect, it } from "vitest";
import { formatReproducer } from "@/core/cases/reproducer";
import { parseCaseLines } from "@/core/formats/case-line";

const [item] = parseCaseLines('{"id":"a b","module":"tide","call":"rise","args":["#{x}",[1,null]]}', "cases.jsonl");
const side = (language: string, file: string) => ({
  name: language,
  language,
  folder: "/port/side",
  file,
  call: "rise",
  args: ["#{x}", [1, null]],
  kwargs: { by: true },
});

it.each([
  ["python", "pkg/tide.py", `python3 -c 'from pkg.tide import rise; print(repr(rise("#{x}", [1, None], by=True)))'`],
  ["ruby", "tide.rb", `ruby -e 'require "./tide.rb"; p rise("\\#{x}", [1, nil], by: true)'`],
])("a line calls a section in %s", (language, file, line) => {
  if (!item) throw new Error("no case");
  const lines = formatReproducer("/port/side-twin.json", item, "ts", [side(language, file)]).split("\n");
  expect(lines).toEqual([
    "side-twin check /port/side-twin.json --twin ts --case 'a b'",
    `# ${language}`,
    `(cd /port/side && ${line})`,
  ]);
});

it("a language that needs a build is left to the check", () => {
  if (!item) throw new Error("no case");
  expect(formatReproducer("/p.json", item, "t", [side("c", "tide.c")]).split("\n")).toHaveLength(1);
});
