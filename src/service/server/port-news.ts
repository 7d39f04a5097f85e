/** Events of ports: subscribers, and watched folders. */

import type { PortEvent } from "@/api/port-event";
import { toErrorRecord } from "@/core/errors";
import { type Watcher, watchFolders } from "@/engine/watching/watch";
import type { OpenPorts } from "@/service/server/open-ports";

type Listener = (event: PortEvent) => void;

/** Events of ports. */
export class PortNews {
  private readonly listeners = new Map<string, Set<Listener>>();
  private readonly watchers = new Map<string, Watcher>();

  /** `onFiles` is called after the listeners heard of changed files. */
  constructor(
    private readonly ports: OpenPorts,
    private readonly onFiles: (id: string, paths: readonly string[]) => void,
  ) {}

  /** News of a port until the returned function is called; the first listener starts the watching of its folders. */
  subscribe(id: string, listener: Listener): () => void {
    const group = this.listeners.get(id) ?? new Set();
    group.add(listener);
    this.listeners.set(id, group);
    if (!this.watchers.has(id)) void this.watch(id);
    return () => group.delete(listener);
  }

  emit(id: string, event: PortEvent): void {
    for (const listener of this.listeners.get(id) ?? []) listener(event);
  }

  private async watch(id: string): Promise<void> {
    try {
      const { open } = await this.ports.readingOf(id);
      if (this.watchers.has(id)) return;
      const ignore = [...(open.original.ignore ?? []), ...open.twins.flatMap((twin) => twin.ignore ?? [])];
      this.watchers.set(
        id,
        watchFolders([open.folder, open.original.folder, ...open.twins.map((twin) => twin.folder)], ignore, (paths) => {
          this.emit(id, { type: "files", paths: [...paths] });
          this.onFiles(id, paths);
        }),
      );
    } catch (thrown) {
      process.stderr.write(`side-twin: the folders of a port cannot be watched: ${toErrorRecord(thrown).what}\n`);
    }
  }

  /** Stops watching a port's folders. */
  async unwatch(id: string): Promise<void> {
    await this.watchers.get(id)?.close();
    this.watchers.delete(id);
  }

  async close(): Promise<void> {
    await Promise.all([...this.watchers.values()].map((watcher) => watcher.close()));
  }
}
