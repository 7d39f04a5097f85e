import type { CaseView } from "@/api/views";
import { plural } from "@/ui/format";
import { PlaceLink } from "@/ui/frame/place-link";
import { Mark } from "@/ui/marks/mark";
import { Mend } from "@/ui/views/reader/mend";
import styles from "@/ui/views/reader/reader.module.css";
import { Suspects } from "@/ui/views/reader/suspects";

/** The verdict on a case: its outcome, the family it belongs to, and the places that differ. */
export function Finding({ port, twin, detail }: { port: string; twin: string; detail: CaseView }) {
  const open = detail.divergences.filter((divergence) => divergence.allowance === null);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and must do so by keyboard
    <section className={styles.finding} aria-label="Verdict" tabIndex={0}>
      <h2 className={styles.verdict}>
        <Mark mark={detail.mark} stale={detail.stale} /> {VERDICT_WORDS[detail.mark]}
        {detail.stale ? ", as of an older version of the code" : ""}
      </h2>
      <BrokenWhy port={port} detail={detail} />
      {!("run" in detail.item) && (
        <Mend
          key={detail.id}
          port={port}
          twin={twin}
          caseId={detail.id}
          module={detail.item.module ?? null}
          isDiffering={detail.canMend && detail.mark === "differ"}
        />
      )}
      {detail.families.map((family) => (
        <Suspects key={family.id} port={port} twin={twin} family={family} />
      ))}
      {open.length > 0 && (
        <>
          <p>
            {plural(open.length, "difference")}, the first at <span className="mono">{open[0]?.at}</span>:{" "}
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

/** Why a side gave no answer, and what it printed last. */
export function BrokenWhy({ port, detail }: { port: string; detail: CaseView }) {
  return (
    <>
      {detail.why && (
        <p>
          {detail.side ? `On ${detail.side === "both" ? "both sides" : `the ${detail.side}`}: ` : ""}
          {describeWhy(detail.why)}
        </p>
      )}
      {detail.lastOutput && <pre className={styles.output}>{detail.lastOutput}</pre>}
      {detail.stack.length > 0 && (
        <ul className={styles.places} aria-label="Places that the error names">
          {detail.stack.map((place) => (
            <li key={`${place.side} ${place.file}:${place.line}`}>
              <PlaceLink port={port} place={place} />
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

const VERDICT_WORDS: Readonly<Record<CaseView["mark"], string>> = {
  agree: "This case agrees",
  allowed: "This case is allowed to differ",
  differ: "This case differs",
  broken: "Could not be run",
  unsteady: "The original does not repeat its answer",
  skipped: "Not ported yet",
  idle: "Not run yet",
};

/** Describes why a side gave no answer, its kind in words: `timed-out: it took longer than 5000 ms`. */
function describeWhy(why: string): string {
  const [, kind = "", rest = ""] = /^([a-z-]+): (.*)$/s.exec(why) ?? [];
  const words = BROKEN_WORDS[kind];
  return words ? `${words}: ${rest}` : why;
}

const BROKEN_WORDS: Readonly<Record<string, string>> = {
  crashed: "The program crashed",
  ended: "The program ended itself",
  "timed-out": "Timed out",
  "over-limit": "Went over a limit",
  "would-not-load": "Would not load",
  "outside-folder": "Reached outside its folder",
};

/** Kinds of divergence in the words of the screens. */
const KIND_WORDS: Readonly<Record<string, string>> = {
  number: "numbers differ",
  text: "texts differ",
  boolean: "true against false",
  type: "types differ",
  null: "value against nothing",
  missing: "only in the original",
  extra: "only in the twin",
  length: "lengths differ",
  thrown: "one side throws",
  "error-kind": "kinds of error differ",
  "error-message": "messages differ",
  exit: "exit statuses differ",
  opaque: "cannot be compared",
  order: "orders differ",
  bytes: "bytes differ",
  image: "colours differ",
  "image-size": "sizes differ",
  interval: "times since the line before differ",
  removed: "removed on one side",
};
