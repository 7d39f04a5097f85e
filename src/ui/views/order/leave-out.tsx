"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { ModuleView } from "@/api/views";
import { ask } from "@/ui/api";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import styles from "@/ui/views/order/order.module.css";

type Props = { readonly port: string; readonly module: ModuleView; readonly onDone: () => void };

/** Excludes a module from the port with a reason, saved in the port file. */
export function LeaveOut({ port, module, onDone }: Props) {
  const [reason, setReason] = useState("");
  const { attempt, busy, refusal } = useAsk();
  const exclude = (why: string | null) =>
    attempt(async () => {
      await ask(ROUTES.leaveOut, { module: module.name, reason: why }, { port });
      onDone();
    });
  if (module.leftOut !== null) {
    return (
      <section>
        <h2>Excluded</h2>
        <p>{module.leftOut}</p>
        <Button disabled={busy} onClick={() => exclude(null)}>
          Include again
        </Button>
        {refusal && <Problem record={refusal} />}
      </section>
    );
  }
  return (
    <details className={styles.protections}>
      <summary>Exclude from the port</summary>
      <div className={styles.actions}>
        <InputBase
          fullWidth
          placeholder="why nobody needs it in the twin"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          inputProps={{ "aria-label": "Why it is excluded" }}
        />
        <Button disabled={busy || reason.trim() === ""} onClick={() => exclude(reason)}>
          Exclude
        </Button>
      </div>
      {refusal && <Problem record={refusal} />}
    </details>
  );
}
