/** The demo ports, copied into the data folder, so that trying them out leaves the checkout as it was. */
import { existsSync } from "node:fs";
import { cp, readdir } from "node:fs/promises";
import path from "node:path";
import { packageRoot } from "@/engine/package-root";
import { PORT_FILE } from "@/service/port/open-port";
import type { Workbench } from "@/service/server/workbench";

/** Copies missing demo ports and lists all of them. */
export async function bringDemoPorts(workbench: Workbench, data: string): Promise<void> {
  const demo = path.join(packageRoot(), "demo");
  for (const name of (await readdir(demo)).sort()) {
    if (!existsSync(path.join(demo, name, PORT_FILE))) continue;
    const target = path.join(data, "demo", name);
    if (!existsSync(target)) {
      await cp(path.join(demo, name), target, {
        recursive: true,
        filter: (file) => !/__pycache__|[/\\]build$/.test(file),
      });
    }
    await workbench.addPort(target);
  }
}
