import path from "node:path";
import { CALLS_ONLY, type Driver, fixedVariables } from "@/engine/drivers/driver";
import { readLines } from "@/engine/drivers/read-lines";

const NAMES = /^ruby(\d+(\.\d+)*)?$/;

/** Loads a file before the program, after what the person's own setting loads. */
const loading = (file: string): string => [process.env.RUBYOPT, `-r${file}`].filter(Boolean).join(" ");

export const ruby: Driver = {
  ...CALLS_ONLY,
  title: "Ruby",
  languages: ["ruby"],
  program: "ruby/driver.rb",
  runtime: {
    command: "ruby",
    names: NAMES,
    locate: ["-e", "puts RbConfig.ruby"],
    get: "Install Ruby, version 2.7 or later (Debian: apt-get install ruby), or name it in original.call.runtime.",
  },
  flags: () => ["--disable-did_you_mean", "-W0"],
  lines: "each",
  shapes: "untyped",
  fix: {
    by: "runtime",
    environment: (home, terms) => ({
      ...fixedVariables(terms),
      RUBYOPT: loading(path.join(home, "ruby/fixed_run.rb")),
    }),
  },
  build: null,
  tracing: {
    canTrace: ([program = ""]) => NAMES.test(path.basename(program)),
    start: (command, { home, out, root }) => ({
      command,
      environment: {
        RUBYOPT: loading(path.join(home, "ruby/trace_run.rb")),
        SIDE_TWIN_LINES: out,
        SIDE_TWIN_ROOT: root,
      },
    }),
    read: readLines,
  },
  madeFolders: [".bundle"],
};
