import { existsSync } from "node:fs";
import { mkdir, writeFile } from "node:fs/promises";
import path from "node:path";
import picomatch from "picomatch";
import { buildKey, driverKey, sideKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import { compileText, firstComplaint, forAll, link, runtimeObjects, textOrNothing } from "@/engine/drivers/c/compile";
import { emptyMacros, withoutMacros } from "@/engine/drivers/c/empty-macros";
import { BUILD_FILES, findFlags, outsideFolders } from "@/engine/drivers/c/flags";
import { plainSources, probedSources, type Sources } from "@/engine/drivers/c/probed-copy";
import { cppProbes } from "@/engine/drivers/c/program-probes";
import { type CppDeclarations, readCpp } from "@/engine/drivers/cpp/declarations";
import { registrationOf } from "@/engine/drivers/cpp/registration";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { loadParser } from "@/engine/source/parse";

export const cpp: Driver = {
  ...CALLS_ONLY,
  title: "C++",
  languages: ["cpp"],
  program: "cpp/runtime/cpp.cpp",
  runtime: {
    command: "c++",
    names: /^(c\+\+|g\+\+|clang\+\+)(-\d+)?$/,
    locate: null,
    get: "Install a C++ compiler (Debian: apt-get install g++), or name it in original.call.compiler.",
  },
  fix: { by: "library", canSeed: true, isForCalls: false },
  probes: cppProbes,
  lines: "each",
  shapes: "driver",
  build,
};

const SOURCE = /\.(cpp|cc|cxx|c\+\+)$/;
const HEADER = /\.(h|hh|hpp|hxx|h\+\+|inl|ipp|tpp)$/;
const SHARED = ["json.c", "notation.c", "driver.c", "sha512.c", "lines.c", "allocations.c", "clock.c"];
const MAX_TRIES = 8;

async function build(side: BuildSide): Promise<Built> {
  const own = path.join(side.home, "cpp/runtime");
  const shared = path.join(side.home, "c/runtime");
  const compiler = side.call.compiler ?? side.runtime;
  const isSource = (file: string) => SOURCE.test(file) || HEADER.test(file) || BUILD_FILES.includes(file);
  const outside = outsideFolders(side);
  const others = { folder: side.folder, files: side.files.filter((file) => !isSource(file)) };
  // An object is made of its text, the headers of the side, and of these.
  const version = await sideKey(others, isSource, [await driverKey(side, ["c", "cpp"])], outside);
  const terms = [...compiler, JSON.stringify(side.call), side.shapes.key, version];
  const home = path.join(side.cache, `cpp${side.lines ? "-lines" : ""}-${await sideKey(side, isSource, terms)}`);
  await buildOnce(home, (made) => new CppBuild(side, { compiler, own, shared, home: made, version }).run());
  return { command: [path.join(home, "driver")] };
}

type Places = {
  readonly compiler: readonly string[];
  /** The driver's sources, and those that it shares with C. */
  readonly own: string;
  readonly shared: string;
  readonly home: string;
  readonly version: string;
};

type Unit = {
  readonly file: string;
  readonly text: string;
  readonly declarations: CppDeclarations;
};

class CppBuild {
  private readonly complaints = new Map<string, string>();
  private readonly units = new Map<string, Unit>();
  private macros: ReadonlySet<string> = new Set();
  private readonly parts: string;

  constructor(
    private readonly side: BuildSide,
    private readonly places: Places,
  ) {
    this.parts = path.join(side.cache, "cpp-parts");
  }

  async run(): Promise<void> {
    const { side } = this;
    const { compiler, own, shared, home } = this.places;
    await mkdir(this.parts, { recursive: true });
    await this.readAll();
    const flags = await findFlags(side, home);
    const standard = [...flags.common, ...[...flags.byFile.values()].flat()].find((flag) => flag.startsWith("-std="));
    const common = [
      ...(standard ? [] : ["-std=gnu++20"]),
      "-fno-access-control",
      "-fno-omit-frame-pointer",
      "-g",
      "-O1",
      "-w",
    ];
    const include = ["-I", own, "-I", shared];
    const header = await this.precompiled([...common, ...(standard ? [standard] : []), ...include]);
    const copied = side.lines
      ? await probedSources(side, {
          folder: path.join(home, "probed"),
          language: "cpp",
          files: [...this.units.keys()],
          macros: this.macros,
        })
      : plainSources(side);
    const plainly = plainSources(side);
    const isWanted = side.call.sources ? picomatch([...side.call.sources]) : () => true;
    const wanted = [...this.units.values()].filter(({ file }) => HEADER.test(file) || isWanted(file));
    const objects = new Map<string, string>();
    await forAll(wanted, async (unit, at) => {
      const command = (from: Sources) => [
        ...compiler,
        ...common,
        ...from.flags([...(flags.byFile.get(unit.file) ?? []), ...flags.common]),
        ...include,
        "-include",
        header,
        "-include",
        path.join(shared, "probe.h"),
        `-Dmain=st_main_${at}`,
      ];
      const object = await this.compileUnit(unit, command(copied), copied);
      // Falls back to the original file if probes keep it from compiling.
      const plain = object === null && side.lines ? await this.compileUnit(unit, command(plainly), plainly) : null;
      const made = object ?? plain;
      if (made !== null) {
        objects.set(made, unit.file);
        this.complaints.delete(unit.file);
      }
    });
    const runtime = [
      ...(await runtimeObjects(side, { compiler, folder: shared, sources: SHARED, flags: ["-x", "c", "-std=gnu11"] })),
      ...(await runtimeObjects(side, {
        compiler,
        folder: own,
        sources: ["cpp.cpp"],
        flags: ["-std=gnu++20", "-I", shared],
      })),
    ];
    const all = [...objects.keys()].sort((left, right) =>
      (objects.get(left) ?? "") < (objects.get(right) ?? "") ? -1 : 1,
    );
    // An object that redefines a name is left out, and its file's cases get the reason: main is compiled again.
    let isComplete = true;
    const linkAll = async (kept: readonly string[]) =>
      link(side, {
        compiler,
        objects: [...kept, await this.mainObject(copied), ...runtime],
        program: path.join(home, "driver"),
        flags: flags.link,
        home,
        leftOut: (object, name) => {
          const file = objects.get(object);
          if (file === undefined) return;
          isComplete = false;
          const advice = 'name the sources in "call"."sources"';
          this.complaints.set(file, `${file}: it defines ${name}, which another source defines as well; ${advice}`);
        },
        stubs: (names) => ({ text: stubsOf(names), ending: "cpp" }),
      });
    await linkAll(all);
    if (!isComplete) await linkAll(all.filter((object) => !this.complaints.has(objects.get(object) ?? "")));
  }

  private async mainObject(copied: Sources): Promise<string> {
    const { compiler, shared, version } = this.places;
    const made = await compileText(this.side, {
      command: [...compiler, "-w", "-I", shared],
      text: this.mainOf(copied),
      content: version,
      ending: "cpp",
      folder: this.parts,
    });
    if (!made.isOk) throw new Error(`the driver could not be compiled: ${made.printed.trim().slice(0, 1500)}`);
    return made.object;
  }

  private async readAll(): Promise<void> {
    const parse = await loadParser(["cpp"]);
    const texts = new Map<string, string>();
    for (const file of this.side.files.filter((one) => SOURCE.test(one) || HEADER.test(one)))
      texts.set(file, await textOrNothing(path.join(this.side.folder, file)));
    this.macros = emptyMacros(texts.values());
    for (const [file, text] of texts) {
      const tree = parse(withoutMacros(text, this.macros), "cpp");
      if (!tree) continue;
      this.units.set(file, { file, text, declarations: readCpp(tree.root) });
      tree.free();
    }
  }

  /** The driver's header with the standard library, compiled once for all files with the same flags. */
  private async precompiled(flags: readonly string[]): Promise<string> {
    const { side, places } = this;
    const key = await buildKey(places.own, [], [...places.compiler, ...flags, places.version]);
    const folder = path.join(side.cache, `cpp-header-${key}`);
    await buildOnce(folder, async (made) => {
      const header = path.join(made, "calls.hpp");
      await writeFile(header, `#include ${JSON.stringify(path.join(places.own, "calls.hpp"))}\n`);
      const command = [...places.compiler, ...flags, "-x", "c++-header", header, "-o", `${header}.gch`];
      const { isOk, printed } = await side.run(command, made);
      if (!isOk && !existsSync(header)) throw new Error(printed);
    });
    return path.join(folder, "calls.hpp");
  }

  /** The headers of the side that a file includes, however far away. */
  private includedBy(file: string, found = new Set<string>()): Set<string> {
    const includes = this.units.get(file)?.declarations.includes ?? [];
    for (const written of includes) {
      const beside = path.posix.join(path.posix.dirname(file), written);
      const other = this.units.has(beside)
        ? beside
        : [...this.units.keys()].find((one) => one === written || one.endsWith(`/${written}`));
      if (other === undefined || other === file || found.has(other)) continue;
      found.add(other);
      this.includedBy(other, found);
    }
    return found;
  }

  private readonly usesOf = (name: string): readonly string[] => {
    const pattern = new RegExp(`\\b${name}\\s*<([^;(){}<>]*(?:<[^;(){}<>]*>[^;(){}<>]*)*)>`, "g");
    const found = new Set<string>();
    for (const { text } of this.units.values())
      for (const [, given = ""] of text.matchAll(pattern))
        if (given.trim() !== "" && !/^\s*(typename|class)\b|^\s*[A-Z]\w?\s*(,\s*[A-Z]\w?\s*)*$/.test(given))
          found.add(given.trim());
    return [...found];
  };

  /** The object of a file with its registration; what does not compile is left out. Null where nothing of it does. */
  private async compileUnit(unit: Unit, command: readonly string[], copied: Sources): Promise<string | null> {
    const { side } = this;
    const included = [...this.includedBy(unit.file)].flatMap((file) => this.units.get(file) ?? []);
    const content = [unit, ...included].map(({ file, text }) => copied.textOf(file) ?? text).join("\0");
    const refused = new Map<string, string>();
    const source = copied.path(unit.file);
    for (let tries = 1; ; tries++) {
      const registration = registrationOf({
        file: unit.file,
        own: unit.declarations,
        included: included.map(({ declarations }) => declarations),
        shapes: side.shapes.of,
        uses: this.usesOf,
        refused,
      });
      const text = `#include ${JSON.stringify(source)}\n${registration}`;
      const done = await compileText(side, { command, text, content, ending: "cpp", folder: this.parts });
      if (done.isOk) return done.object;
      const before = refused.size;
      for (const [key, what] of entriesIn(done.printed)) if (!refused.has(key)) refused.set(key, what);
      if (refused.size > before && tries < MAX_TRIES) continue;
      this.complaints.set(unit.file, firstComplaint(done.printed, side.folder) ?? done.printed.trim().slice(0, 500));
      return null;
    }
  }

  private mainOf({ table }: Sources): string {
    const complaints = [...this.complaints].map(
      ([file, what]) => `{${JSON.stringify(file)}, ${JSON.stringify(what)}}, `,
    );
    const isDeep = [...this.units.values()].some(({ declarations }) => declarations.isDeep);
    return [
      '#include "sidetwin.h"',
      'extern "C" const st_language st_cpp;',
      `static const st_complaint complaints[] = {${complaints.join("")}{nullptr, nullptr}};`,
      'extern "C" { extern const char *const st_probe_files[]; extern const int st_probe_file[], st_probe_line[], st_probe_count; }',
      table,
      `int main() { static st_language own = st_cpp; own.ends = ${isDeep}; return st_serve(&own, complaints); }`,
      "",
    ].join("\n");
  }
}

/** Stubs for undefined functions, under their mangled names. */
const stubsOf = (names: readonly string[]): string =>
  [
    '#include <cxxabi.h>\nextern "C" void st_undefined(const char *);',
    "static void missing(const char *name) { int status = 0; char *text = abi::__cxa_demangle(name, 0, 0, &status); st_undefined(text ? text : name); }",
    ...names.map(
      (name, at) => `extern "C" void st_stub_${at}() __asm__("${name}"); void st_stub_${at}() { missing("${name}"); }`,
    ),
    "",
  ].join("\n");

/** Entry → the first error in it, or in what it needs. */
function entriesIn(printed: string): Map<string, string> {
  const found = new Map<string, string>();
  let key: string | null = null;
  for (const line of printed.split("\n")) {
    const at = /side-twin-(\w+):\d+/.exec(line)?.[1];
    if (at !== undefined) key = at;
    const what = /: (?:fatal )?error: (.*)$/.exec(line)?.[1];
    if (what === undefined) continue;
    const owner = at ?? key;
    if (owner && !found.has(owner)) found.set(owner, what);
    key = null;
  }
  return found;
}
