"use client";
import { ROUTES } from "@/api/routes";
import type { BenchView } from "@/api/views";
import { ask, describeRefusal } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { useAsk } from "@/ui/state/use-ask";
import styles from "@/ui/views/bench/bench.module.css";

type Props = {
  readonly section: string;
  readonly callback: NonNullable<BenchView["rows"][number]["callback"]>;
  readonly place: { readonly port: string; readonly module: string; readonly twin: string };
  /** After the port file was changed. */
  readonly onChanged: () => void;
};

/** Shows how a callback of one side maps to the other, and sets up the hookup that passes one. */
export function CallbackNote({ section, callback: { param, relation }, place: { port, ...place }, onChanged }: Props) {
  const { attempt, busy } = useAsk();
  const notice = useNotice();
  const change = async (isHanded: boolean) => {
    await ask(ROUTES.handCallback, { ...place, section, isHanded }, { port });
    onChanged();
  };
  const hand = (isHanded: boolean) =>
    attempt(async () => {
      try {
        await change(isHanded);
        const text = isHanded
          ? `The twin of ${section} is handed ${param}; what arrives there is its answer.`
          : `The twin of ${section} is no longer handed ${param}.`;
        notice({ text, undo: () => change(!isHanded) });
      } catch (thrown) {
        notice({ text: describeRefusal(thrown) });
      }
    });
  if (relation === "left-out")
    return (
      <span className={styles.callback} title="The twin answers by itself; the callback is not handed to it.">
        {param} is left out
      </span>
    );
  const isHanded = relation === "handed-over";
  return (
    <span className={styles.callback}>
      {isHanded ? `${param} is handed over` : `the twin takes ${param}`}
      <button type="button" className={styles.why} disabled={busy} onClick={() => hand(!isHanded)}>
        {isHanded ? "no longer" : "hand it over"}
      </button>
    </span>
  );
}
