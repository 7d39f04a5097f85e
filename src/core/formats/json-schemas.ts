/** The public contracts as JSON Schemas (draft 2020-12), generated from the Zod schemas that read them. */
import { z } from "zod";
import { allowanceSchema } from "@/core/formats/allowance";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { portFileSchema } from "@/core/formats/port-file";
import { reportSchema } from "@/core/formats/report";

const CONTRACTS = {
  "port-file": portFileSchema,
  "case-line": sharedCaseSchema,
  allowance: allowanceSchema,
  report: reportSchema,
};

/** File stem → schema of what a person writes (defaults may be left out); shipped in docs/schemas. */
export function jsonSchemas(): Record<string, object> {
  return Object.fromEntries(
    Object.entries(CONTRACTS).map(([name, schema]) => [
      name,
      z.toJSONSchema(schema, { target: "draft-2020-12", io: "input", unrepresentable: "any" }),
    ]),
  );
}
