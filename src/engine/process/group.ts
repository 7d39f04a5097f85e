/** Process groups: everything that was started is ended, children included, whatever happens to this process. */
import { type ChildProcess, type SpawnOptions, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import { killLeft, Left } from "@/engine/process/left-behind";
import { measureTree, type TreeUse } from "@/engine/process/tree";
import { confine } from "@/engine/sandbox/sandbox";

const running = new Set<ChildProcess>();
let watching = false;

/** How many started processes have not ended; tests check that none are left. */
export const runningCount = (): number => running.size;

/** Makes the kernel end the child when this process dies, even by SIGKILL. Undefined where it is not installed. */
const SETPRIV = ["/usr/bin/setpriv", "/bin/setpriv"].find((file) => existsSync(file));

const MARKED = "SIDE_TWIN_STARTED_BY";
let marks = 0;

/** Mark → facts about the processes started with it. */
const owned = new Map<string, Left>();

/** A mark for the environment of what one owner starts, children of children included. */
export const newMark = (): string => `${process.pid}-${Date.now()}-${marks++};`;

type GroupOptions = SpawnOptions & {
  /** Folders that ported code may write to; when given, it runs in the sandbox if there is one. */
  readonly writable?: readonly string[];
  /** Whether the sandbox leaves it the network. */
  readonly network?: boolean;
  /** One of the port's own commands; see `confine`. */
  readonly isOwn?: boolean;
  /** Identifies processes that it leaves behind. */
  readonly mark?: string;
};

/** Starts a command as the leader of its own process group. */
export function startGroup(command: readonly string[], given: GroupOptions): ChildProcess {
  const { writable, network = false, isOwn = false, mark, ...options } = given;
  const confined = writable ? confine(command, { writable, network, isOwn }) : { command, isSandboxed: false };
  // The sandbox ends with its parent by itself.
  const isBound = SETPRIV !== undefined && !confined.isSandboxed;
  const whole = isBound ? [SETPRIV, "--pdeathsig", "KILL", "--", ...command] : [...confined.command];
  const [program = "", ...args] = whole;
  const env: NodeJS.ProcessEnv = { ...(options.env ?? process.env), ...(mark ? { [MARKED]: mark } : {}) };
  const child: ChildProcess = spawn(program, args, { ...options, env, detached: true });
  if (mark && !confined.isSandboxed) {
    const left = owned.get(mark) ?? new Left(`${MARKED}=${mark}`);
    owned.set(mark, left);
    left.started(child.pid, writable ?? []);
  }
  running.add(child);
  child.once("close", () => running.delete(child));
  child.once("error", () => running.delete(child));
  if (!watching) {
    watching = true;
    process.once("exit", () => running.forEach(killGroup));
  }
  return child;
}

/** Ends a whole group for good. Safe to call on one that has ended. */
export function killGroup(child: ChildProcess): void {
  if (child.pid === undefined) return;
  try {
    process.kill(-child.pid, "SIGKILL");
  } catch (error) {
    if (!isNoSuchProcess(error)) throw error;
  }
}

/** Measures the processes with a mark, and remembers its children in case they leave the group. */
export function measureGroup(child: Pick<ChildProcess, "pid">, mark: string | undefined): TreeUse {
  const use = measureTree(child.pid);
  if (mark !== undefined) owned.get(mark)?.seen(use.pids);
  return use;
}

/** Ends what the processes of a mark left behind outside their groups. In a sandbox nothing can leave. */
export function killStrays(mark: string): void {
  const left = owned.get(mark);
  owned.delete(mark);
  if (left) killLeft(left);
}

const isNoSuchProcess = (error: unknown): boolean =>
  error instanceof Error && "code" in error && (error.code === "ESRCH" || error.code === "EPERM");
