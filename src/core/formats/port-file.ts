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
    limits: z
      .strictObject({
        timeMs: z.number().int().positive().default(10_000),
        memoryMb: z.number().int().positive().default(1024),
        outputKb: z.number().int().positive().default(8192),
        processes: z.number().int().positive().default(64),
      })
      .default({ timeMs: 10_000, memoryMb: 1024, outputKb: 8192, processes: 64 }),
    state: z.enum(["fresh", "kept"]).default("fresh"),
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
