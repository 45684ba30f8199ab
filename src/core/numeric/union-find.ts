/** The least member of the set that i is in; halves the way there. */
export function rootOf(parent: Uint32Array | Int32Array, i: number): number {
  while (parent[i] !== i) {
    parent[i] = parent[parent[i]!]!;
    i = parent[i]!;
  }
  return i;
}

/** Makes one set of two; its root is the lesser of both. */
export function unite(parent: Uint32Array | Int32Array, a: number, b: number): void {
  const x = rootOf(parent, a);
  const y = rootOf(parent, b);
  if (x < y) parent[y] = x;
  else parent[x] = y;
}
