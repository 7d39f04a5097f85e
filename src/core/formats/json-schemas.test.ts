import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { jsonSchemas } from "@/core/formats/json-schemas";
import { packageRoot } from "@/engine/package-root";

describe("the shipped JSON Schemas", () => {
  it.each(Object.entries(jsonSchemas()))("%s is what the code reads (else run `npm run schemas`)", (name, schema) => {
    const shipped = readFileSync(path.join(packageRoot(), `docs/schemas/${name}.schema.json`), "utf8");
    expect(JSON.parse(shipped)).toEqual(JSON.parse(JSON.stringify(schema)));
    expect(schema).toMatchObject({ $schema: "https://json-schema.org/draft/2020-12/schema" });
  });
});
