/** Walks the registry of drivers: a record with a field that is missing or does nothing fails here. */
import { existsSync, mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { languageTitle } from "@/core/source/language-of";
import { ALL_DRIVERS, DRIVERS, driversFolder } from "@/engine/drivers/index";
import { ALWAYS_IGNORED } from "@/engine/files/tree";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { findRuntime, resolveProgram } from "@/engine/toolchains/toolchains";
import { temporaryFolder } from "@/testing/temporary-port";

/** A program of two lines that prints whether its clock is fixed, by language. */
const PROGRAMS: Readonly<Record<string, { readonly file: string; readonly text: string }>> = {
  python: { file: "p.py", text: "import datetime\nprint(datetime.datetime.now().year)\n" },
  javascript: { file: "p.js", text: "const year = new Date().getUTCFullYear();\nconsole.log(year);\n" },
  typescript: { file: "p.cjs", text: "const year = new Date().getUTCFullYear();\nconsole.log(year);\n" },
  ruby: { file: "p.rb", text: "year = [Time.now, Time.new].map(&:year).uniq\nputs year\n" },
};

describe.each(Object.entries(DRIVERS))("the driver of %s", (language, driver) => {
  it("has a program, a title, and an interpreter that is found by its name", async () => {
    expect(existsSync(path.join(driversFolder(), driver.program))).toBe(true);
    expect(driver.title).toContain(languageTitle(language));
    expect(driver.runtime.names.test(driver.runtime.command)).toBe(true);
    expect(driver.runtime.get).toMatch(/^Install .+\.$/);
    const [found = ""] = await findRuntime(language);
    expect(await resolveProgram([driver.runtime.command])).toHaveLength(1);
    if (!driver.runtime.locate) return;
    const located = await runToEnd([found, ...driver.runtime.locate], terms(temporaryFolder()));
    expect(existsSync(located.stdout.toString("utf8").trim())).toBe(true);
  });

  it("gives its environment to every program, and leaves out the folders that its tools make", () => {
    expect(environmentFor()).toMatchObject(driver.environment);
    for (const folder of driver.madeFolders) expect(ALWAYS_IGNORED).toContain(`**/${folder}/**`);
    expect(driver.flags(512).every((flag) => flag.startsWith("-"))).toBe(true);
  });

  it.runIf(driver.tracing && driver.fix?.by === "runtime")(
    "fixes the clock of a program, and tells the lines that it ran",
    async () => {
      const { tracing, fix } = driver;
      if (!tracing || fix?.by !== "runtime") return;
      const program = PROGRAMS[language];
      if (!program) throw new Error(`add a program of ${language} to this test`);
      const root = temporaryFolder({ [program.file]: program.text });
      const [out, cache] = [path.join(temporaryFolder(), "lines"), path.join(temporaryFolder(), "code")];
      const plain = [...(await findRuntime(language)), program.file];
      expect(tracing.canTrace(plain)).toBe(true);
      const { command, environment } = tracing.start(plain, { home: driversFolder(), out, cache, root });
      const fixed = fix.environment(driversFolder(), { now: "2031-04-02T08:00:00Z", seed: undefined });
      // Either may be the last that a variable has.
      const both = await runToEnd(command, terms(root, { ...fixed, ...environment }));
      expect(both.stdout.toString("utf8").trim()).toBe("2031");
      const { stdout, end } = await runToEnd(command, terms(root, { ...environment, ...fixed }));
      expect([end, stdout.toString("utf8").trim()]).toEqual([{ kind: "exited", code: 0 }, "2031"]);
      expect(await tracing.read(out, root)).toEqual({ [program.file]: [1, 2] });
      expect(existsSync(out)).toBe(false);
      // A program that was ended from outside wrote nothing down.
      expect(await tracing.read(path.join(root, "nowhere"), root)).toEqual({});
    },
  );
});

const terms = (cwd: string, env: Readonly<Record<string, string>> = {}) => ({
  cwd,
  env: { ...environmentFor(), ...env },
  limits: { timeMs: 20_000, outputKb: 64 },
});

it("no language has two drivers", () => {
  const languages = ALL_DRIVERS.flatMap((driver) => driver.languages);
  expect(new Set(languages).size).toBe(languages.length);
});

it("the lines of a Python program are told again from what was kept, and anew when its source changed", async () => {
  const root = temporaryFolder({ "p.py": "import sys\nif len(sys.argv) > 1:\n    print(1)\nprint(2)\n" });
  const cache = path.join(temporaryFolder(), "code");
  mkdirSync(cache);
  const lines = async (...args: string[]) => {
    const out = path.join(temporaryFolder(), "lines");
    const plain = [...(await findRuntime("python")), "p.py", ...args];
    const started = DRIVERS.python?.tracing?.start(plain, { home: driversFolder(), out, cache, root });
    await runToEnd(started?.command ?? [], terms(root));
    return (await DRIVERS.python?.tracing?.read(out, root))?.["p.py"];
  };
  expect(await lines()).toEqual([1, 2, 4]);
  expect(await lines("x")).toEqual([1, 2, 3, 4]);
  writeFileSync(path.join(cache, "p.py"), "damaged");
  expect(await lines("x")).toEqual([1, 2, 3, 4]);
  writeFileSync(path.join(root, "p.py"), "x = [\n    1,\n]\nprint(x)\n");
  expect(await lines()).toEqual([1, 2, 4]);
});
