/**
 * Properties start from one seed, so that the same code gives the same result on every run.
 * `npm run fuzz` sets others, to find what this one does not.
 */
import fc from "fast-check";

fc.configureGlobal({ seed: Number(process.env.SIDE_TWIN_SEED ?? 20_310_402) });
