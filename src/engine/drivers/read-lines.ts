/** Reads the lines that a program wrote down while it was traced: `file<TAB>1,2,3`, of all its processes. */
import { readFile, rm } from "node:fs/promises";
import type { Lines } from "@/engine/drivers/driver";

/** File → lines run, ascending; the record is removed. Empty where nothing was written down. */
export async function readLines(record: string): Promise<Lines> {
  let text: string;
  try {
    text = await readFile(record, "utf8");
  } catch {
    // The program was ended by a signal or without its last words: nothing is proven by it.
    return {};
  }
  await rm(record, { force: true });
  const found = new Map<string, Set<number>>();
  for (const line of text.split("\n")) {
    const [name = "", numbers] = line.split("\t");
    if (numbers === undefined) continue;
    const known = found.get(name) ?? new Set();
    for (const number of numbers.split(",")) known.add(Number(number));
    found.set(name, known);
  }
  return Object.fromEntries([...found].map(([name, lines]) => [name, [...lines].sort((left, right) => left - right)]));
}
