/** Installs prerequisites: packages, and for tests the programs that they drive. Needs only Node.js. */
import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

export const HOME = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

/** Runs a command in the project's folder; its output is the person's to see. Returns whether it succeeded. */
export function run(program, args, options = {}) {
  const { status, error } = spawnSync(program, args, { cwd: HOME, stdio: "inherit", ...options });
  if (error) process.stderr.write(`${program}: ${error.message}\n`);
  return status === 0;
}

/** Installs the packages of the lock file unless exactly those are installed. */
export function installPackages() {
  const wanted = fs.statSync(path.join(HOME, "package-lock.json")).mtimeMs;
  const installed =
    fs.statSync(path.join(HOME, "node_modules/.package-lock.json"), { throwIfNoEntry: false })?.mtimeMs ?? 0;
  if (installed >= wanted) return;
  if (sameLock()) return;
  process.stderr.write("Installing packages …\n");
  if (!run("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"])) {
    process.stderr.write("The packages could not be installed. Check the network and run the command again.\n");
    process.exit(1);
  }
}

/** A fresh checkout changes the date of the lock file; compare its content. */
function sameLock() {
  const read = (file) => {
    try {
      return JSON.parse(fs.readFileSync(path.join(HOME, file), "utf8")).packages;
    } catch {
      return null;
    }
  };
  const [wanted, installed] = [read("package-lock.json"), read("node_modules/.package-lock.json")];
  if (!wanted || !installed) return false;
  return Object.entries(wanted).every(
    ([name, facts]) => name === "" || facts.optional || installed[name]?.version === facts.version,
  );
}

const CHROMIUM = ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

/** Program, its version flag, and its Debian package. */
const TOOLCHAINS = [
  ["python3", "--version", "python3"],
  ["javac", "-version", "openjdk-17-jdk-headless"],
  ["go", "version", "golang-go"],
  ["ruby", "--version", "ruby"],
  ["php", "--version", "php-cli"],
  ["cc", "--version", "gcc"],
  ["c++", "--version", "g++"],
  ["cargo", "--version", "cargo"],
  ["mypy", "--version", "mypy"],
];

/** Compilers from npm in versions of their own, so that they do not take the place of the project's. */
const TEST_TOOLS = "tests/tools";

function installTestTools() {
  if (fs.existsSync(path.join(HOME, TEST_TOOLS, "node_modules/typescript/package.json"))) return true;
  const args = ["ci", "--no-audit", "--no-fund", "--loglevel=error", "--prefix", path.join(HOME, TEST_TOOLS)];
  return run("npm", args);
}

/** Installs the test tools, and Debian's Chromium and toolchains where they are missing. Returns the names of those still missing. */
export function installTestPrograms() {
  const hasTools = installTestTools();
  const missing = () => [
    ...(hasTools ? [] : [`the packages of ${TEST_TOOLS}`]),
    ...(CHROMIUM.some((file) => fs.existsSync(file)) ? [] : ["chromium"]),
    ...TOOLCHAINS.flatMap(([program, flag, packageName]) =>
      spawnSync(program, [flag]).status === 0 ? [] : [packageName],
    ),
  ];
  const wanted = missing();
  if (wanted.length === 0 || !hasTools) return wanted;
  process.stderr.write(`Installing ${wanted.join(", ")} from Debian's packages …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  run("apt-get", ["update", "-qq"], { env });
  run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...wanted], {
    env,
    stdio: ["ignore", "ignore", "inherit"],
  });
  return missing();
}
