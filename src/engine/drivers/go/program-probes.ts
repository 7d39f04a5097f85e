import path from "node:path";
import type { ProgramProbes } from "@/engine/drivers/driver";

const FILE = "zz_side_twin_probes.go";

/** A file beside the sources of each package: a module's name would be needed to import one. */
export const goProbes: ProgramProbes = {
  isSource: (file) => file.endsWith(".go") && !file.endsWith("_test.go"),
  call: (probe) => `zzSideTwinHit(${probe});`,
  complete: (files, { count }) => {
    const made = new Map(files);
    for (const [file, text] of files) {
      const name = /^package\s+(\w+)/m.exec(text)?.[1];
      if (name) made.set(path.posix.join(path.posix.dirname(file), FILE), support(name, count));
    }
    return made;
  },
};

const support = (name: string, count: number): string => `package ${name}

import (
	zzSideTwinOs "os"
	zzSideTwinAtomic "sync/atomic"
)

var zzSideTwinFile = zzSideTwinOpen()
var zzSideTwinSeen [${count}]uint32

func zzSideTwinOpen() *zzSideTwinOs.File {
	name := zzSideTwinOs.Getenv("SIDE_TWIN_PROBES")
	if name == "" {
		return nil
	}
	file, err := zzSideTwinOs.OpenFile(name, zzSideTwinOs.O_WRONLY|zzSideTwinOs.O_CREATE, 0o600)
	if err != nil {
		return nil
	}
	return file
}

func zzSideTwinHit(probe int) {
	if zzSideTwinAtomic.SwapUint32(&zzSideTwinSeen[probe], 1) == 0 && zzSideTwinFile != nil {
		zzSideTwinFile.WriteAt([]byte{1}, int64(probe))
	}
}
`;
