"use client";
import Button from "@mui/material/Button";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { AllowanceState, AllowanceView } from "@/api/views";
import { describeAllow, describeScope } from "@/core/allowances/describe";
import { ask, describeRefusal } from "@/ui/api";
import { plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import { useKeys } from "@/ui/state/use-keys";
import styles from "@/ui/views/cases/cases.module.css";

const STATE_WORDS: Readonly<Record<AllowanceState, string>> = {
  used: "in use",
  unused: "not used",
  lapsed: "ended: a value changed",
  "not-checked": "not checked yet",
};

type ListProps = {
  readonly allowances: readonly AllowanceView[];
  readonly chosen: AllowanceView | undefined;
  readonly onChoose: (id: string) => void;
};

/** All allowances; unused ones are marked. */
export function AllowanceList({ allowances, chosen, onChoose }: ListProps) {
  return (
    <ul className={styles.families}>
      {allowances.length === 0 && (
        <li className={styles.none}>Nothing is allowed to differ. Allow the difference of a case with a.</li>
      )}
      {allowances.map((entry) => (
        <li key={entry.id}>
          <button
            type="button"
            className={styles.family}
            aria-pressed={entry === chosen}
            data-allowance={entry.id}
            onClick={() => onChoose(entry.id)}
          >
            <Mark mark={entry.state === "used" ? "allowed" : "idle"} />
            <span className={styles.sentence}>{entry.reason}</span>
            <span className="soft">
              {entry.state === "used" ? `${entry.cases} of ${entry.inScope}` : STATE_WORDS[entry.state]}
            </span>
            <span className={styles.where}>{describeAllow(entry.allow)}</span>
            {entry.tighter && <span className={styles.where}>can be tighter</span>}
          </button>
        </li>
      ))}
    </ul>
  );
}

type PageProps = {
  readonly port: string;
  readonly twin: string;
  readonly allowance: AllowanceView;
  readonly onChanged: () => void;
};

/** One allowance: its effect, how much of it was needed, and a tighter limit that is enough. */
export function AllowancePage({ port, twin, allowance, onChanged }: PageProps) {
  const [notice, setNotice] = useState<string | null>(null);
  const { id, state, tighter } = allowance;
  const change = (work: Promise<void>, words: string) =>
    work.then(
      () => {
        setNotice(words);
        onChanged();
      },
      (thrown: unknown) => setNotice(describeRefusal(thrown)),
    );
  const tighten = () =>
    change(
      ask(ROUTES.tighten, { allowance: id, twin }, { port }),
      "Written into the port file; the port is checked again.",
    );
  const remove = () =>
    change(
      ask(ROUTES.removeAllowance, { allowance: id }, { port }),
      "Taken out of the port file; the port is checked again.",
    );
  useKeys(tighter ? [{ key: "t", does: "tighten the allowance", run: tighten }] : []);
  return (
    <>
      <div className={styles.title}>
        <div>
          <h1>{allowance.reason}</h1>
          <p className="soft">
            <span className="mono">{id}</span>, for <span className="mono">{describeScope(allowance)}</span>
          </p>
        </div>
        <Button onClick={remove}>Remove</Button>
      </div>
      <dl className={styles.facts}>
        <dt>What may differ</dt>
        <dd>{describeAllow(allowance.allow)}</dd>
        <dt>Excused so far</dt>
        <dd>
          {state === "used"
            ? `${plural(allowance.used, "difference")} in ${allowance.cases} of ${plural(allowance.inScope, "case")} in scope`
            : state === "not-checked"
              ? `no case in scope was checked yet (${plural(allowance.inScope, "case")})`
              : `nothing in ${plural(allowance.inScope, "case")} in scope`}
        </dd>
        {allowance.needed !== null && (
          <>
            <dt>Most that was needed</dt>
            <dd className="mono">{allowance.needed}</dd>
          </>
        )}
        {state === "lapsed" && (
          <>
            <dt>Lapsed</dt>
            <dd>
              It agreed to two exact values, and one of them is another now: the case differs or agrees by itself.
            </dd>
          </>
        )}
        {state === "unused" && (
          <>
            <dt>Not needed</dt>
            <dd>Nothing that was checked needs it. Taken out, it can hide nothing later.</dd>
          </>
        )}
      </dl>
      {tighter && (
        <section className={styles.proposal} aria-label="A tighter limit that is enough">
          <h2>A tighter limit that is enough</h2>
          <p>
            So far {tighter.advice}. If <b>{describeAllow(tighter.allow)}</b>, all of it is still excused.
          </p>
          <Button onClick={tighten}>
            Tighten <kbd>t</kbd>
          </Button>
        </section>
      )}
      {notice && (
        <p role="status" className={styles.notice}>
          {notice}
        </p>
      )}
    </>
  );
}
