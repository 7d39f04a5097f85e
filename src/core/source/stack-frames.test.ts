/** Frames of stacks as languages write them. */
import { expect, it } from "vitest";
import { framesIn } from "@/core/source/stack-frames";

it("finds the places of stacks in most languages, each once", () => {
  const of = (text: string) => framesIn(text).map(({ file, line, column }) => [file, line, column]);
  expect(
    of('Traceback:\n  File "ferry/fares.py", line 12, in fare\n    x\n  File "ferry/fares.py", line 12, in g'),
  ).toEqual([["ferry/fares.py", 12, null]]);
  expect(
    of("TypeError: no\n    at fareFor (file:///tmp/x/build/main.mjs:295:14)\n    at node:internal/x:12:3"),
  ).toEqual([["/tmp/x/build/main.mjs", 295, 14]]);
  expect(of("thread 'main' panicked at src/lib.rs:7:5:\n\tat Tide.level(Tide.java:31)\n#0 a.php(3)")).toEqual([
    ["src/lib.rs", 7, 5],
    ["Tide.java", 31, null],
  ]);
  expect(of("at 12:30 it was 3.5:1 and nothing else")).toEqual([]);
});
