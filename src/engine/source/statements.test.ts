/** Tests the statement rules of every language: executable lines and probe places. */
import { expect, it } from "vitest";
import { loadParser, parseSource, probeSource } from "@/engine/source/parse";

const SAMPLES: Readonly<
  Record<string, { readonly text: string; readonly lines: readonly number[]; readonly probed: string }>
> = {
  c: {
    text: "int f(int a) {\n  int b;\n  int c = 1;\n  if (a) return 1; else if (c) b = 2;\n  for (;;) { break; }\nend:\n  ;\n  return b;\n}\n",
    lines: [3, 4, 5, 8],
    probed: "P(); if (a) { P(); return 1; } else { P(); if (c) { P(); b = 2; } }",
  },
  cpp: {
    text: "constexpr int k() { return 1; }\nint f(int a) {\n  using T = int;\n  for (int x : {1}) a += x;\n  auto g = [](int n) { return n; };\n  try { g(a); } catch (...) { throw; }\n  return a;\n}\n",
    lines: [4, 5, 6, 7],
    probed: "P(); for (int x : {1}) { P(); a += x; }",
  },
  go: {
    text: "package a\nfunc f(a int) int {\n\tvar x int\n\tif a > 1 {\n\t\tx = 1\n\t} else if a > 0 {\n\t\tx = 2\n\t}\nL:\n\tfor {\n\t\tbreak L\n\t}\n\treturn x\n}\n",
    lines: [4, 5, 6, 7, 9, 11, 13],
    probed: "} else { P(); if a > 0 {",
  },
  java: {
    text: "class A {\n  A() { super(); int x; }\n  int f(int a) {\n    if (a > 1) a++;\n    switch (a) { case 1: return 1; default: break; }\n    Runnable r = () -> { a(); };\n    return a;\n  }\n}\n",
    lines: [4, 5, 6, 7],
    probed: "P(); switch (a) { case 1: P(); return 1; default: P(); break; }",
  },
  rust: {
    text: "const N: i32 = { 1 };\nfn f(a: i32) -> i32 {\n    let x;\n    #[rustfmt::skip]\n    let y = 1;\n    fn inner() { g(); }\n    x = y;\n    if a > 1 { x } else { 2 }\n}\n",
    lines: [5, 6, 7, 8],
    probed: "P(); #[rustfmt::skip]\n    let y = 1;",
  },
  php: {
    text: "<?php\n$top = 1;\nfunction f($a) {\n  if ($a) return 1;\n  while (1): g(); endwhile;\n  switch ($a) { case 1: break; }\n  return 2;\n}\n",
    lines: [2, 4, 5, 6, 7],
    probed: "P(); if ($a) { P(); return 1; }",
  },
};

it.each(Object.entries(SAMPLES))(
  "of %s begin on these lines, and are probed in place",
  async (language, { text, lines, probed }) => {
    expect((await parseSource(text, language)).statementLines).toEqual(lines);
    const tree = (await loadParser([language]))(text, language);
    if (!tree) throw new Error("no tree");
    const made = probeSource(tree.root, text, language, () => "P();");
    tree.free();
    expect(made?.text).toContain(probed);
    // Lines stay, and nothing of the text is lost.
    expect(made?.text.split("\n")).toHaveLength(text.split("\n").length);
    expect(made?.text.replace(/P\(\); |\{ (?=P)| \}/g, "").length).toBeLessThanOrEqual(text.length);
    const again = (await loadParser([language]))(made?.text ?? "", language);
    expect(again?.root.hasError).toBe(false);
    again?.free();
  },
);

it.each([
  ["c", "int f(int n) {\n  if (n) again: n--;\n  return n;\n}\n", [2, 3]],
  ["c", "int f(int n) {\n  EACH(n) n++;\n  return n;\n}\nint g(void) {\n  return 1;\n}\n", [6]],
  ["php", "<?php\nfunction f() {\n  for ($i = 0; $i < 3; $i++);\n  return $i;\n}\n", [3, 4]],
])(
  "in %s a statement that has no room for another, or is not understood, gets none: %j",
  async (language, text, lines) => {
    expect((await parseSource(text, language)).statementLines).toEqual(lines);
    const tree = (await loadParser([language]))(text, language);
    const made = tree && probeSource(tree.root, text, language, () => "P();");
    expect(made?.text).not.toMatch(/again: P|case 1: P|\+\+; \}|P\(\); \$i\+\+/);
  },
);

it("of a language without rules are not probed", async () => {
  const tree = (await loadParser(["python"]))("x = 1\n", "python");
  expect(tree && probeSource(tree.root, "x = 1\n", "python", () => "P();")).toBeNull();
  tree?.free();
});
