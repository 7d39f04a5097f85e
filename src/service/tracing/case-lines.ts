/** The lines that one case runs on both sides, and those of the twin that no agreeing case of its module runs. */
import type { CaseLinesView } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Lines } from "@/engine/drivers/driver";
import { Prober } from "@/service/check/prober";
import { prepareSide } from "@/service/check/sides";
import { type OpenPort, twinsFor } from "@/service/port/open-port";

/** Agreeing cases whose lines are compared; more hardly run others. */
const MAX_AGREEING = 60;

/**
 * Runs the case and some that agree, with their lines. Throws SideTwinError for a program run, whose lines are not recorded case by case, and
 * where a side cannot be run.
 */
export async function linesOfCase(
  open: OpenPort,
  item: SharedCase,
  {
    twin: name,
    agreeing,
    signal,
  }: { readonly twin: string; readonly agreeing: readonly SharedCase[]; readonly signal?: AbortSignal },
): Promise<CaseLinesView> {
  if (isRunCase(item)) {
    throw new SideTwinError({
      code: "bad-input",
      what: `"${item.id}" is a program run`,
      next: "Lines are shown for calls and steps; a program run goes through many modules.",
    });
  }
  const [twin] = twinsFor(open, name);
  await prepareSide(open, open.original, "original", { signal, answersFolder: null });
  await prepareSide(open, twin, twin.name, { signal, answersFolder: null });
  const prober = new Prober(open, twin, signal, { isTraced: true });
  try {
    const [original] = await prober.linesOfOriginal([item]);
    const others = agreeing.filter((one) => !isRunCase(one) && one.id !== item.id).slice(0, MAX_AGREEING);
    const [own, ...rest] = await prober.linesOfTwin([item, ...others]);
    const agreed = new Map<string, Set<number>>();
    for (const lines of rest)
      for (const [file, list] of Object.entries(lines ?? {})) {
        const known = agreed.get(file) ?? new Set<number>();
        agreed.set(file, known);
        for (const line of list) known.add(line);
      }
    const only = (lines: Lines) =>
      Object.fromEntries(
        Object.entries(lines).map(([file, list]) => [file, list.filter((line) => !agreed.get(file)?.has(line))]),
      );
    return { original: plain(original), twin: plain(own), onlyHere: others.length > 0 ? only(own ?? {}) : {} };
  } finally {
    prober.close();
  }
}

const plain = (lines: Lines | undefined): { [file: string]: number[] } =>
  Object.fromEntries(Object.entries(lines ?? {}).map(([file, list]) => [file, [...list]]));
