import { useMemo } from "react";
import type { ProgressPoint } from "@/core/progress/progress-points";
import { LineChart } from "@/ui/charts/line-chart";
import { plural } from "@/ui/format";
import styles from "@/ui/views/journal/journal.module.css";

/** Proven lines, differing cases, complaints and rungs over the checks; a point names its check. */
export function Progress({ points }: { readonly points: readonly ProgressPoint[] }) {
  const series = useMemo(
    () => ({
      times: points.map(({ check, at }) => `check ${check}, ${new Date(at).toLocaleString()}`),
      lines: [
        {
          label: "proven lines",
          unit: "",
          colour: "steel",
          data: points.map((point) => point.provenLines),
          axis: "right",
        },
        {
          label: "differing cases",
          unit: "",
          colour: "madder",
          data: points.map((point) => point.differing),
          axis: "left",
        },
        { label: "complaints", unit: "", colour: "ochre", data: points.map((point) => point.complaints), axis: "left" },
        { label: "rungs reached", unit: "", colour: "moss", data: points.map((point) => point.rungs), axis: "left" },
      ] as const,
    }),
    [points],
  );
  if (points.length < 2) return null;
  return (
    <section className={styles.progress} aria-label="Progress">
      <p className="soft">
        <span className="steel">proven lines</span>, <span className="madder">differing cases</span>,{" "}
        <span className={styles.ochre}>complaints</span> and <span className={styles.moss}>rungs reached</span> over{" "}
        {plural(points.length, "check")}
      </p>
      <div className={styles.chart}>
        <LineChart
          label={`Proven lines, differing cases, complaints and rungs over ${plural(points.length, "check")}`}
          times={series.times}
          lines={series.lines}
        />
      </div>
    </section>
  );
}
