/** Pictures (PNG): size first, then pixel by pixel. */
import { encode } from "fast-png";
import { alignPictures } from "@/core/compare/aligned-documents";
import { comparer, pairOf } from "@/core/compare/comparers/comparer";
import type { ComparisonState } from "@/core/compare/comparison-state";
import { digestOf } from "@/core/compare/digest";
import { type Picture, readPicture } from "@/core/compare/picture";
import type { Value } from "@/core/values/value";

export const image = comparer<Picture>({
  kind: "image",
  title: "Picture (PNG)",
  description: "Its size, then every pixel: how many differ by more than a channel may, and the first that does.",
  read: ({ content }) => (typeof content === "string" ? null : readPicture(content)),
  compare: comparePictures,
  show: (at, both, name) => {
    const picture = alignPictures(at, name, both);
    const row = { at, label: at, depth: 0, differs: picture !== null };
    if (picture) return { picture, rows: [{ ...row, original: picture.original, twin: picture.twin }] };
    return { rows: [{ ...row, original: "the same picture", twin: "the same picture" }] };
  },
  fires: [pairOf("a.png", onePixel(0x10), onePixel(0x12))],
  staysQuiet: [pairOf("a.png", onePixel(0x10), onePixel(0x10))],
});

function comparePictures(
  state: ComparisonState,
  at: string,
  both: { readonly original: Picture; readonly twin: Picture },
): void {
  const { original, twin } = both;
  if (original.width !== twin.width || original.height !== twin.height) {
    state.report(`${at}.size`, "image-size", { original: sizeOf(original), twin: sizeOf(twin) });
    return;
  }
  const spread = spreadOf(original, twin);
  if (spread.first === -1) return;
  const values = { original: pixelAt(original, spread.first), twin: pixelAt(twin, spread.first) };
  if (state.settle(at, values)) return;
  const path = `${at}.pixels.${spread.first % original.width},${Math.floor(spread.first / original.width)}`;
  state.report(path, "image", values, { shareOver: (channel) => shareOver(spread, channel) });
}

type Spread = {
  /** The first pixel that differs, row by row; -1 for none. */
  readonly first: number;
  readonly pixels: number;
  /** Largest difference of a channel, in steps of 1/65535 → how many pixels have it. */
  readonly counts: ReadonlyMap<number, number>;
};

function spreadOf(original: Picture, twin: Picture): Spread {
  const counts = new Map<number, number>();
  let first = -1;
  const pixels = original.width * original.height;
  for (let pixel = 0; pixel < pixels; pixel++) {
    let most = 0;
    for (let at = pixel * 4; at < pixel * 4 + 4; at++) {
      const distance = Math.abs((original.rgba[at] ?? 0) - (twin.rgba[at] ?? 0));
      if (distance > most) most = distance;
    }
    if (most === 0) continue;
    if (first === -1) first = pixel;
    counts.set(most, (counts.get(most) ?? 0) + 1);
  }
  return { first, pixels, counts };
}

/** The share of pixels with a channel that differs by more than `channel` of 255 steps. */
function shareOver({ pixels, counts }: Spread, channel: number): number {
  let over = 0;
  for (const [distance, count] of counts) if (distance > channel * 257) over += count;
  return over / pixels;
}

const sizeOf = (picture: Picture): Value => facts(picture, { size: text(`${picture.width} × ${picture.height}`) });

/** Red, green, blue and opacity of a pixel, of 255; with a fraction where the picture has more depth. */
function pixelAt(picture: Picture, pixel: number): Value {
  const channels = [...picture.rgba.subarray(pixel * 4, pixel * 4 + 4)];
  const items = channels.map(
    (value): Value =>
      value % 257 === 0 ? { kind: "int", value: BigInt(value / 257) } : { kind: "float", value: value / 257 },
  );
  return facts(picture, { rgba: { kind: "list", items } });
}

/** Includes the digest of all pixels, so that an agreement covers exactly these two pictures. */
function facts({ rgba }: Picture, fields: Readonly<Record<string, Value>>): Value {
  const digest = text(digestOf(new Uint8Array(rgba.buffer, rgba.byteOffset, rgba.byteLength)));
  return {
    kind: "map",
    plain: true,
    entries: Object.entries({ ...fields, digest }).map(([key, value]) => [text(key), value]),
  };
}

const text = (value: string): Value => ({ kind: "text", value });

/** A grey picture of one pixel, for the examples. */
function onePixel(grey: number): Uint8Array {
  return encode({ width: 1, height: 1, data: new Uint8Array([grey]), depth: 8, channels: 1 });
}
