/** The phrasebook row of the speed table: 50 phrases over a large tree against parsing it once on one thread. */
import { appendFileSync, mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { PhraseCache } from "@/service/phrasebook/phrase-cache";
import { runPhrases } from "@/service/phrasebook/run-phrases";
import { openPort } from "@/service/port/open-port";
import { copyTree, parseAlone } from "./survey";

/** Calls of the standard library, so that there is something to find. */
const CALLS = ["join", "append", "format", "split", "strip", "items", "get", "startswith", "encode", "replace"];

const phrases = Array.from({ length: 50 }, (_, index) => {
  const call = CALLS[index % CALLS.length];
  const args = Array.from({ length: Math.floor(index / CALLS.length) }, (__, at) => `(:a${at}:)`).join(", ");
  const from = `(:object:).${call}(${args})`;
  return {
    id: `p${index}`,
    kind: "code",
    language: "python",
    from,
    to: `${call}_of((:object:)${args && ", "}${args})`,
  };
});

/** Prints one line a figure. `work` is a folder for a copy. */
export async function benchPhrases(work: string, say: (line: string) => void): Promise<void> {
  const folder = path.join(work, "phrases");
  mkdirSync(path.join(folder, "original"), { recursive: true });
  const files = await copyTree(path.join(folder, "twin"));
  if (files.length === 0) {
    say("phrases: no Python standard library was found");
    return;
  }
  const write = (name: string, value: unknown) => writeFileSync(path.join(folder, name), JSON.stringify(value));
  write("original/m.py", "");
  write("phrases.json", { format: "side-twin/phrasebook", version: 1, phrases });
  write("side-twin.json", {
    format: "side-twin/port",
    version: 1,
    name: "Phrases",
    original: { root: "original", language: "python" },
    twins: [{ name: "new", root: "twin", language: "python" }],
    phrasebook: ["phrases.json"],
  });
  const alone = await parseAlone(path.join(folder, "twin"), files);
  const open = await openPort(folder);
  const started = performance.now();
  const cache = new PhraseCache();
  const run = await runPhrases(open, { cache });
  const seconds = (performance.now() - started) / 1000;
  const places = run.phrases.reduce((sum, { occurrences }) => sum + occurrences.length, 0);
  say(
    `${phrases.length} phrases in ${files.length} files: ${places.toLocaleString("en")} places in ${seconds.toFixed(1)} s against ${alone.toFixed(1)} s of parsing alone: ratio ${(seconds / alone).toFixed(2)} (reach: 2)`,
  );
  const [first = ""] = files;
  appendFileSync(path.join(folder, "twin", first), "\n# changed\n");
  const again = performance.now();
  await runPhrases(open, { cache });
  say(
    `phrases after one of ${files.length} files changed: ${((performance.now() - again) / 1000).toFixed(2)} s (reach: 0.3)`,
  );
}
