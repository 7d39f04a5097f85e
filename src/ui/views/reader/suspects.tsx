import type { FamilyView } from "@/api/views";
import { plural } from "@/ui/format";
import { PlaceLink } from "@/ui/frame/place-link";
import { Inner } from "@/ui/views/reader/inner";
import styles from "@/ui/views/reader/reader.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly family: FamilyView;
  readonly heading?: boolean;
};

/** Cases that differ in the same way and the suspected causes, each with its note; the likeliest is open. */
export function Suspects({ port, twin, family, heading = true }: Props) {
  const [best] = family.suspects;
  const others =
    family.cases.length === 1
      ? "No other case differs this way"
      : `${plural(family.cases.length, "case")} differ in the same way`;
  return (
    <section className={styles.suspects} aria-label="Suspects">
      {heading && (
        <h3>
          {family.sentence !== best?.title && family.sentence}
          <span className="soft">{others}</span>
        </h3>
      )}
      {family.inner && <Inner port={port} twin={twin} inner={family.inner} />}
      {family.suspects
        .filter((suspect) => suspect.score >= (best?.score ?? 0) / 2)
        .slice(0, 3)
        .map((suspect, index) => (
          <div key={suspect.cause} className={styles.suspect} data-suspect={suspect.cause}>
            <span>{suspect.title}</span>
            <span className={styles.score}>{suspect.score.toFixed(2)}</span>
            <i className={styles.gauge} aria-hidden="true">
              <b style={{ width: `${suspect.score * 100}%` }} />
            </i>
            <span className={styles.evidence}>{suspect.evidence}</span>
            {suspect.place && (
              <span className={styles.evidence}>
                <PlaceLink port={port} place={{ side: twin, ...suspect.place }} />
              </span>
            )}
            <details className={styles.note} open={index === 0}>
              <summary>What it is</summary>
              {suspect.note}
            </details>
          </div>
        ))}
      {!best && <p className="soft">No known cause explains it.</p>}
    </section>
  );
}
