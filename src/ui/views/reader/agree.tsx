"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useState } from "react";
import { ROUTES } from "@/api/routes";
import { ask, describeRefusal } from "@/ui/api";
import { useKeys } from "@/ui/state/use-keys";
import styles from "@/ui/views/reader/reader.module.css";

type Props = { readonly port: string; readonly twin: string; readonly caseId: string };

/** Agreeing to what a case shows: `a`, a reason, and Enter. The exact values are pinned in the port file. */
export function Agree({ port, twin, caseId }: Props) {
  const [reason, setReason] = useState<string | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  useKeys([{ key: "a", does: "agree to the difference", run: () => setReason("") }]);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    ask(ROUTES.agree, { caseId, twin, reason: reason ?? "" }, { port }).then(
      () => {
        setReason(null);
        setNotice("Allowed, and saved in side-twin.json. Ends when either value changes.");
      },
      (thrown: unknown) => setNotice(describeRefusal(thrown)),
    );
  };
  return (
    <>
      {reason === null ? (
        <Button onClick={() => setReason("")}>
          Allow this difference … <kbd>a</kbd>
        </Button>
      ) : (
        <form className={styles.agree} onSubmit={submit}>
          <InputBase
            autoFocus
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && setReason(null)}
            placeholder="why it may differ"
            inputProps={{ "aria-label": "Why it may differ" }}
          />
          <Button type="submit" disabled={reason.trim() === ""}>
            Agree
          </Button>
        </form>
      )}
      {notice && <p role="status">{notice}</p>}
    </>
  );
}
