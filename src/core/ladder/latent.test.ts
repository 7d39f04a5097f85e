import { describe, expect, it } from "vitest";
import { READERS } from "@/core/diagnostics/readers/index";
import { isLatent } from "@/core/ladder/latent";

const original = new Set(["return berth(4);", "}", "berth(4, 'east');"]);
const find = (line: string | undefined, fields: Partial<Parameters<typeof isLatent>[0]> = {}, reader = "tsc") =>
  isLatent(
    { code: "TS2554", severity: "error", ...fields },
    line,
    original,
    READERS.find(({ name }) => name === reader),
  );

describe("a complaint about code that came over unchanged", () => {
  it("is a fault of the original, wherever its line stands", () => {
    expect(find("  return berth(4);")).toBe(true);
    expect(find("\tberth(4, 'east');", { severity: "warning" })).toBe(true);
  });

  it("is not, where the line is new or changed, or says too little", () => {
    expect(find("return berth(4, 2);")).toBe(false);
    expect(find("}")).toBe(false);
    expect(find(undefined)).toBe(false);
  });

  it("is not, where only the twin's language asks for it", () => {
    for (const code of ["TS7006", "TS2307", "TS2339", "TS18048"])
      expect(find("return berth(4);", { code })).toBe(false);
    expect(find("return berth(4);", { code: "no-untyped-def" }, "mypy")).toBe(false);
    expect(find("return berth(4);", { code: "arg-type" }, "mypy")).toBe(true);
  });

  it("is not a note, and may have no code", () => {
    expect(find("return berth(4);", { severity: "note" })).toBe(false);
    expect(find("return berth(4);", { code: null }, "gcc")).toBe(true);
  });
});
