"use client";
import Button from "@mui/material/Button";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { FoundView } from "@/api/bring-in-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { Problem } from "@/ui/frame/problem";
import { Strip } from "@/ui/frame/strip";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import styles from "@/ui/views/bring-in/bring-in.module.css";
import { ChooseSource } from "@/ui/views/bring-in/choose-source";
import { FoundTree } from "@/ui/views/bring-in/found-tree";
import { useDraft } from "@/ui/views/bring-in/use-draft";
import { WritePort } from "@/ui/views/bring-in/write-port";

/** Adding a port: choose and read a source, correct the findings, then create the port. */
export function BringInView() {
  const router = useRouter();
  const [found, setFound] = useState<FoundView | null>(null);
  const leave = () => router.push("/");
  return found ? (
    <LookedAt key={found.token} found={found} onBack={() => setFound(null)} />
  ) : (
    <>
      <Strip
        port={null}
        view="ports"
        title="Add a port"
        keys={[{ key: "Escape", shows: "Esc", does: "back to the ports", run: leave }]}
      />
      <main className={styles.choose}>
        <h1>Add a port</h1>
        <p className="soft">
          Choose what is to be ported. It is read and shown first; nothing is stored or run until you confirm.
        </p>
        <ChooseSource onFound={setFound} onPort={(id) => router.push(`/port/${id}/order`)} onLeave={leave} />
      </main>
    </>
  );
}

function LookedAt({ found, onBack }: { found: FoundView; onBack: () => void }) {
  const router = useRouter();
  const state = useDraft(found);
  const { attempt, busy, refusal } = useAsk();
  const { token } = found;
  useEffect(
    () => () => {
      // A copy is of no use any more; that it goes with the next start anyway makes a failure harmless.
      ask(ROUTES.forgetDraft, { token }).catch(() => undefined);
    },
    [token],
  );
  // A library without cases has nothing that could be run.
  const canRun = state.draft.run.trim() !== "" || (state.effect?.cases ?? 0) > 0;
  const keep = (isRun: boolean) =>
    attempt(async () => {
      const { id } = await ask(ROUTES.keepDraft, { token, draft: state.draft });
      if (isRun) await ask(ROUTES.startBaseline, {}, { port: id });
      router.push(`/port/${id}/${isRun ? "baseline" : "order"}`);
    });
  const keys: Key[] = [{ key: "Escape", shows: "Esc", does: "choose another source", run: onBack }];
  return (
    <div className={styles.view}>
      <Strip port={null} view="ports" title="Add a port" keys={keys} />
      <main className={styles.looked}>
        <FoundTree found={found} />
        <WritePort found={found} state={state} />
      </main>
      <footer className={styles.foot}>
        <Button onClick={onBack}>
          Choose another source <kbd>Esc</kbd>
        </Button>
        <div className={styles.refusal}>
          {(refusal ?? state.problem) && (
            <Problem record={refusal ?? state.problem ?? { code: "internal", what: "" }} />
          )}
        </div>
        <Button
          autoFocus={!canRun}
          className={canRun ? undefined : "main"}
          disabled={busy || state.problem !== null}
          onClick={() => keep(false)}
        >
          Add the port
        </Button>
        {canRun && (
          <Button autoFocus className="main" disabled={busy || state.problem !== null} onClick={() => keep(true)}>
            Add the port and run the original
          </Button>
        )}
      </footer>
    </div>
  );
}
