/**
 * One driver process: starts it, writes requests, reads replies in order, and reports how it ended. Output of ported
 * code goes to its own file (descriptor 1); the tail of standard error is kept.
 */
import type { ChildProcess } from "node:child_process";
import {
  closeSync,
  fstatSync,
  ftruncateSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readSync,
  realpathSync,
  rmSync,
} from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import type { Writable } from "node:stream";
import { afterPause, isSomebodyWaiting } from "@/engine/pace";
import { killGroup, killStrays, measureGroup, newMark, startGroup } from "@/engine/process/group";
import { describeExit } from "@/engine/process/run";
import type { TreeUse } from "@/engine/process/tree";

const KEPT_STDERR = 4000;
const KEPT_OUTPUT = 2000;

/** Callbacks of a driver process. */
export type DriverEvents = {
  /** Called with each line that the driver writes. */
  readonly onReply: (line: string) => void;
  /** Called once, with how the process ended. */
  readonly onEnd: (how: string) => void;
};

/** One running driver; use `close` or `kill` to end it. */
export class DriverProcess {
  private readonly child: ChildProcess;
  private readonly requests: Writable;
  private readonly folder: string;
  private readonly output: number;
  private stderr = "";
  private rest: Buffer[] = [];
  private batch: string[] = [];
  private ended = false;
  private readonly mark = newMark();

  /** Ported code may write to its scratch folder and its folder for temporary files, nowhere else. */
  constructor(
    command: readonly string[],
    options: { readonly cwd: string; readonly env: NodeJS.ProcessEnv; readonly scratch: string | null },
    events: DriverEvents,
  ) {
    this.folder = realpathSync(mkdtempSync(path.join(tmpdir(), "side-twin-")));
    const temporary = path.join(this.folder, "tmp");
    mkdirSync(temporary);
    const file = path.join(this.folder, "printed");
    const writeEnd = openSync(file, "a+");
    this.output = openSync(file, "r+");
    this.child = startGroup(command, {
      cwd: options.cwd,
      env: { ...options.env, TMPDIR: temporary },
      writable: [temporary, ...(options.scratch ? [options.scratch] : [])],
      mark: this.mark,
      stdio: ["ignore", writeEnd, "pipe", "pipe", "pipe"],
    });
    closeSync(writeEnd);
    const [, , , requests, replies] = this.child.stdio;
    if (!requests || !("write" in requests) || !replies || !("read" in replies))
      throw new Error("driver pipes are missing");
    this.requests = requests;
    // A driver that died while we wrote is reported by its end, not by the broken pipe.
    this.requests.on("error", () => undefined);
    replies.on("error", () => undefined);
    replies.on("data", (chunk: Buffer) => {
      this.read(chunk, events);
      if (!isSomebodyWaiting()) return;
      replies.pause();
      afterPause(() => replies.resume());
    });
    this.child.stderr?.on("data", (chunk: Buffer) => {
      this.stderr = (this.stderr + chunk.toString("utf8")).slice(-KEPT_STDERR);
    });
    this.child.once("error", (error) => this.close(events, `it could not be started: ${error.message}`));
    this.child.once("exit", (code, signal) => {
      killGroup(this.child);
      const how = describeExit(code, signal);
      // Replies that were written before the end are still in the pipe: let them be read first.
      if (replies.destroyed) this.close(events, how);
      else replies.once("close", () => this.close(events, how));
      setTimeout(() => replies.destroy(), 200);
    });
  }

  private read(chunk: Buffer, events: DriverEvents): void {
    let start = 0;
    for (let end = chunk.indexOf(10); end !== -1; end = chunk.indexOf(10, start)) {
      let line = chunk.toString("utf8", start, end);
      if (this.rest.length > 0) {
        this.rest.push(chunk.subarray(start, end));
        line = Buffer.concat(this.rest).toString("utf8");
        this.rest = [];
      }
      start = end + 1;
      events.onReply(line);
    }
    if (start < chunk.length) this.rest.push(Buffer.from(chunk.subarray(start)));
  }

  private close(events: DriverEvents, how: string): void {
    if (this.ended) return;
    this.ended = true;
    // Before listeners are notified: the next driver works in the same folder, by which strays are recognised.
    killStrays(this.mark);
    events.onEnd(how);
    // Processes left running by the code may keep the other ends of the pipes open indefinitely.
    this.child.stderr?.destroy();
    this.requests.destroy();
    closeSync(this.output);
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** Queues one request; all that are queued in one turn leave in one write. */
  send(line: string): void {
    if (this.batch.length === 0) setImmediate(() => this.flush());
    this.batch.push(line);
  }

  private flush(): void {
    const text = `${this.batch.join("\n")}\n`;
    this.batch = [];
    if (!this.ended && this.requests.writable) this.requests.write(text);
  }

  get pid(): number | undefined {
    return this.child.pid;
  }

  use(): TreeUse {
    return measureGroup(this.child, this.mark);
  }

  /** Bytes printed by the case that runs now. */
  printedBytes(): number {
    return this.ended ? 0 : fstatSync(this.output).size;
  }

  /** The last that was seen of the code: standard error, and what the running case printed. */
  lastOutput(): string {
    if (this.ended) return this.stderr.trim();
    const size = fstatSync(this.output).size;
    const tail = Buffer.alloc(Math.min(size, KEPT_OUTPUT));
    readSync(this.output, tail, 0, tail.length, size - tail.length);
    return [tail.toString("utf8").trim(), this.stderr.trim()].filter(Boolean).join("\n").slice(-KEPT_STDERR);
  }

  kill(): void {
    // While it lives its children are known as its own; afterwards they have no parent.
    if (!this.ended) this.use();
    killGroup(this.child);
    if (!this.ended) ftruncateSync(this.output, 0);
  }

  /** Asks politely, then ends the group. */
  stop(): void {
    if (this.ended) return;
    this.use();
    killStrays(this.mark);
    this.batch = [];
    if (this.requests.writable) this.requests.end(`{"op":"bye"}\n`);
    setTimeout(() => killGroup(this.child), 300).unref();
  }
}
