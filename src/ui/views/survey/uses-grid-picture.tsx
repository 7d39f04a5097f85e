import { useMemo } from "react";
import type { SurveyView } from "@/api/views";
import styles from "@/ui/views/survey/survey.module.css";

const NAME_WIDTH = 118;
const BAR_WIDTH = 100;
const LEFT = NAME_WIDTH + BAR_WIDTH + 76;
const TOP = 150;
const COLUMN = 46;
const ROW = 34;
/** From this many uses, the number is drawn in the dot. */
const TOLD = 9;

type Props = {
  readonly survey: SurveyView;
  readonly chosen: string | null;
  readonly onChoose: (column: string) => void;
};

/** A dot's area grows with the number of uses, up to what a cell holds. */
const radiusOf = (uses: number): number => Math.min(15, 2.5 + Math.sqrt(uses) * 2.4);

/** One row a module with its lines, solid as far as they are proven; one column a library or snag; a dot for uses. */
export function UsesGridPicture({ survey: { rows, grid }, chosen, onChoose }: Props) {
  const place = useMemo(() => new Map(grid.columns.map(({ name }, index) => [name, index])), [grid]);
  const rowOf = useMemo(() => new Map(rows.map(({ module }, index) => [module, index])), [rows]);
  const longest = Math.max(1, ...rows.map(({ lines }) => lines));
  const width = LEFT + grid.columns.length * COLUMN + 60;
  const height = TOP + rows.length * ROW + 8;
  return (
    <div className={styles.scroll}>
      <svg width={width} height={height} className={styles.grid} aria-label="Uses by module">
        {grid.columns.map(({ name }, index) =>
          name === chosen ? (
            <rect
              key={name}
              x={LEFT + index * COLUMN - COLUMN / 2}
              y={TOP - 8}
              width={COLUMN}
              height={rows.length * ROW + 8}
              fill="var(--stone-tint)"
            />
          ) : null,
        )}
        {rows.map(({ module, lines, proven }, index) => {
          const y = TOP + index * ROW + ROW / 2;
          const length = (lines / longest) * BAR_WIDTH;
          return (
            <g key={module}>
              <line x1={0} x2={width} y1={y + ROW / 2} y2={y + ROW / 2} stroke="var(--hair)" />
              <text x={16} y={y + 5}>
                {module.length > 15 ? `${module.slice(0, 14)}…` : module}
                <title>{module}</title>
              </text>
              <rect x={NAME_WIDTH + 16} y={y - 6} width={length} height={12} fill="var(--steel-tint)" />
              <rect x={NAME_WIDTH + 16} y={y - 6} width={length * (proven ?? 0)} height={12} fill="var(--steel)" />
              <text x={NAME_WIDTH + 22 + length} y={y + 4} className={styles.count}>
                {lines}
              </text>
            </g>
          );
        })}
        {grid.cells.map(({ module, column, uses }) => {
          const [across, down] = [place.get(column), rowOf.get(module)];
          if (across === undefined || down === undefined) return null;
          const [x, y] = [LEFT + across * COLUMN, TOP + down * ROW + ROW / 2];
          const isSnag = grid.columns[across]?.snag !== null;
          return (
            <g key={`${module} ${column}`}>
              <circle
                cx={x}
                cy={y}
                r={radiusOf(uses)}
                fill={isSnag ? "var(--ink)" : "var(--stone)"}
                opacity={isSnag ? 0.88 : 0.55}
              >
                <title>{`${module} uses ${column} ${uses === 1 ? "once" : `${uses} times`}`}</title>
              </circle>
              {uses >= TOLD && (
                <text x={x} y={y + 4} textAnchor="middle" className={styles.told}>
                  {uses}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <div className={styles.heads} style={{ width }}>
        {grid.columns.map(({ name, snag, way }, index) => (
          <button
            key={name}
            type="button"
            data-column={name}
            aria-pressed={name === chosen}
            className={snag ? styles.headSnag : styles.head}
            style={{ left: LEFT + index * COLUMN, top: TOP - 16 }}
            onClick={() => onChoose(name)}
          >
            {name}
            {way && <span className="soft"> {way}</span>}
          </button>
        ))}
      </div>
    </div>
  );
}
