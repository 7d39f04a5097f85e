/** The seals by which a driver's replies are told from what ported code writes to the same pipe. */
import { createHash, randomBytes } from "node:crypto";

const TAG_LENGTH = 16;

/**
 * One driver's seal. Its secret goes out with the greeting, before any ported code runs; block B of four tags is the SHA-256
 * of `SECRET:B`, so that tags which were seen tell nothing of those to come.
 */
export class Seal {
  readonly secret = randomBytes(32).toString("hex");
  private block: number | null = null;
  private tags = "";

  /** What follows the seal in the reply to a request; null when it is not the seal of that reply. */
  open(line: string, id: number): string | null {
    const start = `{"id":${id},"tag":"${this.tagOf(id)}"`;
    return line.startsWith(start) ? line.slice(start.length) : null;
  }

  private tagOf(id: number): string {
    const block = id >> 2;
    if (block !== this.block) {
      this.block = block;
      this.tags = createHash("sha256").update(`${this.secret}:${block}`).digest("hex");
    }
    const at = (id & 3) * TAG_LENGTH;
    return this.tags.slice(at, at + TAG_LENGTH);
  }
}
