import type { BarSegment } from "@/core/progress/twin-bar";

type Props = {
  readonly segments: readonly BarSegment[];
  readonly width: number;
  readonly height?: number;
  readonly label: string;
};

const TWIN_FILL = {
  agree: "var(--copper)",
  differ: "var(--madder)",
  present: "var(--copper-tint)",
  none: "none",
} as const;
const GAP = 1;

/** Two bands: the original's sections, solid as far as they are proven, above the state of each section's twin. */
export function TwinBar({ segments, width, height = 16, label }: Props) {
  const band = (height - 2) / 2;
  const total = segments.reduce((sum, segment) => sum + segment.lines, 0) || 1;
  let at = 0;
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label}>
      <title>{label}</title>
      {segments.map((segment, index) => {
        const whole = (width * segment.lines) / total;
        const x = at;
        at += whole;
        const wide = Math.max(0.5, whole - GAP);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: two sections may share a name; only their position is unique
          <g key={index}>
            <rect x={x} y={0} width={wide} height={band} fill="var(--steel-tint)" />
            <rect x={x} y={0} width={wide * provenShare(segment)} height={band} fill="var(--steel)" />
            {segment.twin === "none" ? (
              <rect
                x={x + 0.5}
                y={band + 2.5}
                width={Math.max(0.5, wide - 1)}
                height={band - 1}
                fill="none"
                stroke="var(--line)"
                strokeDasharray="2 2"
              />
            ) : (
              <rect x={x} y={band + 2} width={wide} height={band} fill={TWIN_FILL[segment.twin]} />
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** Where lines are not traced, an agreeing section is drawn as a thin claim, never as proven. */
const provenShare = (segment: BarSegment): number => segment.proven ?? 0;
