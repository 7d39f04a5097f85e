import type { PhraseView } from "@/api/making-views";
import { plural } from "@/ui/format";
import { byFile, FATE_WORDS, fateOf, type Place } from "@/ui/state/phrase-places";
import { Pattern } from "@/ui/views/phrasebook/phrase-list";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

type Props = {
  readonly places: readonly Place[];
  readonly chosen: Place | undefined;
  readonly refused: ReadonlySet<string>;
  readonly onChoose: (place: Place) => void;
};

/** Files with more places than this are cut; those beyond are counted. */
const MAX_SHOWN = 400;

export function PhraseHead({ phrase }: { phrase: PhraseView }) {
  return (
    <div className={styles.head}>
      <Pattern text={phrase.from} tint="steel" />
      <span className="soft">becomes</span>
      <Pattern text={phrase.to} tint="copper" />
      {phrase.why && <span className={styles.why}>{phrase.why}</span>}
    </div>
  );
}

/** Every place of a phrase, before and after level with each other. */
export function PhrasePlaces({ places: all, chosen, refused, onChoose }: Props) {
  return (
    <>
      {all.length === 0 && <p className={styles.none}>Nothing in the twin is written the old way of this phrase.</p>}
      {byFile(all).map(([file, places]) => (
        <section key={file} className={styles.file} aria-label={file}>
          <h2>
            <span className="mono">{file}</span>
            <span className="soft">{plural(places.length, "place")}</span>
          </h2>
          {places.slice(0, MAX_SHOWN).map((place) => {
            const fate = fateOf(place, refused);
            return (
              <button
                key={`${place.line}:${place.column}`}
                type="button"
                className={styles.place}
                aria-pressed={place === chosen}
                data-fate={fate}
                data-chosen-place={place === chosen ? "" : undefined}
                onClick={() => onChoose(place)}
              >
                <span className="soft">{place.line}</span>
                <code className="mono">{place.before}</code>
                <span className={styles.fate}>
                  <i aria-hidden="true" /> {FATE_WORDS[fate]}
                </span>
                {fate === "ready" ? (
                  <code className="mono">{place.after}</code>
                ) : (
                  <span className={styles.aside}>{place.why ?? "stays as it is this time"}</span>
                )}
              </button>
            );
          })}
          {places.length > MAX_SHOWN && (
            <p className="soft">and {plural(places.length - MAX_SHOWN, "more place")} in this file</p>
          )}
        </section>
      ))}
    </>
  );
}
