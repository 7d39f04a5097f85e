/** The list of complaints by code, by module and by rung. */
import { expect, it } from "vitest";
import { groupComplaints } from "@/ui/state/complaint-groups";
import type { Complaint } from "@/ui/state/ladder";

const complaint = (extra: Partial<Complaint>): Complaint => ({
  file: "a.ts",
  line: 1,
  column: 1,
  endLine: null,
  endColumn: null,
  severity: "error",
  code: "TS1",
  message: "no",
  module: "m",
  section: null,
  rung: "typed",
  isNew: false,
  isLatent: false,
  ...extra,
});
const all = [
  complaint({ code: "TS2", isNew: true }),
  complaint({ code: "TS2", module: null }),
  complaint({ code: "TS1" }),
  complaint({ code: null, rung: "strict" }),
];

it("has the largest group first, names what has none, and counts what is new", () => {
  const by = (what: "code" | "module" | "rung") =>
    groupComplaints(all, what).map(({ name, complaints, fresh }) => [name, complaints.length, fresh]);
  expect(by("code")).toEqual([
    ["TS2", 2, 1],
    ["TS1", 1, 0],
    ["no code", 1, 0],
  ]);
  expect(by("module")).toEqual([
    ["m", 3, 1],
    ["no module", 1, 0],
  ]);
  expect(by("rung")[0]).toEqual(["typed", 3, 1]);
  expect(groupComplaints([], "code")).toEqual([]);
});
