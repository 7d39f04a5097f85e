// biome-ignore-all lint/suspicious/noTemplateCurlyInString: the code that is changed has templates
/** Changes of loops, texts, patterns and chains in each language. */
import { expect, it } from "vitest";
import { applyEdit } from "@/core/mending/edit";
import { MEND_LANGUAGES } from "@/core/mending/languages/index";
import { loadParser } from "@/engine/source/parse";

async function changes(language: string, line: string, causes: readonly string[]): Promise<string[]> {
  const text = language === "python" ? `def f(a, b):\n    ${line}\n` : `function f(a, b) {\n  ${line}\n}\n`;
  const tree = (await loadParser([language]))(text, language);
  const edits = MEND_LANGUAGES.get(language)?.editsOf({
    root: tree?.root as never, // the grammar ships
    text,
    isSuspect: () => true,
    numbers: [],
    texts: [],
    causes,
  });
  const made = (edits ?? []).map((edit) => applyEdit(text, edit).split("\n")[1]?.trim() ?? "");
  tree?.free();
  return made;
}

it.each([
  ["for (let i = 1; i <= a; i++) b(i);", "off-by-one", "for (let i = 0; i < a; i++) b(i);"],
  ["for (let i = 0; i < a; i++) b(i);", "off-by-one", "for (let i = 1; i <= a; i++) b(i);"],
  ["a.x = b;", "changed-argument", "a = { ...a }; a.x = b;"],
  ["a.push(b);", "changed-argument", "a = [...a]; a.push(b);"],
  ["return `${a}:${b}`;", "number-format", '`${a}:${String(b).padStart(2, "0")}`'],
  ["return `<${a}>`;", "null-and-missing", '`<${a ?? ""}>`'],
  ["return String(a);", "null-and-missing", 'return String(a ?? "");'],
  ["return parseInt(a, 10);", "floor-or-truncate", "return Number(a);"],
  ['return a.split(" ").length;', "whitespace", "return a.split(/\\s+/).filter(Boolean).length;"],
  ['return a.split("\\n");', "line-ending", "return a.split(/\\r\\n|\\r|\\n/);"],
  ["return a.replace(/[^a-z]/g, b);", "separator", "return a.replace(/[^a-z]+/g, b);"],
  ["return a.replace(/x+/g, b);", "separator", "return a.replace(/x/g, b);"],
  ["return a.replace(/x/, b);", "first-only", "return a.replace(/x/g, b);"],
  ["return /x/.test(a);", "text-case", "return /x/i.test(a);"],
])("in TypeScript %s, by %s, becomes %s among others", async (line, cause, wanted) => {
  expect((await changes("typescript", line, [cause])).join("\n")).toContain(wanted);
});

it.each([
  ["return a[:b]", "off-by-one", "return a[:b - 1]"],
  ["return a[b:]", "cut-short", "return a[b + 1:]"],
  ["return f'{a}:{b}'", "number-format", "return f'{a}:{b:02d}'"],
  ["return f'{round(a * 100)} %'", "number-format", "return f'{a * 100:.1f} %'"],
  ["return int(a)", "floor-or-truncate", "return float(a)"],
  ["a = a * 31 + b", "int32-wrap", "a = (a * 31 + b) & 0xFFFFFFFF"],
  ["a = a << 5", "int32-wrap", "a = (((a << 5) + 0x80000000) & 0xFFFFFFFF) - 0x80000000"],
  ["return a.lower().strip()", "whitespace", "return a.strip().lower()"],
  ["return a.f(1).g(2).h(3)", "escaping", "return a.h(3).f(1).g(2)"],
])("in Python %s, by %s, becomes %s among others", async (line, cause, wanted) => {
  expect(await changes("python", line, [cause])).toContain(wanted);
});

it.each([
  // What is formatted already, has a plain bound, or is no chain has no such change.
  ["python", "return f'{a:>3}'", ":02d"],
  ["python", "return a[1:]", "1 - 1"],
  ["python", "a = b", "0xFFFFFFFF"],
  ["typescript", "for (const i of a) b(i);", "counts"],
  ["typescript", "return a.x;", "{ ...a }; return"],
])("in %s %s has no change with %s without its cause", async (language, line, absent) => {
  expect((await changes(language, line, [])).join("\n")).not.toContain(absent);
});

it("a large number is changed to those of the original, and not to its neighbours", async () => {
  expect(await changes("typescript", "return a * 86400000;", [])).not.toContain("return a * 86399999;");
  expect(await changes("typescript", "return a * 60;", [])).toContain("return a * 59;");
});
