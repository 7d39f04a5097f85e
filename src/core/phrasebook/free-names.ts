/**
 * Where a name is free: a use of the file's import or global, not a member, a key or a declaration, and not hidden by a
 * parameter or local of the same name. By the node types of the grammars, whatever the language.
 */
import type { Node } from "web-tree-sitter";
import { isCommentType } from "@/core/phrasebook/syntax";

/** Parent type → fields in which a name is a member or a key of something. */
const MEMBERS: Readonly<Record<string, readonly string[]>> = {
  attribute: ["attribute"],
  member_expression: ["property"],
  field_access: ["field"],
  field_expression: ["field"],
  selector_expression: ["field"],
  member_access_expression: ["name"],
  member_call_expression: ["name"],
  nullsafe_member_call_expression: ["name"],
  nullsafe_member_access_expression: ["name"],
  scoped_call_expression: ["name"],
  class_constant_access_expression: ["*last"],
  scoped_identifier: ["name"],
  scoped_type_identifier: ["name"],
  qualified_identifier: ["name"],
  qualified_name: ["name"],
  scope_resolution: ["name"],
  keyword_argument: ["name"],
  pair: ["key"],
  hash_splat_argument: [],
  keyed_element: ["*first"],
  field_initializer: ["field", "name"],
  named_argument: ["name"],
  argument: ["name"],
  name_colon: ["name"],
  labeled_statement: ["label"],
  goto_statement: ["label"],
  jsx_attribute: ["*first"],
  method_reference: ["*last"],
};

/** Parent type → fields in which a name is declared; `*` for any child. */
const DECLARES: Readonly<Record<string, readonly string[]>> = {
  function_definition: ["name", "declarator"],
  class_definition: ["name"],
  parameters: ["*"],
  lambda_parameters: ["*"],
  default_parameter: ["name"],
  typed_parameter: ["*first"],
  typed_default_parameter: ["name"],
  assignment: ["left"],
  for_statement: ["left"],
  for_in_clause: ["left"],
  named_expression: ["name"],
  as_pattern_target: ["*"],
  formal_parameters: ["*"],
  required_parameter: ["pattern"],
  optional_parameter: ["pattern"],
  variable_declarator: ["name"],
  arrow_function: ["parameter"],
  catch_clause: ["parameter"],
  function_declaration: ["name"],
  generator_function_declaration: ["name"],
  class_declaration: ["name"],
  method_definition: ["name"],
  method_declaration: ["name"],
  formal_parameter: ["name"],
  catch_formal_parameter: ["name"],
  inferred_parameters: ["*"],
  lambda_expression: ["parameters"],
  enhanced_for_statement: ["name"],
  resource: ["name"],
  parameter_declaration: ["name", "declarator"],
  optional_parameter_declaration: ["declarator"],
  declaration: ["declarator"],
  init_declarator: ["declarator"],
  field_declaration: ["declarator", "name"],
  short_var_declaration: ["left"],
  var_spec: ["name"],
  const_spec: ["name"],
  type_spec: ["name"],
  range_clause: ["left"],
  let_declaration: ["pattern"],
  parameter: ["pattern", "name"],
  closure_parameters: ["*"],
  for_expression: ["pattern"],
  function_item: ["name"],
  struct_item: ["name"],
  enum_item: ["name"],
  const_item: ["name"],
  static_item: ["name"],
  foreach_statement: ["left"],
  method: ["name"],
  singleton_method: ["name"],
  method_parameters: ["*"],
  block_parameters: ["*"],
  optional_parameter_ruby: ["name"],
  simple_parameter: ["name"],
  preproc_def: ["name"],
  preproc_function_def: ["name"],
  struct_specifier: ["name"],
  enumerator: ["name"],
  for_range_loop: ["declarator"],
};

/** Nodes between a declared name and what declares it. */
const WRAPPERS =
  /^(?:pointer_declarator|function_declarator|parenthesized_declarator|array_declarator|reference_declarator|pattern_list|tuple_pattern|list_splat_pattern|dictionary_splat_pattern|array_pattern|object_pattern|rest_pattern|assignment_pattern|pair_pattern|expression_list|left_assignment_list|mut_pattern|ref_pattern|identifier_list|splat_parameter|keyword_parameter|block_parameter|spread_parameter|destructured_parameter|as_pattern)$/;

const FUNCTIONS =
  /^(?:function_definition|function_declaration|function_item|function_expression|function|generator_function|generator_function_declaration|arrow_function|method_definition|method_declaration|constructor_declaration|lambda|lambda_expression|closure_expression|func_literal|anonymous_function|anonymous_function_creation_expression|anonymous_method_expression|method|singleton_method|do_block|local_function_statement|list_comprehension|set_comprehension|dictionary_comprehension|generator_expression)$/;
const BLOCKS =
  /^(?:block|compound_statement|statement_block|for_statement|for_in_statement|enhanced_for_statement|foreach_statement|for_range_loop|catch_clause|try_with_resources_statement)$/;

const isAt = (parent: Node, fields: readonly string[] | undefined, node: Node): boolean =>
  fields?.some((field) => {
    if (field === "*") return true;
    if (field === "*first") return parent.namedChildren[0]?.id === node.id;
    if (field === "*last") return parent.namedChildren.at(-1)?.id === node.id && parent.namedChildren.length > 1;
    return parent.childrenForFieldName(field).some((child) => child?.id === node.id);
  }) ?? false;

/** Whether a leaf is the member of something else, a key, or the name of a named argument. */
export function isMember(node: Node): boolean {
  if (
    /^(?:property_identifier|field_identifier|shorthand_field_identifier|private_property_identifier)$/.test(node.type)
  )
    return true;
  const { parent } = node;
  if (!parent) return false;
  if (isAt(parent, MEMBERS[parent.type], node)) return true;
  // `object.name(…)` of Java and Ruby: the name is a member where there is an object.
  if (parent.type === "method_invocation")
    return parent.childForFieldName("object") !== null && parent.childForFieldName("name")?.id === node.id;
  if (parent.type === "call")
    return parent.childForFieldName("receiver") !== null && parent.childForFieldName("method")?.id === node.id;
  return false;
}

/** The node that declares a name, with the name as it hangs on it; null where it is a use. */
function declarationOf(node: Node): { readonly by: Node; readonly at: Node } | null {
  let at = node;
  let { parent } = node;
  while (parent && WRAPPERS.test(parent.type)) {
    // The default value within a pattern is a use.
    if (/^(?:assignment_pattern)$/.test(parent.type) && parent.namedChildren[0]?.id !== at.id) return null;
    [at, parent] = [parent, parent.parent];
  }
  return parent && isAt(parent, DECLARES[parent.type], at) ? { by: parent, at } : null;
}

export const isDeclaration = (node: Node): boolean => declarationOf(node) !== null;

/** Ranges in which a name is a parameter or a local. `leaves` are all places where the name occurs in code. */
export function hiddenRanges(
  leaves: readonly Node[],
  language: string,
): { readonly from: number; readonly to: number }[] {
  const isFunctionScoped = language === "python" || language === "ruby" || language === "php";
  const ranges: { from: number; to: number }[] = [];
  for (const leaf of leaves) {
    if (isMember(leaf)) continue;
    const declared = declarationOf(leaf);
    if (!declared) continue;
    const { by, at } = declared;
    // A function's own name belongs to what lies around it.
    const isOwnName =
      FUNCTIONS.test(by.type) &&
      (by.childForFieldName("name")?.id === at.id || by.childForFieldName("declarator")?.id === at.id);
    let scope: Node | null = isOwnName ? by.parent : by;
    while (scope && !(FUNCTIONS.test(scope.type) || (!isFunctionScoped && BLOCKS.test(scope.type))))
      scope = scope.parent;
    if (!scope || isShared(scope, leaf.text)) continue;
    ranges.push({ from: scope.startIndex, to: scope.endIndex });
  }
  return ranges;
}

/** `global name` or `nonlocal name` in a function of Python. */
function isShared(scope: Node, name: string): boolean {
  return scope
    .descendantsOfType(["global_statement", "nonlocal_statement"])
    .some((statement) => statement?.namedChildren.some((child) => child?.text === name) ?? false);
}

/** Leaves of a tree that spell a word in code, outside comments and texts. Cost: linear in the text, and a node a word. */
export function leavesOf(root: Node, source: string, word: string): Node[] {
  const found: Node[] = [];
  for (let at = source.indexOf(word); at >= 0; at = source.indexOf(word, at + word.length)) {
    if (isWordPart(source, at - 1) || isWordPart(source, at + word.length)) continue;
    const node = root.descendantForIndex(at, at + word.length);
    if (!node || node.endIndex - node.startIndex !== word.length || isCommentType(node.type)) continue;
    found.push(node);
  }
  return found;
}

/** Whether a letter, digit or `_` is at an offset. */
export const isWordPart = (text: string, at: number): boolean =>
  at >= 0 && at < text.length && /[\p{L}\p{N}_$]/u.test(text[at] ?? "");
