"use client";
import Button from "@mui/material/Button";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { BenchView } from "@/api/views";
import { startPhrase } from "@/core/phrasebook/start-phrase";
import styles from "@/ui/views/bench/bench.module.css";

type Picked = { readonly original: string; readonly twin: string };
const NOTHING: Picked = { original: "", twin: "" };

/** The text that was last selected on each of the facing pages. */
function usePicked(): { readonly picked: Picked; readonly clear: () => void } {
  const [picked, setPicked] = useState(NOTHING);
  useEffect(() => {
    const take = () => {
      const selection = document.getSelection();
      const text = selection?.toString().trim() ?? "";
      const side = selection?.anchorNode?.parentElement?.closest("[data-page]")?.getAttribute("data-page");
      if (text !== "" && (side === "original" || side === "twin")) setPicked((before) => ({ ...before, [side]: text }));
    };
    document.addEventListener("selectionchange", take);
    return () => document.removeEventListener("selectionchange", take);
  }, []);
  return { picked, clear: () => setPicked(NOTHING) };
}

const SCRIPTS = new Set(["javascript", "typescript", "tsx"]);

/** Whether code of one language can be looked for in the other. */
const isAlike = (original: string, twin: string): boolean =>
  original === twin || (SCRIPTS.has(original) && SCRIPTS.has(twin)) || (original === "c" && twin === "cpp");

const MAX_SHOWN = 60;
const short = (text: string): string => (text.length > MAX_SHOWN ? `${text.slice(0, MAX_SHOWN)}…` : text);

/** Pieces selected on both pages, and the phrase that begins with them. Shown where both sides are of one language. */
export function PickedBand({ bench }: { bench: BenchView }) {
  const router = useRouter();
  const { picked, clear } = usePicked();
  const language = bench.port.twins.find(({ name }) => name === bench.twin)?.language ?? "";
  if (picked.original === "" || picked.twin === "" || !isAlike(bench.port.original, language)) return null;
  const phrase = startPhrase(picked.original, picked.twin);
  const query = new URLSearchParams({ twin: bench.twin, ...phrase });
  return (
    <section className={styles.picked} aria-label="Selected on both pages">
      <code className={`${styles.pickedCode} steel`}>{short(phrase.from)}</code> becomes{" "}
      <code className={`${styles.pickedCode} copper`}>{short(phrase.to)}</code>
      <Button
        onClick={() => router.push(`/port/${encodeURIComponent(bench.port.id)}/phrasebook?${query}`)}
        title="Equal parts are blanks; the phrase can be corrected before it is saved"
      >
        Write a phrase of it
      </Button>
      <Button onClick={clear}>Dismiss</Button>
    </section>
  );
}
