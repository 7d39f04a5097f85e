"use client";
import Button from "@mui/material/Button";
import { ROUTES } from "@/api/routes";
import type { BenchView } from "@/api/views";
import { ask } from "@/ui/api";
import { formatAgo } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/bench/drift-band.module.css";

type Drift = NonNullable<BenchView["rows"][number]["drift"]>;

type Place = { readonly port: string; readonly module: string; readonly section: string; readonly twin: string };

/** The change of the original after its section was ported, its commits, and what settles it. */
export function DriftBand({ drift, place }: { drift: Drift; place: Place }) {
  return (
    <div className={styles.band} data-drift={place.section}>
      <ol className={styles.change} aria-label="What changed in the original">
        {drift.lines.map((line) => (
          <li key={`${line.before} ${line.now}`} className={styles[line.kind]}>
            <span>{line.kind === "gone" ? "was" : line.kind === "new" ? "is" : ""}</span>
            <span>{line.now === null ? "" : drift.from + line.now - 1}</span>
            <code>
              {line.parts.map((part, index) =>
                // biome-ignore lint/suspicious/noArrayIndexKey: the parts of a line have no other name
                part.differs ? <b key={index}>{part.text}</b> : <span key={index}>{part.text}</span>,
              )}
            </code>
          </li>
        ))}
      </ol>
      <Settle drift={drift} place={place} />
    </div>
  );
}

const BASIS = {
  paired: "it got its twin",
  proven: "it was proven",
  said: "marked by hand as followed by the twin",
} as const;

function Settle({ drift, place }: { drift: Pick<Drift, "since" | "basis">; place: Place }) {
  const { module, section, twin } = place;
  const { data } = useView(ROUTES.changes, { module, section, twin }, place.port);
  const { attempt, busy, refusal } = useAsk();
  const follow = () => attempt(() => ask(ROUTES.follow, { module, section, twin }, { port: place.port }));
  return (
    <div className={styles.settle}>
      <p>
        The original changed after {BASIS[drift.basis]}, {formatAgo(drift.since, Date.now())}. It is settled when
        agreeing cases run through what changed, or when you say that the twin follows.
      </p>
      {data?.isRepository && (
        <ul>
          {data.isOpen && <li className="soft">not committed yet</li>}
          {data.commits.map(({ id, at, author, subject }) => (
            <li key={id}>
              <span className="mono">{id.slice(0, 8)}</span> {subject}
              <span className="soft">
                , {author}, {at.slice(0, 10)}
              </span>
            </li>
          ))}
        </ul>
      )}
      {refusal && <Problem record={refusal} />}
      <Button disabled={busy} onClick={follow}>
        The twin already does this
      </Button>
    </div>
  );
}

/** A section that the original has no longer. */
export function GoneBand({ gone, place }: { gone: BenchView["gone"][number]; place: Place }) {
  return (
    <section className={styles.band} aria-label={`${gone.section} is gone`}>
      <div className={styles.change}>
        <p>
          <b className="mono">{gone.section}</b> is gone from the original; its twin{" "}
          <b className="mono">{gone.twinSection}</b> is still there.
        </p>
        <pre>{gone.text}</pre>
      </div>
      <Settle drift={{ since: gone.since, basis: "paired" }} place={place} />
    </section>
  );
}
