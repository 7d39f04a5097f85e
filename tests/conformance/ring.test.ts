/**
 * Ports between the languages: each one's conformance source is the twin of another's. The same table of cases is checked like
 * any port; what both sides have agrees, and an error's words may differ.
 */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { reportSchema } from "@/core/formats/report";
import { packageRoot } from "@/engine/package-root";
import { runCheckOfFile } from "@/service/check/run-check";
import { pairPort } from "@/service/reading/pair-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";
import { ROWS, SHAPES } from "./table";

const FILES: Readonly<Record<string, string>> = {
  python: "side.py",
  javascript: "side.js",
  java: "side.java",
  go: "side.go",
  ruby: "side.rb",
  php: "side.php",
  c: "side.c",
  cpp: "side.cpp",
  rust: "side.rs",
};
/** Each as original and as twin. */
const RING = ["python", "c", "rust", "go", "cpp", "java", "php", "ruby", "javascript", "python"];
const PAIRS = RING.slice(1).map((twin, at) => [RING[at] ?? "", twin] as const);

const sourceOf = (language: string) =>
  readFileSync(path.join(packageRoot(), "tests/conformance/sides", FILES[language] ?? ""), "utf8");

describe.each(PAIRS)("a port from %s to %s", (original, twin) => {
  it("agrees in all that both languages have", async () => {
    const rows = ROWS.filter(({ in: own }) => own?.[original] !== null && own?.[twin] !== null);
    // What only one side refuses by its types, and rows whose value is another kind in one of them, are not comparable.
    const cases = rows
      .filter(({ gives, in: own }) => !(own?.[original] || own?.[twin]) && !isRefused(gives))
      .map(({ name, args }, at) => ({ id: `${at} ${name}`, module: "side", call: name, args }));
    expect(cases.length).toBeGreaterThan(10);
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: original },
        twins: [{ name: "t", root: "twin", language: twin }],
        modules: [{ name: "side", original: [FILES[original]], twins: { t: [FILES[twin]] } }],
        shapes: SHAPES,
        cases: ["cases.jsonl"],
        equality: { errorMessage: "relaxed" },
      }),
      [`original/${FILES[original]}`]: sourceOf(original),
      [`twin/${FILES[twin]}`]: sourceOf(twin),
      "cases.jsonl": cases.map((item) => JSON.stringify(item)).join("\n"),
    });
    const report = reportSchema.parse((await runCheckOfFile(folder, {})).report);
    const others = report.cases.filter(({ outcome }) => outcome !== "agree" && outcome !== "allowed");
    expect(others).toEqual([]);
    expect(report.modules[0]?.provenLines ?? 0).toBeGreaterThan(5);
    const pairing = await pairPort(folder);
    const sections = JSON.stringify(pairing);
    for (const name of ["twice", "join", "fill"]) expect(sections).toContain(name);
  }, 120_000);
});

const isRefused = (gives: unknown): boolean =>
  typeof gives === "object" && gives !== null && ("broken" in gives || "missing" in gives);
