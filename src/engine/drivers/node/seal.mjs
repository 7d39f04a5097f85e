/**
 * Seals replies, so that nothing but the driver can answer in its name: each carries a tag of the secret that came with the
 * greeting, before any ported code ran. Block B of sixteen tags is the SHA-512 of `SECRET:B`.
 */
import { hash } from "node:crypto";

const TAG_LENGTH = 8;
const TAGS = 16;
// Taken hold of before ported code can replace it.
const slice = Function.prototype.call.bind(String.prototype.slice);

/** A function from a reply's id to its tag. */
export function createSeal(secret) {
  let known = null;
  const tags = [];
  return (id) => {
    const block = id >> 4;
    if (block !== known) {
      known = block;
      const text = hash("sha512", `${secret}:${block}`);
      for (let at = 0; at < TAGS; at++) tags[at] = slice(text, at * TAG_LENGTH, (at + 1) * TAG_LENGTH);
    }
    return tags[id & 15];
  };
}
