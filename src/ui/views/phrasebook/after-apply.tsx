import Button from "@mui/material/Button";
import Link from "next/link";
import { useState } from "react";
import type { HarmView, LadderView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import { turning } from "@/ui/state/undoing";
import { useAsk } from "@/ui/state/use-ask";
import { useKeys } from "@/ui/state/use-keys";
import type { PortEvents } from "@/ui/state/use-port-events";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  /** A sentence on the places written. */
  readonly written: string;
  readonly events: PortEvents;
  /** Null where the port has no ladder, or its checks never ran. */
  readonly ladder: { readonly view: LadderView | null; readonly building: boolean };
  /** Some places were taken back: the twin is checked again. */
  readonly onTakenBack: () => void;
};

/** Descriptions of the keys, also listed by the view. */
export const FIND_HARM = "find the places that made cases worse";
export const TAKE_BACK = "take those places back";

/** The effect of applied phrases on cases and complaints, and the places to blame where some got worse. */
export function AfterApply({ port, twin, written, events, ladder, onTakenBack }: Props) {
  const [found, setFound] = useState<HarmView | null>(null);
  const { attempt, busy, refusal } = useAsk();
  const notice = useNotice();
  const { last, running } = events;
  const worse = last?.worsened ?? 0;
  const places = found?.harms.flatMap((harm) => harm.places) ?? [];
  const find = () => {
    if (worse > 0 && !running && !busy) attempt(async () => setFound(await ask(ROUTES.phraseHarm, { twin }, { port })));
  };
  const takeBack = () => {
    if (places.length === 0 || busy) return;
    attempt(async () => {
      const { snapshot } = await ask(ROUTES.takeBack, { twin, places }, { port });
      setFound(null);
      onTakenBack();
      notice({
        text: `${plural(places.length, "place")} taken back; the twin is checked.`,
        ...turning(port, snapshot, onTakenBack),
      });
    });
  };
  useKeys([
    { key: "W", does: FIND_HARM, run: find },
    { key: "Delete", does: TAKE_BACK, run: takeBack },
  ]);
  const explained = new Set(found?.harms.flatMap(({ cases }) => cases) ?? []).size;
  return (
    <section className={styles.after} aria-label="What the phrases did" role="status">
      <p>
        {written} {running || !last ? "The twin is being checked." : describeCases(last)}
        {ladder.view?.diagnosed &&
          ` ${ladder.building ? "The ladder is being checked." : describeComplaints(ladder.view)}`}{" "}
        {worse > 0 && !running && !found && (
          <Button onClick={find} disabled={busy}>
            {busy ? "Halving …" : "Find the places that did it"} <kbd>W</kbd>
          </Button>
        )}
      </p>
      {found && (
        <>
          <ul>
            {found.harms.map((harm) => (
              <li key={harm.places.map(({ file, line }) => `${file}:${line}`).join()}>
                <b className="mono">{[...new Set(harm.places.map(({ phrase }) => phrase))].join(", ")}</b> at{" "}
                <span className="mono">
                  {[...new Set(harm.places.map(({ file, line }) => `${file}:${line}`))].join(", ")}
                </span>{" "}
                makes {plural(harm.cases.length, "case")} differ:{" "}
                <Link href={`/port/${encodeURIComponent(port)}/cases?case=${encodeURIComponent(harm.cases[0] ?? "")}`}>
                  {harm.cases[0]}
                </Link>
              </li>
            ))}
          </ul>
          {found.worse > explained && (
            <p className="soft">
              {plural(found.worse - explained, "case")} {found.worse - explained === 1 ? "has" : "have"} another cause,
              or need more time than was given.
            </p>
          )}
          {places.length > 0 && (
            <Button className="main" onClick={takeBack} disabled={busy}>
              Take {places.length === 1 ? "it" : "them"} back <kbd>Del</kbd>
            </Button>
          )}
        </>
      )}
      {refusal && <Problem record={refusal} />}
    </section>
  );
}

function describeCases({ mended, worsened }: { readonly mended: number; readonly worsened: number }): string {
  if (mended + worsened === 0) return "No case changed.";
  return `${plural(mended, "case")} mended, ${worsened} newly ${worsened === 1 ? "differs" : "differ"}.`;
}

function describeComplaints({ fresh, gone }: LadderView): string {
  if (fresh + gone.length === 0) return "No complaint changed.";
  return `${plural(fresh, "new complaint")}, ${gone.length} gone.`;
}
