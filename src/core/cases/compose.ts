/** A shared case from what a person writes into a form: one field a parameter. */
import type { CallCase, StepsCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

/** A parameter with the text entered for it; an empty text omits it. */
export type Filled = { readonly name: string; readonly text: string };

/** Returns how a field is read: as value notation if it is JSON, otherwise as text. */
export function readField(text: string): { readonly value: Json; readonly as: "notation" | "text" } {
  try {
    return { value: JSON.parse(text) as Json, as: "notation" };
  } catch {
    // People write texts without quotes; the form shows that it was read as text.
    return { value: text, as: "text" };
  }
}

type Arguments = { args: Json[]; kwargs: { [name: string]: Json } };

/**
 * Arguments by position as long as none is left out; those after a gap by name, or after `undefined` where the language of
 * the original has no named arguments.
 */
export function fillArguments(fields: readonly Filled[], hasNamed: boolean): Arguments {
  const given: Arguments = { args: [], kwargs: {} };
  const last = fields.findLastIndex(({ text }) => text.trim() !== "");
  let isBehindGap = false;
  for (const { name, text } of fields.slice(0, last + 1)) {
    const isEmpty = text.trim() === "";
    if (isEmpty && hasNamed) isBehindGap = true;
    else if (isBehindGap) given.kwargs[plainName(name)] = readField(text).value;
    else given.args.push(isEmpty ? { "~none": "undefined" } : readField(text).value);
  }
  return given;
}

/** `*rest` and `...rest` are named without their signs. */
const plainName = (name: string): string => name.replace(/^[*.]+/, "");

type Asked = {
  readonly id: string;
  readonly module: string;
  readonly section: string;
  readonly hasNamed: boolean;
  readonly fields: readonly Filled[];
};

/** Composes a call case from a form's fields. */
export function composeCall({ id, module, section, fields, hasNamed }: Asked): CallCase {
  return { id, module, call: section, ...fillArguments(fields, hasNamed) };
}

/** Two steps: the object is made, then its method is called. `made` are the parameters of its making. */
export function composeMethod(asked: Asked & { readonly made: readonly Filled[] }): StepsCase {
  const { id, module, section, fields, made, hasNamed } = asked;
  const [owner = "", method = ""] = section.split(".");
  return {
    id,
    module,
    steps: [
      { new: owner, ...withoutEmpty(fillArguments(made, hasNamed)), as: "it" },
      { call: method, on: "it", ...withoutEmpty(fillArguments(fields, hasNamed)) },
    ],
  };
}

const withoutEmpty = ({ args, kwargs }: Arguments): Partial<Arguments> => ({
  ...(args.length > 0 ? { args } : {}),
  ...(Object.keys(kwargs).length > 0 ? { kwargs } : {}),
});
