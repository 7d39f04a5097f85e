import Button from "@mui/material/Button";
import { useSearchParams } from "next/navigation";
import type { LadderView } from "@/api/making-views";
import { isComplaint } from "@/core/diagnostics/diagnostic";
import { describeUnmet } from "@/core/ladder/ladder";
import { plural } from "@/ui/format";
import { complaintsOf, countComplaints, type RungView, rungsOf, standingOf } from "@/ui/state/ladder";
import { setAddress } from "@/ui/state/use-address";
import { ComplaintsDialog } from "@/ui/views/order/complaints-dialog";
import styles from "@/ui/views/order/order.module.css";

type Props = {
  readonly ladder: LadderView | null;
  /** The chosen one. */
  readonly module: string;
  readonly building: boolean;
  readonly onBuild: () => void;
  readonly port: string;
  readonly twin: string;
};

/** The rungs from left to right, with a mark for each module; nothing for a port without a ladder. */
export function LadderBand({ ladder, module, building, onBuild, port, twin }: Props) {
  // In the address, so that the strip's count of complaints leads here.
  const isListed = useSearchParams().get("complaints") === "shown";
  const setListed = (shown: boolean) => setAddress({ complaints: shown ? "shown" : null });
  if (!ladder || ladder.rungs.length === 0) return null;
  const count = countComplaints(complaintsOf(ladder));
  const needsRun = ladder.diagnosed === null || ladder.diagnosed.isStale;
  return (
    <section className={styles.ladder} aria-label="Ladder">
      {rungsOf(ladder).map((rung) => (
        <Rung key={rung.name} rung={rung} module={module} />
      ))}
      <div className={styles.build}>
        <Button className={needsRun && !building ? "main" : ""} onClick={onBuild}>
          {building ? "Stop the checks" : "Run the checks"} <kbd>l</kbd>
        </Button>
        <span className="soft">{building ? "running …" : describeRun(ladder)}</span>
        {ladder.diagnosed && (
          <Button onClick={() => setListed(true)}>
            {count === 0 ? "No complaint" : `All ${plural(count, "complaint")}`}
          </Button>
        )}
        {isListed && ladder.diagnosed && (
          <ComplaintsDialog port={port} twin={twin} ladder={ladder} onClose={() => setListed(false)} />
        )}
      </div>
    </section>
  );
}

function describeRun({ diagnosed, fresh, gone }: LadderView): string {
  if (!diagnosed) return "not run yet";
  const news = [fresh > 0 ? `${fresh} new` : "", gone.length > 0 ? `${gone.length} gone` : ""]
    .filter(Boolean)
    .join(", ");
  if (diagnosed.isStale) return "files changed since";
  return `took ${diagnosed.seconds.toFixed(1)} s${news ? `; ${news}` : ""}`;
}

function Rung({ rung, module }: { rung: RungView; module: string }) {
  const reached = rung.modules.filter((entry) => entry.reached).length;
  const [first, ...more] = rung.unmet.map(describeUnmet);
  return (
    <div className={`${styles.rung} ${rung.isGoal ? styles.goal : ""}`} data-rung={rung.name}>
      <h2>
        {rung.name}
        <span className="soft">
          {reached} of {rung.modules.length}
        </span>
      </h2>
      {rung.gain && (
        <p className="soft" title={rung.gain}>
          {rung.gain}
        </p>
      )}
      <div className={styles.pips} aria-hidden="true">
        {rung.modules.map((entry) => (
          <i
            key={entry.name}
            data-pip={entry.reached ? "reached" : rung.isBeyond ? "beyond" : "short"}
            data-chosen={entry.name === module ? "" : undefined}
            title={entry.name}
          />
        ))}
      </div>
      <p title={[first, ...more].join("; ")}>
        {rung.reached ? (
          <b className="moss">{rung.isGoal ? "reached: the port can stop here" : "reached"}</b>
        ) : rung.isBeyond ? (
          <span className="soft">above where the port stops</span>
        ) : (
          <>
            <b>{first}</b>
            {more.length > 0 && <span className="soft">, {more[0]}</span>}
          </>
        )}
      </p>
    </div>
  );
}

const MAX_SHOWN = 4;

/** The rung that a module is on, and what keeps it from the next. */
export function Standing({ ladder, module }: { ladder: LadderView; module: string }) {
  if (ladder.rungs.length === 0) return null;
  const { on, next } = standingOf(ladder, module);
  const own = next
    ? complaintsOf(ladder, module).filter((found) => found.rung === next.name && isComplaint(found))
    : [];
  return (
    <section aria-label="Rung">
      <h2>{on ? `On the rung ${on.name}` : "Below the first rung"}</h2>
      {next === null ? (
        <p>It is where the port means to stop.</p>
      ) : (
        <p>
          {own.length > 0
            ? `${plural(own.length, "complaint")} keep${own.length === 1 ? "s" : ""} it from ${next.name}.`
            : `Next: ${next.name}${next.gain ? `, ${next.gain}` : ""}.`}
        </p>
      )}
      <ul className={styles.related}>
        {own.slice(0, MAX_SHOWN).map((entry) => (
          <li key={`${entry.file}:${entry.line}:${entry.column}`}>
            <span className="soft" title={entry.message}>
              {entry.section ?? entry.file} line {entry.line}: {entry.message}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
