"use client";
import { useMemo } from "react";
import type { ModuleDetail } from "@/api/views";
import { LineChart } from "@/ui/charts/line-chart";
import { formatCount } from "@/ui/format";
import styles from "@/ui/views/order/order.module.css";

/** Size and speed of both sides, as of the last check and over all of them. */
export function Measured({ detail }: { detail: ModuleDetail | null }) {
  const series = useMemo(() => {
    const measures = detail?.measures ?? [];
    return {
      times: measures.map(({ at }) => new Date(at).toLocaleString()),
      lines: (["original", "twin"] as const).map((side) => ({
        label: side,
        unit: "s",
        colour: side === "original" ? "steel" : "copper",
        data: measures.map(({ seconds }) => seconds[side]),
        axis: "left" as const,
      })),
    };
  }, [detail]);
  if (!detail || detail.measures.length === 0) return null;
  // A fully cached check measures no memory; show the latest check that did.
  const latest = (what: "size" | "seconds" | "peakMb") => ({
    original: detail.measures.findLast((measure) => measure[what].original !== null)?.[what].original ?? null,
    twin: detail.measures.findLast((measure) => measure[what].twin !== null)?.[what].twin ?? null,
  });
  const rows = [
    ["lines", latest("size"), formatCount],
    ["seconds", latest("seconds"), (value: number) => value.toFixed(3)],
    ["memory, MB", latest("peakMb"), formatCount],
  ] as const;
  return (
    <section>
      <h2>Size and speed</h2>
      <table className={styles.measures}>
        <thead>
          <tr>
            <td />
            <th scope="col" className="steel">
              original
            </th>
            <th scope="col" className="copper">
              twin
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([what, both, format]) => (
            <tr key={what}>
              <th scope="row">{what}</th>
              <td>{both.original === null ? "" : format(both.original)}</td>
              <td>{both.twin === null ? "" : format(both.twin)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {series.times.length > 1 && (
        <div className={styles.chart}>
          <LineChart label="Seconds over the checks, original against twin" {...series} />
        </div>
      )}
    </section>
  );
}
