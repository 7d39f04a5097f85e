import path from "node:path";
import { expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

it("a module that asks for an older language is built with the driver beside it, and keeps its language", async () => {
  // Until 1.22 a loop has one variable for all its rounds.
  const source = (module: string) => ({
    "go.mod": `module ${module}\n\ngo 1.13\n`,
    "lock.go":
      "package lock\n\nfunc Rounds(n int) []int {\n\tvar reads []func() int\n\tfor at := 0; at < n; at++ {\n\t\treads = append(reads, func() int { return at })\n\t}\n\tseen := []int{}\n\tfor _, read := range reads {\n\t\tseen = append(seen, read())\n\t}\n\treturn seen\n}\n",
  });
  const under = (folder: string, files: Readonly<Record<string, string>>) =>
    Object.fromEntries(Object.entries(files).map(([name, text]) => [path.join(folder, name), text]));
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "go" },
      twins: [{ name: "js", root: "twin", language: "javascript" }],
    }),
    ...under("original", source("canal/lock")),
    "twin/lock.mjs": "export const rounds = (n) => Array(n).fill(n);\n",
    "cases/c.jsonl": [{ id: "a", module: "lock", call: "Rounds", args: [3] }],
  });
  const { report } = await runCheckOfFile(folder, {});
  expect(report.cases.map(({ outcome, why }) => ({ outcome, why }))).toEqual([{ outcome: "agree", why: undefined }]);
});
