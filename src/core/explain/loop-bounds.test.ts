import { describe, expect, it } from "vitest";
import type { SideCode } from "@/core/explain/code";
import { otherBounds } from "@/core/explain/loop-bounds";

const side = (language: string, ...texts: string[]): SideCode => ({
  language,
  lines: texts.map((text, index) => ({ file: "m", line: index + 1, text })),
});

describe("the bounds of counting loops", () => {
  it.each<[SideCode, SideCode, string | null]>([
    [side("javascript", "for (let i = 0; i < n; i++) {"), side("python", "for i in range(n):"), null],
    [side("javascript", "for (let i = 1; i <= n; i++) s += i;"), side("python", "for i in range(1, n + 1):"), null],
    [
      side("javascript", "for (let i = 1; i <= n; i++) s += i;"),
      side("python", "for i in range(1, n):"),
      "the twin's loop ends one earlier",
    ],
    [
      side("python", "return sum(i for i in range(n))"),
      side("javascript", "for (let i = 0; i <= n; i++)"),
      "the twin's loop ends one later",
    ],
    [
      side("java", "for (int i = 0; i < n; i++)"),
      side("go", "for i := 1; i < n; i++ {"),
      "the twin's loop starts one later",
    ],
    [
      side("java", "for (int i = 1; i < n; i++)"),
      side("go", "for i := 0; i < n; i++ {"),
      "the twin's loop starts one earlier",
    ],
    [side("c", "for (int i = 0; i <= n; i++) {"), side("rust", "for i in 0..n {"), "the twin's loop ends one earlier"],
    [side("c", "for (int i = 0; i <= n - 1; i++) {"), side("rust", "for i in 0..n {"), null],
    [side("c", "for (int i = 0; i <= n; i++) {"), side("rust", "for i in 0..=n {"), null],
    [
      side("ruby", "(1..n).each do |i|"),
      side("php", "for ($i = 1; $i < $n; $i++) {"),
      "the twin's loop ends one earlier",
    ],
    [side("ruby", "for i in 1...n"), side("php", "for ($i = 1; $i < $n; $i++) {"), null],
    [side("javascript", "for (let i = start; i < n; i++)"), side("python", "for i in range(1, n):"), null],
    [side("javascript", "for (const i of list)"), side("python", "for i in range(n):"), null],
    [side("javascript", "return n;"), side("python", "return n"), null],
  ])("%j beside %j: %s", (original, twin, words) => {
    expect(otherBounds({ original, twin })).toBe(words);
  });
});
