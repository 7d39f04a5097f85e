"use client";
import Button from "@mui/material/Button";
import Link from "next/link";
import { Fragment, useEffect } from "react";
import type { LadderView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import type { CheckView, ModuleDetail, ModuleView, OrderView as Order } from "@/api/views";
import { type ModuleSize, pointsOf } from "@/core/progress/effort";
import { benchHref } from "@/ui/api";
import { driftWords, formatCount, plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import { useView } from "@/ui/state/use-view";
import { Standing } from "@/ui/views/order/ladder-band";
import { LeaveOut } from "@/ui/views/order/leave-out";
import { Measured } from "@/ui/views/order/measured";
import styles from "@/ui/views/order/order.module.css";
import { STATE_WORDS } from "@/ui/views/order/state-words";

type SideProps = {
  readonly order: Order;
  readonly module: ModuleView;
  readonly ladder: LadderView | null;
  readonly twin: string | null;
  readonly running: boolean;
  readonly onPin: (module: ModuleView) => void;
  readonly onChoose: (module: string) => void;
  readonly onChanged: () => void;
  readonly onCheck: (scope: { module?: string; twin?: string; caseId?: string; fresh?: boolean }) => void;
};

/** Details of the selected module, and of the whole port. */
export function OrderSide({ order, module, ladder, twin, running, onCheck, onPin, onChoose, onChanged }: SideProps) {
  const byName = new Map(order.modules.map((entry) => [entry.name, entry]));
  const isNext = order.port.next?.module === module.name;
  const scope = twin ? { twin } : {};
  const loaded = useView(ROUTES.module, { module: module.name, twin }, order.port.id);
  const detail = loaded.data?.module === module.name ? loaded.data : null;
  const reloadDetail = loaded.reload;
  const lastCheck = order.port.lastCheck?.seconds;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a check that ended measured again
  useEffect(() => {
    reloadDetail();
  }, [lastCheck, reloadDetail]);
  return (
    <aside className={styles.side} aria-label="The chosen module">
      <section>
        <h2>{isNext ? "Next" : "Chosen"}</h2>
        <h1>{module.name}</h1>
        <p>
          {isNext && order.port.next ? `${sentence(order.port.next.reason)}. ` : ""}
          {module.provenLines === null
            ? "No lines measured yet."
            : `${module.drift ? `${sentence(driftWords(module.drift))}. ` : ""}${formatCount(module.provenLines)} of ${plural(module.lines, "executable line")} proven; ${STATE_WORDS[module.state]}.`}
        </p>
        <div className={styles.actions}>
          <Link href={benchHref(order.port.id, module.name, twin)} className={styles.open}>
            Open on the Bench
          </Link>
          <Button disabled={running} onClick={() => onCheck({ module: module.name, ...scope })}>
            Check it <kbd>v</kbd>
          </Button>
          <Button onClick={() => onPin(module)} aria-pressed={order.pull.wanted.includes(module.name)}>
            {order.pull.wanted.includes(module.name) ? "Unpin" : "Pin"} <kbd>i</kbd>
          </Button>
        </div>
      </section>
      {ladder && <Standing ladder={ladder} module={module.name} />}
      <Points size={order.sizes[module.name]} />
      <Wanted order={order} />
      <CaseCounts module={module} />
      <Knot order={order} module={module} onChoose={onChoose} />
      <Related title="Uses" names={module.needs} byName={byName} onChoose={onChoose} none="No other module." />
      <Related title="Used by" names={module.neededBy} byName={byName} onChoose={onChoose} none="Nothing yet." />
      <LeaveOut key={module.name} port={order.port.id} module={module} onDone={onChanged} />
      <Unproven port={order.port.id} twin={twin} detail={detail} />
      <Measured detail={detail} />
      <section className={styles.left}>
        <h2>The whole port</h2>
        <p>{describeLeft(order)}</p>
        <div className={styles.actions}>
          <Button className="main" disabled={running} onClick={() => onCheck(scope)}>
            Check all <kbd>c</kbd>
          </Button>
          <Button disabled={running} onClick={() => onCheck({ ...scope, fresh: true })}>
            Check again without kept answers <kbd>F</kbd>
          </Button>
        </div>
        <details className={styles.protections}>
          <summary>Sandbox and reused answers</summary>
          {order.port.lastCheck?.reused &&
            order.port.lastCheck.reused.original + order.port.lastCheck.reused.twin > 0 && (
              <p className="soft">{describeReused(order.port.lastCheck.reused)}</p>
            )}
          <ul>
            {order.protections.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </details>
      </section>
    </aside>
  );
}

/** The parts of the module's points. */
function Points({ size }: { size: ModuleSize | undefined }) {
  if (!size) return null;
  const parts = [
    plural(size.lines, "line"),
    `complexity ${formatCount(size.complexity)}`,
    size.outside === null ? "" : plural(size.outside, "use from outside", "uses from outside"),
    size.snags === null ? "" : `${formatCount(size.snags)} platform-bound`,
  ];
  return (
    <section>
      <h2>{pointsOf(size).toFixed(1)} points</h2>
      <p className="soft">{parts.filter(Boolean).join("; ")}</p>
    </section>
  );
}

/** Pinned modules, and what has to be ported for them. */
function Wanted({ order: { pull } }: { order: Order }) {
  if (pull.wanted.length === 0) return null;
  const left = pull.modules.filter((name) => !pull.wanted.includes(name));
  return (
    <section aria-label="Wanted soon">
      <h2>Wanted soon</h2>
      <p>
        {pull.wanted.join(", ")}:{" "}
        {pull.modules.length === 0
          ? "all of it is done"
          : `${plural(pull.modules.length, "module")} to do, ${plural(pull.lines, "line")} to prove`}
        {left.length > 0 && <>; first {left.join(", ")}</>}.
      </p>
    </section>
  );
}

/** The dependency cycle of the module, and the imports to cut. */
function Knot({ order, module, onChoose }: Pick<SideProps, "order" | "module" | "onChoose">) {
  const knot = order.knots.find(({ members }) => members.includes(module.name));
  if (!knot) return null;
  const others = knot.members.filter((name) => name !== module.name);
  const { imports, isLeast } = knot.untie;
  return (
    <section aria-label="Its knot">
      <h2>In a knot with {plural(others.length, "module")}</h2>
      <p>
        {others.slice(0, SHOWN_MEMBERS).map((name, index) => (
          <Fragment key={name}>
            {index > 0 && ", "}
            <button type="button" className={styles.inText} onClick={() => onChoose(name)}>
              {name}
            </button>
          </Fragment>
        ))}
        {others.length > SHOWN_MEMBERS && ` and ${others.length - SHOWN_MEMBERS} more`}
      </p>
      <p className="soft">
        It comes undone without{" "}
        {imports
          .slice(0, SHOWN_IMPORTS)
          .map(({ from, to }) => `${from} → ${to}`)
          .join(", ")}
        {imports.length > SHOWN_IMPORTS && ` and ${imports.length - SHOWN_IMPORTS} more`}
        {isLeast ? "." : ", which may be more than are needed."}
      </p>
    </section>
  );
}

const SHOWN_MEMBERS = 12;
const SHOWN_IMPORTS = 4;

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

const describeLines = (count: number): string =>
  count === 0 ? "No lines are" : `${plural(count, "line")} ${count === 1 ? "is" : "are"}`;

function describeLeft({ port, modules }: Order): string {
  const { totals } = port;
  const waiting = modules.filter((module) => module.state === "waiting" || module.state === "ready").length;
  const parts = [
    `${port.modulesDone} of ${plural(port.modules, "module")} done, ${formatCount(waiting)} not begun`,
    totals.differ > 0 ? `${plural(totals.differ, "case")} ${totals.differ === 1 ? "differs" : "differ"}` : "",
    totals.broken > 0 ? `${totals.broken} ${totals.broken === 1 ? "is" : "are"} broken` : "",
    totals.skipped > 0 ? `${totals.skipped} not ported yet` : "",
  ];
  const unproven = port.provenLines === null ? "" : ` ${describeLines(port.lines - port.provenLines)} left to prove.`;
  return `${parts.filter(Boolean).join("; ")}.${unproven}`;
}

function CaseCounts({ module }: { module: ModuleView }) {
  const { totals } = module;
  const known = totals.agree + totals.allowed + totals.differ + totals.broken + totals.unsteady + totals.skipped;
  const rows = (["differ", "broken", "unsteady", "agree", "allowed", "skipped"] as const).filter(
    (name) => totals[name] > 0,
  );
  return (
    <section>
      <h2>{plural(totals.cases, "shared case")}</h2>
      <ul className={styles.related}>
        {rows.map((name) => (
          <li key={name}>
            <Mark mark={name} /> {COUNT_WORDS[name]} <span>{formatCount(totals[name])}</span>
          </li>
        ))}
        {known < totals.cases && (
          <li>
            <Mark mark="idle" /> not run yet <span>{formatCount(totals.cases - known)}</span>
          </li>
        )}
      </ul>
    </section>
  );
}

const COUNT_WORDS = {
  differ: "differ",
  broken: "broken",
  unsteady: "unsteady",
  agree: "agree",
  allowed: "allowed",
  skipped: "not ported yet",
} as const;

type RelatedProps = {
  readonly title: string;
  readonly names: readonly string[];
  readonly byName: ReadonlyMap<string, ModuleView>;
  readonly none: string;
  readonly onChoose: (module: string) => void;
};

function Related({ title, names, byName, none, onChoose }: RelatedProps) {
  return (
    <section>
      <h2>{title}</h2>
      {names.length === 0 && <p className="soft">{none}</p>}
      <ul className={styles.related}>
        {names.map((name) => {
          const module = byName.get(name);
          return (
            <li key={name}>
              {module && <Mark mark={module.mark} stale={module.stale} />}
              <button type="button" onClick={() => onChoose(name)}>
                {name}
              </button>
              <span>{module ? STATE_WORDS[module.state] : ""}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function describeReused({ original, twin }: NonNullable<CheckView["reused"]>): string {
  return `The last check used ${formatCount(original)} kept answers of the original and ${formatCount(twin)} of the twin: neither code nor input had changed.`;
}

const SHOWN_RUNS = 6;

/** Where cases are missing: what to write cases for next. */
function Unproven({ port, twin, detail }: { port: string; twin: string | null; detail: ModuleDetail | null }) {
  if (!detail || detail.unproven.length === 0) return null;
  const { unproven, module } = detail;
  return (
    <section>
      <h2>Lines that no agreeing case runs</h2>
      <ul className={styles.unproven}>
        {unproven.slice(0, SHOWN_RUNS).map(({ file, from, to, section, text }) => (
          <li key={`${file}:${from}`}>
            <Link href={benchHref(port, module, twin, section)} title={`${file}, line ${from}`}>
              {from === to ? `line ${from}` : `lines ${from} to ${to}`}
              {section ? `, ${section}` : ""}
            </Link>
            <code>{text}</code>
          </li>
        ))}
      </ul>
      {unproven.length > SHOWN_RUNS && <p className="soft">and {unproven.length - SHOWN_RUNS} more places</p>}
    </section>
  );
}
