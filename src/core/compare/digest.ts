/**
 * A short digest of bytes: MurmurHash3 (Austin Appleby, public domain, x86 32-bit variant) from two seeds, as 16
 * hexadecimal digits. Guards against accidental, not deliberate collisions. Linear in the bytes.
 */
export function digestOf(data: Uint8Array): string {
  return murmur(data, 0x51de).toString(16).padStart(8, "0") + murmur(data, 0x7e14).toString(16).padStart(8, "0");
}

function murmur(data: Uint8Array, seed: number): number {
  let hash = seed;
  for (let at = 0; at < data.length; at += 4) {
    let block =
      (data[at] ?? 0) | ((data[at + 1] ?? 0) << 8) | ((data[at + 2] ?? 0) << 16) | ((data[at + 3] ?? 0) << 24);
    block = Math.imul(block, 0xcc9e2d51);
    block = Math.imul((block << 15) | (block >>> 17), 0x1b873593);
    hash ^= block;
    if (at + 4 <= data.length) hash = (Math.imul((hash << 13) | (hash >>> 19), 5) + 0xe6546b64) | 0;
  }
  hash ^= data.length;
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}
