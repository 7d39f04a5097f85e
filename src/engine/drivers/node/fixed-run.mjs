/** Loaded by Node.js before a program whose clock or random numbers are fixed (SIDE_TWIN_NOW, SIDE_TWIN_SEED). */
import { createFixed } from "./fixed.mjs";

const { SIDE_TWIN_NOW: now, SIDE_TWIN_SEED: seed } = process.env;
createFixed().set(now, seed === undefined ? undefined : Number(seed));
