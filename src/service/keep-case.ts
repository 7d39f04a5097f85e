/** Writes a new shared case into the port's case files. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import picomatch from "picomatch";
import { SideTwinError } from "@/core/errors";
import { parseCaseLines, type SharedCase } from "@/core/formats/case-line";
import { writeAtomically } from "@/engine/files/write";
import type { OpenPort } from "@/service/open-port";

/** Returns the file, relative to the port. Throws SideTwinError when the id is taken or no case file can be made. */
export async function keepCase(
  open: OpenPort,
  all: readonly SharedCase[],
  item: SharedCase,
): Promise<{ file: string }> {
  if (all.some((one) => one.id === item.id)) {
    throw new SideTwinError({
      code: "bad-input",
      what: `There is a case "${item.id}" already`,
      next: "Give it another id.",
    });
  }
  const line = JSON.stringify(item);
  // What is written must be what is read again.
  parseCaseLines(line, "the new case");
  const file = fileFor(open.port.cases, item);
  const full = path.join(open.folder, file);
  const before = await readFile(full, "utf8").catch((error: unknown) => {
    if (error instanceof Error && "code" in error && error.code === "ENOENT") return "";
    throw error;
  });
  const gap = before === "" || before.endsWith("\n") ? "" : "\n";
  await writeAtomically(full, `${before}${gap}${line}\n`);
  return { file };
}

/** A file that the port's patterns take in, named after where its cases come from. */
function fileFor(patterns: readonly string[], item: SharedCase): string {
  for (const pattern of patterns) {
    const name = pattern.replace("**/", "").replace("*", item.from ?? "hand");
    if (!/[*?[{]/.test(name) && picomatch(pattern, { dot: true })(name)) return name;
  }
  throw new SideTwinError({
    code: "bad-input",
    what: "The port file names no place for new cases",
    where: { file: "side-twin.json", key: "cases" },
    next: 'Add a pattern such as "cases/*.jsonl".',
  });
}
