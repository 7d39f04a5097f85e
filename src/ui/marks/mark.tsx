import type { ReactNode } from "react";
import type { Mark as MarkName } from "@/api/case-listing";
import { MARK_WORDS } from "@/api/mark-words";

const COLOURS: Readonly<Record<MarkName, string>> = {
  agree: "var(--moss)",
  allowed: "var(--moss)",
  differ: "var(--madder)",
  broken: "var(--madder)",
  unsteady: "var(--ochre)",
  skipped: "var(--stone)",
  idle: "var(--stone)",
};

const solid = (x: number, y = 0, height = 12) => <rect x={x} y={y} width={4} height={height} fill="currentColor" />;
const outlined = (x: number) => <rect x={x + 0.5} y={0.5} width={3} height={11} fill="none" stroke="currentColor" />;

/** Two small bars, original and twin; shape carries the meaning, colour repeats it. */
const SHAPES: Readonly<Record<MarkName, ReactNode>> = {
  agree: [<g key="o">{solid(0)}</g>, <g key="t">{solid(6)}</g>],
  allowed: [
    <g key="o">{solid(0)}</g>,
    <g key="t">
      {outlined(6)}
      <path d="M6 4 L10 0 M6 8 L10 4 M6 12 L10 8" stroke="currentColor" strokeWidth={1.4} />
    </g>,
  ],
  differ: [<g key="o">{solid(0)}</g>, <g key="t">{solid(6, 7, 5)}</g>],
  broken: [<g key="o">{solid(0)}</g>, <g key="t">{solid(6, 0, 4)}</g>, <g key="u">{solid(6, 8, 4)}</g>],
  unsteady: [1.5, 7].map((x) => (
    <path key={x} d={`M${x} 0 q3 2 0 4 t0 4 t0 4`} fill="none" stroke="currentColor" strokeWidth={1.8} />
  )),
  skipped: [<g key="o">{solid(0)}</g>, <g key="t">{outlined(6)}</g>],
  idle: [<g key="o">{outlined(0)}</g>, <g key="t">{outlined(6)}</g>],
};

/** The shapes, once on a page; every mark refers to them, which keeps thousands of marks light. */
export function MarkSprite() {
  return (
    <svg width={0} height={0} aria-hidden="true" style={{ position: "absolute" }}>
      {Object.entries(SHAPES).map(([name, shape]) => (
        <symbol key={name} id={`mark-${name}`} viewBox="0 0 10 12">
          {shape}
        </symbol>
      ))}
    </svg>
  );
}

/** A mark with its words; pale if the verdict is out of date. */
export function Mark({ mark, size = 12, stale = false }: { mark: MarkName; size?: number; stale?: boolean }) {
  const words = stale ? `${MARK_WORDS[mark]}, out of date` : MARK_WORDS[mark];
  return (
    <svg
      width={(size * 10) / 12}
      height={size}
      role="img"
      aria-label={words}
      style={{ color: COLOURS[mark], opacity: stale ? 0.5 : 1, flex: "none" }}
    >
      <title>{words}</title>
      <use href={`#mark-${mark}`} />
    </svg>
  );
}

/** The colour of a mark, as a custom property. */
export const markColour = (mark: MarkName): string => COLOURS[mark];
