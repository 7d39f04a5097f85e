import { mkdir, rm } from "node:fs/promises";
import path from "node:path";
import picomatch from "picomatch";
import { driverKey, sideKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import {
  compileText,
  firstComplaint,
  forAll,
  link,
  relativeTo,
  runtimeObjects,
  textOrNothing,
} from "@/engine/drivers/c/compile";
import { type CDeclarations, type CFunction, readDeclarations, readMarks } from "@/engine/drivers/c/declarations";
import { BUILD_FILES, findFlags, type NativeFlags, outsideFolders } from "@/engine/drivers/c/flags";
import { plainSources, probedSources, type Sources } from "@/engine/drivers/c/probed-copy";
import { cProbes } from "@/engine/drivers/c/program-probes";
import { tablesOf } from "@/engine/drivers/c/tables";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { loadParser } from "@/engine/source/parse";

export const c: Driver = {
  ...CALLS_ONLY,
  title: "C",
  languages: ["c"],
  program: "c/runtime/c.c",
  runtime: {
    command: "cc",
    names: /^(cc|gcc|clang)(-\d+)?$/,
    locate: null,
    get: "Install a C compiler (Debian: apt-get install gcc), or name it in original.call.compiler.",
  },
  fix: { by: "library", canSeed: true, isForCalls: false },
  probes: cProbes,
  lines: "each",
  shapes: "driver",
  build,
};

const RUNTIME = [
  "json.c",
  "notation.c",
  "driver.c",
  "sha512.c",
  "lines.c",
  "allocations.c",
  "clock.c",
  "values.c",
  "c.c",
];
const MAX_TRIES = 5;
/** Thread-local variables, and constructors that may allocate state before the first case. */
const ELSEWHERE = /\b(_Thread_local|__thread|thread_local)\b|\b(__)?constructor(__)?\s*[,)(]/;
const C_FILE = /\.(c|h|inc|inl|def)$/;

/** Definitions that strip compiler extensions from the preprocessed text; that text is only parsed, never compiled. */
const READ_FLAGS = [
  "-D__attribute__(x)=",
  "-D__extension__=",
  "-D__restrict=",
  "-D__inline=inline",
  "-D__asm__(x)=",
  "-D_Noreturn=",
];

async function build(side: BuildSide): Promise<Built> {
  const folder = path.join(side.home, "c/runtime");
  const compiler = side.call.compiler ?? side.runtime;
  const isSource = (file: string) => C_FILE.test(file) || BUILD_FILES.includes(file);
  const version = await driverKey(side, ["c"]);
  const terms = [...compiler, JSON.stringify(side.call), side.shapes.key, version];
  const home = path.join(
    side.cache,
    `c${side.lines ? "-lines" : ""}-${await sideKey(side, isSource, terms, outsideFolders(side))}`,
  );
  await buildOnce(home, (made) =>
    new CBuild(side, { compiler, folder, home: made, version }).run(path.join(made, "driver")),
  );
  return { command: [path.join(home, "driver")] };
}

/** A source, or a header that no source includes, as it is read. */
type Unit = {
  readonly file: string;
  readonly number: number;
  readonly flags: readonly string[];
  readonly text: string;
  readonly declarations: CDeclarations;
};

/** A unit with the functions to list, and the names that other units have taken. */
type Prepared = {
  readonly unit: Unit;
  readonly functions: readonly { readonly made: CFunction; readonly file: string }[];
  readonly renamed: readonly string[];
};

class CBuild {
  private readonly complaints = new Map<string, string>();
  private readonly parts: string;
  private number = 0;
  /** Whether some state is outside the variables that are restored byte by byte. */
  private leadsElsewhere = false;

  constructor(
    private readonly side: BuildSide,
    private readonly places: {
      readonly compiler: readonly string[];
      readonly folder: string;
      readonly home: string;
      /** The runtime's version; objects compiled against another one are not reused. */
      readonly version: string;
    },
  ) {
    this.parts = path.join(side.cache, "c-parts");
  }

  async run(program: string): Promise<void> {
    const { side } = this;
    const { compiler, folder, home } = this.places;
    await mkdir(this.parts, { recursive: true });
    const flags = await findFlags(side, home);
    const isWanted = side.call.sources ? picomatch([...side.call.sources]) : () => true;
    const sources = side.files.filter((file) => file.endsWith(".c") && isWanted(file));
    const units = await this.readAll(sources, flags);
    const covered = new Set(
      units.flatMap(({ declarations }) => [...declarations.files].map((file) => relativeTo(side.folder, file))),
    );
    const headers = side.files.filter((file) => file.endsWith(".h") && !covered.has(file));
    units.push(...(await this.readAll(headers, flags)));
    const plain = plainSources(side);
    const files = side.files.filter((file) => C_FILE.test(file));
    const copied = side.lines
      ? await probedSources(side, { folder: path.join(home, "probed"), language: "c", files })
      : plain;
    const objects = await this.compileAll(units, copied);
    const main = await compileText(side, {
      command: [...compiler, "-w", "-I", folder],
      text: `${this.mainOf(objects.map(({ number }) => number))}${copied.table}`,
      content: this.places.version,
      ending: "c",
      folder: this.parts,
    });
    if (!main.isOk) throw new Error(`the driver could not be compiled: ${main.printed.trim().slice(0, 1500)}`);
    const own = await runtimeObjects(side, { compiler, folder, sources: RUNTIME });
    await link(side, {
      compiler,
      objects: [...objects.map(({ object }) => object), main.object, ...own],
      program,
      flags: flags.link,
      home,
      // Variables that several sources define without a value are one, as older compilers had it.
      leftOut: null,
      stubs: (names) => ({
        text: `void st_undefined(const char *);\n${names.map((name) => `void ${name}(void) { st_undefined("${name}"); }\n`).join("")}`,
        ending: "c",
      }),
    });
  }

  /** Reads each file through the preprocessor; what cannot be read is a complaint. */
  private async readAll(files: readonly string[], flags: NativeFlags): Promise<Unit[]> {
    const { side } = this;
    const parse = await loadParser(["c"]);
    const units: (Unit | null)[] = [];
    const first = this.number;
    this.number += files.length;
    await forAll(files, async (file, at) => {
      const number = first + at;
      const own = [...(flags.byFile.get(file) ?? []), ...flags.common];
      const out = path.join(this.places.home, `${number}.i`);
      const command = [
        ...this.places.compiler,
        ...own,
        ...READ_FLAGS,
        "-E",
        "-x",
        "c",
        path.join(side.folder, file),
        "-o",
        out,
      ];
      const { isOk, printed } = await side.run(command, this.places.home);
      if (!isOk) {
        this.complaints.set(file, firstComplaint(printed, side.folder) ?? `${file}: ${printed.trim().slice(0, 500)}`);
        return;
      }
      this.leadsElsewhere ||= ELSEWHERE.test(await textOrNothing(path.join(side.folder, file)));
      const marked = readMarks(await textOrNothing(out));
      const tree = parse(marked.text, "c");
      if (!tree) return;
      units[at] = {
        file,
        number,
        flags: own,
        text: marked.text,
        declarations: readDeclarations(tree.root, marked.placeOf),
      };
      tree.free();
      await rm(out, { force: true });
    });
    return units.flatMap((unit) => unit ?? []);
  }

  /** Compiles each unit with the tables of its functions; those of a header are listed once. */
  private async compileAll(
    units: readonly Unit[],
    copied: Sources,
  ): Promise<{ readonly object: string; readonly number: number }[]> {
    const { side } = this;
    const isThere = new Set(side.files);
    const listed = new Set<string>();
    const owners = new Map<string, string>();
    const prepared = units.map((unit) => {
      const functions = unit.declarations.functions.flatMap((made) => {
        const file = relativeTo(side.folder, made.file);
        if (made.name === "main" || !isThere.has(file) || listed.has(`${file}\0${made.name}`)) return [];
        listed.add(`${file}\0${made.name}`);
        return [{ made, file }];
      });
      // Two sources may define the same name, as programs in one folder do; the later one's is called otherwise.
      const renamed = functions.flatMap(({ made }) => {
        if (made.isStatic || owners.get(made.name) === undefined) {
          if (!made.isStatic) owners.set(made.name, unit.file);
          return [];
        }
        return [`-D${made.name}=st_${unit.number}_${made.name}`];
      });
      return { unit, functions, renamed };
    });
    const objects: { object: string; number: number }[] = [];
    await forAll(prepared, async (one) => {
      const probed = await this.compileUnit(one, copied);
      // Falls back to the original file if probes keep it from compiling.
      const object = probed ?? (side.lines ? await this.compileUnit(one, plainSources(side)) : null);
      if (object === null) return;
      this.complaints.delete(one.unit.file);
      objects.push({ object, number: one.unit.number });
    });
    return objects.sort((left, right) => left.number - right.number);
  }

  /** The object of a unit with its tables, a function that keeps it from compiling left out; null where nothing of it does. */
  private async compileUnit({ unit, functions, renamed }: Prepared, copied: Sources): Promise<string | null> {
    const { side } = this;
    const isThere = new Set(side.files);
    const refused = new Map<string, string>();
    const texts = [...unit.declarations.files].map((file) => copied.textOf(relativeTo(side.folder, file)) ?? "");
    const content = [this.places.version, unit.text, ...texts].join("\0");
    const command = [
      ...this.places.compiler,
      "-g",
      "-O1",
      "-w",
      "-fno-omit-frame-pointer",
      ...copied.flags(unit.flags),
      ...renamed,
      "-include",
      path.join(this.places.folder, "probe.h"),
      `-Dmain=st_main_${unit.number}`,
      "-I",
      this.places.folder,
    ];
    for (let tries = 1; ; tries++) {
      const tables = tablesOf({
        declarations: unit.declarations,
        functions,
        shapes: side.shapes.of,
        isOwn: (file) => isThere.has(relativeTo(side.folder, file)),
        refused,
        unit: unit.number,
      });
      const text = `#include ${JSON.stringify(copied.path(unit.file))}\n${tables}`;
      const done = await compileText(side, { command, text, content, ending: "c", folder: this.parts });
      if (done.isOk) return done.object;
      const before = refused.size;
      for (const [, name = "", what = ""] of done.printed.matchAll(/^side-twin-(\w+):\d+:\d+: error: (.*)$/gm))
        refused.set(name, what);
      if (refused.size > before && tries < MAX_TRIES) continue;
      this.complaints.set(unit.file, firstComplaint(done.printed, side.folder) ?? done.printed.trim().slice(0, 500));
      return null;
    }
  }

  private mainOf(units: readonly number[]): string {
    const complaints = [...this.complaints].map(
      ([file, what]) => `{${JSON.stringify(file)}, ${JSON.stringify(what)}}, `,
    );
    return [
      '#include "types.h"',
      ...units.map((number) => `extern const st_unit st_unit_${number};`),
      `const st_unit *const st_units[] = {${units.map((number) => `&st_unit_${number}, `).join("")}0};`,
      `static const st_complaint complaints[] = {${complaints.join("")}{0}};`,
      `int main(void) { static st_language own; own = st_c; own.ends = ${this.leadsElsewhere}; return st_serve(&own, complaints); }`,
      "",
    ].join("\n");
  }
}
