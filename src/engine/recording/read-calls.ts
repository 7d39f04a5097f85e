/** Reads the recorders' files: calls and steps of a program that ran. */
import { readdir, readFile } from "node:fs/promises";
import path from "node:path";
import { z } from "zod";
import type { Step } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { json, recordOf } from "@/core/formats/json";

/** One call, or the calls of one object in their order. An answer is undefined where its end was not seen. */
export type RecordedCall = {
  /** Relative to the side's root. */
  readonly file: string;
  readonly answers: readonly (Json | "thrown" | undefined)[];
} & (
  | { readonly section: string; readonly args: readonly Json[]; readonly kwargs: { readonly [name: string]: Json } }
  | { readonly steps: readonly Step[] }
);

/** All that was recorded in a run. */
export type Recording = {
  readonly calls: readonly RecordedCall[];
  /** Calls of recorded sections, those that were only counted too. */
  readonly seen: number;
  /** Why calls were not written down → how many. */
  readonly lost: ReadonlyMap<string, number>;
};

const step = z.union([
  z.object({ new: z.string(), args: z.array(json).optional(), kwargs: recordOf(json).optional(), as: z.string() }),
  z.object({ call: z.string(), on: z.string(), args: z.array(json).optional(), kwargs: recordOf(json).optional() }),
  z.object({ get: z.string(), on: z.string() }),
  z.object({ set: z.string(), on: z.string(), value: json }),
]);
const ended = { value: json.optional(), thrown: z.object({ kind: z.string().optional() }).optional() };
const line = z.union([
  z.object({ file: z.string(), section: z.string(), args: z.array(json), kwargs: recordOf(json), ...ended }),
  z.object({ file: z.string(), object: z.number(), step, ...ended }),
  z.object({ seen: recordOf(z.number()), lost: recordOf(z.number()) }),
]);

/** Reads the folder in which a run was recorded; lines that a killed process left half are passed over. */
export async function readRecording(folder: string): Promise<Recording> {
  const calls: RecordedCall[] = [];
  const lost = new Map<string, number>();
  let seen = 0;
  for (const name of (await readdir(folder)).sort()) {
    const objects = new Map<number, { file: string; steps: Step[]; answers: (Json | "thrown" | undefined)[] }>();
    for (const text of (await readFile(path.join(folder, name), "utf8")).split("\n")) {
      const record = parse(text);
      if (!record) continue;
      if ("seen" in record) {
        for (const count of Object.values(record.seen)) seen += count;
        for (const [why, count] of Object.entries(record.lost)) lost.set(why, (lost.get(why) ?? 0) + count);
      } else if ("section" in record) {
        const { file, section, args, kwargs } = record;
        calls.push({ file, section, args, kwargs, answers: [answerOf(record)] });
      } else {
        const known = objects.get(record.object) ?? { file: record.file, steps: [], answers: [] };
        // Its first step makes the object: without that there is nothing to call on.
        if (known.steps.length === 0 && !("new" in record.step)) continue;
        known.steps.push(record.step);
        known.answers.push("new" in record.step ? undefined : answerOf(record));
        objects.set(record.object, known);
      }
    }
    calls.push(...objects.values());
  }
  return { calls, seen, lost };
}

const answerOf = ({ value, thrown }: { value?: Json | undefined; thrown?: unknown }) => (thrown ? "thrown" : value);

function parse(text: string): z.infer<typeof line> | null {
  try {
    return line.parse(JSON.parse(text));
  } catch {
    return null;
  }
}
