import type { Driver } from "@/engine/drivers/driver";

export const php: Driver = {
  title: "PHP",
  languages: ["php"],
  program: "php/driver.php",
  runtime: {
    command: "php",
    names: /^php(\d+(\.\d+)?)?$/,
    locate: ["-r", "echo PHP_BINARY;"],
    get: "Install PHP, version 8.1 or later (Debian: apt-get install php-cli), or name it in original.call.runtime.",
  },
  flags: (memoryMb) => ["-ddisplay_errors=stderr", `-dmemory_limit=${memoryMb}M`, "-dserialize_precision=-1"],
  lines: null,
  build: null,
  environment: {},
  unbuffered: {},
  otherHashes: {},
  fix: null,
  tracing: null,
  recording: null,
  madeFolders: [],
};
