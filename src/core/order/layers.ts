/** Dependency layers of modules, independent ones at the bottom, and dependency cycles. */

/** Module → modules that it needs. */
export type ModuleNeeds = ReadonlyMap<string, readonly string[]>;

/** The layers of a dependency graph. */
export type Layers = {
  /** Module → its layer, from 0: one above the highest layer it needs; members of a dependency cycle share a layer. */
  readonly layer: ReadonlyMap<string, number>;
  /** Strongly connected components of more than one module. */
  readonly knots: readonly (readonly string[])[];
};

/** Strongly connected components by Tarjan ("Depth-first search and linear graph algorithms", 1972); linear in needs. */
export function findLayers(needs: ModuleNeeds): Layers {
  const components = stronglyConnected(needs);
  const componentOf = new Map<string, readonly string[]>();
  for (const component of components) for (const name of component) componentOf.set(name, component);
  const layer = new Map<string, number>();
  // Tarjan gives a component after everything it needs, so one pass settles all layers.
  for (const component of components) {
    const below = component.flatMap((name) =>
      (needs.get(name) ?? []).filter((need) => componentOf.get(need) !== component),
    );
    const height = Math.max(-1, ...below.map((need) => layer.get(need) ?? -1)) + 1;
    for (const name of component) layer.set(name, height);
  }
  return { layer, knots: components.filter((component) => component.length > 1) };
}

function stronglyConnected(needs: ModuleNeeds): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const onStack = new Set<string>();
  const components: string[][] = [];
  for (const start of needs.keys()) {
    if (index.has(start)) continue;
    // Frames instead of recursion: a chain of thousands of modules must not exhaust the stack.
    const frames: { name: string; next: number }[] = [{ name: start, next: 0 }];
    while (frames.length > 0) {
      const frame = frames[frames.length - 1];
      if (!frame) break;
      const { name } = frame;
      if (frame.next === 0) {
        index.set(name, index.size);
        low.set(name, index.get(name) ?? 0);
        stack.push(name);
        onStack.add(name);
      }
      const need = (needs.get(name) ?? [])[frame.next++];
      if (need !== undefined) {
        if (!needs.has(need)) continue;
        if (!index.has(need)) frames.push({ name: need, next: 0 });
        else if (onStack.has(need)) low.set(name, Math.min(low.get(name) ?? 0, index.get(need) ?? 0));
        continue;
      }
      frames.pop();
      const parent = frames[frames.length - 1]?.name;
      if (parent !== undefined) low.set(parent, Math.min(low.get(parent) ?? 0, low.get(name) ?? 0));
      if (low.get(name) === index.get(name)) components.push(popComponent(name, stack, onStack));
    }
  }
  return components;
}

function popComponent(name: string, stack: string[], onStack: Set<string>): string[] {
  const component: string[] = [];
  for (let member = stack.pop(); member !== undefined; member = stack.pop()) {
    onStack.delete(member);
    component.push(member);
    if (member === name) break;
  }
  return component.reverse();
}
