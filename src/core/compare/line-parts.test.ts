import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { lineParts } from "@/core/compare/line-parts";

const marked = (parts: readonly { text: string; differs: boolean }[]) =>
  parts.map(({ text, differs }) => (differs ? `<${text}>` : text)).join("");

describe("the parts of two lines", () => {
  it("are words and whole numbers that differ", () => {
    const { original, twin } = lineParts("Tern leaves at 6.10 from quay 2", "Tern leaves at 6.15 from the quay 2");
    expect(marked(original)).toBe("Tern leaves at <6.10> from quay 2");
    expect(marked(twin)).toBe("Tern leaves at <6.15> from< the> quay 2");
  });

  it("give the lines again, and differ only where the lines do", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), fc.string({ unit: "grapheme" }), (one, other) => {
        const { original, twin } = lineParts(one, other);
        expect([original.map(({ text }) => text).join(""), twin.map(({ text }) => text).join("")]).toEqual([
          one,
          other,
        ]);
        const differs = [...original, ...twin].some((part) => part.differs);
        expect(differs).toBe(one !== other);
        const same = (parts: typeof original) => parts.filter((part) => !part.differs).map(({ text }) => text);
        expect(same(original).join("")).toBe(same(twin).join(""));
      }),
    );
  });
});
