import type { PortedFunction } from "@/testing/ported-functions/entry";
import { NUMBERS_AND_ORDERS } from "@/testing/ported-functions/numbers-and-orders";
import { TEXTS_AND_ERRORS } from "@/testing/ported-functions/texts-and-errors";

/** All of the corpus, in order. */
export const PORTED: readonly PortedFunction[] = [...NUMBERS_AND_ORDERS, ...TEXTS_AND_ERRORS];
