import { describe, expect, it } from "vitest";
import { findMentions } from "@/core/survey/mentions";

const names = {
  modules: [
    { name: "fares", files: ["ferry/fares.py"] },
    { name: "io", files: ["ferry/io.py"] },
  ],
  packages: ["numpy", "@salt/web", "re"],
};
const found = (text: string) =>
  findMentions([{ path: "notes", text }], names).map(({ line, name }) => `${line} ${name}`);

describe("mentions in files that are not code", () => {
  it("are paths, dotted names and plain names of modules, and names of packages", () => {
    expect(found("run ferry/fares.py\nentry = ferry.fares:main\nsee fares.\n./ferry/fares.py, numpy>=2")).toEqual([
      "1 fares",
      "2 fares",
      "3 fares",
      "4 fares",
      "4 numpy",
    ]);
    expect(found('"@salt/web": "1.0"')).toEqual(["1 @salt/web"]);
  });

  it("are whole words, each once a line, and no words of two letters", () => {
    expect(found("fares and fares; welfares, fares_old, refares")).toEqual(["1 fares"]);
    expect(found("io and re are everywhere, numpyish is not")).toEqual([]);
    expect(found("but ferry/io.py is a file")).toEqual(["1 io"]);
  });

  it("stop where a text is made of nothing else", () => {
    expect(found("fares\n".repeat(9000))).toHaveLength(5000);
  });
});
