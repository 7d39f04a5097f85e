import path from "node:path";
import { type Driver, fixedVariables } from "@/engine/drivers/driver";
import { readLines } from "@/engine/drivers/read-lines";

const NAMES = /^python\d?(\.\d+)?$/;

export const python: Driver = {
  title: "Python",
  languages: ["python"],
  program: "python/driver.py",
  runtime: {
    command: "python3",
    names: NAMES,
    locate: ["-c", "import sys; print(sys.executable)"],
    get: "Install Python 3 (Debian: apt-get install python3), or name it in original.call.runtime.",
  },
  flags: () => ["-u"],
  lines: "each",
  shapes: "untyped",
  build: null,
  environment: { PYTHONUTF8: "1" },
  unbuffered: { PYTHONUNBUFFERED: "1" },
  otherHashes: { PYTHONHASHSEED: "4711" },
  fix: {
    by: "runtime",
    environment: (home, terms) => {
      const inherited = process.env.PYTHONPATH ? [process.env.PYTHONPATH] : [];
      const folders = [path.join(home, "python/fixed_run"), ...inherited];
      return { ...fixedVariables(terms), PYTHONPATH: folders.join(path.delimiter) };
    },
  },
  tracing: {
    // The tracer cannot tell other interpreter options before the program from the program itself.
    canTrace: ([program = "", first = "-"]) =>
      NAMES.test(path.basename(program)) && (first === "-m" || !first.startsWith("-")),
    start: ([program = "", ...rest], { home, out, cache, root }) => ({
      command: [program, path.join(home, "python/trace_run.py"), out, cache, root, ...rest],
      environment: {},
    }),
    read: readLines,
  },
  probes: null,
  recording: {
    settings: async (root, files) => ({ root, files }),
    sources: async () => null,
    start: (command, { home, settings }) => {
      const [program = "", first = "-", ...rest] = command;
      // The import of a module is met by a hook; a script is compiled by the interpreter itself.
      const isPlain = NAMES.test(path.basename(program)) && (first === "-m" || !first.startsWith("-"));
      const inherited = process.env.PYTHONPATH ? [process.env.PYTHONPATH] : [];
      const folders = [path.join(home, "python/record_run"), ...inherited];
      return {
        command: isPlain ? [program, path.join(home, "python/record_run.py"), first, ...rest] : command,
        environment: { SIDE_TWIN_RECORD: settings, PYTHONPATH: folders.join(path.delimiter) },
      };
    },
  },
  madeFolders: ["__pycache__"],
};
