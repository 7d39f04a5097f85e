/** The effect of a draft, computed without writing. */
import path from "node:path";
import type { EffectView } from "@/api/bring-in-views";
import type { PortFile } from "@/core/formats/port-file";
import { effectOfMap } from "@/core/pairing/module-map";
import { resolveModules } from "@/core/pairing/modules";
import { isTestFile } from "@/core/survey/test-files";
import { listFiles } from "@/engine/files/tree";
import { type Found, sourcesOf } from "@/service/bring-in/found";

/** So much of each list is shown. */
const SHOWN = 60;

/** Computes modules, sections and coverage of a draft's port file. */
export async function effectOf(
  { root, survey }: Found,
  { port, text }: { readonly port: PortFile; readonly text: string },
  {
    folder,
    twin,
    made,
  }: { readonly folder: string; readonly twin: readonly string[]; readonly made: readonly string[] },
): Promise<EffectView> {
  const original = await listFiles(root, port.original.ignore);
  const [first] = port.twins;
  const modules = resolveModules(port, {
    original: original.filter((file) => !isTestFile(file)),
    twins: { [first?.name ?? ""]: twin },
  });
  const lines = new Map(survey.files.map((file) => [file.path, file.lines]));
  const effect = effectOfMap(port.moduleMap, {
    original: sourcesOf(original, port.original.language).filter((file) => !isTestFile(file)),
    twin: sourcesOf(twin, first?.language ?? ""),
  });
  const cases = await listFiles(path.resolve(folder), [], port.cases).catch(() => []);
  return {
    text,
    modules: modules.slice(0, SHOWN).map(({ name, original: files }) => ({
      name,
      files,
      lines: files.reduce((sum, file) => sum + (lines.get(file) ?? 0), 0),
    })),
    moduleCount: modules.length,
    rules: effect.rules.map(({ rule, covers }) => ({
      ...rule,
      covers: covers.slice(0, SHOWN),
      count: covers.length,
      there: covers.filter(({ isThere }) => isThere).length,
    })),
    missed: effect.missed.slice(0, SHOWN),
    missedCount: effect.missed.length,
    leftTwin: effect.leftTwin.slice(0, SHOWN),
    made: made.filter((name) => !twin.includes(name)),
    twinFiles: twin.length,
    cases: cases.length,
  };
}
