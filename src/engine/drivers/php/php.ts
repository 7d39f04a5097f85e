import { mkdir, readFile, realpath, writeFile } from "node:fs/promises";
import path from "node:path";
import { buildKey, driverKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { phpProbes } from "@/engine/drivers/php/program-probes";
import { loadParser, probeSource } from "@/engine/source/parse";

export const php: Driver = {
  ...CALLS_ONLY,
  title: "PHP",
  languages: ["php"],
  program: "php/driver.php",
  runtime: {
    command: "php",
    names: /^php(\d+(\.\d+)?)?$/,
    locate: ["-r", "echo PHP_BINARY;"],
    get: "Install PHP, version 8.1 or later (Debian: apt-get install php-cli), or name it in original.call.runtime.",
  },
  flags: (memoryMb) => ["-ddisplay_errors=stderr", `-dmemory_limit=${memoryMb}M`, "-dserialize_precision=-1"],
  fix: { by: "library", canSeed: true, isForCalls: true },
  probes: phpProbes,
  lines: "each",
  shapes: "untyped",
  build,
};

/** Builds nothing, except instrumented copies of the sources when lines are reported. */
async function build(side: BuildSide): Promise<Built> {
  const command = [...side.runtime, ...php.flags(side.memoryMb), path.join(side.home, php.program)];
  if (!side.lines) return { command };
  const files = side.files.filter((file) => file.endsWith(".php"));
  const home = path.join(
    side.cache,
    `php-lines-${await buildKey(side.folder, files, [await driverKey(side, ["php"])])}`,
  );
  await buildOnce(home, (folder) => writeCopies(side, { files, folder, home }));
  return { command: [...command, path.join(home, "probes.json")] };
}

/** Copies are loaded in place of the files that `probes.json` names. */
async function writeCopies(
  side: BuildSide,
  { files, folder, home }: { readonly files: readonly string[]; readonly folder: string; readonly home: string },
): Promise<void> {
  const parse = await loadParser(["php"]);
  const probes: [file: string, line: number][] = [];
  const copies: Record<string, string> = {};
  await mkdir(folder, { recursive: true });
  for (const [at, file] of files.entries()) {
    const text = await readFile(path.join(side.folder, file), "utf8");
    const tree = parse(text, "php");
    const first = probes.length;
    const probed = tree && probeSource(tree.root, text, "php", (index) => `\\SideTwin\\hit(${first + index});`);
    tree?.free();
    if (!probed) continue;
    probes.push(...probed.lines.map((line): [string, number] => [file, line]));
    await writeFile(path.join(folder, `${at}.php`), probed.text);
    copies[await realpath(path.join(side.folder, file))] = path.join(home, `${at}.php`);
  }
  await writeFile(path.join(folder, "probes.json"), JSON.stringify({ probes, copies }));
}
