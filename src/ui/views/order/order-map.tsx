import { memo } from "react";
import type { ModuleView, OrderView } from "@/api/views";
import { driftWords, formatCount } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import { type Group, type Relation, relationsOf, untieWords, waitsFor, type Zoom } from "@/ui/state/order-map";
import { TwinBar } from "@/ui/twin-bar/twin-bar";
import styles from "@/ui/views/order/order.module.css";
import { STATE_WORDS } from "@/ui/views/order/state-words";

type Props = {
  readonly order: OrderView;
  readonly layers: readonly (readonly Group[])[];
  readonly chosen: ModuleView;
  readonly zoom: Zoom;
  /** Modules with both the old way of a phrase and the new. */
  readonly mixed: readonly string[];
  readonly onChoose: (module: string) => void;
  readonly onOpen: (module: string) => void;
};

/**
 * Every module as a twin bar, in layers; a dependency cycle in one frame. Edges are not drawn; related modules are
 * highlighted.
 */
export function OrderMap({ order, layers, chosen, zoom, mixed, onChoose, onOpen }: Props) {
  const relations = relationsOf(order.modules, chosen);
  return (
    <>
      {layers.map((layer, index) => (
        <section
          key={layer[0]?.modules[0]?.layer ?? index}
          className={`${styles.layer} ${styles[`zoom${zoom}`]}`}
          aria-label={`layer ${layers.length - index}`}
        >
          {layer.map(({ knot, modules }) => {
            const tiles = modules.map((module) => (
              <Tile
                key={module.name}
                module={module}
                zoom={zoom}
                isMixed={mixed.includes(module.name)}
                relation={relations.get(module.name) ?? "other"}
                words={zoom === 0 ? describeModule(module, order.modules) : ""}
                onChoose={onChoose}
                onOpen={onOpen}
              />
            ));
            return knot ? (
              <div key={modules[0]?.name} className={styles.knot} data-knot={knot.members.join(" ")}>
                <span className={styles.untie} title={untieWords(knot)}>
                  {zoom === 2 ? "knot" : untieWords(knot)}
                </span>
                {tiles}
              </div>
            ) : (
              tiles
            );
          })}
        </section>
      ))}
    </>
  );
}

type TileProps = {
  readonly module: ModuleView;
  readonly zoom: Zoom;
  readonly isMixed: boolean;
  readonly relation: Relation;
  readonly words: string;
  readonly onChoose: (module: string) => void;
  readonly onOpen: (module: string) => void;
};

const WORDS: Readonly<Record<Relation, string>> = {
  chosen: "",
  needed: "needed",
  below: "",
  waits: "rests on it",
  above: "",
  other: "",
};

/** Bar width in pixels at each zoom: maximum, and per line. */
const WIDTHS: Readonly<Record<Zoom, { readonly most: number; readonly line: number }>> = {
  0: { most: 300, line: 1.35 },
  1: { most: 90, line: 0.4 },
  2: { most: 22, line: 0.08 },
};

/** Tiles of a large port are many: one is drawn again only when something of it changed. */
const Tile = memo(function Tile({ module, zoom, isMixed, relation, words, onChoose, onOpen }: TileProps) {
  const width = Math.max(zoom === 0 ? 64 : 8, Math.min(WIDTHS[zoom].most, module.textLines * WIDTHS[zoom].line));
  const label = `${module.name}: ${formatCount(module.textLines)} lines, ${STATE_WORDS[module.state]}${isMixed ? ", old and new" : ""}`;
  return (
    <button
      type="button"
      className={`${styles.tile} ${styles[relation]} ${module.state === "ready" ? styles.ready : ""}`}
      onClick={() => onChoose(module.name)}
      onDoubleClick={() => onOpen(module.name)}
      aria-pressed={relation === "chosen"}
      aria-label={zoom === 2 ? label : undefined}
      title={zoom === 0 ? undefined : label}
      data-module={module.name}
      data-relation={relation}
      style={zoom === 0 ? { minWidth: Math.max(150, width + 20) } : undefined}
    >
      {zoom < 2 && (
        <span className={styles.tileName}>
          <Mark mark={module.mark} stale={module.stale} />
          <span>{module.name}</span>
          {zoom === 0 && WORDS[relation] && (
            <span className={relation === "needed" ? "steel" : "copper"}>{WORDS[relation]}</span>
          )}
          {module.drift && <span className={styles.drifted}>{zoom === 0 ? "drifted" : "d"}</span>}
          {zoom === 0 && isMixed && (
            <span className={styles.pull} title="Has both the old way of a phrase and the new">
              old and new
            </span>
          )}
          {zoom === 0 && module.pull && (
            <span className={styles.pull}>{module.pull === "wanted" ? "wanted soon" : "pulled along"}</span>
          )}
        </span>
      )}
      <TwinBar
        segments={zoom === 2 ? [wholeOf(module)] : module.bar}
        width={width}
        height={[22, 14, 14][zoom] ?? 14}
        label={label}
      />
      {zoom === 0 && <span className={styles.tileFacts}>{words}</span>}
    </button>
  );
});

/** A module as one segment, where its sections would be too small to be seen. */
function wholeOf(module: ModuleView): ModuleView["bar"][number] {
  const shades = new Set(module.bar.map(({ twin }) => twin));
  const twin = (["differ", "agree", "present", "none"] as const).find((shade) => shades.has(shade)) ?? "none";
  const proven = module.provenLines === null || module.lines === 0 ? null : module.provenLines / module.lines;
  return { name: module.name, lines: Math.max(1, module.textLines), proven, twin };
}

/** The most important fact about a module, in a few words. */
function describeModule(module: ModuleView, all: readonly ModuleView[]): string {
  const { totals, state } = module;
  const lines = `${formatCount(module.textLines)} lines`;
  const bad = totals.differ + totals.broken;
  if (module.drift) return `${lines}, ${driftWords(module.drift)}`;
  if (module.stale) return `${lines}, changed since its check`;
  if (bad > 0) return `${lines}, ${bad} of ${totals.cases} ${totals.differ === 0 ? "broken" : "differ"}`;
  if (totals.unsteady > 0) return `${lines}, ${totals.unsteady} unsteady`;
  if (state === "agrees" || state === "proven")
    return `${lines}, ${STATE_WORDS[state]}${totals.allowed > 0 ? `, ${totals.allowed} allowed` : ""}`;
  if (totals.skipped > 0 && state === "under-way") return `${lines}, ${totals.skipped} cases wait`;
  const held = state === "waiting" ? waitsFor(module, all) : [];
  if (held.length > 0) return `${lines}, waits for ${held.length > 2 ? `${held.length} modules` : held.join(" and ")}`;
  return `${lines}, ${STATE_WORDS[state]}`;
}
