/** Pictures as numbers: read from PNG at their full depth, and the picture of where two of them differ. */
import { decode, encode } from "fast-png";

/** `rgba` holds four channels a pixel, row by row, each from 0 to 65535 (eight-bit values times 257, which is exact). */
export type Picture = { readonly width: number; readonly height: number; readonly rgba: Uint16Array };

/** Larger pictures are compared as bytes: both would not fit in memory. */
const MAX_PIXELS = 64 * 1024 * 1024;
const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

/** Returns null if the bytes are not a readable PNG, or the picture is too large. */
export function readPicture(data: Uint8Array): Picture | null {
  if (SIGNATURE.some((byte, index) => data[index] !== byte)) return null;
  const header = new DataView(data.buffer, data.byteOffset, data.byteLength);
  if (data.length < 33 || header.getUint32(16) * header.getUint32(20) > MAX_PIXELS) return null;
  try {
    return toPicture(decode(data, { checkCrc: true }));
  } catch {
    // Cut short or damaged: its bytes can still be compared.
    return null;
  }
}

function toPicture(png: ReturnType<typeof decode>): Picture {
  const { width, height, depth } = png;
  const rgba = new Uint16Array(width * height * 4);
  const most = 2 ** depth - 1;
  for (let pixel = 0; pixel < width * height; pixel++) {
    const channels = png.palette ? paletteAt(png, pixel) : channelsAt(png, pixel, 65535 / most);
    rgba.set(channels, pixel * 4);
  }
  return { width, height, rgba };
}

type Png = ReturnType<typeof decode>;

/** Samples below eight bits are packed, each row from a new byte on. */
function sampleAt({ data, depth, channels, width }: Png, pixel: number, channel: number): number {
  if (depth >= 8) return data[pixel * channels + channel] ?? 0;
  const rowBytes = Math.ceil((width * depth) / 8);
  const [row, column] = [Math.floor(pixel / width), pixel % width];
  const bit = column * depth;
  const byte = data[row * rowBytes + (bit >> 3)] ?? 0;
  return (byte >> (8 - depth - (bit & 7))) & (2 ** depth - 1);
}

function paletteAt(png: Png, pixel: number): number[] {
  const [red = 0, green = 0, blue = 0, alpha = 255] = png.palette?.[sampleAt(png, pixel, 0)] ?? [];
  return [red * 257, green * 257, blue * 257, alpha * 257];
}

function channelsAt(png: Png, pixel: number, scale: number): number[] {
  const samples = Array.from({ length: png.channels }, (_, channel) => sampleAt(png, pixel, channel));
  // In a picture without alpha one colour may mean transparent.
  const isClear =
    png.transparency !== undefined && samples.every((sample, index) => sample === png.transparency?.[index]);
  const scaled = samples.map((sample) => Math.round(sample * scale));
  const [first = 0, second = 65535, third = 0, fourth = 65535] = scaled;
  if (png.channels <= 2) return [first, first, first, isClear ? 0 : png.channels === 2 ? second : 65535];
  return [first, second, third, isClear ? 0 : fourth];
}

const INK = { paper: 245, faint: 0.25, madder: [0xb0, 0x2a, 0x30] } as const;

/**
 * Where two pictures differ, as a PNG of the larger width and height: pixels that differ in full colour, all else the
 * original's, faint. Parts that only one of them has differ.
 */
export function differencePicture(original: Picture, twin: Picture, channel = 0): Uint8Array {
  const [width, height] = [Math.max(original.width, twin.width), Math.max(original.height, twin.height)];
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [one, other] = [offsetIn(original, x, y), offsetIn(twin, x, y)];
      const differs = one === -1 || other === -1 || distanceAt(original, one, twin, other) > channel * 257;
      data.set(differs ? INK.madder : faint(original, one), (y * width + x) * 3);
    }
  }
  return encode({ width, height, data, depth: 8, channels: 3 });
}

const offsetIn = ({ width, height }: Picture, x: number, y: number): number =>
  x < width && y < height ? (y * width + x) * 4 : -1;

function distanceAt(original: Picture, one: number, twin: Picture, other: number): number {
  let most = 0;
  for (let channel = 0; channel < 4; channel++) {
    const distance = Math.abs((original.rgba[one + channel] ?? 0) - (twin.rgba[other + channel] ?? 0));
    most = Math.max(most, distance);
  }
  return most;
}

function faint({ rgba }: Picture, offset: number): number[] {
  const opacity = ((rgba[offset + 3] ?? 0) / 65535) * INK.faint;
  return [0, 1, 2].map((channel) =>
    Math.round(((rgba[offset + channel] ?? 0) / 257) * opacity + INK.paper * (1 - opacity)),
  );
}
