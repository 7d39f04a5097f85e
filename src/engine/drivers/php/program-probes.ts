import path from "node:path";
import type { ProgramProbes } from "@/engine/drivers/driver";

/** The probe's function is loaded before the program, by a setting in a folder of its own. */
export const phpProbes: ProgramProbes = {
  isSource: (file) => file.endsWith(".php"),
  call: (probe) => `\\SideTwin\\hit(${probe});`,
  complete: (files) => files,
  // An empty entry means the folder that PHP was built with.
  environment: (home) => ({
    PHP_INI_SCAN_DIR: `${process.env.PHP_INI_SCAN_DIR ?? ""}:${path.join(home, "php/probes")}`,
    SIDE_TWIN_PHP_PROBES: path.join(home, "php/probes/hit.php"),
  }),
};
