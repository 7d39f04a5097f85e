/** Writes the JSON Schemas of the public contracts to docs/schemas: `npm run schemas`. */
import { mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { jsonSchemas } from "@/core/formats/json-schemas";
import { packageRoot } from "@/engine/package-root";

const folder = path.join(packageRoot(), "docs/schemas");
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(jsonSchemas())) {
  writeFileSync(path.join(folder, `${name}.schema.json`), `${JSON.stringify(schema, null, 2)}\n`);
}
