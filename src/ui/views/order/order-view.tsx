"use client";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { type ErrorRecord, toErrorRecord } from "@/core/errors";
import type { ModuleView, OrderView as Order } from "@/core/progress/views";
import { ApiError, benchHref, call, portPath } from "@/ui/api";
import { formatCount } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { Mark } from "@/ui/marks/mark";
import type { Key } from "@/ui/state/use-keys";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useResource } from "@/ui/state/use-resource";
import { TwinBar } from "@/ui/twin-bar/twin-bar";
import styles from "@/ui/views/order/order.module.css";
import { OrderSide, STATE_WORDS } from "@/ui/views/order/order-side";

/** Every module as a twin bar, in layers: what depends on nothing lies at the bottom. */
export function OrderView({ id, twin }: { id: string; twin: string | null }) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useResource<Order>(portPath(id, "order", { twin }));
  const [chosen, setChosen] = useState<string | null>(null);
  const { version, fresh } = events;
  // Each new version of the port is loaded.
  useEffect(() => {
    if (version > 1 || fresh.size > 0) reload();
  }, [version, fresh, reload]);
  const layers = data ? layersOf(data.modules) : [];
  const selected =
    data?.modules.find((module) => module.name === (chosen ?? data.port.next?.module)) ?? data?.modules[0] ?? null;
  const walk = (rows: number, columns: number) =>
    selected && setChosen(neighbour(layers, selected, rows, columns).name);
  const open = (module: ModuleView) => router.push(benchHref(id, module.name, twin));
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const pin = (module: ModuleView) => {
    const pinned = !(data?.pull.wanted.includes(module.name) ?? false);
    call(portPath(id, "pin"), { method: "POST", body: { module: module.name, pinned } }).then(
      () => {
        setRefusal(null);
        reload();
      },
      (thrown: unknown) => setRefusal(thrown instanceof ApiError ? thrown.record : toErrorRecord(thrown)),
    );
  };
  const keys: Key[] = [
    { key: "ArrowLeft", shows: "←", does: "module to the left", run: () => walk(0, -1) },
    { key: "ArrowRight", shows: "→", does: "module to the right", run: () => walk(0, 1) },
    { key: "ArrowUp", shows: "↑", does: "a layer up", run: () => walk(-1, 0) },
    { key: "ArrowDown", shows: "↓", does: "a layer down", run: () => walk(1, 0) },
    { key: "Enter", does: "open on the Bench", run: () => selected && open(selected) },
    { key: "i", does: "want the chosen module soon, or no longer", run: () => selected && pin(selected) },
    { key: "c", does: "check the whole port", run: () => events.start(twin ? { twin } : {}) },
    {
      key: "m",
      does: "check the chosen module",
      run: () => selected && events.start({ module: selected.name, ...(twin ? { twin } : {}) }),
    },
    {
      key: "f",
      does: "check afresh, using no kept answer",
      run: () => events.start({ ...(twin ? { twin } : {}), fresh: true }),
    },
    { key: "x", does: "stop the check", run: events.stop },
  ];
  return (
    <PortFrame
      port={data?.port ?? null}
      view="order"
      modules={data?.modules.map((module) => module.name) ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error ?? refusal}
    >
      {data && selected && (
        <div className={styles.body}>
          <main className={styles.map} aria-label="Modules in layers">
            {layers.map((layer, index) => (
              <section
                key={layer[0]?.layer ?? index}
                className={styles.layer}
                aria-label={`layer ${layers.length - index}`}
              >
                {layer.map((module) => (
                  <ModuleTile
                    key={module.name}
                    module={module}
                    relation={relationOf(module, selected)}
                    onChoose={() => setChosen(module.name)}
                    onOpen={() => open(module)}
                  />
                ))}
              </section>
            ))}
            <p className={styles.legend}>
              Upper band: the original, solid as far as it is proven. Lower band: the twin,{" "}
              <span className="copper">copper</span> where it agrees, <span className="madder">red</span> where it
              differs, dotted where nothing is there yet. Modules at the bottom need nothing.
            </p>
          </main>
          <OrderSide
            order={data}
            module={selected}
            twin={twin}
            running={events.running}
            onCheck={events.start}
            onPin={pin}
          />
        </div>
      )}
    </PortFrame>
  );
}

function layersOf(modules: readonly ModuleView[]): ModuleView[][] {
  const layers: ModuleView[][] = [];
  for (const module of modules) {
    layers[module.layer] ??= [];
    layers[module.layer]?.push(module);
  }
  return layers.filter(Boolean).reverse();
}

function neighbour(layers: readonly ModuleView[][], from: ModuleView, rows: number, columns: number): ModuleView {
  const row = layers.findIndex((layer) => layer.includes(from));
  const column = layers[row]?.indexOf(from) ?? 0;
  const next = layers[Math.max(0, Math.min(layers.length - 1, row + rows))] ?? [];
  return next[Math.max(0, Math.min(next.length - 1, column + columns))] ?? from;
}

type Relation = "chosen" | "needed" | "waits" | "other";

function relationOf(module: ModuleView, selected: ModuleView): Relation {
  if (module.name === selected.name) return "chosen";
  if (selected.needs.includes(module.name)) return "needed";
  return selected.neededBy.includes(module.name) ? "waits" : "other";
}

type TileProps = {
  readonly module: ModuleView;
  readonly relation: Relation;
  readonly onChoose: () => void;
  readonly onOpen: () => void;
};

function ModuleTile({ module, relation, onChoose, onOpen }: TileProps) {
  const width = Math.max(64, Math.min(300, module.textLines * 1.35));
  const word = { chosen: "", other: "", needed: "needed", waits: "rests on it" }[relation];
  return (
    <button
      type="button"
      className={`${styles.tile} ${styles[relation]}`}
      onClick={onChoose}
      onDoubleClick={onOpen}
      aria-pressed={relation === "chosen"}
      data-module={module.name}
      style={{ minWidth: Math.max(150, width + 20) }}
    >
      <span className={styles.tileName}>
        <Mark mark={module.mark} stale={module.stale} />
        <span>{module.name}</span>
        {word && <span className={relation === "needed" ? "steel" : "copper"}>{word}</span>}
        {module.pull && (
          <span className={styles.pull}>{module.pull === "wanted" ? "wanted soon" : "pulled along"}</span>
        )}
      </span>
      <TwinBar segments={module.bar} width={width} height={22} label={`${module.name}: ${describeModule(module)}`} />
      <span className={styles.tileFacts}>{describeModule(module)}</span>
    </button>
  );
}

/** What matters most of a module, in a few words. */
function describeModule(module: ModuleView): string {
  const { totals, state } = module;
  const lines = `${formatCount(module.textLines)} lines`;
  const bad = totals.differ + totals.broken;
  if (module.stale) return `${lines}, changed since its check`;
  if (bad > 0) return `${lines}, ${bad} of ${totals.cases} ${totals.differ === 0 ? "broken" : "differ"}`;
  if (totals.unsteady > 0) return `${lines}, ${totals.unsteady} unsteady`;
  if (state === "agrees" || state === "proven")
    return `${lines}, ${STATE_WORDS[state]}${totals.allowed > 0 ? `, ${totals.allowed} allowed` : ""}`;
  if (totals.skipped > 0 && state === "under-way") return `${lines}, ${totals.skipped} cases wait`;
  return `${lines}, ${STATE_WORDS[state]}`;
}
