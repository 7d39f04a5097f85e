"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { FamilyView } from "@/api/views";
import { ask, describeRefusal } from "@/ui/api";
import { plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { useKeys } from "@/ui/state/use-keys";
import styles from "@/ui/views/reader/reader.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly caseId: string;
  /** The family of the case: all of it can be agreed to at once. */
  readonly family: FamilyView | null;
};

/** Agreeing to what a case or its family shows: `a`, a reason, and Enter. The exact values are pinned in the port file. */
export function Agree({ port, twin, caseId, family }: Props) {
  const [reason, setReason] = useState<string | null>(null);
  const [isWhole, setWhole] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  const notice = useNotice();
  useKeys([{ key: "a", does: "allow the difference", run: () => setReason("") }]);
  const cases = isWhole && family ? [...family.cases] : [caseId];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    ask(ROUTES.agree, { cases, twin, reason: reason ?? "" }, { port }).then(
      ({ allowances }) => {
        setReason(null);
        setRefusal(null);
        notice({
          text: `${plural(cases.length, "case")} allowed, and saved in side-twin.json. Ends when a value changes.`,
          undo: async () => {
            // One after another: each rewrites the port file.
            for (const allowance of allowances) await ask(ROUTES.removeAllowance, { allowance }, { port });
          },
        });
      },
      (thrown: unknown) => setRefusal(describeRefusal(thrown)),
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
          {family && family.cases.length > 1 && (
            <label className={styles.whole}>
              <input type="checkbox" checked={isWhole} onChange={(event) => setWhole(event.target.checked)} />
              all {plural(family.cases.length, "case")} that differ this way
            </label>
          )}
          <Button type="submit" disabled={reason.trim() === ""}>
            Allow
          </Button>
          <Button onClick={() => setReason(null)}>Cancel</Button>
        </form>
      )}
      {refusal && <p role="alert">{refusal}</p>}
    </>
  );
}
