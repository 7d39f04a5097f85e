import { MARK_WORDS } from "@/api/mark-words";
import type { CaseView } from "@/api/views";
import { plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import styles from "@/ui/views/reader/reader.module.css";
import { Suspects } from "@/ui/views/reader/suspects";

/** What is to be said of a case: its outcome, the family it belongs to, and the places that differ. */
export function Finding({ detail }: { detail: CaseView }) {
  const open = detail.divergences.filter((divergence) => divergence.allowance === null);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and must do so by keyboard
    <section className={styles.finding} aria-label="What is to be said of it" tabIndex={0}>
      <h2 className={styles.verdict}>
        <Mark mark={detail.mark} stale={detail.stale} /> This case{" "}
        {detail.mark === "skipped" ? "waits for its twin" : isAre(detail.mark)}
        {detail.stale ? ", as of older code" : ""}
      </h2>
      {detail.why && (
        <p>
          {detail.side ? `On ${detail.side === "both" ? "both sides" : `the ${detail.side}`}: ` : ""}
          {detail.why}
        </p>
      )}
      {detail.lastOutput && <pre className={styles.output}>{detail.lastOutput}</pre>}
      {detail.families.map((family) => (
        <Suspects key={family.id} family={family} />
      ))}
      {open.length > 0 && (
        <>
          <p>
            {plural(open.length, "divergence")}; the first at <span className="mono">{open[0]?.at}</span>:{" "}
            {KIND_WORDS[open[0]?.kind ?? ""] ?? open[0]?.kind}
          </p>
          <ul className={styles.places}>
            {(open.length > 1 ? open.slice(0, 40) : []).map((divergence) => (
              <li key={`${divergence.at}:${divergence.kind}`}>
                <span className="mono">{divergence.at}</span>{" "}
                <span className="soft">{KIND_WORDS[divergence.kind] ?? divergence.kind}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {detail.reasons.map(({ allowance, reason }) => (
        <p key={allowance}>
          Allowed by <span className="mono">{allowance}</span>: {reason}
        </p>
      ))}
      {detail.ms.original !== null && detail.ms.twin !== null && (
        <p className="soft">
          original {detail.ms.original.toFixed(2)} ms, twin {detail.ms.twin.toFixed(2)} ms
        </p>
      )}
    </section>
  );
}

const isAre = (mark: CaseView["mark"]): string =>
  mark === "broken" || mark === "unsteady" || mark === "allowed"
    ? `is ${MARK_WORDS[mark]}`
    : mark === "idle"
      ? "was not run yet"
      : MARK_WORDS[mark];

/** Kinds of divergence in the words of the screens. */
const KIND_WORDS: Readonly<Record<string, string>> = {
  number: "other number",
  text: "other text",
  boolean: "other truth value",
  type: "another type",
  null: "a value against none",
  missing: "only in the original",
  extra: "only in the twin",
  length: "other length",
  thrown: "one side throws",
  "error-kind": "another kind of error",
  "error-message": "another message",
  exit: "other exit status",
  opaque: "cannot be compared",
  order: "another order",
  bytes: "other bytes",
  image: "another colour",
  "image-size": "another size",
  interval: "another time since the line before",
  removed: "removed on one side",
};
