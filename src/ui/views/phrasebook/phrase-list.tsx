import type { PhraseView } from "@/api/making-views";
import { parseTemplate } from "@/core/phrasebook/template";
import { countFates, FATE_WORDS } from "@/ui/state/phrase-places";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

type Props = {
  readonly phrases: readonly PhraseView[];
  readonly chosen: PhraseView | undefined;
  readonly refused: ReadonlySet<string>;
  readonly onChoose: (id: string) => void;
};

/** The phrases in the order in which they run, each with what will become of its places. */
export function PhraseList({ phrases, chosen, refused, onChoose }: Props) {
  return (
    <ol className={styles.phrases}>
      {phrases.map((phrase, index) => (
        <li key={phrase.id}>
          <button
            type="button"
            className={styles.phrase}
            aria-pressed={phrase === chosen}
            data-phrase={phrase.id}
            onClick={() => onChoose(phrase.id)}
          >
            <b>{index + 1}</b>
            <span className={styles.said}>
              <Pattern text={phrase.from} tint="steel" />
              <Pattern text={phrase.to} tint="copper" />
            </span>
            <span className={styles.counts}>
              {countFates(phrase.places, refused).map(([fate, count]) => (
                <span key={fate} data-fate={fate}>
                  <i aria-hidden="true" /> {count} {FATE_WORDS[fate]}
                </span>
              ))}
              {phrase.places.length === 0 && <span className="soft">no place left</span>}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

/** A pattern with its blanks underlined. */
export function Pattern({ text, tint }: { text: string; tint: "steel" | "copper" }) {
  return (
    <code className={`mono ${tint}`}>
      {parseTemplate(text).map((part, index) =>
        part.kind === "text" ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of one fixed text
          <span key={index}>{part.text}</span>
        ) : (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of one fixed text
          <u key={index}>
            {part.name}
            {part.isList ? "…" : ""}
          </u>
        ),
      )}
      {text === "" && <span className="soft">nothing</span>}
    </code>
  );
}
