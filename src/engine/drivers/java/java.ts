import { existsSync } from "node:fs";
import { cp, mkdir, readdir, readFile, rm, writeFile } from "node:fs/promises";
import path from "node:path";
import { buildKey, driverKey } from "@/engine/drivers/build-key";
import { type BuildSide, type Built, CALLS_ONLY, type Driver } from "@/engine/drivers/driver";
import { javaProbes } from "@/engine/drivers/java/program-probes";
import { loadParser, probeSource } from "@/engine/source/parse";

export const java: Driver = {
  ...CALLS_ONLY,
  title: "Java",
  languages: ["java"],
  program: "java/Driver.java",
  runtime: {
    command: "java",
    names: /^java$/,
    locate: null,
    get: "Install a JDK, version 17 or later (Debian: apt-get install openjdk-17-jdk-headless), or name it in original.call.runtime.",
  },
  flags: (memoryMb) => [
    `-Xmx${Math.max(64, Math.floor(memoryMb * 0.6))}m`,
    "-XX:+UseSerialGC",
    "-XX:TieredStopAtLevel=1",
    "-Xss4m",
  ],
  // The virtual machine seeds its random numbers by the monotonic clock, which must run on.
  fix: { by: "library", canSeed: false, isForCalls: false },
  probes: javaProbes,
  lines: "each",
  shapes: "typed",
  build,
  madeFolders: [".gradle"],
};

/** Errors in one file keep no class of the others from being made. */
const GO_ON = "-XDshould-stop.ifError=GENERATE";

async function build(side: BuildSide): Promise<Built> {
  const [program = "java"] = side.runtime;
  const compiler = side.call.compiler ?? [compilerBeside(program)];
  const own = await ownClasses(side, compiler);
  const sources = side.files.filter((file) => file.endsWith(".java"));
  const classPath = (side.call.classPath ?? []).map((entry) => path.resolve(side.folder, entry));
  const flags = side.call.flags ?? [];
  const key = await buildKey(side.folder, sources, [
    ...compiler,
    ...flags,
    ...classPath,
    await driverKey(side, ["java"]),
  ]);
  const classes = path.join(side.cache, `java${side.lines ? "-lines" : ""}-${key}`);
  const complaints = path.join(classes, "complaints.txt");
  if (!existsSync(complaints)) {
    await mkdir(classes, { recursive: true });
    const entries = side.lines ? [own, ...classPath] : classPath;
    const path_ = entries.length > 0 ? ["-cp", entries.join(path.delimiter)] : [];
    const options = ["-g", "-parameters", "-proc:none", "-nowarn", "-encoding", "UTF-8", GO_ON, ...path_, ...flags];
    const compile = async (folder: string) => {
      const list = path.join(classes, "sources.txt");
      await writeFile(list, sources.map((file) => `${quoted(path.join(folder, file))}\n`).join(""));
      const { printed } = await side.run([...compiler, ...options, "-d", classes, `@${list}`], classes);
      return printed.replaceAll(folder, side.folder);
    };
    await writeFile(
      complaints,
      await (side.lines ? compileProbed(side, { classes, sources, compile }) : compile(side.folder)),
    );
  }
  const flagsOf = ["-Djava.security.manager=allow", `-Dsidetwin.complaints=${complaints}`];
  if (side.lines) flagsOf.push(`-Dsidetwin.probes=${path.join(classes, "probes.txt")}`);
  const start = [...side.runtime, ...java.flags(side.memoryMb), ...flagsOf, "-cp", own, "sidetwin.Driver"];
  // The platform can open no socket by its number: the protocol's pipes become standard input and output.
  return { command: ["sh", "-c", 'exec "$0" "$@" 0<&3 1>&4 3<&- 4>&-', ...start, classes, ...classPath] };
}

/** Compiles a copy whose statements note that they were reached; a file that does not compile so is taken as it is. */
async function compileProbed(
  side: BuildSide,
  terms: {
    readonly classes: string;
    readonly sources: readonly string[];
    readonly compile: (folder: string) => Promise<string>;
  },
): Promise<string> {
  const { classes, sources, compile } = terms;
  const folder = path.join(classes, "probed");
  const parse = await loadParser(["java"]);
  const probes: string[] = [];
  for (const file of sources) {
    const text = await readFile(path.join(side.folder, file), "utf8");
    const tree = parse(text, "java");
    const first = probes.length;
    const probed = tree && probeSource(tree.root, text, "java", (index) => `sidetwin.Lines.hit(${first + index});`);
    tree?.free();
    probes.push(...(probed?.lines ?? []).map((line) => `${line}\t${file}\n`));
    await mkdir(path.dirname(path.join(folder, file)), { recursive: true });
    await writeFile(path.join(folder, file), probed?.text ?? text);
  }
  await writeFile(path.join(classes, "probes.txt"), probes.join(""));
  const printed = await compile(folder);
  const failed = sources.filter((file) => printed.includes(`${path.join(side.folder, file)}:`));
  if (failed.length > 0) {
    for (const file of failed) await cp(path.join(side.folder, file), path.join(folder, file));
    const again = await compile(folder);
    await rm(folder, { recursive: true, force: true });
    return again;
  }
  await rm(folder, { recursive: true, force: true });
  return printed;
}

const compilerBeside = (program: string): string => {
  const beside = path.join(path.dirname(program), "javac");
  return program.includes("/") && existsSync(beside) ? beside : "javac";
};

const quoted = (file: string): string => `"${file.replace(/[\\"]/g, "\\$&")}"`;

/** The driver's own classes, compiled once a version. */
async function ownClasses(side: BuildSide, compiler: readonly string[]): Promise<string> {
  const folder = path.join(side.home, "java");
  const sources = (await readdir(folder)).filter((name) => name.endsWith(".java")).sort();
  const key = await buildKey(folder, sources, compiler);
  const classes = path.join(side.cache, `java-driver-${key}`);
  const done = path.join(classes, "done");
  if (existsSync(done)) return classes;
  await mkdir(classes, { recursive: true });
  const files = sources.map((name) => path.join(folder, name));
  const { isOk, printed } = await side.run(
    [...compiler, "-parameters", "-Xlint:-removal", "-nowarn", "-d", classes, ...files],
    classes,
  );
  if (!isOk) {
    await rm(classes, { recursive: true, force: true });
    throw new Error(`the driver for Java could not be compiled: ${printed.slice(0, 1000)}`);
  }
  await writeFile(done, await readFile(path.join(folder, "Driver.java"), "utf8").then((text) => String(text.length)));
  return classes;
}
