/** Figures that the port's own commands measure on each side, such as the size of the code (formats, section 15). */

import { mkdtemp, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { linesOf } from "@/core/diagnostics/diagnostic";
import type { Report } from "@/core/formats/report";
import { readWithPattern } from "@/engine/within";
import { runInSide } from "@/service/check/sides";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

const FIGURE_TIME_MS = 5 * 60_000;

/** The first line that the pattern fits gives the number; null where none does. Never rejects. */
export async function measureFigures(
  open: OpenPort,
  twins: readonly string[],
  signal?: AbortSignal,
): Promise<NonNullable<Report["figures"]>> {
  const measured: NonNullable<Report["figures"]> = [];
  for (const { name, unit, original, twins: commands, pattern } of open.port.figures) {
    const measure = (side: OpenSide, command: readonly string[] | undefined) =>
      command ? numberFrom(open, side, { command, pattern, signal }) : Promise.resolve(null);
    const figures: Record<string, number | null> = {};
    for (const twin of open.twins)
      if (twins.includes(twin.name)) figures[twin.name] = await measure(twin, commands[twin.name]);
    measured.push({ name, unit, original: await measure(open.original, original), twins: figures });
  }
  return measured;
}

async function numberFrom(
  open: OpenPort,
  side: OpenSide,
  terms: { readonly command: readonly string[]; readonly pattern: string; readonly signal: AbortSignal | undefined },
): Promise<number | null> {
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-figure-")));
  try {
    const { command, signal } = terms;
    const record = await runInSide(open, side, { command, scratch, signal, timeMs: FIGURE_TIME_MS });
    const pattern = new RegExp(terms.pattern, "u");
    const values = readWithPattern(terms.pattern, "figures", () =>
      linesOf(record.stdout.toString("utf8")).flatMap((line) => pattern.exec(line)?.groups?.value ?? []),
    );
    const value = Number(values[0]?.replace(/[_,](?=\d{3}\b)/g, ""));
    return values.length > 0 && Number.isFinite(value) ? value : null;
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
