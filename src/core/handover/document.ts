/** A handover as a document of headings, paragraphs, lists and tables, which every form of writing shares. */
import type { Handover, HandoverModule, HandoverTwin } from "@/core/handover/handover";
import type { JournalEntry } from "@/core/journal/journal";
import { describeUnmet } from "@/core/ladder/ladder";
import { languageTitle } from "@/core/source/language-of";

export type Block =
  | { readonly kind: "title" | "heading" | "text"; readonly text: string }
  | { readonly kind: "list"; readonly items: readonly string[] }
  | { readonly kind: "table"; readonly head: readonly string[]; readonly rows: readonly (readonly string[])[] };

/** Parts without content are left out, so that nothing has to be read twice to see that it is empty. */
export function documentOf(handover: Handover): Block[] {
  return [
    { kind: "title", text: `${handover.port}: the state of the port` },
    { kind: "text", text: `${handover.at.slice(0, 10)}. ${summaryOf(handover)}` },
    ...handover.twins.flatMap((twin) => twinBlocks(twin, handover.original)),
    ...table(
      "Before and after",
      ["figure", "original", ...handover.twins.map(({ name }) => name)],
      handover.figures.map(({ name, unit, original, twins }) => [
        unit ? `${name} (${unit})` : name,
        numberOf(original),
        ...handover.twins.map((twin) => numberOf(twins[twin.name] ?? null)),
      ]),
    ),
    ...table(
      "What may differ, and why",
      ["allowance", "reason", "cases"],
      handover.allowances.map(({ id, reason, used }) => [id, reason, String(used)]),
    ),
    ...list("Decisions", handover.decisions.map(describeEntry)),
    ...list("Assumptions that are still open", handover.assumptions.map(describeEntry)),
    ...list(
      handover.since === null ? "What was done" : `What was done since ${handover.since.slice(0, 10)}`,
      handover.changes.map((entry) => `${entry.kind}: ${describeEntry(entry)}`),
    ),
  ];
}

function summaryOf({ totals }: Handover): string {
  const { cases, agree, allowed, differ, broken, unsteady, skipped } = totals;
  if (cases === 0) return "No shared case was compared.";
  const bad = [
    differ > 0 ? `${differ} differ` : "",
    broken > 0 ? `${broken} broken` : "",
    unsteady > 0 ? `${unsteady} unsteady` : "",
    skipped > 0 ? `${skipped} not ported yet` : "",
  ].filter(Boolean);
  const good = `${agree} of ${cases} shared cases agree${allowed > 0 ? `, ${allowed} more differ as allowed` : ""}`;
  return `${good}${bad.length > 0 ? `; ${bad.join(", ")}` : ""}.`;
}

function twinBlocks(twin: HandoverTwin, original: string): Block[] {
  const measured = twin.modules.filter(({ provenLines }) => provenLines !== null);
  const [proven, all] = [sum(measured, ({ provenLines }) => provenLines ?? 0), sum(measured, ({ lines }) => lines)];
  const share =
    all === 0 ? "" : ` ${proven} of ${all} executable lines are proven (${Math.floor((100 * proven) / all)} %).`;
  const leftovers = twin.leftovers === null ? "" : ` ${twin.leftovers} mentions of the old way are left.`;
  return [
    { kind: "heading", text: `${languageTitle(original)} to ${languageTitle(twin.language)} (${twin.name})` },
    ...(share || leftovers ? [{ kind: "text", text: `${share}${leftovers}`.trim() } as const] : []),
    ...(twin.rungs.length === 0
      ? []
      : [
          {
            kind: "table",
            head: ["rung", "gain", "state"],
            rows: twin.rungs.map((rung) => [
              `${rung.name}${rung.isGoal ? " (the port stops here)" : ""}`,
              rung.gain ?? "",
              rung.reached ? "reached" : rung.unmet.map(describeUnmet).join("; "),
            ]),
          } as const,
        ]),
    {
      kind: "table",
      head: ["module", "state", "cases", "agree", "allowed", "differ", "other", "lines proven"],
      rows: twin.modules.map(moduleRow),
    },
  ];
}

const STATES: Readonly<Record<HandoverModule["state"], string>> = {
  "left-out": "left out",
  "not-ported": "not ported yet",
  "under-way": "under way",
  agrees: "agrees",
  proven: "proven",
};

function moduleRow({ name, state, why, totals, lines, provenLines }: HandoverModule): string[] {
  const { cases, agree, allowed, differ, broken, unsteady, skipped } = totals;
  return [
    name,
    why === null ? STATES[state] : `${STATES[state]}: ${why}`,
    ...[cases, agree, allowed, differ, broken + unsteady + skipped].map(String),
    provenLines === null ? "not measured" : `${provenLines} of ${lines}`,
  ];
}

/** "2026-11-03, tides.height: text". */
export function describeEntry({ at, module, section, text, by }: JournalEntry): string {
  const place = [module, section].filter(Boolean).join(".");
  return `${at.slice(0, 10)}${place ? `, ${place}` : ""}: ${text}${by ? ` (${by})` : ""}`;
}

const list = (heading: string, items: readonly string[]): Block[] =>
  items.length === 0
    ? []
    : [
        { kind: "heading", text: heading },
        { kind: "list", items },
      ];

const table = (heading: string, head: readonly string[], rows: readonly (readonly string[])[]): Block[] =>
  rows.length === 0
    ? []
    : [
        { kind: "heading", text: heading },
        { kind: "table", head, rows },
      ];

const numberOf = (value: number | null): string => (value === null ? "not measured" : String(value));

const sum = <T>(items: readonly T[], pick: (item: T) => number): number =>
  items.reduce((total, item) => total + pick(item), 0);
