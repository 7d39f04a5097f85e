import { linesOf } from "@/core/diagnostics/diagnostic";
import { type SuiteReader, type TestOutcome, uniqueTests } from "@/core/suites/suite";

const POINT = /^(\s*)(not )?ok\b\s*\d*\s*(?:- )?(.*?)\s*(?:#\s*(skip|todo)\b.*)?$/i;
const SUBTEST = /^(\s*)# Subtest: (.*)$/;

/** The Test Anything Protocol; tests within others are named `outer > inner`, and those that only hold others are left out. */
export const tap: SuiteReader = {
  name: "tap",
  title: "TAP",
  read: (text) => {
    const found: TestOutcome[] = [];
    const open: { readonly indent: number; readonly name: string; used: boolean }[] = [];
    for (const line of linesOf(text)) {
      const subtest = SUBTEST.exec(line);
      if (subtest) {
        open.push({ indent: subtest[1]?.length ?? 0, name: subtest[2] ?? "", used: false });
        continue;
      }
      const point = POINT.exec(line);
      if (!point) continue;
      const [, indent = "", not, name = "", directive] = point;
      const around = open.filter((entry) => entry.indent < indent.length);
      const own = open.find((entry) => entry.indent === indent.length && entry.name === name);
      open.splice(around.length);
      for (const entry of around) entry.used = true;
      if (own?.used) continue;
      const result = directive ? "skipped" : not ? "failed" : "passed";
      found.push({ name: [...around.map((entry) => entry.name), name].join(" > "), result });
    }
    return uniqueTests(found.filter(({ name }) => name !== ""));
  },
  example: {
    text: "TAP version 13\n# Subtest: fares\n    # Subtest: a child\n    ok 1 - a child\n    not ok 2 - adult\nnot ok 1 - fares\nok 2 - later # SKIP\n",
    finds: [
      { name: "fares > a child", result: "passed" },
      { name: "fares > adult", result: "failed" },
      { name: "later", result: "skipped" },
    ],
  },
};
