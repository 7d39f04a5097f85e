import Button from "@mui/material/Button";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef } from "react";
import type { CaseListing } from "@/api/case-listing";
import type { FamilyView } from "@/api/views";
import { plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import styles from "@/ui/views/cases/cases.module.css";

type FamilyListProps = {
  readonly families: readonly FamilyView[];
  readonly total: readonly CaseListing[];
  readonly chosen: FamilyView | undefined;
  readonly onChoose: (family: FamilyView) => void;
  /** Clears the filter. */
  readonly onClear: () => void;
  readonly isChecked: boolean;
  /** Whether the filter hides families. */
  readonly isFiltered: boolean;
  readonly canMake: boolean;
};

const SHOWN_MARKS = 24;

const noCases = (canMake: boolean): string =>
  canMake ? "No cases yet. Press 4 to record or generate some, N to write one." : "No cases yet. Press N to write one.";

function describeNone({ total, isChecked, isFiltered, canMake }: FamilyListProps): string {
  if (total.length === 0) return noCases(canMake);
  if (isFiltered) return "No family matches the filter.";
  return isChecked ? "No case differs." : "Not checked yet. Press c to check.";
}

/** Family → how many cases its sections have: those of the cases that show it. */
function countAround(families: readonly FamilyView[], total: readonly CaseListing[]): ReadonlyMap<string, number> {
  const sectionOf = new Map(total.map(({ id, module, section }) => [id, `${module ?? ""}\0${section}`]));
  const counts = new Map<string, number>();
  for (const section of sectionOf.values()) counts.set(section, (counts.get(section) ?? 0) + 1);
  return new Map(
    families.map(({ id, cases }) => {
      const sections = new Set(cases.map((name) => sectionOf.get(name) ?? ""));
      return [
        id,
        Math.max(
          cases.length,
          [...sections].reduce((sum, section) => sum + (counts.get(section) ?? 0), 0),
        ),
      ];
    }),
  );
}

/** Families, each with its sentence and as many marks as it has cases. */
export function FamilyList(props: FamilyListProps) {
  const { families, total, chosen, onChoose, onClear, isFiltered } = props;
  const casesAround = useMemo(() => countAround(families, total), [families, total]);
  const list = useRef<HTMLUListElement>(null);
  const chosenId = chosen?.id;
  useEffect(() => {
    if (chosenId !== undefined)
      list.current?.querySelector("[aria-pressed=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosenId]);
  return (
    <ul className={styles.families} ref={list}>
      {families.length === 0 && (
        <li className={styles.none}>
          {describeNone(props)} {isFiltered && <Button onClick={onClear}>Clear the filter</Button>}
        </li>
      )}
      {families.map((family) => (
        <li key={family.id}>
          <button
            type="button"
            className={styles.family}
            aria-pressed={family === chosen}
            onClick={() => onChoose(family)}
          >
            <Mark mark={family.mark} />
            <span className={styles.sentence}>{family.sentence}</span>
            <span className="soft">
              {family.cases.length} of {casesAround.get(family.id)}
            </span>
            <span className={styles.where}>{[family.module ?? "program", family.call].join(".")}</span>
            <span className={styles.marks} aria-hidden="true">
              {family.cases.slice(0, SHOWN_MARKS).map((name) => (
                <Mark key={name} mark={family.mark} />
              ))}
              {family.cases.length > SHOWN_MARKS && <span>…</span>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

const ROW_HEIGHT = 30;

/** All cases that the filter leaves, windowed. */
export function CaseList({
  cases,
  at,
  onChoose,
  isEmpty,
  canMake,
  onClear,
}: {
  cases: readonly CaseListing[];
  at: number;
  onChoose: (name: string) => void;
  /** Clears the filter. */
  onClear: () => void;
  /** Whether there is no case at all. */
  isEmpty: boolean;
  canMake: boolean;
}) {
  const box = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: cases.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  useEffect(() => {
    if (cases.length > 0) list.scrollToIndex(at, { align: "auto" });
  }, [at, cases.length, list]);
  return (
    <div
      className={styles.cases}
      ref={box}
      {...(cases.length > 0 ? { role: "listbox", "aria-label": plural(cases.length, "case") } : {})}
      tabIndex={-1}
    >
      {cases.length === 0 && (
        <p className={styles.none}>
          {isEmpty ? (
            noCases(canMake)
          ) : (
            <>
              No case matches the filter. <Button onClick={onClear}>Clear the filter</Button>
            </>
          )}
        </p>
      )}
      <div style={{ height: list.getTotalSize(), position: "relative" }}>
        {list.getVirtualItems().map(({ index, start }) => {
          const item = cases[index];
          return (
            item && (
              <button
                key={item.id}
                type="button"
                role="option"
                aria-selected={index === at}
                className={styles.case}
                style={{ transform: `translateY(${start}px)` }}
                onClick={() => onChoose(item.id)}
              >
                <Mark mark={item.mark} stale={item.stale} />
                <span className="mono">{item.id}</span>
                <span className="soft">{[item.module ?? "program", item.section].join(".")}</span>
              </button>
            )
          );
        })}
      </div>
    </div>
  );
}
