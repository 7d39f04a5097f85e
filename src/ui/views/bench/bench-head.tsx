import Button from "@mui/material/Button";
import { ROUTES } from "@/api/routes";
import type { BenchView as Bench } from "@/api/views";
import { driftWords, formatCount, plural } from "@/ui/format";
import { useView } from "@/ui/state/use-view";
import { TwinBar } from "@/ui/twin-bar/twin-bar";
import styles from "@/ui/views/bench/bench.module.css";

type Props = {
  readonly bench: Bench;
  /** Null before the checks of the ladder were run. */
  readonly complaints: number | null;
  /** Runs the ladder's checks for the first time; null without a ladder, and once they ran. */
  readonly onFirstBuild: (() => void) | null;
  readonly building: boolean;
  readonly openOnly: boolean;
  readonly running: boolean;
  readonly onOpenOnly: () => void;
  readonly onCheck: () => void;
  /** Whether a save is checked by itself. */
  readonly onSave: { readonly isOn: boolean; readonly toggle: () => void };
};

/** The module with its files, its bar, its complaints and what can be done with it. */
export function BenchHead({ bench, complaints, onFirstBuild, building, ...rest }: Props) {
  const { openOnly, running, onOpenOnly, onCheck, onSave } = rest;
  const { module, files } = bench;
  const counts = useView(ROUTES.counts, { twin: bench.twin }, bench.port.id);
  const isMixed = counts.data?.mixed.includes(module.name) ?? false;
  const measured =
    module.provenLines === null
      ? plural(module.textLines, "line")
      : `${formatCount(module.provenLines)} of ${plural(module.lines, "executable line")} proven`;
  return (
    <div className={styles.head}>
      <div className={styles.headLeft}>
        <h1>{module.name}</h1>
        <span className="mono soft">{files.original.map((file) => file.file).join(", ")}</span>
        <span className="soft">{measured}</span>
        {building && <span className="soft">running the ladder's checks …</span>}
        {!building && onFirstBuild && (
          <button type="button" className={styles.why} onClick={onFirstBuild} title="Runs the checks of the ladder">
            read complaints <kbd>l</kbd>
          </button>
        )}
        {!building && complaints !== null && (
          <span className={complaints > 0 ? "madder" : "moss"}>
            {complaints === 0 ? "no complaint" : plural(complaints, "complaint")} <kbd>.</kbd>
          </span>
        )}
      </div>
      <div className={styles.headMiddle}>
        <TwinBar segments={module.bar} width={126} height={18} label={`${module.name}: ${measured}`} />
      </div>
      <div className={styles.headRight}>
        <span className="mono soft">
          {files.twin.map((file) => file.file).join(", ") || `not there yet: ${bench.expected ?? "a file of the twin"}`}
        </span>
        <span className={styles.actions}>
          {module.drift && <span className={styles.stale}>{driftWords(module.drift)}</span>}
          {isMixed && (
            <span className={styles.stale} title="Has both the old way of a phrase and the new">
              old and new
            </span>
          )}
          {module.stale && <span className={styles.stale}>changed since the check</span>}
          <Button
            onClick={onSave.toggle}
            aria-pressed={onSave.isOn}
            title="Checks this module whenever a file of it is saved"
          >
            {onSave.isOn ? "✓ " : ""}check on save
          </Button>
          <Button onClick={onOpenOnly} aria-pressed={openOnly}>
            {openOnly ? "All rows" : "Only what needs work"} <kbd>o</kbd>
          </Button>
          <Button className="main" onClick={onCheck} disabled={running}>
            Check module <kbd>c</kbd>
          </Button>
        </span>
      </div>
    </div>
  );
}
