import { mkdir, readdir, readFile, writeFile } from "node:fs/promises";
import path from "node:path";
import { driverKey, sideKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { withOwnClock } from "@/engine/drivers/go/own-clock";
import { goProbes } from "@/engine/drivers/go/program-probes";
import { type GoNames, namesOfGo, packageName, registrationOf } from "@/engine/drivers/go/registration";
import { loadParser, probeSource } from "@/engine/source/parse";

export const go: Driver = {
  ...CALLS_ONLY,
  title: "Go",
  languages: ["go"],
  program: "go/sidetwin/driver.go",
  runtime: {
    command: "go",
    names: /^go$/,
    locate: null,
    get: "Install Go, version 1.21 or later (Debian: apt-get install golang-go), or name it in original.call.runtime.",
  },
  probes: goProbes,
  lines: "each",
  shapes: "typed",
  build,
};

const DRIVER = "zz_side_twin";
const MAIN = "zz_side_twin_main";
const MAX_TRIES = 10;

async function build(side: BuildSide): Promise<Built> {
  const folder = path.join(side.home, "go/sidetwin");
  const own = (await readdir(folder)).filter((name) => name.endsWith(".go")).sort();
  const sources = side.files.filter((file) => file.endsWith(".go") && !file.endsWith("_test.go"));
  const version = await driverKey(side, ["go"]);
  const flags = side.call.flags ?? [];
  const isSource = (file: string) => /\.go$|(^|\/)go\.(mod|sum)$/.test(file);
  const key = await sideKey(side, isSource, [...side.runtime, ...flags, version]);
  const home = path.join(side.cache, `go${side.lines ? "-lines" : ""}-${key}`);
  await buildOnce(home, (made) =>
    compile(side, {
      home: made,
      program: path.join(made, "driver"),
      sources,
      driver: own.map((name) => path.join(folder, name)),
    }),
  );
  return { command: [path.join(home, "driver")] };
}

type Places = {
  readonly home: string;
  readonly program: string;
  readonly sources: readonly string[];
  readonly driver: readonly string[];
};

/** Packages that do not compile are left out, with the compiler's output, so that the others can be called. */
async function compile(side: BuildSide, { home, program, sources, driver }: Places): Promise<void> {
  const { module, isThere } = await moduleOf(side.folder);
  const language = isThere ? "" : await languageOf(side);
  const packages = await readPackages(side.folder, sources);
  const complaints = new Map<string, string>();
  // Packages that do not compile with probes, to be built without.
  const plain = new Set<string>();
  for (let tries = 1; ; tries++) {
    const overlay = path.join(home, "overlay.json");
    const kept = new Map([...packages].filter(([folder]) => !complaints.has(folder)));
    await writeOverlay(side.folder, {
      probed: (folder) => side.lines && !plain.has(folder),
      home,
      overlay,
      module,
      language,
      isThere,
      packages: kept,
      complaints,
      driver,
    });
    const goCache = path.join(side.cache, "go-cache");
    await mkdir(goCache, { recursive: true });
    const environment = [
      `GOCACHE=${goCache}`,
      "GOFLAGS=-buildvcs=false",
      "GOTOOLCHAIN=local",
      "GOPROXY=off",
      "GOWORK=off",
    ];
    const { isOk, printed } = await side.run(
      [
        "env",
        ...environment,
        ...side.runtime,
        "build",
        "-overlay",
        overlay,
        ...(side.call.flags ?? []),
        "-o",
        program,
        `./${MAIN}`,
      ],
      home,
      goCache,
    );
    if (isOk) return;
    const found = complaintsIn(printed, side.folder, packages, complaints);
    if (found.size === 0 || tries === MAX_TRIES)
      throw new Error(`the Go sources could not be built: ${printed.trim().slice(0, 1500)}`);
    for (const [folder, what] of found) {
      if (side.lines && !plain.has(folder)) plain.add(folder);
      else complaints.set(folder, what);
    }
  }
}

async function moduleOf(folder: string): Promise<{ module: string; isThere: boolean }> {
  const text = await readFile(path.join(folder, "go.mod"), "utf8").catch(() => null);
  return { module: /^module\s+(\S+)/m.exec(text ?? "")?.[1] ?? "side", isThere: text !== null };
}

/** The language version of the toolchain, which files without a module are compiled in. */
async function languageOf(side: BuildSide): Promise<string> {
  const { printed } = await side.run([...side.runtime, "version"]);
  return /\bgo(\d+\.\d+)/.exec(printed)?.[1] ?? "1.21";
}

type Package = { readonly files: readonly { readonly file: string; readonly names: GoNames }[] };

/** Folder → its package, files for other systems aside. */
async function readPackages(folder: string, sources: readonly string[]): Promise<Map<string, Package>> {
  const parse = await loadParser(["go"]);
  const packages = new Map<string, { file: string; names: GoNames }[]>();
  for (const file of sources) {
    const text = await readFile(path.join(folder, file), "utf8").catch(() => "");
    if (OTHER_SYSTEM.test(file) || /^\/\/go:build /m.test(text)) continue;
    const tree = parse(text, "go");
    if (!tree) continue;
    const names = namesOfGo(tree.root);
    tree.free();
    const own = packages.get(path.posix.dirname(file));
    if (own) own.push({ file, names });
    else packages.set(path.posix.dirname(file), [{ file, names }]);
  }
  return new Map([...packages].map(([at, files]) => [at, { files }]));
}

const OTHER_SYSTEM = /_(windows|darwin|freebsd|openbsd|netbsd|plan9|js|wasm|arm64|386|arm)\.go$/;

async function writeOverlay(
  root: string,
  of: {
    readonly probed: (folder: string) => boolean;
    readonly home: string;
    readonly overlay: string;
    readonly module: string;
    /** Of a folder without a module. */
    readonly language: string;
    readonly isThere: boolean;
    readonly packages: ReadonlyMap<string, Package>;
    readonly complaints: ReadonlyMap<string, string>;
    readonly driver: readonly string[];
  },
): Promise<void> {
  const replace: Record<string, string> = {};
  let count = 0;
  const add = async (file: string, text: string) => {
    const made = path.join(of.home, `${count++}.txt`);
    await writeFile(made, text);
    replace[path.join(root, file)] = made;
  };
  if (!of.isThere) await add("go.mod", `module ${of.module}\n\ngo ${of.language}\n`);
  for (const file of of.driver) replace[path.join(root, DRIVER, path.basename(file))] = file;
  const imports: string[] = [];
  const probes: { file: string; line: number }[] = [];
  const parse = await loadParser(["go"]);
  for (const [folder, { files }] of of.packages) {
    const names = files.map((entry) => entry.names);
    await add(path.join(folder, "zz_side_twin_names.go"), registrationOf(folder, names, `${of.module}/${DRIVER}`));
    for (const { file, names: own } of files) {
      const isProbed = of.probed(folder);
      const given = await readFile(path.join(root, file), "utf8");
      const text = clocked(parse, given);
      if (own.package !== "main" && !isProbed && text === given) continue;
      const tree = isProbed ? parse(text, "go") : null;
      const first = probes.length;
      const probed = tree && probeSource(tree.root, text, "go", (index) => `zz_side_twin_hit(${first + index});`);
      tree?.free();
      for (const line of probed?.lines ?? []) probes.push({ file, line });
      const made = probed?.text ?? text;
      await add(file, made.replace(/^package\s+main\b/m, `package ${packageName(own.package)}`));
    }
    imports.push(`\t_ ${JSON.stringify(folder === "." ? of.module : `${of.module}/${folder}`)}`);
  }
  const entries = [...of.complaints].map(([folder, what]) => `\t\t${JSON.stringify(folder)}: ${JSON.stringify(what)},`);
  await add(
    path.join(MAIN, "main.go"),
    `//go:build go1.18\n\npackage main\n\nimport (\n\tsidetwin ${JSON.stringify(`${of.module}/${DRIVER}`)}\n${imports.join("\n")}\n)\n\nfunc main() {\n\tsidetwin.Main(map[string]string{\n${entries.join("\n")}\n\t}, []sidetwin.Probe{\n${probes.map(({ file, line }) => `\t\t{${JSON.stringify(file)}, ${line}},`).join("\n")}\n\t})\n}\n`,
  );
  await writeFile(of.overlay, JSON.stringify({ Replace: replace }));
}

function clocked(parse: Awaited<ReturnType<typeof loadParser>>, text: string): string {
  const tree = /\btime"/.test(text) ? parse(text, "go") : null;
  const made = tree ? withOwnClock(tree.root, text) : text;
  tree?.free();
  return made;
}

/** Folder → the first complaint about it, of those that are not known yet. */
function complaintsIn(
  printed: string,
  root: string,
  packages: ReadonlyMap<string, Package>,
  known: ReadonlyMap<string, string>,
): Map<string, string> {
  const found = new Map<string, string>();
  for (const line of printed.split("\n")) {
    const place = /^\s*(?:vet: )?(\S+?\.go):(\d+)(?::\d+)?: (.*)$/.exec(line);
    if (!place) continue;
    const [, file = "", at, what] = place;
    const relative = path.isAbsolute(file) ? path.relative(root, file) : path.posix.normalize(file);
    const folder = path.posix.dirname(relative);
    if (packages.has(folder) && !known.has(folder) && !found.has(folder))
      found.set(folder, `${relative}:${at}: ${what}`);
  }
  return found;
}
