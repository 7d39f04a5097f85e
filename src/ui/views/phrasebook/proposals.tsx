"use client";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { ProposalView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { plural } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { Pattern } from "@/ui/views/phrasebook/phrase-list";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

const MAX_SHOWN = 12;

/** Phrases learned from code that is already ported, on demand; contradictions by ported places are shown. */
export function Proposals({ port, twin }: { port: string; twin: string }) {
  const [found, setFound] = useState<readonly ProposalView[] | null>(null);
  const { attempt, busy, refusal } = useAsk();
  const look = () => attempt(async () => setFound(await ask(ROUTES.learn, { twin }, { port })));
  const take = (proposal: ProposalView) =>
    attempt(async () => {
      await ask(ROUTES.addPhrase, { phrase: { ...proposal.phrase } }, { port });
      setFound((before) => before?.filter((entry) => entry !== proposal) ?? null);
    });
  const useful = found?.filter(({ would }) => would > 0) ?? [];
  return (
    <section className={styles.proposals} aria-label="Learned">
      <h2>Learned from what is ported</h2>
      {found === null ? (
        <Button disabled={busy} onClick={look}>
          {busy ? "Reading both sides …" : "Look for phrases"}
        </Button>
      ) : (
        useful.length === 0 && <p className="soft">Nothing that would change another place.</p>
      )}
      {refusal && <Problem record={refusal} />}
      <ul>
        {useful.slice(0, MAX_SHOWN).map((proposal) => (
          <li key={String(proposal.phrase.id)} data-proposal={String(proposal.phrase.id)}>
            <Pattern text={String(proposal.phrase.from)} tint="steel" />
            <Pattern text={String(proposal.phrase.to)} tint="copper" />
            <span className="soft">
              seen {plural(proposal.seen, "time")} in {plural(proposal.sections, "file")}
              {proposal.against > 0 && (
                <span className="madder">; {plural(proposal.against, "ported place")} contradict it</span>
              )}
              ; would change {plural(proposal.would, "place")}
            </span>
            <Button disabled={busy} onClick={() => take(proposal)}>
              Add to the book
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
