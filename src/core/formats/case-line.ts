/** Shared cases as JSON Lines, one case a line (formats, section 2). */
import { z } from "zod";
import { SideTwinError } from "@/core/errors";
import { firstIssue, issueToError } from "@/core/formats/document";
import { kindsByPath } from "@/core/formats/document-kind";
import { json, recordOf } from "@/core/formats/json";
import { refuseDeep } from "@/core/formats/nesting";

const stepSchema = z.union([
  z.strictObject({
    new: z.string().min(1),
    args: z.array(json).optional(),
    kwargs: recordOf(json).optional(),
    as: z.string().optional(),
  }),
  z.strictObject({
    call: z.string().min(1),
    on: z.string().optional(),
    args: z.array(json).optional(),
    kwargs: recordOf(json).optional(),
    as: z.string().optional(),
  }),
  z.strictObject({ get: z.string().min(1), on: z.string(), as: z.string().optional() }),
  z.strictObject({ set: z.string().min(1), on: z.string(), value: json }),
]);

const runSchema = z.strictObject({
  argv: z.array(z.string()).default([]),
  stdin: z.string().default(""),
  env: recordOf(z.string()).default({}),
  files: recordOf(z.union([z.string(), z.strictObject({ "~bytes": z.base64() })])).default({}),
});

/** A control character in an id would break lists, file names and terminals. */
const CONTROL = /\p{Cc}/u;

const shared = {
  id: z
    .string()
    .min(1)
    .refine((id) => !CONTROL.test(id), "control characters cannot be part of an id"),
  module: z.string().min(1).optional(),
  title: z.string().optional(),
  tags: z.array(z.string()).optional(),
  from: z.enum(["hand", "recorded", "generated", "minimised"]).optional(),
  repeat: z.number().int().positive().max(1000).optional(),
  seed: z.number().int().nonnegative().optional(),
  now: z.iso.datetime({ offset: true }).optional(),
  state: z.enum(["fresh", "kept"]).optional(),
  kinds: kindsByPath.optional(),
};

/** Extra observations of calls and steps, where the side's driver supports them. */
const beside = {
  /** Blocks and handles that are still held at the end (formats, section 17). */
  allocations: z.boolean().optional(),
  observe: z.array(z.literal("errno")).optional(),
};

const CALLBACK_STYLES = ["node", "value", "calls"];

/** Whether every callback in a value is one of the three styles, with `returns` for `calls` alone (section 18). */
function hasSoundCallbacks(value: unknown): boolean {
  if (typeof value !== "object" || value === null) return true;
  if (Object.hasOwn(value, "~callback")) {
    const { "~callback": style, returns, ...rest } = value as { "~callback"?: unknown; returns?: unknown }; // has the key
    const isPlain = returns === undefined || (style === "calls" && Array.isArray(returns) && returns.length > 0);
    return CALLBACK_STYLES.includes(String(style)) && isPlain && Object.keys(rest).length === 0;
  }
  return Object.values(value).every(hasSoundCallbacks);
}

const argument = json.refine(
  hasSoundCallbacks,
  'A callback is {"~callback": "node"}, "value" or "calls"; "calls" may have a list of "returns"',
);

/** A call of a section (formats, section 2). */
export const callCaseSchema = z.strictObject({
  ...shared,
  ...beside,
  module: z.string().min(1),
  call: z.string().min(1),
  args: z.array(argument).default([]),
  kwargs: recordOf(argument).default({}),
});

const stepsCaseSchema = z.strictObject({
  ...shared,
  ...beside,
  module: z.string().min(1),
  steps: z.array(stepSchema).min(1),
});

const runCaseSchema = z.strictObject({
  ...shared,
  run: runSchema,
  observe: z
    .array(
      z
        .string()
        .regex(/^(exit|stdout|stderr|times|files(:.+)?)$/, "Observed can be: exit, stdout, stderr, times, files:GLOB"),
    )
    .default(["exit", "stdout"]),
});

/** A line of a case file: a call, steps, or a program run. */
export const sharedCaseSchema = z.union([callCaseSchema, stepsCaseSchema, runCaseSchema]);

/** A call of a section. */
export type CallCase = z.infer<typeof callCaseSchema>;
/** A sequence of steps on objects. */
export type StepsCase = z.infer<typeof stepsCaseSchema>;
/** A run of the program. */
export type RunCase = z.infer<typeof runCaseSchema>;
/** Any shared case. */
export type SharedCase = z.infer<typeof sharedCaseSchema>;
/** One step of a sequence. */
export type Step = z.infer<typeof stepSchema>;

/** Whether a case runs the program. */
export const isRunCase = (item: SharedCase): item is RunCase => "run" in item;

/**
 * Reads a file of cases. Blank lines are passed over; ids must be unique within the file (across files the caller
 * checks with `seen`, which is extended). `linesBefore` counts the lines of the file that come before the text, when it is
 * read in parts. Throws SideTwinError with file, line and key.
 */
export function parseCaseLines(
  text: string,
  file: string,
  seen: Map<string, string> = new Map(),
  linesBefore = 0,
): SharedCase[] {
  const cases: SharedCase[] = [];
  let line = linesBefore;
  let start = text.startsWith("\uFEFF") ? 1 : 0;
  while (start < text.length) {
    line++;
    let end = text.indexOf("\n", start);
    if (end === -1) end = text.length;
    const source = text.slice(start, end).trim();
    start = end + 1;
    if (source === "") continue;
    const parsed = parseCaseLine(source, { file, line });
    const before = seen.get(parsed.id);
    if (before) {
      throw new SideTwinError({
        code: "bad-input",
        what: `The case id "${parsed.id}" is already used in ${before}`,
        where: { file, line, key: "id" },
        next: "Give one of them another id.",
      });
    }
    seen.set(parsed.id, `${file}, line ${line}`);
    cases.push(parsed);
  }
  return cases;
}

/** Which of the three forms a line is meant to be, so that errors refer to that form. */
function schemaFor(value: object): z.ZodType<SharedCase> {
  if ("run" in value) return runCaseSchema;
  if ("steps" in value) return stepsCaseSchema;
  return callCaseSchema;
}

const PLAIN_KEYS = new Set(["id", "module", "call", "args", "kwargs"]);

/**
 * The form of nearly every line, a call with nothing but its arguments, read by hand: a tenth of the schema's time, which
 * is most of what opening a hundred thousand cases takes. Null for all else, and for what the schema would refuse.
 */
export function readPlainCall(value: Readonly<Record<string, unknown>>): CallCase | null {
  for (const key in value) if (!PLAIN_KEYS.has(key)) return null;
  const { id, module, call, args = [], kwargs = {} } = value;
  if (typeof id !== "string" || typeof module !== "string" || typeof call !== "string") return null;
  if (id === "" || module === "" || call === "" || !Array.isArray(args)) return null;
  if (typeof kwargs !== "object" || kwargs === null || Array.isArray(kwargs)) return null;
  if (Object.hasOwn(kwargs, "__proto__")) return null;
  return { id, module, call, args, kwargs: kwargs as CallCase["kwargs"] }; // JSON.parse returns JSON
}

function parseCaseLine(source: string, at: { file: string; line: number }): SharedCase {
  refuseDeep(source, at);
  let value: unknown;
  try {
    value = JSON.parse(source);
  } catch (cause) {
    const why = cause instanceof Error ? cause.message : String(cause);
    throw new SideTwinError(
      { code: "bad-input", what: `Not JSON: ${why}`, where: at, next: "Every line must be one JSON object." },
      cause,
    );
  }
  if (typeof value !== "object" || value === null || Array.isArray(value)) {
    throw new SideTwinError({
      code: "bad-input",
      what: "A case must be a JSON object",
      where: at,
      next: 'Write {"id": …, "module": …, "call": …, "args": […]}.',
    });
  }
  if (!("call" in value) && !("steps" in value) && !("run" in value)) {
    throw new SideTwinError({
      code: "bad-input",
      what: 'A case needs one of "call", "steps" or "run"',
      where: at,
      next: "Add the one it is meant to be.",
    });
  }
  const plain = readPlainCall(value as Readonly<Record<string, unknown>>); // an object, not a list
  if (plain) return plain;
  const result = schemaFor(value).safeParse(value);
  if (result.success) return result.data;
  throw issueToError(firstIssue(result.error.issues), value, (path) => ({
    ...at,
    ...(path.length ? { key: path.join(".") } : {}),
  }));
}
