"use client";
import Button from "@mui/material/Button";
import { useRouter } from "next/navigation";
import { ROUTES } from "@/api/routes";
import type { BenchView } from "@/api/views";
import { ask, newCaseHref } from "@/ui/api";
import { PlaceLink } from "@/ui/frame/place-link";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import styles from "@/ui/views/bench/bench.module.css";

type Props = { readonly bench: BenchView; readonly onSaved: (snapshot: string | null) => void };

/** The one next thing while a module has no case or no file of the twin yet. */
export function FirstSteps({ bench, onSaved }: Props) {
  const router = useRouter();
  const { attempt, busy, refusal } = useAsk();
  const { module, expected, port, twin, canDraft, canMake, cases } = bench;
  if (module.leftOut !== null) return null;
  if (cases.length === 0) {
    const query = new URLSearchParams({ tab: "make", module: module.name, twin });
    return (
      <section className={styles.steps} aria-label="Next">
        <span>No case calls this module yet, so nothing can be compared.</span>
        {canMake && (
          <Button className="main" onClick={() => router.push(`/port/${port.id}/cases?${query}`)}>
            Record or generate cases
          </Button>
        )}
        <Button
          className={canMake ? undefined : "main"}
          onClick={() => router.push(newCaseHref(port.id, twin, module.name))}
        >
          Write one
        </Button>
      </section>
    );
  }
  if (expected === null) return null;
  const draft = () =>
    attempt(async () => onSaved((await ask(ROUTES.draft, { module: module.name, twin }, { port: port.id })).snapshot));
  return (
    <section className={styles.steps} aria-label="Next">
      <span>
        The twin of this module is looked for in{" "}
        <PlaceLink port={port.id} place={{ side: twin, file: expected, line: 1 }} />, and is not there yet.
      </span>
      {canDraft && (
        <Button className="main" onClick={draft} disabled={busy}>
          Draft it
        </Button>
      )}
      {refusal && <Problem record={refusal} />}
    </section>
  );
}
