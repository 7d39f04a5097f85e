"use client";
import Button from "@mui/material/Button";
import { useRef, useState } from "react";
import type { MendView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { plural } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { useKeys } from "@/ui/state/use-keys";
import styles from "@/ui/views/reader/mend.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly caseId: string;
  readonly module: string | null;
  /** One that agrees by now may have been mended here, which can be undone. */
  readonly isDiffering: boolean;
};

/** Small changes of the twin, tried for the family of a case; the one that does it can be taken, and put back. */
export function Mend({ port, twin, caseId, module, isDiffering }: Props) {
  const { attempt, busy, refusal } = useAsk();
  const [found, setFound] = useState<MendView | null>(null);
  const [taken, setTaken] = useState<string | null>(null);
  const stopper = useRef<AbortController | null>(null);
  const check = () =>
    ask(ROUTES.startCheck, { twin, ...(module === null ? {} : { module }) }, { port }).catch(() => undefined);
  const tryMends = () => {
    if (busy) {
      stopper.current?.abort();
      return;
    }
    const controller = new AbortController();
    stopper.current = controller;
    setFound(null);
    setTaken(null);
    attempt(async () => {
      try {
        setFound(await ask(ROUTES.mend, { caseId, twin }, { port, signal: controller.signal }));
      } catch (thrown) {
        if (!controller.signal.aborted) throw thrown;
      }
    });
  };
  const take = () => {
    const token = found?.best?.token;
    if (!token || taken !== null) return;
    attempt(async () => {
      const snapshot = await ask(ROUTES.takeMend, { token }, { port });
      setTaken(snapshot.id);
      await check();
    });
  };
  const undo = () =>
    attempt(async () => {
      await ask(ROUTES.undo, taken === null ? {} : { id: taken }, { port });
      setTaken(null);
      setFound(null);
      await check();
    });
  const best = found?.best;
  const canTry = isDiffering && !best;
  useKeys([
    ...(canTry ? [{ key: "m", does: "try mends, or stop", run: tryMends }] : []),
    ...(best && taken === null ? [{ key: "y", does: "take the mend", run: take }] : []),
  ]);
  if (!isDiffering && taken === null) return null;
  return (
    <section className={styles.mend} aria-label="Mend">
      {canTry && (
        <Button onClick={tryMends}>
          {busy ? "Trying mends: stop" : "Try mends"} <kbd>m</kbd>
        </Button>
      )}
      <div aria-live="polite">
        {found && !best && (
          <>
            <p>
              {found.why ?? `None of ${plural(found.tried, "small change")} does it, in ${found.seconds.toFixed(1)} s.`}
            </p>
            {found.places.length > 0 && (
              <p className="soft">
                Look at{" "}
                {found.places.slice(0, 3).map(({ file, line }, index) => (
                  <span key={`${file}:${line}`} className="mono">
                    {index > 0 ? ", " : ""}
                    {file}:{line}
                  </span>
                ))}
              </p>
            )}
          </>
        )}
        {best && (
          <>
            <h3>
              {taken === null ? "A mend was tried and does it" : "Taken"}
              <span className="soft">
                {best.what}; {plural(found.tried, "change")} tried, {found.seconds.toFixed(1)} s
              </span>
            </h3>
            <div className={styles.acts}>
              {taken === null ? (
                <Button className="main" onClick={take} disabled={busy}>
                  Take it <kbd>y</kbd>
                </Button>
              ) : (
                <Button onClick={undo} disabled={busy}>
                  Undo
                </Button>
              )}
              <span className="soft mono">
                {best.file}:{best.line}
              </span>
            </div>
            <pre className={styles.diff}>{changedLines(best.diff).map(diffLine)}</pre>
            <p>
              {best.mended} of {best.of} agree with it, none that agreed is harmed.
              {best.mended < best.of && " The others show another fault too."}
            </p>
          </>
        )}
      </div>
      {refusal && <Problem record={refusal} />}
    </section>
  );
}

/** The lines that change, without those around. */
const changedLines = (diff: string): string[] => diff.split("\n").filter((line) => /^[-+](?![-+]{2} )/.test(line));

const diffLine = (line: string, index: number) => (
  <span key={`${index}${line}`} data-sign={line[0]}>
    {line}
    {"\n"}
  </span>
);
