import Button from "@mui/material/Button";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useState } from "react";
import type { SurveyView } from "@/api/views";
import { plural } from "@/ui/format";
import type { SurveyRow } from "@/ui/state/survey-rows";
import styles from "@/ui/views/survey/survey.module.css";

const BAR_WIDTH = 100;
const ROW = 34;
/** From this many uses, the number is drawn in the dot. */
const MIN_TOLD = 9;

/** The chosen column and module; a null module means all. */
export type Chosen = { readonly name: string | null; readonly module: string | null };

type Props = {
  readonly rows: readonly SurveyRow[];
  readonly columns: SurveyView["grid"]["columns"];
  readonly cells: SurveyView["grid"]["cells"];
  readonly chosen: Chosen;
  readonly onChoose: (chosen: Chosen) => void;
  readonly onClear: () => void;
  /** The element that scrolls. */
  readonly box: HTMLElement | null;
};

/** A dot's area grows with the number of uses, up to what a cell holds. */
const diameterOf = (uses: number): number => 2 * Math.min(15, 2.5 + Math.sqrt(uses) * 2.4);

/** One row a module with its lines, solid as far as they are proven; one column a library or snag; a dot for uses. */
export function UsesTable({ rows, columns, cells, chosen, onChoose, onClear, box }: Props) {
  const usesOf = useMemo(() => {
    const found = new Map<string, Map<string, number>>();
    for (const { module, column, uses } of cells) {
      const row = found.get(module) ?? new Map<string, number>();
      found.set(module, row.set(column, uses));
    }
    return found;
  }, [cells]);
  const longest = Math.max(1, ...rows.map(({ lines }) => lines));
  // The words and heads above the rows scroll with them.
  const [margin, setMargin] = useState(0);
  const measure = useCallback(
    (body: HTMLElement | null) => {
      if (body && box) setMargin(body.getBoundingClientRect().top - box.getBoundingClientRect().top + box.scrollTop);
    },
    [box],
  );
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box,
    estimateSize: () => ROW,
    overscan: 20,
    scrollMargin: margin,
  });
  const at = rows.findIndex(({ module }) => module === chosen.module);
  useEffect(() => {
    if (at >= 0) list.scrollToIndex(at, { align: "auto" });
  }, [at, list]);
  const items = list.getVirtualItems();
  const before = (items[0]?.start ?? margin) - margin;
  const after = list.getTotalSize() - ((items.at(-1)?.end ?? margin) - margin);
  if (rows.length === 0) {
    return (
      <p className={styles.summary}>
        No module or library matches the filter. <Button onClick={onClear}>Clear the filter</Button>
      </p>
    );
  }
  return (
    <table className={styles.table} aria-label="Uses by module" aria-rowcount={rows.length + 1}>
      <thead>
        <tr aria-rowindex={1}>
          <th scope="col">Module</th>
          <th scope="col">Lines</th>
          {columns.map(({ name, snag, way }) => (
            <th key={name} scope="col" className={name === chosen.name ? styles.chosen : undefined}>
              <button
                type="button"
                data-column={name}
                aria-pressed={name === chosen.name}
                className={snag ? styles.headSnag : styles.head}
                onClick={() => onChoose({ name, module: null })}
              >
                {name}
                {way && <span className="soft"> {way}</span>}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody ref={measure}>
        {before > 0 && <Gap height={before} />}
        {items.map(({ index }) => {
          const row = rows[index];
          if (!row) return null;
          const { module, lines, proven } = row;
          const own = usesOf.get(module);
          return (
            <tr
              key={module}
              data-module={module}
              aria-rowindex={index + 2}
              className={module === chosen.module ? styles.chosenRow : undefined}
            >
              <th scope="row" title={module}>
                {module}
              </th>
              <td title={proven === null ? "not measured" : `${Math.round(proven * 100)} % proven`}>
                <span className={styles.bar} style={{ width: (lines / longest) * BAR_WIDTH }}>
                  <span style={{ width: `${(proven ?? 0) * 100}%` }} />
                </span>
                <span className={styles.count}>{lines}</span>
              </td>
              {columns.map(({ name, snag }) => (
                <td key={name} className={name === chosen.name ? styles.chosen : undefined}>
                  <Dot
                    uses={own?.get(name) ?? 0}
                    isSnag={snag !== null}
                    words={`${module} uses ${name} ${plural(own?.get(name) ?? 0, "time")}`}
                    onChoose={() => onChoose({ name, module })}
                  />
                </td>
              ))}
            </tr>
          );
        })}
        {after > 0 && <Gap height={after} />}
      </tbody>
    </table>
  );
}

/** Placeholder for rows out of view. */
const Gap = ({ height }: { height: number }) => (
  <tr>
    <td style={{ height, padding: 0 }} />
  </tr>
);

type DotProps = {
  readonly uses: number;
  readonly isSnag: boolean;
  readonly words: string;
  readonly onChoose: () => void;
};

/** The uses in one cell. The arrow keys reach the same, so it takes no stop of its own. */
function Dot({ uses, isSnag, words, onChoose }: DotProps) {
  if (uses === 0) return null;
  const size = diameterOf(uses);
  return (
    <button type="button" tabIndex={-1} className={styles.cell} title={words} aria-label={words} onClick={onChoose}>
      <span className={isSnag ? styles.dotSnag : styles.dot} style={{ width: size, height: size }}>
        {uses >= MIN_TOLD ? uses : ""}
      </span>
    </button>
  );
}
