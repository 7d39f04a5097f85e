/** Keys: one meaning each across views, and `docs/keys.md` lists them. */
import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { KEY_MEANINGS } from "@/ui/frame/key-table";
import { VIEWS } from "@/ui/frame/views";

const ui = path.join(packageRoot(), "src/ui");
const files = readdirSync(ui, { recursive: true, encoding: "utf8" }).filter(
  (file) => /\.tsx?$/.test(file) && !/test/.test(file),
);
/** Keys of views, as they are written: `key: "c"` beside `does`. */
const used = new Map<string, string[]>();
for (const file of files)
  for (const [, key = ""] of readFileSync(path.join(ui, file), "utf8").matchAll(
    /key: "([^"]+)",\s+(?:shows: "[^"]*",\s+)?does:/g,
  ))
    used.set(key, [...(used.get(key) ?? []), file]);

it("every key of a view has its one meaning in the table", () => {
  expect(used.size).toBeGreaterThan(30);
  for (const [key, where] of used) expect(KEY_MEANINGS[key], `${key} in ${where}`).toBeDefined();
});

it("every meaning in the table is in use", () => {
  // Plans and tabs are counted through.
  for (const key of Object.keys(KEY_MEANINGS)) expect([...used.keys(), "1", "2", "3", "4"], key).toContain(key);
});

it("views have keys that nothing else has", () => {
  const keys = VIEWS.map(({ key }) => key);
  expect(new Set(keys).size).toBe(keys.length);
  for (const key of keys) expect(KEY_MEANINGS[key], key).toBeUndefined();
});

it("are listed in docs/keys.md", () => {
  const text = readFileSync(path.join(packageRoot(), "docs/keys.md"), "utf8");
  const rows = [...text.matchAll(/^\| `([^`]+)` \| (.+) \|$/gm)].map(([, key, meaning]) => [key, meaning]);
  expect(Object.fromEntries(rows)).toEqual({
    ...KEY_MEANINGS,
    ...Object.fromEntries(VIEWS.map(({ key, title }) => [key, `go to ${title}`])),
  });
});
