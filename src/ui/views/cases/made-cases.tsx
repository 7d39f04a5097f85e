"use client";
import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { plural } from "@/ui/format";
import type { Key } from "@/ui/state/use-keys";
import { useKeys } from "@/ui/state/use-keys";
import type { Made, useMaking } from "@/ui/state/use-making";
import styles from "@/ui/views/cases/make-cases.module.css";
import { inputLines } from "@/ui/views/reader/input-lines";

type Props = {
  readonly made: Made | null;
  readonly making: ReturnType<typeof useMaking>;
  /** Runs the new cases. */
  readonly onCheck: () => void;
};

/** The cases that were made last: looked through one by one, each taken out again with a key. */
export function MadeCases({ made, making, onCheck }: Props) {
  const [at, setAt] = useState(0);
  const cases = made?.end.cases ?? [];
  const chosen = Math.min(at, cases.length - 1);
  const drop = () => {
    const item = cases[chosen];
    if (item) making.drop([item.id]);
  };
  const keys: Key[] = [
    { key: "ArrowDown", does: "next made case", run: () => setAt(Math.min(chosen + 1, cases.length - 1)) },
    { key: "ArrowUp", does: "made case before", run: () => setAt(Math.max(chosen - 1, 0)) },
    { key: "Delete", does: "take the case out again", run: drop },
    { key: "Escape", does: "stop making cases", run: () => making.running !== null && making.stop() },
  ];
  useKeys(keys);
  useEffect(() => {
    document.querySelector(`[data-made="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  if (made === null)
    return (
      <p className={styles.nothing}>
        Cases show what the original does, and the twin is measured by them. Record them from a run of the original, or
        let inputs be looked for.
      </p>
    );
  if (cases.length === 0)
    return (
      <p className={styles.nothing}>
        {made.end.kept === 0 ? "No case was kept: nothing new was reached." : "All of them were taken out again."}
      </p>
    );
  return (
    <section className={styles.made} aria-label="Made cases">
      <header>
        <h1>{plural(cases.length, "new case")}</h1>
        <Button className="main" onClick={onCheck}>
          Check <kbd>c</kbd>
        </Button>
        <Button onClick={() => making.drop(cases.map(({ id }) => id))}>Take all out again</Button>
        <span className="soft">
          <kbd>↑</kbd> <kbd>↓</kbd> look through, <kbd>Del</kbd> take one out
        </span>
      </header>
      <ul>
        {cases.map((item, index) => (
          <li key={item.id} data-made={index} aria-current={index === chosen}>
            <button type="button" onClick={() => setAt(index)}>
              <span className="mono">{inputLines(item).join("; ")}</span>
              <span className="soft">{item.module}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
