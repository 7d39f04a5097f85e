/** The comparing rows of the speed table: two large texts against GNU diff, two large JSON documents against parsing both. */
import { spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { compareFiles } from "@/service/check/compare-files";

/** Seconds of the quickest of three: what a figure is held against must not have had a bad moment. */
async function quickest(work: () => unknown): Promise<number> {
  let least = Number.POSITIVE_INFINITY;
  for (let turn = 0; turn < 3; turn++) {
    const started = performance.now();
    await work();
    least = Math.min(least, (performance.now() - started) / 1000);
  }
  return least;
}

/** Makes a program log of `lines` lines with every hundredth changed and an occasional one lost or added. */
function texts(count: number): { original: string; twin: string } {
  const original: string[] = [];
  const twin: string[] = [];
  for (let line = 0; line < count; line++) {
    const text = `${String(line).padStart(7, "0")} vessel ${line % 37} at quay ${(line * 7) % 11}, tide ${(line * 31) % 997} cm`;
    original.push(text);
    if (line % 100 !== 50) twin.push(text);
    else if (line % 700 === 50) twin.push(text, "an added line");
    else if (line % 900 !== 50) twin.push(`${text}.5`);
  }
  return { original: `${original.join("\n")}\n`, twin: `${twin.join("\n")}\n` };
}

/** Makes code-like texts in which many lines repeat, so that no line identifies its position. */
function repeatingTexts(count: number): { original: string; twin: string } {
  const line = (index: number) =>
    index % 5 === 0 ? `  const v${index} = f(${index});` : ["", "}", "{", "  return;"][index % 4];
  const original = Array.from({ length: count }, (_, index) => line(index) ?? "");
  return {
    original: original.join("\n"),
    twin: original.map((text, index) => (index % 100 === 50 ? `${text} //` : text)).join("\n"),
  };
}

function differentTexts(count: number): { original: string; twin: string } {
  const make = (seed: number) =>
    Array.from({ length: count }, (_, index) => `${(index * seed) % 7919} of ${index} ${seed}`);
  return { original: make(31).join("\n"), twin: make(57).join("\n") };
}

function documents(megabytes: number): { original: string; twin: string } {
  const items = (changed: boolean) =>
    Array.from({ length: megabytes * 9_700 }, (_, no) => ({
      no,
      boat: `Tern ${no % 113}`,
      fare: changed && no % 5000 === 7 ? no / 8 + 1 : no / 8,
      stops: [no % 7, no % 11, { quay: "east", at: `0${no % 10}:10` }],
      open: no % 3 === 0,
    }));
  return { original: JSON.stringify({ items: items(false) }), twin: JSON.stringify({ items: items(true) }) };
}

/** Prints one line a figure. `work` is a folder for the files. */
export async function benchCompare(work: string, say: (line: string) => void): Promise<void> {
  const write = (name: string, both: { original: string; twin: string }, ending: string): [string, string] => {
    const files: [string, string] = [path.join(work, `${name}-a.${ending}`), path.join(work, `${name}-b.${ending}`)];
    writeFileSync(files[0], both.original);
    writeFileSync(files[1], both.twin);
    return files;
  };
  const against = async (name: string, both: { original: string; twin: string }, reach: string) => {
    const [one, other] = write("text", both, "txt");
    const diff = await quickest(() => spawnSync("diff", [one, other], { stdio: ["ignore", "ignore", "inherit"] }));
    const ours = await quickest(() => compareFiles(one, other, "text"));
    say(
      `${name}: ${ours.toFixed(2)} s against ${diff.toFixed(2)} s of GNU diff: ratio ${(ours / diff).toFixed(2)} (reach: ${reach})`,
    );
  };
  for (const count of [50_000, 125_000, 250_000, 500_000])
    await against(`texts of ${count.toLocaleString("en")} lines, 1 in 100 changed`, texts(count), "2");
  await against("texts of 250,000 lines, most of them many times there", repeatingTexts(250_000), "2");
  await against("two wholly different texts of 50,000 lines", differentTexts(50_000), "2 s");
  for (const megabytes of [10, 50]) {
    const [one, other] = write("json", documents(megabytes), "json");
    const parsing = await quickest(() => [one, other].map((file) => JSON.parse(readFileSync(file, "utf8"))));
    const ours = await quickest(() => compareFiles(one, other));
    const size = Math.round(readFileSync(one).length / 1e6);
    say(
      `JSON documents of ${size} MB: ${ours.toFixed(2)} s against ${parsing.toFixed(2)} s of parsing both: ratio ${(ours / parsing).toFixed(2)} (reach: 2)`,
    );
  }
}
