"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState } from "react";
import { MARK_WORDS } from "@/api/mark-words";
import type { CheckView, TapeCase } from "@/api/views";
import { formatAgo } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import styles from "@/ui/views/bench/tape.module.css";

type Props = {
  readonly cases: readonly TapeCase[];
  readonly chosen: string | null;
  readonly onPick: (item: TapeCase) => void;
  readonly check: CheckView | null;
};

const STEP = 24;
const GAP = 16;
const LETTER = 7;
/** Enough that a usual module is drawn whole, and a tape of thousands stays light. */
const OVERSCAN = 120;

/** One mark a case, grouped by section; only what is near the window is drawn. Walked by the arrow keys, like a list. */
export function CaseTape({ cases, chosen, onPick, check }: Props) {
  const [isDiffering, setDiffering] = useState(false);
  const shown = useMemo(
    () => tapeOrder(cases).filter((item) => !isDiffering || differs(item) || item.id === chosen),
    [cases, isDiffering, chosen],
  );
  const cells = useMemo(() => toCells(shown), [shown]);
  const box = useRef<HTMLDivElement>(null);
  const tape = useVirtualizer({
    horizontal: true,
    count: cells.length,
    getScrollElement: () => box.current,
    estimateSize: (index) => cells[index]?.width ?? STEP,
    getItemKey: (index) => cells[index]?.item.id ?? index,
    overscan: OVERSCAN,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: widths are others for other cells
  useEffect(() => tape.measure(), [cells]);
  const at = cells.findIndex(({ item }) => item.id === chosen);
  useEffect(() => {
    if (at >= 0) tape.scrollToIndex(at, { align: "auto" });
  }, [at, tape]);
  const wrong = cases.filter(differs).length;
  return (
    <div className={styles.tape}>
      <div
        ref={box}
        className={styles.box}
        // A list box without an option is none.
        {...(cells.length > 0
          ? {
              role: "listbox",
              "aria-label": "Case tape",
              "aria-orientation": "horizontal" as const,
              "aria-activedescendant": at >= 0 ? `tape-${at}` : undefined,
              tabIndex: 0,
            }
          : {})}
      >
        {cases.length === 0 && <span className="soft">No case calls this module yet.</span>}
        <div style={{ width: tape.getTotalSize() }} className={styles.cells}>
          {tape.getVirtualItems().map(({ index, start }) => {
            const cell = cells[index];
            return (
              cell && (
                <div key={cell.item.id} className={styles.cell} style={{ transform: `translateX(${start}px)` }}>
                  {cell.section !== null && <span className={styles.section}>{cell.section}</span>}
                  {/* biome-ignore lint/a11y/useKeyWithClickEvents: the tape is walked by the keys of the view */}
                  <div
                    id={`tape-${index}`}
                    role="option"
                    tabIndex={-1}
                    aria-selected={cell.item.id === chosen}
                    aria-setsize={cells.length}
                    aria-posinset={index + 1}
                    aria-label={wordsOf(cell.item)}
                    title={wordsOf(cell.item)}
                    className={styles.mark}
                    data-case={cell.item.id}
                    data-mark={cell.item.mark}
                    onClick={() => onPick(cell.item)}
                  >
                    <Mark mark={cell.item.mark} stale={cell.item.stale} />
                  </div>
                </div>
              )
            );
          })}
        </div>
      </div>
      {(wrong > 0 || isDiffering) && wrong < cases.length && (
        <button
          type="button"
          className={styles.only}
          aria-pressed={isDiffering}
          onClick={() => setDiffering(!isDiffering)}
        >
          {isDiffering ? `all ${cases.length}` : `only the ${wrong} that ${wrong === 1 ? "differs" : "differ"}`}
        </button>
      )}
      <span className={styles.checked}>{describeCheck(check)}</span>
    </div>
  );
}

const differs = ({ mark }: TapeCase): boolean => mark === "differ" || mark === "broken" || mark === "unsteady";

const wordsOf = (item: TapeCase): string => `${item.id}: ${MARK_WORDS[item.mark]}${item.stale ? ", out of date" : ""}`;

/** A mark; the first of a section carries its name, and the last is wide enough for it. */
type Cell = { readonly item: TapeCase; readonly section: string | null; readonly width: number };

function toCells(cases: readonly TapeCase[]): Cell[] {
  const counts = new Map<string, number>();
  for (const { section } of cases) counts.set(section, (counts.get(section) ?? 0) + 1);
  return cases.map((item, index) => {
    const isFirst = cases[index - 1]?.section !== item.section;
    const isLast = cases[index + 1]?.section !== item.section;
    const own = (counts.get(item.section) ?? 1) * STEP;
    const width = isLast ? STEP + Math.max(GAP, item.section.length * LETTER + GAP - own) : STEP;
    return { item, section: isFirst ? item.section : null, width };
  });
}

/** The cases in the order in which the tape shows them. */
export function tapeOrder(cases: readonly TapeCase[]): TapeCase[] {
  const groups = new Map<string, TapeCase[]>();
  for (const item of cases) {
    const own = groups.get(item.section);
    if (own) own.push(item);
    else groups.set(item.section, [item]);
  }
  return [...groups.values()].flat();
}

function describeCheck(check: CheckView | null): string {
  if (!check) return "never checked";
  if (check.state === "running") return "checking";
  if (check.state === "complete") return `checked ${formatAgo(check.startedAt, Date.now())}`;
  return {
    stopped: "the last check was stopped",
    interrupted: "the last check was interrupted",
    failed: "the last check could not run",
  }[check.state];
}
