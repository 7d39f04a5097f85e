/** Formats the input of a case as lines. */
import { quote } from "@/core/cases/reproducer";
import type { SharedCase, Step } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

/** Formats a case's input as lines of pseudo-code. */
export function inputLines(item: SharedCase): string[] {
  if ("call" in item) return [`${item.call}(${formatArguments(item.args, item.kwargs)})`];
  if ("steps" in item) return item.steps.map(formatStep);
  const { argv, stdin, files } = item.run;
  return [
    `run ${argv.map(quote).join(" ")}`,
    ...(stdin ? ["standard input:", ...stdin.split("\n").slice(0, 30)] : []),
    ...Object.entries(files).flatMap(([name, content]) => [
      `file ${name}:`,
      ...(typeof content === "string" ? content.split("\n").slice(0, 30) : ["(bytes)"]),
    ]),
  ];
}

function formatArguments(args: readonly Json[] = [], kwargs: Readonly<Record<string, Json>> = {}): string {
  return [
    ...args.map((item) => JSON.stringify(item)),
    ...Object.entries(kwargs).map(([name, item]) => `${name}=${JSON.stringify(item)}`),
  ].join(", ");
}

function formatStep(step: Step): string {
  if ("new" in step)
    return `${step.as ? `${step.as} = ` : ""}new ${step.new}(${formatArguments(step.args, step.kwargs)})`;
  if ("call" in step)
    return `${step.as ? `${step.as} = ` : ""}${step.on ? `${step.on}.` : ""}${step.call}(${formatArguments(step.args, step.kwargs)})`;
  if ("get" in step) return `${step.on}.${step.get}`;
  return `${step.on}.${step.set} = ${JSON.stringify(step.value)}`;
}
