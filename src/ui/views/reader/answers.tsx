"use client";
import { useEffect, useRef } from "react";
import { urlOf } from "@/api/route";
import { PATHS } from "@/api/routes";
import type { CaseView } from "@/api/views";
import { lineParts } from "@/core/compare/line-parts";
import { useNotice } from "@/ui/frame/notices";
import { Cells } from "@/ui/views/reader/cells";
import { Pictures } from "@/ui/views/reader/pictures";
import styles from "@/ui/views/reader/reader.module.css";

type Props = { readonly port: string; readonly twin: string; readonly detail: CaseView };

/** Both answers level, the first that differs in view. */
export function Answers({ port, twin, detail }: Props) {
  const table = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another case is scrolled into view again
  useEffect(() => {
    // Only this pane scrolls: where it is part of a long page, the page stays where it is.
    const [pane, row] = [table.current, table.current?.querySelector("[data-differs]")];
    if (!pane || !row) return;
    const [outer, inner] = [pane.getBoundingClientRect(), row.getBoundingClientRect()];
    if (inner.bottom > outer.bottom) pane.scrollTop += inner.bottom - outer.bottom;
    else if (inner.top < outer.top + HEAD_HEIGHT) pane.scrollTop -= outer.top + HEAD_HEIGHT - inner.top;
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
              original <Whole port={port} twin={twin} caseId={detail.id} side="original" />
            </th>
            <th scope="col" className="copper">
              twin <Whole port={port} twin={twin} caseId={detail.id} side="twin" />
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

/** Of the head that stays on top of the rows. */
const HEAD_HEIGHT = 34;

type WholeProps = {
  readonly port: string;
  readonly twin: string;
  readonly caseId: string;
  readonly side: "original" | "twin";
};

/** The whole answer of a side: shown in a page of its own, or copied. */
function Whole({ port, side, ...of }: WholeProps) {
  const notice = useNotice();
  const url = urlOf(PATHS.answer, port, { ...of, side });
  const copy = async () => {
    const reply = await fetch(url);
    if (!reply.ok) throw new Error("the answer is not there any more; check again");
    await navigator.clipboard.writeText(await reply.text());
    notice({ text: `Copied the whole answer of the ${side}.` });
  };
  return (
    <span className={styles.whole}>
      <a href={url} target="_blank" rel="noreferrer" aria-label={`all of the answer of the ${side}`}>
        all
      </a>
      <button
        type="button"
        aria-label={`copy the answer of the ${side}`}
        onClick={() => void copy().catch((thrown: unknown) => notice({ text: `Not copied: ${thrown}` }))}
      >
        copy
      </button>
    </span>
  );
}

/** Both sides of a row; if both exist and differ, differing parts are marked. `absence` is shown for a missing side. */
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
