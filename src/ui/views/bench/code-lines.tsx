import { memo, type ReactNode } from "react";
import type { BenchFile, PlaceOnBench } from "@/api/views";
import type { Complaint } from "@/ui/state/ladder";
import styles from "@/ui/views/bench/bench.module.css";

type Props = {
  readonly file: BenchFile;
  readonly from: number;
  readonly to: number;
  readonly edge: boolean;
  /** Lines that the chosen case ran, and those that no agreeing case runs. */
  readonly ran?: ReadonlySet<number> | undefined;
  readonly ranAlone?: ReadonlySet<number> | undefined;
  /** Of the whole module, each shown below its line. */
  readonly complaints?: readonly Complaint[];
  readonly found?: FoundLine | null;
};

/** The line that a search or an address leads to; `show` brings it into view. */
export type FoundLine = PlaceOnBench & { readonly show: (line: HTMLElement | null) => void };

const EDGE_WORDS: Readonly<Record<string, string>> = { p: "proven", u: "no agreeing case runs this line" };

/** Lines of a file with numbers and colours; at the edge, which of them are proven. Text is only ever a text node. */
export const CodeLines = memo(function CodeLines({ file, from, to, edge, complaints, ran, ranAlone, found }: Props) {
  const lines: ReactNode[] = [];
  for (let number = from; number <= to; number++) {
    const mark = edge ? (file.edge[number - 1] ?? "-") : "-";
    lines.push(
      <div
        key={number}
        ref={number === found?.line ? found.show : undefined}
        data-found={number === found?.line || undefined}
        className={[styles.line, ranAlone?.has(number) ? styles.ranAlone : ran?.has(number) ? styles.ran : ""].join(
          " ",
        )}
        title={
          ranAlone?.has(number)
            ? "run by this case, by no agreeing one"
            : ran?.has(number)
              ? "run by this case"
              : undefined
        }
      >
        <span
          className={mark === "p" ? styles.proven : mark === "u" ? styles.unreached : undefined}
          title={EDGE_WORDS[mark]}
        />
        <span className={styles.number}>{number}</span>
        <code>{colour(file.lines[number - 1] ?? "", file.spans[number - 1] ?? [])}</code>
      </div>,
    );
    for (const complaint of complaints ?? [])
      if (complaint.line === number && complaint.file === file.file)
        lines.push(<ComplaintLine key={keyOf(complaint)} found={complaint} />);
  }
  return <>{lines}</>;
});

export const keyOf = ({ file, line, column, code, message }: Complaint): string =>
  JSON.stringify([file, line, column, code, message]);

/** Below the line, from the column that the tool names. */
function ComplaintLine({ found }: { found: Complaint }) {
  return (
    <div className={styles.complaint} data-severity={found.severity} data-complaint={keyOf(found)}>
      <span
        className={styles.caret}
        style={{ width: `${Math.min(MAX_INDENT, Math.max(0, (found.column ?? 1) - 1))}ch` }}
      />
      <span>
        <b>{found.rung}</b> {found.message} {found.code && <span className="soft">{found.code}</span>}
        {found.isLatent && <span className="soft"> (the original has this line too)</span>}
      </span>
    </div>
  );
}

/** Columns further to the right would push the message out of sight. */
const MAX_INDENT = 24;

function colour(text: string, spans: BenchFile["spans"][number]): ReactNode[] {
  const parts: ReactNode[] = [];
  let at = 0;
  for (const [from, to, style] of spans) {
    if (from > at) parts.push(text.slice(at, from));
    parts.push(
      <span key={from} className={styles[`code-${style}`]}>
        {text.slice(from, to)}
      </span>,
    );
    at = to;
  }
  parts.push(text.slice(at));
  return parts;
}
