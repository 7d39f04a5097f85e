/** Complaints in groups, as their list shows them. Pure. */
import type { Complaint } from "@/ui/state/ladder";

/** Criteria for grouping complaints. */
export const GROUPINGS = ["code", "module", "rung"] as const;
export type Grouping = (typeof GROUPINGS)[number];

/** `fresh`: how many of them were not there the time before. */
export type ComplaintGroup = {
  readonly name: string;
  readonly complaints: readonly Complaint[];
  readonly fresh: number;
};

/** The largest groups first; those of one size by name. */
export function groupComplaints(complaints: readonly Complaint[], by: Grouping): ComplaintGroup[] {
  const groups = new Map<string, Complaint[]>();
  for (const complaint of complaints) {
    const name = complaint[by] ?? NONE[by];
    const own = groups.get(name);
    if (own) own.push(complaint);
    else groups.set(name, [complaint]);
  }
  return [...groups]
    .map(([name, own]) => ({ name, complaints: own, fresh: own.filter(({ isNew }) => isNew).length }))
    .sort((left, right) => right.complaints.length - left.complaints.length || (left.name < right.name ? -1 : 1));
}

const NONE: Readonly<Record<Grouping, string>> = { code: "no code", module: "no module", rung: "no rung" };
