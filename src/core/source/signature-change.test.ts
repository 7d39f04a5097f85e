/** Which signatures changed between two texts. */
import { describe, expect, it } from "vitest";
import { changedSignatures } from "@/core/source/signature-change";
import { parseSource } from "@/engine/source/parse";

const changes = async (language: string, before: string, after: string) =>
  changedSignatures(await parseSource(before, language), await parseSource(after, language)).map(
    ({ section, before: was, after: now }) => [section, was, now],
  );

describe("a changed signature", () => {
  it("is another parameter, default or result, not another body or layout", async () => {
    const before = "export function fare(miles: number): number {\n  return miles;\n}\n";
    expect(await changes("typescript", before, before.replace("return miles", "return 2 * miles"))).toEqual([]);
    expect(await changes("typescript", before, before.replace("(miles: number)", "(\n  miles: number\n)"))).toEqual([]);
    expect(await changes("typescript", before, before.replace("number): number", "number, day = 1): number"))).toEqual([
      ["fare", "export function fare(miles: number): number", "export function fare(miles: number, day = 1): number"],
    ]);
    expect(await changes("typescript", before, before.replace("): number", "): string"))).toHaveLength(1);
  });

  it("is found in arrow functions, methods and Python", async () => {
    const arrow = "export const half = (n: number) => n / 2;\n";
    expect(await changes("typescript", arrow, arrow.replace("n: number", "n: bigint"))).toEqual([
      ["half", "export const half = (n: number)", "export const half = (n: bigint)"],
    ]);
    const python = "class Gate:\n    def open(self, by=1):\n        return by\n";
    expect(await changes("python", python, python.replace("by=1", "by=2"))).toEqual([
      ["Gate.open", "def open(self, by=1)", "def open(self, by=2)"],
    ]);
    expect(await changes("python", python, python.replace("return by", "return {by: 1}"))).toEqual([]);
  });

  it("is none for what is new or gone", async () => {
    expect(await changes("python", "def a():\n    pass\n", "def b(x):\n    pass\n")).toEqual([]);
  });
});
