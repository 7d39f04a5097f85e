import { describe, expect, it } from "vitest";
import { holds, placeText, readPlace } from "@/ui/state/place-on-bench";

describe("a place in an address", () => {
  it("reads back what was written, colons in the file's name included", () => {
    for (const file of ["a.py", "odd:name.py", "x/y z.ts"]) {
      const place = { side: "twin", file, line: 12 } as const;
      expect(readPlace(placeText(place))).toEqual(place);
    }
  });

  it.each([null, undefined, "", "other:a.py:1", "original:a.py", "original:a.py:0", "original::3"])(
    "takes %s for no place",
    (text) => expect(readPlace(text)).toBeNull(),
  );

  it("knows the piece that holds a line, first and last included", () => {
    const piece = { file: "a.py", from: 3, to: 5 };
    const at = (line: number, file = "a.py") => holds(piece, { side: "original", file, line });
    expect([2, 3, 5, 6].map((line) => at(line))).toEqual([false, true, true, false]);
    expect(at(4, "b.py")).toBe(false);
    expect(holds(null, { side: "original", file: "a.py", line: 4 })).toBe(false);
  });
});
