/** One module of five similar ones is ported by hand: what is learned from it ports the other four. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { applyPhrases } from "@/service/phrasebook/apply-phrases";
import { learnFromPort } from "@/service/phrasebook/learn";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

type Kind = {
  readonly language: string;
  readonly file: (index: number) => string;
  readonly original: (index: number) => string;
  readonly ported: (index: number) => string;
};

const WORDS = ["quay", "mole", "pier", "dock", "jetty"];
const word = (index: number) => WORDS[index] ?? "";

const KINDS: readonly Kind[] = [
  {
    language: "python",
    file: (index) => `${word(index)}.py`,
    original: (index) =>
      `import oldtide\n\n\ndef level_at_${word(index)}(hours, step):\n    oldtide.put(hours, "${word(index)}")\n    low = oldtide.read_level(hours[${index}], step + ${index})\n    return low * ${index + 2}\n`,
    ported: (index) =>
      `import newtide\n\n\ndef level_at_${word(index)}(hours, step):\n    newtide.store("${word(index)}", hours)\n    low = newtide.level(hours[${index}], by=step + ${index})\n    return low * ${index + 2}\n`,
  },
  {
    language: "javascript",
    file: (index) => `${word(index)}.js`,
    original: (index) =>
      `const tide = require("oldtide");\n\nexports.${word(index)} = (hours, step) => {\n  tide.put(hours, "${word(index)}");\n  return tide.readLevel(hours[${index}], step + ${index}) * ${index + 2};\n};\n`,
    ported: (index) =>
      `const tides = require("newtide");\n\nexports.${word(index)} = (hours, step) => {\n  tides.store("${word(index)}", hours);\n  return tides.level(hours[${index}], { by: step + ${index} }) * ${index + 2};\n};\n`,
  },
  {
    language: "typescript",
    file: (index) => `${word(index)}.ts`,
    original: (index) =>
      `import { put, readLevel } from "oldtide";\n\nexport function ${word(index)}(hours: number[], step: number): number {\n  put(hours, "${word(index)}");\n  return readLevel(hours[${index}], step + ${index}) * ${index + 2};\n}\n`,
    ported: (index) =>
      `import { store, level } from "newtide";\n\nexport function ${word(index)}(hours: number[], step: number): number {\n  store("${word(index)}", hours);\n  return level(hours[${index}], { by: step + ${index} }) * ${index + 2};\n}\n`,
  },
  {
    language: "java",
    file: (index) => `harbour/${word(index)[0]?.toUpperCase()}${word(index).slice(1)}.java`,
    original: (index) =>
      `package harbour;\n\nimport old.Tide;\n\nclass ${word(index)[0]?.toUpperCase()}${word(index).slice(1)} {\n    int level(int[] hours, int step) {\n        Tide.put(hours, "${word(index)}");\n        return Tide.readLevel(hours[${index}], step + ${index}) * ${index + 2};\n    }\n}\n`,
    ported: (index) =>
      `package harbour;\n\nimport fresh.Tides;\n\nclass ${word(index)[0]?.toUpperCase()}${word(index).slice(1)} {\n    int level(int[] hours, int step) {\n        Tides.store("${word(index)}", hours);\n        return Tides.level(hours[${index}], step + ${index}, true) * ${index + 2};\n    }\n}\n`,
  },
  {
    language: "go",
    file: (index) => `${word(index)}.go`,
    original: (index) =>
      `package harbour\n\nimport "example.org/oldtide"\n\nfunc ${word(index)}(hours []int, step int) int {\n\toldtide.Put(hours, "${word(index)}")\n\treturn oldtide.ReadLevel(hours[${index}], step+${index}) * ${index + 2}\n}\n`,
    ported: (index) =>
      `package harbour\n\nimport "example.org/newtide"\n\nfunc ${word(index)}(hours []int, step int) int {\n\tnewtide.Store("${word(index)}", hours)\n\treturn newtide.Level(hours[${index}], step+${index}, true) * ${index + 2}\n}\n`,
  },
  {
    language: "c",
    file: (index) => `${word(index)}.c`,
    original: (index) =>
      `#include "oldtide.h"\n\nint ${word(index)}(const int *hours, int step)\n{\n    tide_put(hours, "${word(index)}");\n    return tide_read(hours[${index}], step + ${index}) * ${index + 2};\n}\n`,
    ported: (index) =>
      `#include "newtide.h"\n\nint ${word(index)}(const int *hours, int step)\n{\n    level_store("${word(index)}", hours);\n    return level_at(hours[${index}], step + ${index}, 1) * ${index + 2};\n}\n`,
  },
  {
    language: "ruby",
    file: (index) => `${word(index)}.rb`,
    original: (index) =>
      `require "oldtide"\n\ndef ${word(index)}(hours, step)\n  OldTide.put(hours, "${word(index)}")\n  OldTide.read_level(hours[${index}], step + ${index}) * ${index + 2}\nend\n`,
    ported: (index) =>
      `require "newtide"\n\ndef ${word(index)}(hours, step)\n  NewTide.store("${word(index)}", hours)\n  NewTide.level(hours[${index}], by: step + ${index}) * ${index + 2}\nend\n`,
  },
  {
    language: "css",
    file: (index) => `${word(index)}.css`,
    original: (index) =>
      `.${word(index)} {\n  padding: ${index % 2 === 0 ? 4 : 8}px;\n  margin-left: ${index + 1}em;\n  float: left;\n}\n\n.${word(index)}-head {\n  padding: ${index % 2 === 0 ? 8 : 4}px;\n  color: #${index}0${index}0${index}0;\n}\n`,
    ported: (index) =>
      `.${word(index)} {\n  padding: var(--space-${index % 2 === 0 ? 1 : 2});\n  margin-inline-start: ${index + 1}em;\n  float: inline-start;\n}\n\n.${word(index)}-head {\n  padding: var(--space-${index % 2 === 0 ? 2 : 1});\n  color: #${index}0${index}0${index}0;\n}\n`,
  },
];

describe("what is learned from one module of five", () => {
  it.each(KINDS)("ports the other four, in $language", async ({ language, file, original, ported }) => {
    const all = WORDS.map((_word, index) => index);
    const isStyle = language === "css";
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: isStyle ? "javascript" : language },
        twins: [{ name: "new", root: "twin", language: isStyle ? "javascript" : language }],
        phrasebook: ["phrases.json"],
      }),
      ...Object.fromEntries(all.map((index) => [`original/${file(index)}`, original(index)])),
      ...Object.fromEntries(all.map((index) => [`twin/${file(index)}`, index === 0 ? ported(0) : original(index)])),
      "phrases.json": { format: "side-twin/phrasebook", version: 1, phrases: [] },
    });
    const proposals = await learnFromPort(await openPort(folder));
    const sure = proposals.filter(({ against }) => against === 0);
    writeFileSync(
      path.join(folder, "phrases.json"),
      JSON.stringify({ format: "side-twin/phrasebook", version: 1, phrases: sure.map(({ phrase }) => phrase) }),
    );
    await applyPhrases(await openPort(folder), { data: path.join(folder, ".data") });
    for (const index of all)
      expect(readFileSync(path.join(folder, "twin", file(index)), "utf8"), JSON.stringify(proposals, null, 1)).toBe(
        ported(index),
      );
  });
});
