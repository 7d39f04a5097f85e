/** What is done on worker threads: each job is one function of plain data. To add one is one line here. */
import { alignAnswers } from "@/core/compare/aligned";
import { compareAnswers } from "@/core/compare/compare";
import { findFamilies } from "@/core/explain/families";
import { parseFiles } from "@/engine/source/parse-files";
import { readFiles } from "@/engine/source/read-files";
import { sketchFiles } from "@/engine/source/sketch-files";

export const JOBS = { alignAnswers, compareAnswers, findFamilies, parseFiles, readFiles, sketchFiles };

export type Jobs = typeof JOBS;
export type JobName = keyof Jobs;
