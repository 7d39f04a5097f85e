import { describe, expect, it } from "vitest";
import { decodeOutput, decodeText } from "@/engine/files/text";

const utf16 = (text: string, order: "le" | "be") => {
  const bytes = Buffer.from(`\ufeff${text}`, "utf16le");
  return order === "le" ? bytes : bytes.swap16();
};

describe("what a tool printed", () => {
  it.each<[string, Buffer, string]>([
    ["UTF-8", Buffer.from("fähre: 東 😀\n"), "fähre: 東 😀\n"],
    ["Latin-1", Buffer.from("f\xe4hre 3\n", "latin1"), "fähre 3\n"],
    ["both, line by line", Buffer.concat([Buffer.from("東\n"), Buffer.from("gro\xdf\n", "latin1")]), "東\ngroß\n"],
    ["UTF-16, little-endian", utf16("a.c:3: é", "le"), "a.c:3: é"],
    ["UTF-16, big-endian", utf16("a.c:3: é", "be"), "a.c:3: é"],
    ["a replacement character that was printed", Buffer.from("a \ufffd b"), "a \ufffd b"],
    ["Latin-1 that begins like a byte-order mark", Buffer.from("\xff\xfe\n", "latin1"), "ÿþ\n"],
    ["a zero byte", Buffer.alloc(1), "\0"],
    ["a single byte", Buffer.from("\xff", "latin1"), "ÿ"],
    ["nothing", Buffer.alloc(0), ""],
  ])("is read as %s", (_name, bytes, text) => {
    expect(decodeOutput(bytes)).toBe(text);
  });
});

describe("a source", () => {
  it("keeps its byte-order mark", () => {
    expect(decodeText(Buffer.from("\ufeffx"), "a.py")).toBe("\ufeffx");
  });

  it.each([
    ["a\nb\n\xe4\n", 3],
    ["\xe4", 1],
    ["a\n\xe4b\nc", 2],
  ])("that is not UTF-8 is refused with its line: %j", (text, line) => {
    expect(() => decodeText(Buffer.from(text, "latin1"), "src/a.py")).toThrow(
      expect.objectContaining({ code: "bad-input", where: { file: "a.py", line } }),
    );
  });
});
