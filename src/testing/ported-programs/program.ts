import type { Json } from "@/core/formats/json";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

/** A port of several modules whose functions call each other, with several faults. */
export type PortedProgram = {
  readonly from: string;
  readonly to: string;
  readonly functions: string;
  readonly files: Readonly<Record<string, string>>;
  /** Where a fault is (`module.section`), and the cause that its one family must name first. Faults without a cause are left out. */
  readonly faults: readonly { readonly section: string; readonly cause: string }[];
  /** Module, function, arguments, and named arguments. */
  readonly calls: readonly (readonly Json[])[];
  /** Module and steps. */
  readonly steps: readonly (readonly Json[])[];
};

/** The program as a port in a folder of its own. */
export const programFolder = ({ from, to, functions, files, calls, steps }: PortedProgram): string =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: from },
      twins: [{ name: "twin", root: "twin", language: to }],
      names: { functions },
    }),
    ...files,
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": [
      ...calls.map(([module, call, args, kwargs], at) => ({ id: `call-${at}`, module, call, args, kwargs })),
      ...steps.map(([module, list], at) => ({ id: `steps-${at}`, module, steps: list })),
    ],
  });
