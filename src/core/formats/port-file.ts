/** The port file, `side-twin.json` (formats, section 1). */
import { z } from "zod";
import { allowanceSchema } from "@/core/formats/allowance";
import { parseDocument } from "@/core/formats/document";
import { kindsByPath } from "@/core/formats/document-kind";
import { json, recordOf } from "@/core/formats/json";
import { WAYS } from "@/core/formats/ways";

const command = z.array(z.string()).min(1);

const sideSchema = z.strictObject({
  root: z.string().min(1),
  language: z.string().min(1),
  ignore: z.array(z.string()).optional(),
  prepare: z.array(command).optional(),
  /** Lets `prepare` use the network where it runs in the sandbox. */
  prepareNetwork: z.boolean().optional(),
  run: command.optional(),
  check: z.strictObject({ command, reads: z.string() }).optional(),
  call: z
    .strictObject({
      runtime: command.optional(),
      path: z.array(z.string()).optional(),
      /** The compiler of a compiled language, and its flags. */
      compiler: command.optional(),
      flags: z.array(z.string()).optional(),
      /** Run before the side is built, like `prepare` of the side. */
      prepare: z.array(command).optional(),
      /** Folders and archives with compiled classes that the sources need. */
      classPath: z.array(z.string()).optional(),
      /** Folders of headers, patterns of sources, and flags of the linker, of C and C++. */
      include: z.array(z.string()).optional(),
      sources: z.array(z.string()).optional(),
      link: z.array(z.string()).optional(),
    })
    .optional(),
  env: recordOf(z.string()).optional(),
});

/** How names of the original are spelled in the twin. */
export const namingStyle = z.enum(["same", "snake-to-camel", "camel-to-snake", "snake-to-pascal", "pascal-to-snake"]);
/** A naming style. */
export type NamingStyle = z.infer<typeof namingStyle>;

const strictness = z.enum(["strict", "relaxed"]);

const equalitySchema = z.strictObject({
  intFloat: strictness.optional(),
  decimal: strictness.optional(),
  tupleList: strictness.optional(),
  nullKinds: strictness.optional(),
  classNames: strictness.optional(),
  mapKeysAsText: strictness.optional(),
  keyOrder: strictness.optional(),
  negativeZero: strictness.optional(),
  timeOffset: strictness.optional(),
  errorKind: strictness.optional(),
  errorMessage: strictness.optional(),
  /** Whether an empty list and an empty map are the same; relaxed where a side is PHP, which has one value for both. */
  emptyKinds: strictness.optional(),
});

const hookupSchema = z.strictObject({
  original: z.string().min(1),
  twin: z.string().min(1).optional(),
  on: z.string().optional(),
  args: z.array(json).optional(),
  kwargs: recordOf(json).optional(),
  result: z
    .union([z.strictObject({ take: z.string() }), z.strictObject({ fields: z.array(z.string()).min(1) })])
    .optional(),
  /** A case without a callback is handed to a twin that takes one as its last argument. */
  callback: z.literal("last").optional(),
});

/** Names of the readers of diagnostics; each is a file in `core/diagnostics/readers`. */
export const READER_NAMES = [
  "tsc",
  "gcc",
  "javac",
  "rustc-json",
  "go",
  "python",
  "mypy",
  "eslint-json",
  "ruby",
  "php",
  "sarif",
  "pattern",
] as const;

const checkCommandSchema = z
  .strictObject({ command, reads: z.enum(READER_NAMES), pattern: z.string().min(1).optional() })
  .refine(
    ({ reads, pattern }) => reads !== "pattern" || pattern !== undefined,
    'A check that "reads" a "pattern" needs the pattern beside it',
  )
  .refine(({ pattern }) => pattern === undefined || isPattern(pattern), "This is not a regular expression");

function isPattern(pattern: string): boolean {
  try {
    return new RegExp(pattern, "u") instanceof RegExp;
  } catch {
    // The engine's message describes its own syntax; the schema names the place.
    return false;
  }
}

const rungSchema = z
  .strictObject({
    name: z.string().min(1),
    /** The benefit of reaching it, in words. */
    gain: z.string().optional(),
    /** Limits the rung to one twin. */
    twin: z.string().min(1).optional(),
    check: checkCommandSchema.optional(),
    cases: z.literal("agree").optional(),
    /** The share of executable lines that agreeing cases run, from 0 to 1. */
    proven: z.number().min(0).max(1).optional(),
    leftovers: z.literal("none").optional(),
    tests: z.literal("same").optional(),
    command: command.optional(),
  })
  .refine(
    (rung) => [rung.check, rung.cases, rung.proven, rung.leftovers, rung.tests, rung.command].some(Boolean),
    "A rung needs a condition: check, cases, proven, leftovers, tests or command",
  );

/** Names of the readers of test results. */
export const TEST_READER_NAMES = ["junit", "tap", "unittest", "go-json", "pattern"] as const;

const suiteSchema = z
  .strictObject({
    command,
    reads: z.enum(TEST_READER_NAMES),
    /** Where the results are written, relative to the side's root; the command's output where it is left out. */
    file: z.string().min(1).optional(),
    /** Line by line, with named groups `name` and `result`. */
    pattern: z.string().min(1).optional(),
  })
  .refine(
    ({ reads, pattern }) => reads !== "pattern" || pattern !== undefined,
    'A suite that "reads" a "pattern" needs the pattern beside it',
  )
  .refine(({ pattern }) => pattern === undefined || isPattern(pattern), "This is not a regular expression");

const testsSchema = z.strictObject({
  original: suiteSchema,
  twins: recordOf(suiteSchema).default({}),
  pairs: z.array(z.strictObject({ original: z.string().min(1), twin: z.string().min(1) })).default([]),
});

const figureSchema = z.strictObject({
  name: z.string().min(1),
  unit: z.string().default(""),
  original: command.optional(),
  twins: recordOf(command).default({}),
  /** Line by line, with a named group `value`. */
  pattern: z
    .string()
    .min(1)
    .refine(isPattern, "This is not a regular expression")
    .refine((pattern) => pattern.includes("(?<value>"), "The pattern needs a group named value"),
  less: z.enum(["better", "worse"]).optional(),
});

const twinSchema = z.strictObject({ name: z.string().min(1), ...sideSchema.shape });

/** The port file `side-twin.json` (formats, section 1); defaults are filled in. */
export const portFileSchema = z
  .strictObject({
    format: z.literal("side-twin/port"),
    version: z.literal(1),
    name: z.string().min(1),
    original: sideSchema,
    twins: z.array(twinSchema).min(1),
    modules: z
      .array(
        z.strictObject({
          name: z.string().min(1),
          original: z.array(z.string()).default([]),
          twins: recordOf(z.array(z.string())).default({}),
          leftOut: z.string().min(1).optional(),
        }),
      )
      .default([]),
    /** How files form modules if none are listed: each file (a header with its source), or each folder. */
    modulesBy: z.enum(["file", "folder"]).default("file"),
    moduleMap: z.array(z.strictObject({ original: z.string(), twin: z.string() })).default([]),
    names: z
      .strictObject({
        functions: namingStyle.default("same"),
        keys: namingStyle.default("same"),
        keep: z.array(z.string()).default([]),
      })
      .default({ functions: "same", keys: "same", keep: [] }),
    /** Pairs made by hand: null on one side means that there is no counterpart (dropped or new). */
    pairs: z
      .array(
        z
          .strictObject({
            original: z.string().min(1).nullable(),
            twin: z.string().min(1).nullable(),
            on: z.string().min(1).optional(),
            note: z.string().optional(),
          })
          .refine(({ original, twin }) => original !== null || twin !== null, "A pair names at least one section"),
      )
      .default([]),
    hookups: z.array(hookupSchema).default([]),
    /** Shapes of pointers and texts of functions, by `module.function` and parameter (formats, sections 17 and 20). */
    shapes: recordOf(recordOf(z.string().min(1))).default({}),
    cases: z.array(z.string()).default(["cases/*.jsonl"]),
    allowances: z.array(allowanceSchema).default([]),
    equality: equalitySchema.default({}),
    kinds: kindsByPath.default({}),
    /** A file beside the port file with the remembered sections, shared by everyone on the port. */
    memory: z
      .string()
      .regex(/^(?!\/|.*\.\.)[\w./ -]+\.jsonl$/, "A path below the port file's folder that ends in .jsonl")
      .optional(),
    /** Modules that are wanted soon. */
    pins: z.array(z.string().min(1)).default([]),
    /** Decisions about platform-bound items; an entry with `match` defines one of the person's own. */
    snags: z
      .array(
        z.strictObject({
          name: z.string().min(1),
          match: z.string().min(1).optional(),
          way: z.enum(WAYS).optional(),
          note: z.string().optional(),
        }),
      )
      .default([]),
    /** Places at which the port may stop, lowest first. */
    ladder: z.array(rungSchema).default([]),
    /** The rung at which this port means to stop; the last one where it is left out. */
    stopAt: z.string().min(1).optional(),
    /** Files of phrases, relative to the port file. */
    phrasebook: z.array(z.string().min(1)).default([]),
    tests: testsSchema.optional(),
    figures: z.array(figureSchema).default([]),
    limits: z
      .strictObject({
        timeMs: z.number().int().positive().default(10_000),
        memoryMb: z.number().int().positive().default(1024),
        outputKb: z.number().int().positive().default(8192),
        processes: z.number().int().positive().default(64),
      })
      .default({ timeMs: 10_000, memoryMb: 1024, outputKb: 8192, processes: 64 }),
    state: z.enum(["fresh", "kept"]).default("fresh"),
    /** Counts the blocks still held when calls and steps end, where the side's driver supports it (formats, section 17). */
    allocations: z.boolean().default(false),
    /** Extra observations of calls and steps. */
    observe: z.array(z.literal("errno")).default([]),
    now: z.iso.datetime({ offset: true }).optional(),
    seed: z.number().int().nonnegative().optional(),
    env: recordOf(z.string()).default({}),
  })
  .superRefine((port, context) => {
    const names = new Set<string>();
    for (const [index, twin] of port.twins.entries()) {
      if (names.has(twin.name)) {
        context.addIssue({
          code: "custom",
          path: ["twins", index, "name"],
          message: `Two twins are named "${twin.name}"`,
        });
      }
      names.add(twin.name);
    }
    const ids = new Set<string>();
    for (const [index, allowance] of port.allowances.entries()) {
      if (ids.has(allowance.id)) {
        context.addIssue({
          code: "custom",
          path: ["allowances", index, "id"],
          message: `Two allowances have the id "${allowance.id}"`,
        });
      }
      ids.add(allowance.id);
    }
    const rungs = new Set<string>();
    for (const [index, rung] of port.ladder.entries()) {
      if (rungs.has(rung.name))
        context.addIssue({
          code: "custom",
          path: ["ladder", index, "name"],
          message: `Two rungs are named "${rung.name}"`,
        });
      rungs.add(rung.name);
      if (rung.twin !== undefined && !names.has(rung.twin))
        context.addIssue({
          code: "custom",
          path: ["ladder", index, "twin"],
          message: `There is no twin "${rung.twin}"`,
        });
    }
    if (port.stopAt !== undefined && !rungs.has(port.stopAt))
      context.addIssue({ code: "custom", path: ["stopAt"], message: `There is no rung "${port.stopAt}"` });
    for (const [key, twins] of [
      ["tests", port.tests?.twins],
      ...port.figures.map(({ twins }, index) => [`figures.${index}`, twins] as const),
    ] as const)
      for (const twin of Object.keys(twins ?? {}))
        if (!names.has(twin))
          context.addIssue({
            code: "custom",
            path: [...key.split(".").map((part) => (/^\d+$/.test(part) ? Number(part) : part)), "twins", twin],
            message: `There is no twin "${twin}"`,
          });
    const modules = new Set<string>();
    for (const [index, module] of port.modules.entries()) {
      if (modules.has(module.name)) {
        context.addIssue({
          code: "custom",
          path: ["modules", index, "name"],
          message: `Two modules are named "${module.name}"`,
        });
      }
      modules.add(module.name);
      for (const twin of Object.keys(module.twins)) {
        if (!names.has(twin)) {
          context.addIssue({
            code: "custom",
            path: ["modules", index, "twins", twin],
            message: `There is no twin "${twin}" (known: ${[...names].join(", ")})`,
          });
        }
      }
    }
  });

/** A rung of the ladder. */
export type Rung = z.infer<typeof rungSchema>;
/** A command with the reader of its diagnostics. */
export type CheckCommand = z.infer<typeof checkCommandSchema>;
/** A test suite with the reader of its results. */
export type TestSuite = z.infer<typeof suiteSchema>;
/** A figure that is measured on each side. */
export type Figure = z.infer<typeof figureSchema>;
/** The port file with defaults. */
export type PortFile = z.infer<typeof portFileSchema>;
/** The original or a twin as the port file has it. */
export type PortSide = z.infer<typeof sideSchema>;
/** A twin as the port file has it. */
export type TwinSide = z.infer<typeof twinSchema>;
/** How a section is called on the twin. */
export type Hookup = z.infer<typeof hookupSchema>;
/** Switches of the default equality. */
export type EqualityOptions = z.infer<typeof equalitySchema>;
/** Limits of ported code: seconds, megabytes, kilobytes. */
export type Limits = PortFile["limits"];
/** Naming styles of functions and keys, with exceptions. */
export type Names = PortFile["names"];

/** Reads the text of a port file. Throws SideTwinError with file, line and key. */
export function parsePortFile(text: string, file: string): PortFile {
  return parseDocument(text, portFileSchema, { file, format: "side-twin/port" });
}
