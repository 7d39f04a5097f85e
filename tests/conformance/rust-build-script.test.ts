import { expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

it("a crate with a build script is built with it as it is, also where the port ignores it", async () => {
  const outcomes = async (ignore: readonly string[]) => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "rust", ignore },
        twins: [{ name: "js", root: "twin", language: "javascript" }],
        modules: [{ name: "lib", original: ["src/lib.rs"], twins: { js: ["lib.mjs"] } }],
      }),
      "original/Cargo.toml": '[package]\nname = "gauge"\nversion = "0.1.0"\nedition = "2021"\n',
      "original/build.rs": 'fn main() {\n    println!("cargo:rustc-env=STEP=7");\n}\n',
      "original/src/lib.rs": 'pub fn step(n: i64) -> i64 {\n    n * env!("STEP").parse::<i64>().unwrap()\n}\n',
      "twin/lib.mjs": "export const step = (n) => n * 7;\n",
      "cases/c.jsonl": [{ id: "a", module: "lib", call: "step", args: [3] }],
    });
    const { report } = await runCheckOfFile(folder, {});
    return report.cases.map(({ outcome }) => outcome);
  };
  expect(await outcomes([])).toEqual(["agree"]);
  expect(await outcomes(["build.rs"])).toEqual(["agree"]);
});
