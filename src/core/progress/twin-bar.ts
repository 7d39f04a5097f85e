/** The twin bar: the original's sections by how far each is proven, above the state of their twins. */

import type { Totals } from "@/core/formats/report";
import { isAgreement } from "@/core/progress/done";
import { worstOutcome } from "@/core/progress/module-state";

/** A stretch of the twin bar; `width` is a share of the whole. */
export type BarSegment = {
  readonly name: string;
  readonly lines: number;
  /** 0 to 1; null when lines are not traced. */
  readonly proven: number | null;
  /** `present` is there but not checked; `none` is an empty place. */
  readonly twin: "agree" | "differ" | "present" | "none";
};

/** A section as the twin bar draws it. */
export type BarSection = {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly hasTwin: boolean;
  readonly totals: Totals;
};

/** Executable and proven lines of a file; null if they were not measured. */
export type FileLines = { readonly executable: readonly number[]; readonly proven: readonly number[] } | null;

/** Segments of one file. A class is cut at its methods; lines outside every section are not shown. */
export function barSegments(sections: readonly BarSection[], lines: FileLines): BarSegment[] {
  return sections
    .map((section, index) => {
      const inner = sections.find((other, at) => at > index && other.from <= section.to);
      const to = inner ? inner.from - 1 : section.to;
      return { section, from: section.from, to };
    })
    .filter(({ from, to }) => to >= from)
    .map(({ section, from, to }) => ({
      name: section.name,
      lines: to - from + 1,
      proven: lines === null ? null : shareProven(lines, from, to),
      twin: section.hasTwin ? twinShade(section.totals) : "none",
    }));
}

/** Returns how a stretch of the twin is drawn, from its cases' verdicts. */
export function twinShade(totals: Totals): BarSegment["twin"] {
  const worst = worstOutcome(totals);
  if (isAgreement(worst)) return "agree";
  return worst === "idle" || worst === "skipped" ? "present" : "differ";
}

/** Share of a range's executable lines that are proven; a range without any is as proven as its neighbours make it: whole. */
function shareProven(lines: NonNullable<FileLines>, from: number, to: number): number {
  const within = (list: readonly number[]) => list.filter((line) => line >= from && line <= to).length;
  const executable = within(lines.executable);
  return executable === 0 ? 1 : within(lines.proven) / executable;
}
