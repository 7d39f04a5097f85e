/** Lists the callables of a Go package in a generated file of that package, for the driver. */
import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";
import { type GoTypeParameter, isConstraint, typeArguments } from "@/engine/drivers/go/generics";
import { OWN_CLOCK } from "@/engine/drivers/go/own-clock";

/** A callable; `types` are its type parameters. */
export type GoFunction = {
  readonly name: string;
  readonly call: string;
  readonly params: readonly string[];
  readonly types: readonly GoTypeParameter[];
};

/** The names of one file. A method is `Type.name`. */
export type GoNames = {
  readonly package: string;
  readonly functions: readonly GoFunction[];
  /** The bodies of interfaces, by name: constraints of generic functions may name them. */
  readonly interfaces: ReadonlyMap<string, string>;
  readonly types: readonly string[];
  readonly variables: readonly string[];
};

/** Reads a file's top level; generic types are left out: they have no value of their own. */
export function namesOfGo(root: Node): GoNames {
  const functions: GoFunction[] = [];
  const interfaces = new Map<string, string>();
  const types: string[] = [];
  const variables: string[] = [];
  const generic = new Set<string>();
  let name = "";
  for (const node of childrenOf(root)) {
    if (node.type === "package_clause") name = childrenOf(node)[0]?.text ?? "";
    if (node.type === "type_declaration") {
      for (const spec of childrenOf(node)) {
        const own = textOf(spec, "name");
        const body = /^interface\s*\{(.*)\}$/s.exec(textOf(spec, "type"))?.[1]?.trim();
        if (body) interfaces.set(own, body);
        if (spec.childForFieldName("type_parameters")) generic.add(own);
        else if (spec.type === "type_spec" && own !== "_") types.push(own);
      }
    }
    if (node.type === "var_declaration") variables.push(...variablesOf(node));
    if (node.type === "function_declaration") {
      const own = textOf(node, "name");
      if (/^(init|main|_)$/.test(own)) continue;
      functions.push({ name: own, call: own, params: paramsOf(node), types: typeParametersOf(node) });
    }
  }
  for (const node of childrenOf(root).filter(({ type }) => type === "method_declaration")) {
    const receiver = /\*?\s*([A-Za-z_]\w*)\s*(?:\[[^\]]*\])?\s*\)$/.exec(textOf(node, "receiver"))?.[1];
    const own = textOf(node, "name");
    if (receiver === undefined || own === "_" || /\[/.test(textOf(node, "receiver")) || generic.has(receiver)) continue;
    functions.push({ name: `${receiver}.${own}`, call: `(*${receiver}).${own}`, params: paramsOf(node), types: [] });
  }
  return { package: name, functions, interfaces, types, variables };
}

const typeParametersOf = (node: Node): GoTypeParameter[] =>
  childrenOf(node.childForFieldName("type_parameters")).flatMap((parameter) =>
    parameter
      .childrenForFieldName("name")
      .flatMap((one) => (one?.isNamed ? [{ name: one.text, constraint: textOf(parameter, "type") }] : [])),
  );

function variablesOf(node: Node): string[] {
  return childrenOf(node).flatMap((spec) => {
    if (spec.type === "var_spec_list") return variablesOf(spec);
    if (spec.type !== "var_spec") return [];
    return spec
      .childrenForFieldName("name")
      .flatMap((name) => (name && name.type === "identifier" && name.text !== "_" ? [name.text] : []));
  });
}

const paramsOf = (node: Node): string[] =>
  childrenOf(node.childForFieldName("parameters")).flatMap((param) =>
    param.childrenForFieldName("name").flatMap((name) => (name?.isNamed ? [name.text] : [])),
  );

/** The file that registers a package's names with the driver, whose import path is given. */
export function registrationOf(folder: string, files: readonly GoNames[], driver: string): string {
  const [first] = files;
  const at = JSON.stringify(folder);
  const types = new Set(files.flatMap((file) => file.types));
  const interfaces = new Map(files.flatMap((file) => [...file.interfaces]));
  const lines = files.flatMap((file) => [
    ...file.functions
      .flatMap((one) => {
        if (one.types.length === 0) return [one];
        return typeArguments(one.types, interfaces).map((given) => ({ ...one, call: `${one.call}${given}` }));
      })
      // A method of a type that is generic or declared elsewhere cannot be named.
      .filter(({ name }) => !name.includes(".") || types.has(name.split(".")[0] ?? ""))
      .map(
        ({ name, call, params }) =>
          `\tsidetwin.Function(${[at, JSON.stringify(name), call, ...params.map((param) => JSON.stringify(param))].join(", ")})`,
      ),
    ...file.types
      .filter((name) => !isConstraint(interfaces.get(name) ?? "", interfaces))
      .map((name) => `\tsidetwin.Type(${at}, ${JSON.stringify(name)}, (*${name})(nil))`),
    ...file.variables.map((name) => `\tsidetwin.Variable(${at}, &${name})`),
  ]);
  return `//go:build go1.18\n\npackage ${packageName(first?.package ?? "")}\n\nimport (\n\tsidetwin ${JSON.stringify(driver)}\n\tzz_side_twin_time "time"\n)\n\nfunc zz_side_twin_hit(number int) { sidetwin.Hit(number) }\n\n${OWN_CLOCK}\nfunc init() {\n${lines.join("\n")}\n}\n`;
}

/** A program cannot be imported: its package gets another name. */
export const packageName = (name: string): string => (name === "main" ? "sidetwinprogram" : name);
