"use client";
import { useEffect, useRef } from "react";
import type { CaseView } from "@/core/progress/views";
import styles from "@/ui/views/bench/bench.module.css";

/** Both answers level, the first that differs in view. */
export function Answers({ detail }: { detail: CaseView }) {
  const table = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another case is brought into view anew
  useEffect(() => {
    table.current?.querySelector("[data-differs]")?.scrollIntoView({ block: "nearest" });
  }, [detail.id, detail.rows]);
  const allowed = new Set(detail.divergences.flatMap((divergence) => (divergence.allowance ? [divergence.at] : [])));
  return (
    <div className={styles.answers} ref={table}>
      <table className={styles.tree}>
        <caption className="visually-hidden">Both answers to {detail.id}</caption>
        <thead>
          <tr>
            <th scope="col">Answers</th>
            <th scope="col" className="steel">
              original
            </th>
            <th scope="col" className="copper">
              twin
            </th>
          </tr>
        </thead>
        <tbody>
          {detail.rows.map((row, index) => (
            <tr
              // biome-ignore lint/suspicious/noArrayIndexKey: a context line may be shown twice under one path
              key={index}
              className={row.differs ? (allowed.has(row.at) ? styles.excused : styles.differs) : undefined}
              data-differs={row.differs ? "" : undefined}
            >
              <th scope="row" title={row.at} style={{ paddingLeft: 8 + row.depth * 14 }}>
                {row.label}
              </th>
              <td>{row.original ?? <i>nothing</i>}</td>
              <td>{row.twin ?? <i>nothing</i>}</td>
            </tr>
          ))}
          {detail.rows.length === 0 && (
            <tr>
              <td colSpan={3} className="soft">
                {detail.mark === "idle" ? "Not run yet." : "Neither side gave an answer."}
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}
