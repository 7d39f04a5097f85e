/** Seals that distinguish a driver's replies from anything ported code writes to the same pipe. */
import { hash, randomBytes } from "node:crypto";

/** A wrong guess ends the driver: one in four thousand million is right. */
const TAG_LENGTH = 8;

/**
 * One driver's seal. Its secret is sent with the greeting, before ported code runs; block B of sixteen tags is the
 * SHA-512 of `SECRET:B`, so that past tags do not reveal future ones.
 */
export class Seal {
  readonly secret = randomBytes(32).toString("hex");
  private block: number | null = null;
  private tags = "";

  /** Where the seal of the reply to a request ends in a line, an offset; -1 when it does not carry that seal. */
  endIn(line: string, id: number): number {
    const start = `{"id":${id},"tag":"${this.tagOf(id)}"`;
    return line.startsWith(start) ? start.length : -1;
  }

  private tagOf(id: number): string {
    const block = id >> 4;
    if (block !== this.block) {
      this.block = block;
      this.tags = hash("sha512", `${this.secret}:${block}`);
    }
    const at = (id & 15) * TAG_LENGTH;
    return this.tags.slice(at, at + TAG_LENGTH);
  }
}
