/** Writes a port that is brought in: its file, its copied original, and folders for what comes. All of it stays or none. */
import { cp, mkdir, rename, rm, stat } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { PortFile } from "@/core/formats/port-file";
import { writeAtomically } from "@/engine/files/write";
import { openPort, PORT_FILE } from "@/service/port/open-port";

/** A port about to be created. */
export type PortToKeep = {
  readonly folder: string;
  readonly port: { readonly port: PortFile; readonly text: string };
  /** A copy of the original that goes into the port's folder; null where it stays where it is. */
  readonly copy: { readonly from: string; readonly to: string } | null;
  /** Files for the folder of the first twin; one that is there already stays. */
  readonly files: readonly { readonly name: string; readonly text: string }[];
};

/** Returns the path of the port file. Throws SideTwinError where something is in the way. */
export async function keepPort({ folder, port, copy, files }: PortToKeep): Promise<string> {
  const file = path.join(folder, PORT_FILE);
  await refuseThere(file, "There is a port file already");
  if (copy) await refuseThere(copy.to, "There is something already where the original goes");
  const made: string[] = [];
  let isMoved = false;
  const make = async (wanted: string) => {
    // The topmost folder that is created: an undo removes it.
    const first = await mkdir(wanted, { recursive: true });
    if (first) made.push(first);
  };
  try {
    await make(folder);
    if (copy) {
      await move(copy.from, copy.to);
      isMoved = true;
    }
    for (const twin of port.port.twins) await make(path.resolve(folder, twin.root));
    for (const { name, text } of files) {
      const wanted = path.resolve(folder, port.port.twins[0]?.root ?? "", name);
      if (await stat(wanted).catch(() => null)) continue;
      made.push(wanted);
      await writeAtomically(wanted, text);
    }
    for (const pattern of port.port.cases) {
      const cases = path.join(folder, path.dirname(pattern).replace(/\/?[*?{].*$/, ""));
      // Cases may be elsewhere; create only the port's own folders.
      if (cases.startsWith(folder + path.sep)) await make(cases);
    }
    made.push(file);
    await writeAtomically(file, port.text);
    await openPort(file);
    return file;
  } catch (thrown) {
    // Moves the copy back so that it can be kept again.
    if (copy && isMoved) await move(copy.to, copy.from);
    for (const one of made.reverse()) await rm(one, { recursive: true, force: true });
    throw thrown;
  }
}

async function refuseThere(wanted: string, what: string): Promise<void> {
  if (!(await stat(wanted).catch(() => null))) return;
  throw new SideTwinError({
    code: "bad-input",
    what: `${what}: ${wanted}`,
    next: "Choose another folder for the port file, or bring in the port that is there.",
  });
}

/** Renaming does not reach from one disk to another. */
async function move(from: string, to: string): Promise<void> {
  try {
    await rename(from, to);
  } catch (thrown) {
    if ((thrown as NodeJS.ErrnoException).code !== "EXDEV") throw thrown;
    await cp(from, to, { recursive: true });
    await rm(from, { recursive: true, force: true });
  }
}
