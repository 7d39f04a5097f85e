/** Stacks of built code lead to its sources. */

import path from "node:path";
import { buildSync } from "esbuild";
import { describe, expect, it } from "vitest";
import { openPort } from "@/service/port/open-port";
import { stackPlaces } from "@/service/views/stack-places";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const port = async (isInline: boolean) => {
  const folder = temporaryFolder({
    "side-twin.json": portFile({ twins: [{ name: "ts", root: "twin", language: "typescript", ignore: ["build/**"] }] }),
    "original/m.py": "x = 1\n",
    "twin/src/tide.ts": "// one\n// two\nexport function fail(): never {\n  throw new Error('no');\n}\nfail();\n",
  });
  const outfile = path.join(folder, "twin/build/main.mjs");
  buildSync({
    entryPoints: [path.join(folder, "twin/src/tide.ts")],
    bundle: true,
    format: "esm",
    outfile,
    sourcemap: isInline ? "inline" : true,
    logLevel: "silent",
  });
  const [twin] = (await openPort(folder)).twins;
  if (!twin) throw new Error("there is a twin");
  return twin;
};

describe("the places of a stack", () => {
  it.each([true, false])("go through a source map (in the file: %s)", async (isInline) => {
    const twin = await port(isInline);
    // As a run in a copy of the folder writes it.
    const text = "Error: no\n    at fail (file:///tmp/copy/twin/build/main.mjs:3:9)\n    at node:internal/x.js:1:1";
    expect(await stackPlaces(text, twin)).toEqual([{ file: "src/tide.ts", line: 4 }]);
  });

  it("are those of the side's own files, and no others", async () => {
    const twin = await port(false);
    expect(await stackPlaces("at f (/tmp/copy/twin/src/tide.ts:2:1)\nat g (/usr/lib/other.ts:9:1)", twin)).toEqual([
      { file: "src/tide.ts", line: 2 },
    ]);
    expect(await stackPlaces("nothing here", twin)).toEqual([]);
  });
});
