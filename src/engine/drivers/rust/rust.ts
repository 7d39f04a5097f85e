import { existsSync } from "node:fs";
import { mkdir, readFile, rename, rm, symlink, utimes, writeFile } from "node:fs/promises";
import path from "node:path";
import { buildKey, driverKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { cargoErrors } from "@/engine/drivers/rust/cargo-errors";
import { type Crate, findCrates } from "@/engine/drivers/rust/crates";
import type { Statics } from "@/engine/drivers/rust/declarations";
import { rustProbes } from "@/engine/drivers/rust/program-probes";
import { NAMES } from "@/engine/drivers/rust/registration";
import { SourceCopy } from "@/engine/drivers/rust/source-copy";
import { loadParser } from "@/engine/source/parse";

export const rust: Driver = {
  ...CALLS_ONLY,
  title: "Rust",
  languages: ["rust"],
  program: "rust/sidetwin/src/lib.rs",
  runtime: {
    command: "cargo",
    names: /^cargo$/,
    locate: null,
    get: "Install Rust, version 1.63 or later (Debian: apt-get install cargo), or name cargo in original.call.runtime.",
  },
  fix: { by: "library", canSeed: true, isForCalls: false },
  probes: rustProbes,
  lines: "each",
  shapes: "typed",
  build,
};

const MAX_TRIES = 20;
const LIBRARY = "zz_side_twin";

async function build(side: BuildSide): Promise<Built> {
  const library = path.join(side.home, "rust/sidetwin");
  const files = side.files.filter((file) => !/(^|\/)target\//.test(file));
  const version = await driverKey(side, ["rust"]);
  const terms = [...side.runtime, ...(side.call.flags ?? []), version];
  const home = path.join(side.cache, `rust${side.lines ? "-lines" : ""}-${await buildKey(side.folder, files, terms)}`);
  await buildOnce(home, (folder) => compile(side, { folder, files, library }));
  return { command: [path.join(home, "program")] };
}

/** A program of its own that Cargo runs before it builds the crate: it is copied as it is. */
const isBuildScript = (file: string, files: readonly string[]): boolean =>
  path.posix.basename(file) === "build.rs" && files.includes(path.posix.join(path.posix.dirname(file), "Cargo.toml"));

type Places = { readonly folder: string; readonly files: readonly string[]; readonly library: string };

/** Builds a copy of the sources with registration code; leaves out what does not compile, with the compiler's message. */
async function compile(side: BuildSide, { folder, files, library }: Places): Promise<void> {
  const shadow = path.join(folder, "side");
  const parse = await loadParser(["rust"]);
  const sources = new Map<string, SourceCopy>();
  const probes: { file: string; line: number }[] = [];
  for (const file of files.filter((name) => name.endsWith(".rs") && !isBuildScript(name, files))) {
    const text = await readFile(path.join(side.folder, file), "utf8");
    sources.set(file, new SourceCopy(file, text, parse, side.lines ? probes : null));
  }
  const crates = await findCrates(side.folder, files, (file) => sources.get(file)?.module.children ?? []);
  await copyTree({ side, shadow, files, crates, library });
  const program = path.join(folder, "driver");
  await mkdir(path.join(program, "src"), { recursive: true });
  const profiles = await profilesOf(side.folder);
  await writeFile(path.join(program, "Cargo.toml"), manifestOf(crates, shadow, library, profiles));
  const target = path.join(side.cache, `rust-target-${await buildKey(side.folder, [], [])}`);
  await mkdir(target, { recursive: true });
  await utimes(target, new Date(), new Date());
  const version = (await side.run([...side.runtime, "--version"], folder)).printed.split(" ")[1] ?? "";
  const written = new Map<string, string>();
  for (let tries = 1; ; tries++) {
    for (const [file, source] of sources) {
      const text = source.text();
      if (written.get(file) === text) continue;
      await mkdir(path.dirname(path.join(shadow, file)), { recursive: true });
      await writeFile(path.join(shadow, file), text);
      written.set(file, text);
    }
    await writeFile(path.join(program, "src/main.rs"), mainOf(crates, { sources, probes, version }));
    const command = [
      "env",
      `CARGO_TARGET_DIR=${target}`,
      "RUSTFLAGS=--cap-lints=allow",
      ...side.runtime,
      "build",
      "--offline",
      "--message-format=json",
      "--manifest-path",
      path.join(program, "Cargo.toml"),
      ...(side.call.flags ?? []),
    ];
    const { isOk, printed } = await side.run(command, folder, target);
    if (isOk) {
      const executable = /"executable":"((?:[^"\\]|\\.)*)"/.exec(printed)?.[1];
      if (executable === undefined) throw new Error("cargo built no program");
      await rename(JSON.parse(`"${executable}"`), path.join(folder, "program"));
      await Promise.all([shadow, program].map((made) => rm(made, { recursive: true, force: true })));
      return;
    }
    let isNew = false;
    const errors = cargoErrors(printed, shadow);
    const renewed = new Set<string>();
    for (const error of errors) {
      const source = sources.get(error.file);
      if (!source || renewed.has(error.file)) continue;
      // Falls back to the original file before leaving any of it out: a probe may be the cause.
      const plain = source.withoutProbes(error, parse);
      if (plain) {
        sources.set(error.file, plain);
        renewed.add(error.file);
      }
      isNew = plain !== null || source.leaveOut(error) || isNew;
    }
    if (isNew && tries < MAX_TRIES) continue;
    const first = errors[0] ? `${errors[0].file}:${errors[0].line}: ${errors[0].what}` : plainErrors(printed);
    throw new Error(`the Rust sources could not be built: ${first}`);
  }
}

/** Output of cargo beside its messages, such as a missing dependency. */
const plainErrors = (printed: string): string =>
  printed
    .split("\n")
    .filter((line) => !line.startsWith("{") && line.trim() !== "")
    .join("\n")
    .slice(0, 1500);

async function copyTree(terms: {
  readonly side: BuildSide;
  readonly shadow: string;
  readonly files: readonly string[];
  readonly crates: readonly Crate[];
  readonly library: string;
}): Promise<void> {
  const { side, shadow, files, crates, library } = terms;
  const manifests = new Map(crates.map((crate) => [path.posix.join(crate.folder, "Cargo.toml"), crate]));
  for (const file of files) {
    if (file.endsWith(".rs") || manifests.has(file)) continue;
    await mkdir(path.dirname(path.join(shadow, file)), { recursive: true });
    await symlink(path.join(side.folder, file), path.join(shadow, file));
  }
  for (const [manifest, crate] of manifests) {
    await mkdir(path.dirname(path.join(shadow, manifest)), { recursive: true });
    await writeFile(path.join(shadow, manifest), crate.manifest(library));
    // Needed to build, also where the port ignores it.
    const script = path.join(crate.folder, "build.rs");
    if (existsSync(path.join(side.folder, script)))
      await symlink(path.join(side.folder, script), path.join(shadow, script));
    for (const [file, text] of crate.made) {
      await mkdir(path.dirname(path.join(shadow, file)), { recursive: true });
      await writeFile(path.join(shadow, file), text);
    }
  }
}

/** The profiles of the side's own manifest, without what keeps a panic from being seen. */
async function profilesOf(folder: string): Promise<string> {
  const text = await readFile(path.join(folder, "Cargo.toml"), "utf8").catch(() => "");
  const found = [...text.matchAll(/^\[profile\.[^\]]+\][^[]*/gm)].map(([section]) =>
    section.replace(/^\s*(panic|lto|strip|debug)\s*=.*$/gm, "").trim(),
  );
  const isSaid = found.some((section) => section.startsWith("[profile.dev]"));
  return [...found, ...(isSaid ? [] : ["[profile.dev]\nopt-level = 1\ndebug = 1"])].join("\n");
}

const manifestOf = (crates: readonly Crate[], shadow: string, library: string, profiles: string): string =>
  [
    '[package]\nname = "zz_driver"\nversion = "0.1.0"\nedition = "2021"\n[workspace]\n[dependencies]',
    `${LIBRARY} = { path = ${JSON.stringify(library)} }`,
    ...crates.map(({ name, folder }) => `${name} = { path = ${JSON.stringify(path.join(shadow, folder))} }`),
    profiles,
    "",
  ].join("\n");

const ORDER: readonly Statics[] = ["none", "plain", "deep"];

function mainOf(
  crates: readonly Crate[],
  {
    sources,
    probes,
    version,
  }: {
    readonly sources: ReadonlyMap<string, SourceCopy>;
    readonly probes: readonly { readonly file: string; readonly line: number }[];
    readonly version: string;
  },
): string {
  const own = Math.max(0, ...[...sources.values()].map(({ module }) => ORDER.indexOf(module.statics)));
  const statics = crates.some(({ isOpen }) => isOpen) ? ORDER.length - 1 : own;
  const complaints = [
    ...crates.flatMap(({ complaints: own }) => own),
    ...[...sources.values()].flatMap(({ file, complaint }) => (complaint === null ? [] : [{ file, what: complaint }])),
  ];
  return [
    "fn main() {",
    `${LIBRARY}::probe(PROBES);`,
    `let mut r = ${LIBRARY}::Registry::default();`,
    ...crates
      .filter(({ root }) => !sources.get(root)?.complaint)
      .map(({ library }) => `${library}::${NAMES}::register(&mut r);`),
    ...complaints.map(({ file, what }) => `r.complaint(${JSON.stringify(file)}, ${JSON.stringify(what)});`),
    `${LIBRARY}::serve(r, ${JSON.stringify(ORDER[statics])}, ${JSON.stringify(version)});`,
    "}",
    `static PROBES: &[(&str, u32)] = &[${probes.map(({ file, line }) => `(${JSON.stringify(file)}, ${line})`).join(", ")}];`,
    "",
  ].join("\n");
}
