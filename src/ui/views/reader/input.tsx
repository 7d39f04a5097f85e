"use client";
import Button from "@mui/material/Button";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { CaseView, ShrinkView } from "@/api/views";
import { ask, describeRefusal } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { type Key, useKeys } from "@/ui/state/use-keys";
import { Agree } from "@/ui/views/reader/agree";
import { CaseActs } from "@/ui/views/reader/case-acts";
import { inputLines } from "@/ui/views/reader/input-lines";
import styles from "@/ui/views/reader/reader.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly detail: CaseView;
  /** Marks on facing pages of the lines that the case ran, where there are such pages. */
  readonly ran?: { readonly isShown: boolean; readonly isBusy: boolean; readonly toggle: () => void };
};

type Shrinking = { readonly busy: boolean; readonly found: ShrinkView | null; readonly notice: string | null };
const IDLE: Shrinking = { busy: false, found: null, notice: null };

/** The input of a case, with actions: shrink it, allow its difference, copy a reproducer. */
export function Input({ port, twin, detail, ran }: Props) {
  const say = useNotice();
  const [copied, setCopied] = useState(false);
  const [shrinking, setShrinking] = useState(IDLE);
  const copy = () =>
    navigator.clipboard.writeText(detail.reproducer).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  const failed = (thrown: unknown) => setShrinking({ ...IDLE, notice: describeRefusal(thrown) });
  const canShrink = detail.mark === "differ" && !shrinking.busy;
  const shrink = () => {
    if (!canShrink) return;
    setShrinking({ ...IDLE, busy: true });
    ask(ROUTES.shrink, { caseId: detail.id, twin }, { port }).then((found) => setShrinking({ ...IDLE, found }), failed);
  };
  const stopShrinking = () => {
    ask(ROUTES.stopShrinking, {}, { port }).catch(failed);
  };
  const keep = () => {
    if (!shrinking.found) return;
    const { case: item } = shrinking.found;
    ask(ROUTES.addCase, { case: item }, { port }).then(({ file }) => {
      setShrinking(IDLE);
      say({
        text: `Saved ${item.id} in ${file}, and run.`,
        undo: () => ask(ROUTES.dropCases, { ids: [item.id] }, { port }),
      });
      ask(ROUTES.startCheck, { caseId: item.id, twin }, { port }).catch(() => undefined); // a running check has it next time
    }, failed);
  };
  const keys: Key[] = [
    { key: "s", does: "shrink the input", run: shrink },
    { key: "r", does: "copy a reproducer", run: copy },
  ];
  useKeys(keys);
  const { found, busy, notice } = shrinking;
  return (
    <div className={styles.input}>
      <h2>Input: {detail.id}</h2>
      {detail.item.title && <p>{detail.item.title}</p>}
      <Lines lines={inputLines(detail.item)} />
      <div className={styles.doings}>
        {detail.mark === "differ" && !busy && (
          <Button onClick={shrink} disabled={!canShrink}>
            Shrink <kbd>s</kbd>
          </Button>
        )}
        {busy && <Button onClick={stopShrinking}>Shrinking: take the smallest so far</Button>}
        {detail.mark === "differ" && (
          <Agree port={port} twin={twin} caseId={detail.id} family={detail.families[0] ?? null} />
        )}
        <Button onClick={copy} title={detail.reproducer}>
          {copied ? "Copied" : "Copy reproducer"} <kbd>r</kbd>
        </Button>
        {ran && !("run" in detail.item) && (
          <Button onClick={ran.toggle} disabled={ran.isBusy} aria-pressed={ran.isShown}>
            {ran.isBusy ? "Running it …" : ran.isShown ? "Hide what it ran" : "Show what it ran"} <kbd>h</kbd>
          </Button>
        )}
        <CaseActs port={port} twin={twin} detail={detail} />
      </div>
      {found && (
        <section className={styles.small} aria-label="Smallest input">
          <h3>
            {found.sizeAfter < found.sizeBefore ? "Smallest input" : "Nothing smaller shows it"}
            <span className="soft">
              {found.sizeBefore} to {found.sizeAfter} characters, {found.tries} tries
              {found.state === "stopped" ? ", not searched to the end" : ""}
            </span>
          </h3>
          {found.sizeAfter < found.sizeBefore && (
            <>
              <Lines lines={inputLines(found.case)} />
              <Button onClick={keep}>Keep it as a case</Button>
            </>
          )}
        </section>
      )}
      {notice && <p role="status">{notice}</p>}
    </div>
  );
}

function Lines({ lines }: { lines: readonly string[] }) {
  return (
    <div className={`mono ${styles.inputText}`}>
      {lines.map((line, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of one fixed text
        <div key={index}>{line}</div>
      ))}
    </div>
  );
}
