"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useEffect, useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { ModuleView } from "@/api/views";
import { ask } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { useKeys } from "@/ui/state/use-keys";
import styles from "@/ui/views/order/order.module.css";

type Props = {
  readonly port: string;
  readonly module: ModuleView;
  /** Called when it is done; the module stays chosen. */
  readonly onDone: () => void;
};

/** Description of the key, also listed by the Order. */
export const EXCLUDE = "exclude the chosen module, with a reason";

/** Excludes a module from the port with a reason, saved in the port file. */
export function LeaveOut({ port, module, onDone }: Props) {
  const [reason, setReason] = useState("");
  const [isOpen, setOpen] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (isOpen) field.current?.focus();
  }, [isOpen]);
  useKeys([{ key: "Delete", does: EXCLUDE, run: () => module.leftOut === null && setOpen(true) }]);
  const notice = useNotice();
  const { attempt, busy, refusal } = useAsk();
  const exclude = (why: string | null) =>
    attempt(async () => {
      const before = module.leftOut;
      await ask(ROUTES.leaveOut, { module: module.name, reason: why }, { port });
      onDone();
      notice({
        text:
          why === null
            ? `${module.name} is part of the port again.`
            : `Excluded ${module.name}, saved in side-twin.json.`,
        undo: async () => {
          await ask(ROUTES.leaveOut, { module: module.name, reason: why === null ? before : null }, { port });
          onDone();
        },
      });
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
    <details
      className={styles.protections}
      open={isOpen}
      onToggle={(event) => setOpen((event.target as HTMLDetailsElement).open)}
    >
      <summary>
        Exclude from the port <kbd>Del</kbd>
      </summary>
      <form
        className={styles.actions}
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim() !== "") exclude(reason);
        }}
      >
        <InputBase
          fullWidth
          inputRef={field}
          onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
          placeholder="why nobody needs it in the twin"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          inputProps={{ "aria-label": "Why it is excluded" }}
        />
        <Button type="submit" disabled={busy || reason.trim() === ""}>
          Exclude
        </Button>
      </form>
      {refusal && <Problem record={refusal} />}
    </details>
  );
}
