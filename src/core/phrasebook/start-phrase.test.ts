import { describe, expect, it } from "vitest";
import { startPhrase } from "@/core/phrasebook/start-phrase";

describe("a phrase begun from two pieces of code", () => {
  it.each([
    ["Math.round(amount * 2)", "half(amount * 2)", "Math.round((:a:))", "half((:a:))"],
    ["names.join(sep)", "join(names, sep)", "(:names:).join((:sep:))", "join((:names:), (:sep:))"],
    ["old(x, f(y, 1))", "fresh(f(y, 1), x)", "old((:x:), (:a:))", "fresh((:a:), (:x:))"],
    ["log('dock', n);", "trace('dock', { n });", "log((:a:), (:n:));", "trace((:a:), { (:n:) });"],
    ["quay.berth(ship)", "quay.berthOf(ship)", "quay.berth((:ship:))", "quay.berthOf((:ship:))"],
    ["a[i] + a[i]", "at(a, i) * 2", "a[(:i:)] + a[(:i:)]", "at(a, (:i:)) * 2"],
    ["return old(x)", "return fresh(x)", "return old((:x:))", "return fresh((:x:))"],
    ["widths.map(w => w * 2)", "each(widths, w => w * 2)", "(:widths:).map((:a:))", "each((:widths:), (:a:))"],
  ])("%s became %s", (original, twin, from, to) => expect(startPhrase(original, twin)).toEqual({ from, to }));

  it("keeps layout and everything that is not the same", () => {
    expect(startPhrase("old(\n  x,\n  1\n)", "fresh(x)")).toEqual({
      from: "old(\n  (:x:),\n  1\n)",
      to: "fresh((:x:))",
    });
    expect(startPhrase("one", "two")).toEqual({ from: "one", to: "two" });
    expect(startPhrase("", "")).toEqual({ from: "", to: "" });
  });

  it("leaves texts that are too long as they are", () => {
    const long = "x + ".repeat(300);
    expect(startPhrase(long, long)).toEqual({ from: long.trim(), to: long.trim() });
  });
});
