import type { FamilyView } from "@/api/views";
import { plural } from "@/ui/format";
import styles from "@/ui/views/reader/reader.module.css";

/** Cases that differ in the same way and the suspected causes, with the note of the likeliest. */
export function Suspects({ family, heading = true }: { family: FamilyView; heading?: boolean }) {
  const [best] = family.suspects;
  const others =
    family.cases.length === 1
      ? "No other case differs this way"
      : `${plural(family.cases.length, "case")} differ in the same way`;
  return (
    <section className={styles.suspects} aria-label="Suspects">
      {heading && (
        <h3>
          {family.sentence}
          <span className="soft">{others}</span>
        </h3>
      )}
      {family.suspects
        .filter((suspect) => suspect.score >= (best?.score ?? 0) / 2)
        .slice(0, 3)
        .map((suspect) => (
          <div key={suspect.cause} className={styles.suspect} data-suspect={suspect.cause}>
            <span>{suspect.title}</span>
            <span className={styles.score}>{suspect.score.toFixed(2)}</span>
            <i className={styles.gauge} aria-hidden="true">
              <b style={{ width: `${suspect.score * 100}%` }} />
            </i>
            <span className={styles.evidence}>{suspect.evidence}</span>
          </div>
        ))}
      {best ? <p>{best.note}</p> : <p className="soft">No known cause explains it.</p>}
    </section>
  );
}
