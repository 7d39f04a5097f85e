/** The places of a side's files that the text of an error leads to, through source maps where the code was built. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { originalPositionFor, TraceMap } from "@jridgewell/trace-mapping";
import { type Frame, framesIn } from "@/core/source/stack-frames";
import type { OpenSide } from "@/service/port/open-port";

/** A line of a file of the side. */
export type StackPlace = { readonly file: string; readonly line: number };

const MAX_PLACES = 8;

/** In the order of the text; frames of other code are left out. */
export async function stackPlaces(text: string, side: OpenSide): Promise<StackPlace[]> {
  const places = new Map<string, StackPlace>();
  for (const frame of framesIn(text)) {
    const place = await placeOf(frame, side);
    if (place) places.set(`${place.file}:${place.line}`, place);
    if (places.size >= MAX_PLACES) break;
  }
  return [...places.values()];
}

async function placeOf(frame: Frame, { folder, files }: OpenSide): Promise<StackPlace | null> {
  const known = new Set(files);
  // Programs run in copies of the folder: the longest end of the path that is one of its files counts.
  const parts = frame.file.split(/[\\/]/).filter((part) => part !== "" && part !== ".");
  const ends = parts.map((_, from) => parts.slice(from).join("/"));
  for (const end of ends) {
    const mapped = await throughMap(path.join(folder, end), frame, folder);
    if (mapped && known.has(mapped.file)) return mapped;
  }
  const own = ends.find((end) => known.has(end));
  return own === undefined ? null : { file: own, line: frame.line };
}

/** Null where there is no map beside the file or in it. */
async function throughMap(built: string, { line, column }: Frame, folder: string): Promise<StackPlace | null> {
  const map = await readMap(built);
  if (!map) return null;
  const { source, line: found } = originalPositionFor(map, { line, column: Math.max(0, (column ?? 1) - 1) });
  if (source === null || found === null) return null;
  const file = path
    .relative(folder, path.resolve(path.dirname(built), source))
    .split(path.sep)
    .join("/");
  return { file, line: found };
}

async function readMap(built: string): Promise<TraceMap | null> {
  try {
    return new TraceMap(await readFile(`${built}.map`, "utf8"));
  } catch {
    // No map beside it: it may be in the file itself.
  }
  try {
    const inline = /\/\/# sourceMappingURL=data:application\/json[^,]*;base64,([A-Za-z0-9+/=]+)\s*$/.exec(
      await readFile(built, "utf8"),
    );
    return inline?.[1] ? new TraceMap(Buffer.from(inline[1], "base64").toString("utf8")) : null;
  } catch {
    // Not a file of the side, or no map that can be read.
    return null;
  }
}
