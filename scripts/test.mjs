/**
 * `npm test`: installs what is missing, then type check, lint, and all tests; the last line is `N passed, N failed`.
 * `npm test -- PATTERN` runs the test files that match alone.
 */
import fs from "node:fs";
import path from "node:path";
import { HOME, installPackages, installTestPrograms, run } from "./setup.mjs";

installPackages();
const missing = installTestPrograms();
if (missing.length > 0) {
  process.stderr.write(`Missing: ${missing.join(", ")}. Install them and run the tests again.\n0 passed, 1 failed\n`);
  process.exit(1);
}

const pattern = process.argv.slice(2);
const tool = (file) => path.join(HOME, "node_modules", file);
const steps = [
  ["types", process.execPath, [tool("typescript/bin/tsc"), "--noEmit"]],
  ["types of plain JavaScript", process.execPath, [tool("typescript/bin/tsc"), "-p", "tsconfig.mjs.json"]],
  ["lint", process.execPath, [tool("@biomejs/biome/bin/biome"), "check", "--error-on-warnings", "."]],
  ["build", process.execPath, [tool("next/dist/bin/next"), "build"]],
];

let passed = 0;
let failed = 0;
for (const [name, program, args] of pattern.length > 0 ? [] : steps) {
  const quiet =
    name === "build"
      ? { stdio: ["ignore", "ignore", "inherit"], env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" } }
      : {};
  process.stdout.write(`\n== ${name}\n`);
  if (run(program, args, quiet)) passed++;
  else failed++;
}

const results = path.join(HOME, "node_modules/.cache/side-twin-tests.json");
fs.rmSync(results, { force: true });
process.stdout.write("\n== tests\n");
const ran = run(process.execPath, [
  tool("vitest/vitest.mjs"),
  "run",
  "--reporter=default",
  "--reporter=json",
  `--outputFile.json=${results}`,
  ...pattern,
]);
const told = fs.existsSync(results) ? JSON.parse(fs.readFileSync(results, "utf8")) : null;
passed += told?.numPassedTests ?? 0;
failed += told?.numFailedTests ?? 0;
// A file that could not even be read counts, though it has no test that could fail.
if (!ran && (told?.numFailedTests ?? 0) === 0) failed++;
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed > 0 ? 1 : 0;
