/**
 * Seals replies, so that nothing but the driver can answer in its name: each carries a tag of the secret that came with the
 * greeting, before any ported code ran. Block B of four tags is the SHA-256 of `SECRET:B`.
 */
import { hash } from "node:crypto";

const TAG_LENGTH = 16;

/** A function from a reply's id to its tag. */
export function createSeal(secret) {
  let [known, tags] = [null, ""];
  return (id) => {
    const block = id >> 2;
    if (block !== known) {
      known = block;
      tags = hash("sha256", `${secret}:${block}`);
    }
    const at = (id & 3) * TAG_LENGTH;
    let tag = "";
    for (let place = at; place < at + TAG_LENGTH; place++) tag += tags[place];
    return tag;
  };
}
