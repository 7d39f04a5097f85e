import { describe, expect, it } from "vitest";
import { composeCall, composeMethod, fillArguments, readField } from "@/core/cases/compose";
import { sharedCaseSchema } from "@/core/formats/case-line";

const filled = (fields: Readonly<Record<string, string>>) =>
  Object.entries(fields).map(([name, text]) => ({ name, text }));

describe("a case from a form", () => {
  it("takes JSON for notation and all else for a text", () => {
    expect(readField('{"~dec":"12.50"}')).toEqual({ value: { "~dec": "12.50" }, as: "notation" });
    expect(readField("adult")).toEqual({ value: "adult", as: "text" });
    expect(readField('"12"')).toEqual({ value: "12", as: "notation" });
  });

  it("gives arguments by position until one is left out, and those behind by name", () => {
    const fields = filled({ distance: "12", kind: "", day: '{"~date":"2031-04-02"}', rest: "" });
    expect(fillArguments(fields, true)).toEqual({ args: [12], kwargs: { day: { "~date": "2031-04-02" } } });
    expect(fillArguments(fields, false)).toEqual({
      args: [12, { "~none": "undefined" }, { "~date": "2031-04-02" }],
      kwargs: {},
    });
  });

  it("is a call of a function, or the making of an object and a step on it", () => {
    const asked = { id: "c", module: "m", hasNamed: true };
    const call = composeCall({ ...asked, section: "fare_for", fields: filled({ distance: "12" }) });
    expect(sharedCaseSchema.parse(call)).toEqual({ id: "c", module: "m", call: "fare_for", args: [12], kwargs: {} });
    const steps = composeMethod({
      ...asked,
      section: "Harbour.assign",
      made: filled({ berths: "3" }),
      fields: filled({ boat: "Tern" }),
    });
    expect(sharedCaseSchema.parse(steps)).toEqual({
      id: "c",
      module: "m",
      steps: [
        { new: "Harbour", args: [3], as: "it" },
        { call: "assign", on: "it", args: ["Tern"] },
      ],
    });
  });
});
