import type { AlignedCell, AlignedTable } from "@/core/compare/aligned-documents";
import { plural } from "@/ui/format";
import styles from "@/ui/views/reader/documents.module.css";

/** Two tables as one: a cell that differs holds the original's above the twin's. */
export function Cells({ table: { at, head, rows, rest } }: { table: AlignedTable }) {
  return (
    <div className={styles.cells}>
      <table>
        <caption>
          <span className="mono">{at}</span>, <span className="steel">original</span> above{" "}
          <span className="copper">twin</span>
        </caption>
        <thead>
          <tr>
            {head.map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.flatMap(({ label, gap, cells }) => [
            gap > 0 && <Gap key={`gap ${label}`} count={gap} columns={head.length} />,
            <tr key={label}>
              {cells.map((cell, index) => (
                <Cell key={head[index]} cell={cell} />
              ))}
            </tr>,
          ])}
          {rest > 0 && <Gap count={rest} columns={head.length} />}
        </tbody>
      </table>
    </div>
  );
}

const Gap = ({ count, columns }: { count: number; columns: number }) => (
  <tr>
    <td colSpan={columns} className="soft">
      {plural(count, "row")} more
    </td>
  </tr>
);

function Cell({ cell: { original, twin } }: { cell: AlignedCell }) {
  if (original === twin) return <td>{original}</td>;
  if (original === null || twin === null) {
    return (
      <td className={styles.lone} data-differs="">
        <span className={original === null ? "copper" : "steel"}>{original ?? twin}</span>
      </td>
    );
  }
  return (
    <td className={styles.differs} data-differs="">
      <span className="steel">{original === "" ? "(empty)" : original}</span>
      <span className="copper">{twin === "" ? "(empty)" : twin}</span>
    </td>
  );
}
