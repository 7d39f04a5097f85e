/** Cases as the causes see them, from pairs of answers. */
import type { Answer, StepsAnswer } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import type { Example } from "@/core/explain/cause";
import type { CaseFacts } from "@/core/explain/facets";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { withDefaults } from "@/core/values/equality";

type Special = { readonly [key: string]: Json };

function answerFrom(value: unknown, args: readonly Json[]): Answer {
  const plain = { kind: "call", args, kwargs: {}, printed: "" } as const;
  const special = (typeof value === "object" && value !== null ? value : {}) as Special; // examples are JSON
  const { "~thrown": thrown, "~printed": printed, "~after": after, "~steps": steps } = special;
  if (Array.isArray(thrown)) return { ...plain, thrown: { kind: String(thrown[0]), message: String(thrown[1]) } };
  if (typeof printed === "string") return { ...plain, value: null, printed };
  if (Array.isArray(after)) return { ...plain, value: null, args: after };
  if (Array.isArray(steps)) {
    const answers: StepsAnswer["steps"] = steps.map((item: Json) => ({ value: item }));
    return { kind: "steps", steps: answers, printed: "" };
  }
  return { ...plain, value: value as Json };
}

/** The facts of one case, compared as a check compares them. */
export function caseFacts(example: Example, id: string, call = "f"): CaseFacts {
  const args = (example.args ?? []) as readonly Json[]; // examples are JSON
  const [original, twin] = [answerFrom(example.original, args), answerFrom(example.twin, args)];
  // Both objects are of one class, so that state which they share can show.
  const item: SharedCase =
    original.kind === "steps"
      ? { id, module: "m", steps: original.steps.map((_step, index) => ({ new: "Box", as: `o${index}` })) }
      : { id, module: "m", call, args: [...args], kwargs: {} };
  const equality = withDefaults({ negativeZero: "strict" });
  const { divergences } = compareAnswers(original, twin, { equality, allowances: [] });
  return { id, item, original, twin, divergences };
}

/** The cases of examples: those that differ, and those that agree. */
export function splitFacts(examples: readonly Example[], call?: string): { cases: CaseFacts[]; controls: CaseFacts[] } {
  const all = examples.map((example, index) => caseFacts(example, `c${index}`, call));
  return {
    cases: all.filter((facts) => facts.divergences.length > 0),
    controls: all.filter((facts) => facts.divergences.length === 0),
  };
}
