"use client";
import { useEffect, useRef } from "react";
import type { CaseView } from "@/api/views";
import { lineParts } from "@/core/compare/line-parts";
import { Cells } from "@/ui/views/reader/cells";
import { Pictures } from "@/ui/views/reader/pictures";
import styles from "@/ui/views/reader/reader.module.css";

type Props = { readonly port: string; readonly twin: string; readonly detail: CaseView };

/** Both answers level, the first that differs in view. */
export function Answers({ port, twin, detail }: Props) {
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
              <Both
                row={row}
                absence={detail.mark === "skipped" || detail.mark === "broken" ? "not run" : "no value"}
              />
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
      {detail.tables.map((entry) => (
        <Cells key={entry.at} table={entry} />
      ))}
      {detail.pictures.map((entry) => (
        <Pictures key={entry.at} port={port} twin={twin} caseId={detail.id} picture={entry} />
      ))}
    </div>
  );
}

/** Both sides of a row; if both exist and differ, differing parts are marked. `absence` stands for a missing side. */
function Both({ row: { original, twin, differs }, absence }: { row: CaseView["rows"][number]; absence: string }) {
  if (original === null || twin === null || !differs) {
    return (
      <>
        <td>{original ?? <i>{absence}</i>}</td>
        <td>{twin ?? <i>{absence}</i>}</td>
      </>
    );
  }
  const parts = lineParts(original, twin);
  return (
    <>
      {[parts.original, parts.twin].map((list, side) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the two sides never change places
        <td key={side}>
          {list.map((part, index) => {
            const key = `${index}:${part.text}`;
            return part.differs ? <mark key={key}>{part.text}</mark> : <span key={key}>{part.text}</span>;
          })}
        </td>
      ))}
    </>
  );
}
