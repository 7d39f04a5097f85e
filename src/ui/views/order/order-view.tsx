"use client";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useMemo, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { ModuleView } from "@/api/views";
import type { ErrorRecord } from "@/core/errors";
import { ask, benchHref, recordOf } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { PortFrame } from "@/ui/frame/port-frame";
import { layersOf, neighbour, readZoom, type Walk, walkAlong, ZOOMS, type Zoom, zoomFor } from "@/ui/state/order-map";
import { useAddress } from "@/ui/state/use-address";
import type { Key } from "@/ui/state/use-keys";
import { useLadder } from "@/ui/state/use-ladder";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { EffortFoot } from "@/ui/views/order/effort-foot";
import { LadderBand } from "@/ui/views/order/ladder-band";
import { EXCLUDE } from "@/ui/views/order/leave-out";
import styles from "@/ui/views/order/order.module.css";
import { OrderMap } from "@/ui/views/order/order-map";
import { OrderSide } from "@/ui/views/order/order-side";

type OrderProps = {
  readonly id: string;
  readonly twin: string | null;
  readonly initialModule: string | null;
  /** The name of a zoom. */
  readonly initialZoom: string | null;
};

const NONE: readonly string[] = [];

/** Every module as a twin bar, in layers: what depends on nothing lies at the bottom. */
export function OrderView({ id, twin, initialModule, initialZoom }: OrderProps) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.order, { twin }, id);
  const [chosen, setChosen] = useState<string | null>(initialModule);
  const layers = useMemo(() => (data ? layersOf(data) : []), [data]);
  const [wantedZoom, setZoom] = useState<Zoom | null>(readZoom(initialZoom));
  const zoom = wantedZoom ?? zoomFor(data?.modules.length ?? 0);
  const selected =
    data?.modules.find((module) => module.name === (chosen ?? data.port.next?.module)) ?? data?.modules[0] ?? null;
  useAddress({ module: chosen, zoom: wantedZoom === null ? null : ZOOMS[wantedZoom] });
  const [walk, setWalk] = useState<Walk>(null);
  const choose = useCallback((module: string) => {
    setWalk(null);
    setChosen(module);
  }, []);
  const step = (rows: number, columns: number) => selected && choose(neighbour(layers, selected, rows, columns).name);
  const along = (side: "needs" | "neededBy") => {
    if (!data || !selected) return;
    const next = walkAlong(data.modules, selected, { walk, side });
    setWalk(next.walk);
    setChosen(next.chosen);
  };
  const open = useCallback((module: string) => router.push(benchHref(id, module, twin)), [router, id, twin]);
  const chosenName = selected?.name;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another zoom lays the map out again
  useEffect(() => {
    if (chosenName)
      document.querySelector(`[data-module="${CSS.escape(chosenName)}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosenName, zoom]);
  const counts = useView(ROUTES.counts, data ? { twin: data.port.twin } : null, id);
  const ladder = useLadder(id, data?.port.twin ?? null);
  const notice = useNotice();
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const pin = (module: ModuleView) => {
    const pinned = !(data?.pull.wanted.includes(module.name) ?? false);
    const set = async (to: boolean) => {
      await ask(ROUTES.pin, { module: module.name, pinned: to }, { port: id });
      reload();
    };
    set(pinned).then(
      () => {
        setRefusal(null);
        notice({
          text: `${pinned ? "Pinned" : "Unpinned"} ${module.name}, saved in side-twin.json.`,
          undo: () => set(!pinned),
        });
      },
      (thrown: unknown) => setRefusal(recordOf(thrown)),
    );
  };
  const keys: Key[] = [
    { key: "ArrowLeft", shows: "←", does: "module to the left", run: () => step(0, -1) },
    { key: "ArrowRight", shows: "→", does: "module to the right", run: () => step(0, 1) },
    { key: "ArrowUp", shows: "↑", does: "a layer up", run: () => step(-1, 0) },
    { key: "ArrowDown", shows: "↓", does: "a layer down", run: () => step(1, 0) },
    { key: "<", does: "to what it uses; again for the next of them", run: () => along("needs") },
    { key: ">", does: "to what uses it; again for the next of them", run: () => along("neededBy") },
    { key: "+", does: "zoom in", run: () => setZoom(Math.max(0, zoom - 1) as Zoom) }, // 0 to 2
    { key: "-", does: "zoom out", run: () => setZoom(Math.min(2, zoom + 1) as Zoom) }, // 0 to 2
    { key: "Enter", does: "open on the Bench", run: () => selected && open(selected.name) },
    { key: "i", does: "pin the chosen module, or unpin it", run: () => selected && pin(selected) },
    { key: "Delete", shows: "Del", does: EXCLUDE },
    { key: "c", does: "check the whole port", run: () => events.start(twin ? { twin } : {}) },
    {
      key: "v",
      does: "check the chosen module",
      run: () => selected && events.start({ module: selected.name, ...(twin ? { twin } : {}) }),
    },
    {
      key: "F",
      does: "check again without kept answers",
      run: () => events.start({ ...(twin ? { twin } : {}), fresh: true }),
    },
    { key: "l", does: "run the checks of the ladder, or stop them", run: ladder.toggle },
    { key: "x", does: "stop the check", run: events.stop },
  ];
  return (
    <PortFrame
      port={data?.port ?? null}
      view="order"
      module={selected?.name ?? null}
      modules={data?.modules.map((module) => module.name) ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error ?? refusal ?? ladder.problem}
    >
      {data && selected && (
        <div className={styles.body}>
          <main className={styles.map} aria-label="Modules in layers">
            <LadderBand
              ladder={ladder.view}
              module={selected.name}
              building={ladder.building}
              onBuild={ladder.toggle}
              port={id}
              twin={data.port.twin}
            />
            <div className={styles.layers}>
              <OrderMap
                order={data}
                layers={layers}
                chosen={selected}
                zoom={zoom}
                mixed={counts.data?.mixed ?? NONE}
                onChoose={choose}
                onOpen={open}
              />
              <p className={styles.legend}>
                Upper band: the original, solid as far as it is proven. Lower band: the twin,{" "}
                <span className="copper">copper</span> where it agrees, <span className="madder">red</span> where it
                differs, dotted where nothing is there yet. Modules at the bottom need nothing.{" "}
                <span className={styles.zooms}>
                  {ZOOMS.map((name, index) => (
                    <button
                      key={name}
                      type="button"
                      aria-pressed={zoom === index}
                      onClick={() => setZoom(index as Zoom)} // as many as there are
                    >
                      {name}
                    </button>
                  ))}
                </span>
              </p>
            </div>
            <EffortFoot effort={data.effort} />
          </main>
          <OrderSide
            order={data}
            module={selected}
            ladder={ladder.view}
            twin={twin}
            running={events.running}
            onCheck={events.start}
            onPin={pin}
            onChoose={choose}
            onChanged={() => {
              setChosen(selected.name);
              reload();
            }}
          />
        </div>
      )}
    </PortFrame>
  );
}
