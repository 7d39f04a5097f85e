/** The views of a port, in the order of the work: one line each. The strip links to them and their keys hold everywhere. */

/** The views by name. */
export type ViewName =
  | "ports"
  | "baseline"
  | "survey"
  | "order"
  | "bench"
  | "cases"
  | "phrasebook"
  | "journal"
  | "settings";

/** One view. */
export type ViewEntry = {
  readonly name: ViewName;
  readonly title: string;
  /** Pressed with Shift. */
  readonly key: string;
  /** Null: the view is not of one port. */
  readonly path: string | null;
  /** Whether its address names a module. */
  readonly needsModule?: boolean;
};

/** All views, in the order of the work. */
export const VIEWS: readonly ViewEntry[] = [
  { name: "ports", title: "Ports", key: "P", path: null },
  { name: "baseline", title: "Baseline", key: "B", path: "baseline" },
  { name: "survey", title: "Survey", key: "S", path: "survey" },
  { name: "order", title: "Order", key: "O", path: "order" },
  { name: "bench", title: "Bench", key: "E", path: "bench", needsModule: true },
  { name: "cases", title: "Cases", key: "C", path: "cases" },
  { name: "phrasebook", title: "Phrasebook", key: "H", path: "phrasebook" },
  { name: "journal", title: "Journal", key: "J", path: "journal" },
  { name: "settings", title: "Settings", key: "T", path: "settings" },
];

/** The address of a view; null where it cannot be shown, without a port or a module. */
export function viewHref(
  { path, needsModule }: ViewEntry,
  at: { readonly port: string | null; readonly twin: string | null; readonly module: string | null },
): string | null {
  if (path === null) return "/";
  if (at.port === null || (needsModule && at.module === null)) return null;
  const query = new URLSearchParams({
    ...(needsModule && at.module !== null ? { module: at.module } : {}),
    ...(at.twin === null ? {} : { twin: at.twin }),
  });
  const text = query.toString();
  return `/port/${encodeURIComponent(at.port)}/${path}${text ? `?${text}` : ""}`;
}
