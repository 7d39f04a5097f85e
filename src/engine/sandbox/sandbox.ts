/**
 * The sandbox of ported code, where available: bubblewrap gives it a read-only view of the machine with only its
 * scratch folders writable, its own process ids, no capabilities, no network, and none of the sockets of other
 * programs. Without it, the drivers' guards and the process limits remain; the check reports which protections hold.
 */
import { spawnSync } from "node:child_process";
import { existsSync, readFileSync, realpathSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { ALL_DRIVERS } from "@/engine/drivers/index";

const BUBBLEWRAP = ["/usr/bin/bwrap", "/usr/local/bin/bwrap", "/bin/bwrap"];
const BASE = [
  "--ro-bind",
  "/",
  "/",
  "--dev",
  "/dev",
  "--proc",
  "/proc",
  "--unshare-pid",
  "--unshare-ipc",
  "--die-with-parent",
  // As root it would keep the right to mount, and with it the way to everything that is read-only.
  "--cap-drop",
  "ALL",
  // Prevents typing into the terminal that started Side Twin.
  "--new-session",
];
const NO_NETWORK = "--unshare-net";

/** Where services put their sockets; what toolchains or name resolution need of it is put back. */
const SERVICES = "/run";
const PUT_BACK = ["/run/current-system", "/run/wrappers", "/run/systemd/resolve", "/run/resolvconf"];

let found: string | null | undefined;

/** The program, or null when it is not installed or the kernel does not let it work. SIDE_TWIN_SANDBOX=off passes it over. */
export function findSandbox(): string | null {
  if (process.env.SIDE_TWIN_SANDBOX === "off") return null;
  if (found !== undefined) return found;
  const program = BUBBLEWRAP.find((file) => existsSync(file)) ?? null;
  const works =
    program !== null &&
    spawnSync(program, [...BASE, NO_NETWORK, ...hideSockets([]), "true"], { stdio: "ignore", timeout: 5000 }).status ===
      0;
  found = works ? program : null;
  return found;
}

/** A command, wrapped in the sandbox where there is one. */
export type Confinement = { readonly command: readonly string[]; readonly isSandboxed: boolean };

/** The folders that it may write to, and whether it may use the network. */
export type ConfineTerms = {
  readonly writable: readonly string[];
  readonly network: boolean;
  /** The port's own commands: as root they may write to folders whose mode forbids it, as they would without a sandbox. */
  readonly isOwn?: boolean;
};

/** The command as it is started: in the sandbox when there is one. */
export function confine(command: readonly string[], { writable, network, isOwn = false }: ConfineTerms): Confinement {
  const program = findSandbox();
  if (program === null) return { command, isSandboxed: false };
  const binds = writable.flatMap((folder) => ["--bind", folder, folder]);
  const rights = isOwn && process.getuid?.() === 0 ? ["--cap-add", "CAP_DAC_OVERRIDE"] : [];
  const args = [...BASE, ...rights, ...(network ? [] : [NO_NETWORK]), ...hideSockets(writable), ...binds];
  return { command: [program, ...args, "--", ...command], isSandboxed: true };
}

/** Bubblewrap gave up before it started the command, as it does when a socket to hide has just disappeared. */
export const isSandboxFailure = ({ stdout, stderr }: { readonly stdout: Buffer; readonly stderr: Buffer }): boolean =>
  stdout.length === 0 && stderr.toString("utf8", 0, 100).startsWith("bwrap: Can't ");

/** A socket with a name in the file system can be reached through the read-only view: an empty file is laid over each. */
function hideSockets(writable: readonly string[]): string[] {
  const services = existsSync(SERVICES)
    ? ["--tmpfs", SERVICES, ...PUT_BACK.flatMap((folder) => ["--ro-bind-try", folder, folder])]
    : [];
  const own = [SERVICES, ...writable, path.join(realpathSync(tmpdir()), "side-twin-")];
  const others = listeningSockets().filter((file) => !own.some((start) => file.startsWith(start)) && existsSync(file));
  return [...services, ...others.flatMap((file) => ["--ro-bind", "/dev/null", file])];
}

/** `__SO_ACCEPTCON`: the socket is listening. */
const LISTENS = 0x10000;

/** The paths of the sockets on which programs listen (proc(5), /proc/net/unix), and those that the environment names. */
function listeningSockets(): string[] {
  const named = [process.env.SSH_AUTH_SOCK, process.env.DOCKER_HOST?.replace(/^unix:\/\//, "")];
  return [...new Set([...named, ...boundSockets()])].filter((file) => file?.startsWith("/")) as string[]; // no undefined is left
}

function boundSockets(): string[] {
  let text: string;
  try {
    text = readFileSync("/proc/net/unix", "utf8");
  } catch {
    // A system without it has no bubblewrap either.
    return [];
  }
  return text.split("\n").flatMap((line) => {
    const [, , , flags = "0", , , , ...name] = line.split(/\s+/);
    return Number.parseInt(flags, 16) & LISTENS ? [name.join(" ")] : [];
  });
}

/** Describes the protections that hold on this machine, for the report and the screens. */
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
  if (!findSandbox()) {
    return [
      ...always,
      "bubblewrap is not installed or does not work here: ported code can use the network, and read and write what you can",
      `calls in ${ALL_DRIVERS.map(({ title }) => title).join(", ")} cannot write outside the scratch folder through the usual functions`,
      "prepare commands are not confined",
    ];
  }
  return [
    ...always,
    "no network and no sockets of running services (bubblewrap)",
    "writes only to its scratch folder, even as root (bubblewrap, all capabilities dropped)",
    "can read every file that you can read",
    "prepare commands write only to their side's folder, and use the network only with prepareNetwork (bubblewrap)",
  ];
}
