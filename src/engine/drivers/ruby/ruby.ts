import { CALLS_ONLY, type Driver } from "@/engine/drivers/driver";

export const ruby: Driver = {
  ...CALLS_ONLY,
  title: "Ruby",
  languages: ["ruby"],
  program: "ruby/driver.rb",
  runtime: {
    command: "ruby",
    names: /^ruby(\d+(\.\d+)*)?$/,
    locate: ["-e", "puts RbConfig.ruby"],
    get: "Install Ruby, version 2.7 or later (Debian: apt-get install ruby), or name it in original.call.runtime.",
  },
  flags: () => ["--disable-did_you_mean", "-W0"],
  lines: "each",
  build: null,
  madeFolders: [".bundle"],
};
