import type { PlacedSection } from "@/core/pairing/placed-section";

/** Two sections that may answer for each other: how likely, from 0 to 1, and why, what weighs most first. */
export type Match = {
  readonly one: PlacedSection;
  readonly other: PlacedSection;
  readonly score: number;
  readonly reasons: readonly string[];
};
