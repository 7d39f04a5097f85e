"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useMemo, useState } from "react";
import type { LadderView } from "@/api/making-views";
import { LineChart } from "@/ui/charts/line-chart";
import { plural } from "@/ui/format";
import { JournalDialog } from "@/ui/frame/journal-dialog";
import { PlaceLink } from "@/ui/frame/place-link";
import { type ComplaintGroup, GROUPINGS, type Grouping, groupComplaints } from "@/ui/state/complaint-groups";
import { type Complaint, complaintsOf, countComplaints } from "@/ui/state/ladder";
import styles from "@/ui/views/order/complaints.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly ladder: LadderView;
  readonly onClose: () => void;
};

/** Groups are open up to this many complaints in all. */
const MAX_OPEN = 30;
const MAX_IN_GROUP = 200;

/** All complaints up to the rung where the port stops, in groups; what is new and what is gone; and their number over time. */
export function ComplaintsDialog({ port, twin, ladder, onClose }: Props) {
  const [by, setBy] = useState<Grouping>("code");
  const complaints = useMemo(() => complaintsOf(ladder), [ladder]);
  const latent = complaints.filter(({ isLatent }) => isLatent).length;
  const groups = useMemo(() => groupComplaints(complaints, by), [complaints, by]);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="complaints-title">
      <DialogTitle id="complaints-title">
        {plural(countComplaints(complaints), "complaint")}
        {ladder.fresh + ladder.gone.length > 0 && (
          <span className="soft">
            ; {ladder.fresh} new, {ladder.gone.length} gone since the run before
          </span>
        )}
      </DialogTitle>
      <DialogContent>
        <History ladder={ladder} />
        <div className={styles.by} role="radiogroup" aria-label="Grouped by">
          {GROUPINGS.map((name) => (
            <label key={name}>
              <input type="radio" name="by" checked={by === name} onChange={() => setBy(name)} /> by {name}
            </label>
          ))}
        </div>
        {groups.map((group) => (
          <Group
            key={`${by} ${group.name}`}
            port={port}
            twin={twin}
            group={group}
            isOpen={complaints.length <= MAX_OPEN}
          />
        ))}
        {latent > 0 && (
          <p>
            {latent === 1 ? "One is" : `${latent} are`} about code that came over unchanged: the original has the same
            fault.
          </p>
        )}
        {complaints.length === 0 && <p>There is none.</p>}
        {ladder.gone.length > 0 && (
          <details className={styles.group}>
            <summary>Gone since the run before: {ladder.gone.length}</summary>
            <ul>
              {ladder.gone.slice(0, MAX_IN_GROUP).map((entry) => (
                <li key={`${entry.file}:${entry.line}:${entry.message}`} className="soft">
                  {entry.file}:{entry.line} {entry.message}
                </li>
              ))}
            </ul>
          </details>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

type GroupProps = {
  readonly port: string;
  readonly twin: string;
  readonly group: ComplaintGroup;
  readonly isOpen: boolean;
};

function Group({ port, twin, group: { name, complaints, fresh }, isOpen }: GroupProps) {
  const [noting, setNoting] = useState<Complaint | null>(null);
  return (
    <details className={styles.group} open={isOpen}>
      <summary>
        <b className="mono">{name}</b> {plural(countComplaints(complaints), "complaint")}
        {fresh > 0 && <span className="madder">, {fresh} new</span>}
      </summary>
      <ul>
        {complaints.slice(0, MAX_IN_GROUP).map((entry) => (
          <li key={`${entry.file}:${entry.line}:${entry.column}:${entry.message}`}>
            {entry.line === null ? (
              <span className="mono">{entry.file || "no place"}</span>
            ) : (
              <PlaceLink port={port} place={{ side: twin, file: entry.file, line: entry.line }} />
            )}
            <span>
              {entry.isNew && <b className="madder">new </b>}
              {entry.message} {entry.code && <span className="soft">{entry.code}</span>}
              {entry.isLatent && (
                <span className={styles.latent}>
                  The original has this line too.{" "}
                  <Button onClick={() => setNoting(entry)}>Note it as a fault of the original</Button>
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
      {noting && (
        <JournalDialog
          port={port}
          about={{
            module: noting.module,
            section: noting.section,
            quote: `The original has the fault too: ${noting.message}${noting.code ? ` (${noting.code})` : ""}, at ${noting.file}:${noting.line} of the twin.`,
          }}
          onClose={() => setNoting(null)}
        />
      )}
      {complaints.length > MAX_IN_GROUP && <p className="soft">and {complaints.length - MAX_IN_GROUP} more</p>}
    </details>
  );
}

/** A line that is to come to zero; drawn from the second run on. */
function History({ ladder: { history } }: { ladder: LadderView }) {
  const series = useMemo(
    () => ({
      times: history.map(({ at }) => new Date(at).toLocaleString()),
      lines: [
        { label: "errors", unit: "errors", colour: "madder", data: history.map(({ errors }) => errors), axis: "left" },
        {
          label: "warnings",
          unit: "warnings",
          colour: "ochre",
          data: history.map(({ warnings }) => warnings),
          axis: "left",
        },
      ] as const,
    }),
    [history],
  );
  if (history.length < 2) return null;
  return (
    <div className={styles.chart}>
      <LineChart label={`Complaints over ${plural(history.length, "run")}`} times={series.times} lines={series.lines} />
    </div>
  );
}
