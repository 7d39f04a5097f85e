/**
 * The sandbox of ported code, where the system offers one: bubblewrap gives it a read-only view of the machine with only
 * its scratch folders writable, process numbers of its own and no network. Where it is missing, the guards in the drivers
 * and the limits of the process group remain; the check says which hold.
 */
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";

const BUBBLEWRAP = ["/usr/bin/bwrap", "/usr/local/bin/bwrap", "/bin/bwrap"];
const BASE = [
  "--ro-bind",
  "/",
  "/",
  "--dev",
  "/dev",
  "--proc",
  "/proc",
  "--unshare-net",
  "--unshare-pid",
  "--die-with-parent",
];

let found: string | null | undefined;

/** The program, or null when it is not installed or the kernel does not let it work. SIDE_TWIN_SANDBOX=off passes it over. */
export function findSandbox(): string | null {
  if (process.env.SIDE_TWIN_SANDBOX === "off") return null;
  if (found !== undefined) return found;
  const program = BUBBLEWRAP.find((file) => existsSync(file)) ?? null;
  const works =
    program !== null && spawnSync(program, [...BASE, "true"], { stdio: "ignore", timeout: 5000 }).status === 0;
  found = works ? program : null;
  return found;
}

export type Confinement = { readonly command: readonly string[]; readonly isSandboxed: boolean };

/** The command as it is started: in the sandbox, with the folders that it may write to, when there is one. */
export function confine(command: readonly string[], writable: readonly string[]): Confinement {
  const program = findSandbox();
  if (program === null) return { command, isSandboxed: false };
  const binds = writable.flatMap((folder) => ["--bind", folder, folder]);
  return { command: [program, ...BASE, ...binds, "--", ...command], isSandboxed: true };
}

/** What holds for ported code on this machine, in words for the report and the screens. */
export function describeProtections(limits: {
  readonly timeMs: number;
  readonly memoryMb: number;
  readonly outputKb: number;
  readonly processes: number;
}): string[] {
  const always = [
    `at most ${limits.timeMs} ms, ${limits.memoryMb} MB of memory, ${limits.outputKb} KB of output and ${limits.processes} processes a case`,
    "program runs happen in a scratch copy of their folder",
  ];
  return findSandbox()
    ? [...always, "no network (bubblewrap)", "nothing outside its scratch folder can be written (bubblewrap)"]
    : [
        ...always,
        "writing outside the scratch folder is refused to calls of Python and Node.js only: bubblewrap is not to be had here",
      ];
}
