/** Where a file of the original is ported. */
import { expect, it } from "vitest";
import { targetFileOf } from "@/core/pairing/target-file";

const terms = { moduleMap: [], language: "typescript", files: [], original: ["lib/a.py"], own: [] };

it("is by the map, by the module's own files, else at the same path with the twin's ending", () => {
  expect(targetFileOf("lib/a.py", terms)).toBe("lib/a.ts");
  const moduleMap = [{ original: "lib/*.py", twin: "src/*.ts" }];
  expect(targetFileOf("lib/a.py", { ...terms, moduleMap })).toBe("src/a.ts");
  expect(targetFileOf("lib/a.py", { ...terms, own: ["other/name.ts"] })).toBe("other/name.ts");
  const two = { ...terms, original: ["lib/a.py", "lib/b.py"], own: ["x.ts"] };
  expect(targetFileOf("lib/b.py", two)).toBe("x.ts");
});

it("keeps an ending that the twin's language has, and takes a name without one", () => {
  expect(targetFileOf("a.d/run", { ...terms, original: ["a.d/run"] })).toBe("a.d/run.ts");
  expect(targetFileOf("a.ts", { ...terms, original: ["a.ts"] })).toBe("a.ts");
});
