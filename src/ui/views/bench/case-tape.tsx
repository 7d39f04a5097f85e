"use client";
import { useEffect, useRef } from "react";
import { MARK_WORDS } from "@/api/mark-words";
import type { CheckView, TapeCase } from "@/api/views";
import { formatAgo } from "@/ui/format";
import { markColour } from "@/ui/marks/mark";
import styles from "@/ui/views/bench/bench.module.css";

type Props = {
  readonly cases: readonly TapeCase[];
  readonly chosen: string | null;
  readonly onPick: (item: TapeCase) => void;
  readonly check: CheckView | null;
};

const STEP = 14;
const HEIGHT = 13;

/** One small mark a case, grouped by section. One drawing a group, so that thousands of cases stay light. */
export function CaseTape({ cases, chosen, onPick, check }: Props) {
  const groups = groupBySection(cases);
  const tape = useRef<HTMLElement>(null);
  useEffect(() => {
    if (chosen) tape.current?.querySelector("[data-chosen]")?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [chosen]);
  return (
    <div className={styles.tape}>
      <section className={styles.groups} ref={tape} aria-label="Case tape: ← and → walk along it">
        {groups.map(([section, list]) => (
          <Group key={section} section={section} cases={list} chosen={chosen} onPick={onPick} />
        ))}
        {cases.length === 0 && <span className="soft">No case calls this module yet.</span>}
      </section>
      <span className={styles.checked}>{describeCheck(check)}</span>
    </div>
  );
}

function Group({
  section,
  cases,
  chosen,
  onPick,
}: {
  section: string;
  cases: readonly TapeCase[];
  chosen: string | null;
  onPick: (item: TapeCase) => void;
}) {
  const bad = cases.filter((item) => item.mark === "differ" || item.mark === "broken").length;
  return (
    <div className={styles.group}>
      <span>{section}</span>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the tape is walked by the keys of the view; the pointer is the short cut */}
      <svg
        width={cases.length * STEP}
        height={HEIGHT + 4}
        role="img"
        aria-label={`${section}: ${cases.length} cases, ${bad} differ or are broken`}
        onClick={(event) => {
          const at = Math.floor((event.clientX - event.currentTarget.getBoundingClientRect().left) / STEP);
          const item = cases[at];
          if (item) onPick(item);
        }}
      >
        {cases.map((item, index) => (
          <g key={item.id} data-case={item.id} data-mark={item.mark} data-chosen={item.id === chosen ? "" : undefined}>
            <title>{`${item.id}: ${MARK_WORDS[item.mark]}${item.stale ? ", out of date" : ""}`}</title>
            <rect x={index * STEP} y={0} width={STEP} height={HEIGHT + 4} fill="transparent" />
            {item.id === chosen && (
              <rect
                x={index * STEP + 0.75}
                y={0.75}
                width={STEP - 1}
                height={HEIGHT + 2.5}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={1.5}
              />
            )}
            <use
              href={`#mark-${item.mark}`}
              x={index * STEP + 2.5}
              y={3}
              width={9}
              height={HEIGHT - 2}
              style={{ color: markColour(item.mark) }}
              opacity={item.stale ? 0.45 : 1}
            />
          </g>
        ))}
      </svg>
    </div>
  );
}

function groupBySection(cases: readonly TapeCase[]): [string, TapeCase[]][] {
  const groups = new Map<string, TapeCase[]>();
  for (const item of cases) groups.set(item.section, [...(groups.get(item.section) ?? []), item]);
  return [...groups];
}

/** The cases in the order in which the tape shows them. */
export const tapeOrder = (cases: readonly TapeCase[]): TapeCase[] => groupBySection(cases).flatMap(([, list]) => list);

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
