import type { CSSProperties } from "react";
import type { CaseView } from "@/api/views";
import type { ErrorRecord } from "@/core/errors";
import { Problem } from "@/ui/frame/problem";
import { Answers } from "@/ui/views/reader/answers";
import { Finding } from "@/ui/views/reader/finding";
import { Input } from "@/ui/views/reader/input";
import styles from "@/ui/views/reader/reader.module.css";

type Props = {
  readonly detail: CaseView | null;
  readonly error: ErrorRecord | null;
  readonly port: string;
  readonly twin: string;
  readonly chosen: string | null;
  /** In pixels. */
  readonly height: number;
  /** Marks on both pages of the lines that the case ran. */
  readonly ran: { readonly isShown: boolean; readonly isBusy: boolean; readonly toggle: () => void };
};

/** The selected case: input, both answers side by side, and verdict. */
export function Reader({ detail, error, port, twin, chosen, height, ran }: Props) {
  return (
    <section className={styles.reader} aria-label="Reader" style={{ "--height": `${height}px` } as CSSProperties}>
      {error && !detail && chosen !== null && <Problem record={error} />}
      {detail && (
        <>
          <Input key={detail.id} port={port} twin={twin} detail={detail} ran={ran} />
          <Answers port={port} twin={twin} detail={detail} />
          <Finding port={port} twin={twin} detail={detail} />
        </>
      )}
    </section>
  );
}
