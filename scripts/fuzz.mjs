/** `npm run fuzz [TURNS]`: the property tests again and again, each turn from another seed; ends at the first failure. */
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { HOME } from "./setup.mjs";

const source = path.join(HOME, "src");
const properties = fs
  .readdirSync(source, { recursive: true, encoding: "utf8" })
  .filter((name) => name.endsWith(".test.ts") && fs.readFileSync(path.join(source, name), "utf8").includes("fc.assert"))
  .map((name) => path.join("src", name));
for (let turn = 1; turn <= Number(process.argv[2] ?? 20); turn++) {
  const seed = Math.floor(Math.random() * 2 ** 31);
  process.stdout.write(`turn ${turn}, seed ${seed}\n`);
  const args = [path.join(HOME, "node_modules/vitest/vitest.mjs"), "run", "--reporter=dot", ...properties];
  const env = { ...process.env, SIDE_TWIN_SEED: String(seed) };
  const ran = spawnSync(process.execPath, args, { cwd: HOME, env, encoding: "utf8" });
  if (ran.status !== 0) {
    process.stdout.write(
      `${ran.stdout}\n${ran.stderr}\nAgain: SIDE_TWIN_SEED=${seed} npm test -- ${properties.join(" ")}\n`,
    );
    process.exit(1);
  }
}
