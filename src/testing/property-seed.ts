/**
 * Properties start from one seed, so that a run of the tests says the same of the same code whenever it is made.
 * `npm run fuzz` sets others, to find what this one does not.
 */
import fc from "fast-check";

fc.configureGlobal({ seed: Number(process.env.SIDE_TWIN_SEED ?? 20_310_402) });
