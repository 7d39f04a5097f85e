/** How the files of `src` depend on each other. `biome.json` says what each folder may import; this finds cycles. */
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { findLayers } from "@/core/order/layers";
import { packageRoot } from "@/engine/package-root";

const root = packageRoot();
const files = execFileSync("git", ["ls-files", "--cached", "--others", "--exclude-standard", "src"], {
  cwd: root,
  encoding: "utf8",
})
  .split("\n")
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$/.test(file));

/** File → the files of `src` that it imports, types included. */
const imports = new Map(
  files.map((file) => {
    const text = readFileSync(path.join(root, file), "utf8");
    const names = [...text.matchAll(/from "@\/([^"]+)"|import\("@\/([^"]+)"\)/g)].map((match) => match[1] ?? match[2]);
    const candidates = (name: string) => [`src/${name}.ts`, `src/${name}.tsx`, `src/${name}/index.ts`];
    return [
      file,
      names.flatMap((name) => candidates(name ?? "").filter((candidate) => files.includes(candidate))),
    ] as const;
  }),
);

/** `core/compare`, `service/check`: a room of its layer; other files belong to their layer. */
function folderOf(file: string): string {
  const [layer = "", room = "", ...rest] = path.relative("src", file).split(path.sep);
  return ["core", "engine", "service"].includes(layer) && rest.length > 0 ? `${layer}/${room}` : `${layer}:${room}`;
}

describe("the files of src", () => {
  it("are read, with their imports", () => {
    expect(files.length).toBeGreaterThan(300);
    expect(imports.get("src/core/compare/values.ts")?.length).toBeGreaterThan(3);
  });

  it("do not import each other in circles", () => {
    expect(findLayers(imports).knots).toEqual([]);
  });

  it("lie in folders that do not need each other in circles", () => {
    const needs = new Map<string, string[]>();
    for (const [file, targets] of imports) {
      const from = folderOf(file);
      if (/^(app|ui|testing|cli|api|store):/.test(from)) continue;
      const others = targets.map(folderOf).filter((target) => target !== from);
      needs.set(from, [...(needs.get(from) ?? []), ...others]);
    }
    expect(findLayers(needs).knots).toEqual([]);
  });
});
