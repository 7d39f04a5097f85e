/** The lines that a Node.js program ran, from the coverage files that Node.js writes at its end (NODE_V8_COVERAGE). */
import { readdir, readFile, rm } from "node:fs/promises";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { z } from "zod";
import type { Lines } from "@/engine/drivers/driver";
import { linesRun, startsOf } from "@/engine/drivers/node/lines.mjs";

const coverageFile = z.object({
  result: z.array(z.unknown()),
  "source-map-cache": z.record(z.string(), z.unknown()).optional(),
});
const hasUrl = z.object({ url: z.string() });
const scriptCoverage = z.object({
  functions: z.array(
    z.object({
      ranges: z.array(z.object({ startOffset: z.number(), endOffset: z.number(), count: z.number() })),
    }),
  ),
});
const sourceMap = z
  .object({
    lineLengths: z.array(z.number()).optional(),
    data: z.object({ mappings: z.string() }).nullable().optional(),
  })
  .optional();

/** File below the root → lines run, of all processes of the program; the folder of coverage files is removed. */
export async function readNodeLines(folder: string, root: string): Promise<Lines> {
  const found: { [file: string]: number[] } = {};
  try {
    for (const name of await readdir(folder)) {
      const { result, "source-map-cache": maps = {} } = coverageFile.parse(
        JSON.parse(await readFile(path.join(folder, name), "utf8")),
      );
      for (const script of result) {
        // Most scripts are the platform's and of packages: only those of the side are looked into.
        const { url } = hasUrl.parse(script);
        const file = fileBelow(url, root);
        if (file === null) continue;
        const { functions } = scriptCoverage.parse(script);
        const map = sourceMap.parse(maps[url]);
        const code = await readFile(path.join(root, file), "utf8").catch(() => "");
        const mapped = map?.data && map.lineLengths;
        const made = mapped
          ? { starts: startsFrom(map.lineLengths ?? []), mappings: map.data?.mappings ?? null }
          : { starts: startsOf(code), code };
        found[file] = [...new Set([...(found[file] ?? []), ...linesRun(functions, made)])].sort((a, b) => a - b);
      }
    }
    return found;
  } catch (error) {
    // A program that was ended from outside wrote nothing down: nothing is proven by it.
    if (error instanceof Error && "code" in error && error.code === "ENOENT") return {};
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function fileBelow(url: string, root: string): string | null {
  if (!url.startsWith("file:")) return null;
  const file = fileURLToPath(url.replace(/[?#].*$/, ""));
  if (!file.startsWith(root + path.sep) || file.includes(`${path.sep}node_modules${path.sep}`)) return null;
  return path.relative(root, file).split(path.sep).join("/");
}

/** Line lengths leave the ending of one character out. */
function startsFrom(lengths: readonly number[]): number[] {
  const starts = [0];
  for (const length of lengths) starts.push((starts.at(-1) ?? 0) + length + 1);
  return starts;
}
