/** Jobs of the worker threads: functions of plain data, one line each. */
import { alignAnswers } from "@/core/compare/aligned";
import { compareAnswers } from "@/core/compare/compare";
import { findFamilies } from "@/core/explain/families";
import { parseFiles } from "@/engine/source/parse-files";
import { readFiles } from "@/engine/source/read-files";
import { findPlaces, followMoves, learnPhrasebook, runPhrasebook } from "@/engine/source/run-phrasebook";
import { sketchFiles } from "@/engine/source/sketch-files";

/** The functions that worker threads offer. */
export const JOBS = {
  learnPhrasebook,
  alignAnswers,
  compareAnswers,
  findFamilies,
  findPlaces,
  followMoves,
  parseFiles,
  readFiles,
  runPhrasebook,
  sketchFiles,
};

/** Name → function. */
export type Jobs = typeof JOBS;
/** The name of a job. */
export type JobName = keyof Jobs;
