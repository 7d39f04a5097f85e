/** The crates of a side: those of its manifests, or one for a plain folder of sources. */
import { readFile } from "node:fs/promises";
import path from "node:path";

/** A crate that is built as a library. */
export type Crate = {
  /** The package's name, and the library's as Rust code calls it. */
  readonly name: string;
  readonly library: string;
  /** Relative to the side, `.` for its root. */
  readonly folder: string;
  /** The file at which the library begins. */
  readonly root: string;
  /** The manifest with the driver's library added. */
  readonly manifest: (driver: string) => string;
  /** Files that are made for it, and their text. */
  readonly made: readonly (readonly [file: string, text: string])[];
  readonly complaints: readonly { readonly file: string; readonly what: string }[];
  /** Depends on crates outside the side, whose state is unknown. */
  readonly isOpen: boolean;
};

/** `childrenOf`: the modules that a file declares in files of their own. */
export async function findCrates(
  folder: string,
  files: readonly string[],
  childrenOf: (file: string) => readonly string[],
): Promise<Crate[]> {
  const manifests = files.filter((file) => /(^|\/)Cargo\.toml$/.test(file));
  const crates: Crate[] = [];
  for (const file of manifests) {
    const text = await readFile(path.join(folder, file), "utf8");
    const crate = crateOf(path.posix.dirname(file), text, new Set(files));
    if (crate) crates.push(crate);
  }
  return crates.length > 0 ? crates : [plainCrate(files, childrenOf)];
}

const sectionOf = (text: string, name: string): string =>
  new RegExp(`^\\[${name}\\]\\s*$([\\s\\S]*?)(?=^\\[|(?![\\s\\S]))`, "m").exec(text)?.[1] ?? "";

/** Whether a manifest has a dependency other than by path. */
function hasOthers(text: string): boolean {
  const lines = sectionOf(text, "(?:target\\.[^\\]]+\\.)?dependencies").split("\n");
  const tables = [...text.matchAll(/^\[(?:target\.[^\]]+\.)?dependencies\.[^\]]+\]\s*$([\s\S]*?)(?=^\[|(?![\s\S]))/gm)];
  return (
    lines.some((line) => /^\s*[\w-]+(?:\.workspace)?\s*=/.test(line) && !/\bpath\s*=/.test(line)) ||
    tables.some(([, body = ""]) => !/^\s*path\s*=/m.test(body))
  );
}

const settingOf = (section: string, key: string): string | null =>
  new RegExp(`^\\s*${key}\\s*=\\s*"([^"]*)"`, "m").exec(section)?.[1] ?? null;

function crateOf(folder: string, text: string, files: ReadonlySet<string>): Crate | null {
  const name = settingOf(sectionOf(text, "package"), "name");
  if (name === null) return null;
  const library = sectionOf(text, "lib");
  const at = (file: string) => path.posix.join(folder, file);
  const given = settingOf(library, "path");
  const found = [given, "src/lib.rs", "src/main.rs"].find((file) => file && files.has(at(file)));
  if (!found) return null;
  const isProgram = found === "src/main.rs" && given !== found;
  const program = at("src/main.rs");
  const beside = !isProgram && files.has(program);
  return {
    name,
    library: (settingOf(library, "name") ?? name).replaceAll("-", "_"),
    folder,
    root: at(found),
    manifest: (driver) =>
      [
        text,
        isProgram ? '[lib]\npath = "src/main.rs"' : "",
        `[dependencies.zz_side_twin]\npath = ${JSON.stringify(driver)}`,
        "",
      ].join("\n"),
    made: [],
    isOpen: hasOthers(text),
    complaints: beside
      ? [
          {
            file: program,
            what: `${program}: functions of a program beside a library cannot be called; move them to the library`,
          },
        ]
      : [],
  };
}

/** A plain folder: its `lib.rs` or `main.rs`, else a library of all files that no other file declares as a module. */
function plainCrate(files: readonly string[], childrenOf: (file: string) => readonly string[]): Crate {
  const sources = files.filter((file) => file.endsWith(".rs"));
  const known = ["lib.rs", "src/lib.rs", "main.rs", "src/main.rs"].find((file) => sources.includes(file));
  const declared = new Set(
    sources.flatMap((file) => {
      const folder = /(^|\/)(mod|lib|main)\.rs$/.test(file) ? path.posix.dirname(file) : file.replace(/\.rs$/, "");
      return childrenOf(file).flatMap((name) => [
        path.posix.join(folder, `${name}.rs`),
        path.posix.join(folder, `${name}/mod.rs`),
      ]);
    }),
  );
  const tops = sources.filter((file) => !declared.has(file));
  const names = tops.map((file, at) => {
    const name = path.posix.basename(file, ".rs").replace(/\W/g, "_");
    return tops.findIndex((other) => path.posix.basename(other, ".rs").replace(/\W/g, "_") === name) === at
      ? name
      : `${name}_${at}`;
  });
  const root = known ?? "zz_side_twin_root.rs";
  const text = [
    ...tops.map((file, at) => `#[path = ${JSON.stringify(file)}] pub mod ${names[at]};`),
    "pub mod zz_side_twin_names { pub fn register(r: &mut ::zz_side_twin::Registry) {",
    ...names.map((name) => `super::${name}::zz_side_twin_names::register(r);`),
    "} }",
    "",
  ].join("\n");
  return {
    name: "zz_side",
    library: "zz_side",
    folder: ".",
    root,
    manifest: (driver) =>
      `[package]\nname = "zz_side"\nversion = "0.1.0"\nedition = "2021"\n[lib]\npath = ${JSON.stringify(root)}\n[dependencies]\nzz_side_twin = { path = ${JSON.stringify(driver)} }\n`,
    made: known ? [] : [[root, text]],
    isOpen: false,
    complaints: [],
  };
}
