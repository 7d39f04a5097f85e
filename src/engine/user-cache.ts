/** Folders in the user's cache, which may be deleted at any time: what is in them is made again. */
import { homedir } from "node:os";
import path from "node:path";

/** The path of a folder of Side Twin's own, such as `builds`; it may not be there yet. */
export const userCache = (name: string): string =>
  path.join(process.env.XDG_CACHE_HOME ?? path.join(homedir(), ".cache"), "side-twin", name);
