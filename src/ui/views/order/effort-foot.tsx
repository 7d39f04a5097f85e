"use client";
import { useMemo } from "react";
import { type Effort, FORMULA } from "@/core/progress/effort";
import { LineChart } from "@/ui/charts/line-chart";
import { formatCount, plural } from "@/ui/format";
import styles from "@/ui/views/order/order.module.css";

/** Effort left over time, and an estimate from the time spent so far. */
export function EffortFoot({ effort }: { effort: Effort }) {
  const { history } = effort;
  const series = useMemo(() => {
    const times = history.map(({ at }) => new Date(at).toLocaleString());
    return {
      times,
      lines: [
        { label: "points left", unit: "points", colour: "copper", data: history.map(({ left }) => left), axis: "left" },
        {
          label: "proven lines",
          unit: "lines",
          colour: "steel",
          data: history.map(({ provenLines }) => provenLines),
          axis: "right",
        },
      ],
    } as const;
  }, [history]);
  return (
    <section className={styles.effort} aria-label="Effort">
      <div>
        <h2>Effort</h2>
        <p>
          <b>{formatCount(effort.left)}</b> of {formatCount(effort.total)} points are left{hoursWords(effort)}.
        </p>
        <p className="soft">
          Here {FORMULA}
          {effort.isComplete ? "" : "; what is used from outside is still being read"}.
        </p>
      </div>
      {history.length > 1 ? (
        <div className={styles.effortChart}>
          <LineChart
            label={`Points left and proven lines over ${plural(history.length, "check")}`}
            times={series.times}
            lines={series.lines}
          />
        </div>
      ) : (
        <p className="soft">
          <span className="copper">Points left</span> and <span className="steel">proven lines</span> over time are
          drawn from the second check on.
        </p>
      )}
    </section>
  );
}

function hoursWords({ left, pace }: Effort): string {
  if (!pace) return "; an estimate in hours follows once a module is finished";
  const range = `${formatHours(left * pace.low)} to ${formatHours(left * pace.high)}`;
  return `: ${range} of work, if they go as ${plural(pace.modules, "module")} went that ${pace.modules === 1 ? "is" : "are"} done`;
}

const formatHours = (hours: number): string =>
  hours < 1
    ? `${Math.max(1, Math.round(hours * 60))} min`
    : `${hours < 10 ? hours.toFixed(1) : formatCount(Math.round(hours))} h`;
