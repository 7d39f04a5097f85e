/** What a port's modules rest on, in languages whose files see each other without naming each other. */
import { describe, expect, it } from "vitest";
import { PortReader, stampOf } from "@/service/reading/reading";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

const TWIN = { twins: [{ name: "ts", root: "twin", language: "typescript" }] };

/** Module → what it needs, and which modules' stamps another text of a file changes. */
async function readTwice(port: object, files: Record<string, unknown>, changed: Record<string, string>) {
  const folder = temporaryFolder({ "side-twin.json": port, ...files });
  const reader = new PortReader();
  const before = await reader.read(folder);
  writeFiles(folder, changed);
  const after = await reader.read(folder);
  return {
    needs: Object.fromEntries(after.modules.map(({ name, needs }) => [name, [...needs].sort()])),
    layers: Object.fromEntries(after.layers.layer),
    stale: after.modules
      .map(({ name }) => name)
      .filter((name) => stampOf(before, name, "ts") !== stampOf(after, name, "ts")),
  };
}

describe("what a module needs", () => {
  it("is found in a package of Java, and makes what rests on a change stale", async () => {
    const java = portFile({ ...TWIN, original: { root: "o", language: "java" } });
    const files = {
      "o/Till.java": "package p;\nclass Till { Coin coin = new Coin(); }\n",
      "o/Coin.java": "package p;\nclass Coin { int n = 1; }\n",
      "o/Rope.java": "package p;\nclass Rope {}\n",
    };
    const changed = { "o/Coin.java": "package p;\nclass Coin { int n = 22; }\n" };
    expect(await readTwice(java, files, changed)).toEqual({
      needs: { Till: ["Coin"], Coin: [], Rope: [] },
      layers: { Till: 1, Coin: 0, Rope: 0 },
      stale: ["Coin", "Till"],
    });
  });

  it("is found in a package of Go, and through the module's own path", async () => {
    const go = portFile({ ...TWIN, original: { root: "o", language: "go" } });
    const files = {
      "o/go.mod": "module salt.example/x\n",
      "o/main.go": 'package main\n\nimport "salt.example/x/tides"\n\nfunc main() { tides.Height(side()) }\n',
      "o/side.go": "package main\n\nfunc side() int { return 1 }\n",
      "o/tides/tides.go": "package tides\n\nfunc Height(n int) int { return n }\n",
    };
    const changed = { "o/tides/tides.go": "package tides\n\nfunc Height(n int) int { return n + 1 }\n" };
    expect(await readTwice(go, files, changed)).toMatchObject({
      needs: { main: ["side", "tides"], side: [], tides: [] },
      stale: ["main", "tides"],
    });
  });

  it("is found through aliases of a tsconfig, and follows when that changes", async () => {
    const config = (target: string) => JSON.stringify({ compilerOptions: { paths: { "@/*": [`${target}/*`] } } });
    const typescript = portFile({
      twins: [{ name: "ts", root: "twin", language: "rust" }],
      original: { root: "o", language: "typescript" },
    });
    const files = {
      "o/tsconfig.json": config("./old"),
      "o/app.ts": 'import { f } from "@/lamp";\nexport const g = () => f();\n',
      "o/old/lamp.ts": "export const f = () => 1;\n",
      "o/new/lamp.ts": "export const f = () => 2;\n",
    };
    const { needs, stale } = await readTwice(typescript, files, { "o/tsconfig.json": config("./new") });
    expect(needs.app).toEqual(["new/lamp"]);
    expect(stale).toEqual(["app"]);
  });

  it("is what imports say where a file cannot be parsed or is of another language", async () => {
    const files = {
      "original/a.py": "from b import x\ndef (((\n",
      "original/b.py": "x = 1\n",
      "original/notes.md": "from b import nothing\n",
    };
    const read = await readTwice(portFile(), files, { "original/b.py": "x = 2\n" });
    expect(read).toMatchObject({ needs: { a: ["b"], b: [] }, stale: ["a", "b"] });
  });
});
