/** Names that the twin gives to sections of the original, where no naming style leads there: found by pairing their texts. */
import type { SideResult } from "@/core/compare/answer";
import type { Hookup } from "@/core/formats/port-file";
import type { OpenPort } from "@/service/port/open-port";
import { pairModule, readSources } from "@/service/reading/pair-port";

/** Less likely pairs do not redirect a call. */
const LIKELY = 0.7;

/**
 * Whether a driver reported the section as missing, in which case pairing is tried. A reply with text is a value or
 * error, and is not parsed here.
 */
export const isMissingSection = (answer: SideResult & { readonly text?: string }): boolean =>
  answer.text === undefined && answer.result.kind === "skipped" && answer.result.why.startsWith("there is no ");

/** A hookup for each section of the modules that has another name on the twin. Cost: the modules' sources are parsed. */
export async function findRenamed(open: OpenPort, twinName: string, modules: ReadonlySet<string>): Promise<Hookup[]> {
  const twin = open.twins.find(({ name }) => name === twinName);
  const found: Hookup[] = [];
  for (const module of open.modules) {
    if (!twin || !modules.has(module.name)) continue;
    const sources = {
      original: await readSources(open.original.folder, module.original),
      twin: await readSources(twin.folder, module.twins[twinName] ?? []),
    };
    for (const pair of pairModule(open, module, sources, twinName)) {
      const isWhole = pair.relation === "renamed" || pair.relation === "reshaped";
      if (!isWhole || pair.score < LIKELY) continue;
      found.push({ original: `${module.name}.${pair.original}`, twin: `${module.name}.${pair.twin}`, on: twinName });
    }
  }
  return found;
}
