/** Watches folders and reports changed files shortly after the last save of a burst. */
import path from "node:path";
import { watch } from "chokidar";
import picomatch from "picomatch";
import { ALWAYS_IGNORED } from "@/engine/files/tree";

/** A running watch. */
export type Watcher = { readonly close: () => Promise<void> };

const SETTLE_MS = 60;

/** Calls back with absolute paths. `ignore` are glob patterns relative to any of the folders. */
export function watchFolders(
  folders: readonly string[],
  ignore: readonly string[],
  onChange: (paths: readonly string[]) => void,
): Watcher {
  const unique = [...new Set(folders)];
  const isIgnored = picomatch(
    [...ALWAYS_IGNORED, ...ignore].map((pattern) => (pattern.startsWith("**/") ? pattern : `**/${pattern}`)),
    { dot: true },
  );
  const changed = new Set<string>();
  let timer: NodeJS.Timeout | null = null;
  const watcher = watch(unique, {
    ignoreInitial: true,
    followSymlinks: false,
    ignored: (file) => {
      const home = unique.find((folder) => file.startsWith(folder + path.sep));
      return (
        home !== undefined && (isIgnored(path.relative(home, file)) || isIgnored(`${path.relative(home, file)}/x`))
      );
    },
  });
  watcher.on("all", (_event, file) => {
    changed.add(path.resolve(file));
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => {
      const paths = [...changed];
      changed.clear();
      onChange(paths);
    }, SETTLE_MS);
  });
  return {
    close: async () => {
      if (timer) clearTimeout(timer);
      await watcher.close();
    },
  };
}
