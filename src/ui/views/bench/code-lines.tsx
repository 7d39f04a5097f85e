import { memo, type ReactNode } from "react";
import type { BenchFile } from "@/api/views";
import styles from "@/ui/views/bench/bench.module.css";

type Props = { readonly file: BenchFile; readonly from: number; readonly to: number; readonly edge: boolean };

const EDGE_WORDS: Readonly<Record<string, string>> = { p: "proven", u: "no agreeing case runs this line" };

/** Lines of a file with numbers and colours; at the edge, which of them are proven. Text is only ever a text node. */
export const CodeLines = memo(function CodeLines({ file, from, to, edge }: Props) {
  const lines: ReactNode[] = [];
  for (let number = from; number <= to; number++) {
    const mark = edge ? (file.edge[number - 1] ?? "-") : "-";
    lines.push(
      <div key={number} className={styles.line}>
        <span
          className={mark === "p" ? styles.proven : mark === "u" ? styles.unreached : undefined}
          title={EDGE_WORDS[mark]}
        />
        <span className={styles.number}>{number}</span>
        <code>{colour(file.lines[number - 1] ?? "", file.spans[number - 1] ?? [])}</code>
      </div>,
    );
  }
  return <>{lines}</>;
});

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
