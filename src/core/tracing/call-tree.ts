/** The tree of the calls that a run made, from the events that drivers note. */
import { z } from "zod";
import type { Json } from "@/core/formats/json";
import { json, recordOf } from "@/core/formats/json";

/** One call of a section; undefined where a value could not be written down. */
export type TracedCall = {
  readonly file: string;
  /** As its source has it: `f`, `Class.method`. */
  readonly section: string;
  readonly kind: "call" | "new" | "method" | "get";
  readonly args: readonly Json[] | undefined;
  readonly kwargs: { readonly [name: string]: Json };
  value: Json | undefined;
  thrown: { readonly kind: string; readonly message: string } | undefined;
  readonly calls: TracedCall[];
};

const event = z.union([
  z.object({
    enter: z.number(),
    file: z.string(),
    section: z.string(),
    kind: z.enum(["call", "new", "method", "get"]),
    args: z.array(json).optional(),
    kwargs: recordOf(json).optional(),
  }),
  z.object({
    leave: z.number(),
    value: json.optional(),
    thrown: z.object({ kind: z.string().optional(), message: z.string().optional() }).optional(),
  }),
]);

/** The outermost calls, in order. Other events are skipped; calls that never end have no answer. */
export function toCallTree(events: readonly unknown[]): TracedCall[] {
  const top: TracedCall[] = [];
  const open: { readonly number: number; readonly call: TracedCall }[] = [];
  for (const raw of events) {
    const { data } = event.safeParse(raw);
    if (!data) continue;
    if ("enter" in data) {
      const { file, section, kind, args, kwargs = {} } = data;
      const call: TracedCall = { file, section, kind, args, kwargs, value: undefined, thrown: undefined, calls: [] };
      (open.at(-1)?.call.calls ?? top).push(call);
      open.push({ number: data.enter, call });
    } else {
      // An awaited call may end after calls that began later.
      const at = open.findLastIndex(({ number }) => number === data.leave);
      const [ended] = at === -1 ? [] : open.splice(at, 1);
      if (!ended) continue;
      ended.call.value = data.value;
      if (data.thrown) ended.call.thrown = { kind: data.thrown.kind ?? "", message: data.thrown.message ?? "" };
    }
  }
  return top;
}
