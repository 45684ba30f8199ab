import type { ShellMesh } from "./shell-mesh";

/** Of a length, how far that of a twin may be from it: what moving and turning leaves of rounding, in single precision too. */
const ALIKE = 1e-6;

/** A number that shells of the same triangles share. */
function keyOf({ triangles }: ShellMesh): string {
  let hash = 0x811c9dc5;
  for (let c = 0; c < triangles.length; c++) hash = Math.imul(hash ^ triangles[c]!, 0x01000193);
  return `${triangles.length} ${hash}`;
}

const squareOf = (p: Float64Array, a: number, b: number): number =>
  (p[3 * a]! - p[3 * b]!) ** 2 + (p[3 * a + 1]! - p[3 * b + 1]!) ** 2 + (p[3 * a + 2]! - p[3 * b + 2]!) ** 2;

/** Whether two shells have the same triangles with the same lengths: what lays one flat lays the other flat. */
function areTwins(one: ShellMesh, other: ShellMesh): boolean {
  const { triangles: t } = one;
  if (t.length !== other.triangles.length || one.positions.length !== other.positions.length) return false;
  if (one.weights || other.weights) return false;
  for (let c = 0; c < t.length; c++) if (t[c] !== other.triangles[c]) return false;
  for (let c = 0; c < t.length; c++) {
    const next = c % 3 === 2 ? c - 2 : c + 1;
    const a = squareOf(one.positions, t[c]!, t[next]!);
    const b = squareOf(other.positions, t[c]!, t[next]!);
    if (Math.abs(a - b) > 2 * ALIKE * Math.max(a, b)) return false;
  }
  return true;
}

/** Steps in which sizes are told apart: twins lie in the same one or beside each other. */
const STEP = 10 * ALIKE;

/** How large a shell is, in steps: by the squares of all its edges. */
function sizeOf({ triangles: t, positions }: ShellMesh): number {
  let sum = 0;
  for (let c = 0; c < t.length; c++) sum += squareOf(positions, t[c]!, t[c % 3 === 2 ? c - 2 : c + 1]!);
  return sum > 0 ? Math.round(Math.log(sum) / STEP) : 0;
}

/** For every shell the first of the list that it is a twin of, which may be itself. In linear time, but for near twins. */
export function firstTwins(shells: readonly ShellMesh[]): Uint32Array {
  const groups = new Map<string, number[]>();
  return Uint32Array.from(shells, (shell, i) => {
    const [key, size] = [keyOf(shell), sizeOf(shell)];
    for (const near of [size, size - 1, size + 1]) {
      const twin = groups.get(`${key} ${near}`)?.find((k) => areTwins(shells[k]!, shell));
      if (twin !== undefined) return twin;
    }
    const own = `${key} ${size}`;
    groups.set(own, [...(groups.get(own) ?? []), i]);
    return i;
  });
}
