export interface ScopeValue {
  id: string;
  name: string;
  parent?: string | null;
  takes_text?: boolean;
}

/** Scopes with those inside them right below, and how deep each stands. */
export function treeOf(scopes: ScopeValue[]): { scope: ScopeValue; depth: number }[] {
  const inside = (parent: string | null, depth: number): { scope: ScopeValue; depth: number }[] =>
    scopes
      .filter((s) => (s.parent ?? null) === parent)
      .flatMap((scope) => [{ scope, depth }, ...inside(scope.id, depth + 1)]);
  return inside(null, 0);
}

/** Whether a scope can be put into another one: not into itself, nor into one that stands in it. */
export function canStandIn(scopes: ScopeValue[], id: string, parent: string): boolean {
  for (let at: string | null | undefined = parent; at; at = scopes.find((s) => s.id === at)?.parent) {
    if (at === id) return false;
  }
  return true;
}
