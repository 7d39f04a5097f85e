/** The code of a section on both sides, with what it calls. */
import { expect, it } from "vitest";
import { SectionCodes } from "@/service/check/section-code";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

it("holds the section's lines on both sides, then those of sections of the module that it mentions", async () => {
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      names: { functions: "snake-to-camel" },
    }),
    "original/tide.py":
      "def half(x):\n    return x // 2\n\n\ndef other(x):\n    return 1\n\n\ndef low_water(x):\n    return half(x)\n",
    "twin/tide.js": "const half = (x) => Math.trunc(x / 2);\nexport function lowWater(x) {\n  return half(x);\n}\n",
    "twin/package.json": { type: "module" },
  });
  const codes = new SectionCodes(await openPort(folder));
  const code = await codes.of("tide", "low_water", "js");
  expect(code?.original).toMatchObject({ language: "python" });
  expect(code?.original.lines.map(({ line }) => line)).toEqual([9, 10, 1, 2]);
  expect(code?.twin.lines.map(({ file, line }) => `${file}:${line}`)).toEqual([
    "tide.js:2",
    "tide.js:3",
    "tide.js:4",
    "tide.js:1",
  ]);
  expect(await codes.of("tide", "gone", "js")).toBeUndefined();
  expect(await codes.of(null, "run", "js")).toBeUndefined();
});
