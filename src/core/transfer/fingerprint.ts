import { type Asset, drawnParts } from "../layout/asset";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Mat4, worldPositions } from "../mesh/transform";

/** In what parts may be alike. */
export type Likeness = "identical" | "same mesh" | "same material";

/** A text for every part, instances included; parts alike have the same. */
export function partPrints(asset: Asset, how: Likeness): Map<string, string> {
  const known = new Map<PolyMesh, string>();
  return new Map(
    drawnParts(asset).map((part) => {
      if (how === "identical") return [part.id, `${shapePrint(part.mesh, part.transform)}`];
      let print = known.get(part.mesh);
      if (print === undefined) {
        print = how === "same mesh" ? meshPrint(part.mesh) : materialPrint(part.mesh);
        known.set(part.mesh, print);
      }
      return [part.id, print];
    }),
  );
}

const materialPrint = (mesh: PolyMesh): string => [...new Set(mesh.faceMaterial)].sort().join();

/** Counts, and how many corners the vertices have: the same whatever the numbering. */
export function meshPrint(mesh: PolyMesh): string {
  const valence = new Uint32Array(mesh.positions.length / 3);
  for (const v of mesh.cornerVertex) valence[v]!++;
  const kinds = new Map<number, number>();
  for (const n of valence) kinds.set(n, (kinds.get(n) ?? 0) + 1);
  const counts = [...kinds].sort((a, b) => a[0] - b[0]).map(([n, k]) => `${n}x${k}`);
  return [faceCount(mesh), topologyOf(mesh).edgeCount, ...counts].join(" ");
}

/** The mesh's print with sums over its edges' world lengths, to four digits: turned or mirrored copies have the same. */
function shapePrint(mesh: PolyMesh, transform: Mat4): string {
  const p = worldPositions(mesh, transform);
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  let [sum, squares, cubes] = [0, 0, 0];
  for (let e = 0; e < edgeCount; e++) {
    const [a, b] = [3 * edgeVertices[2 * e]!, 3 * edgeVertices[2 * e + 1]!];
    const d = Math.hypot(p[a]! - p[b]!, p[a + 1]! - p[b + 1]!, p[a + 2]! - p[b + 2]!);
    sum += d;
    squares += d * d;
    cubes += d * d * d;
  }
  return [meshPrint(mesh), ...[sum, squares, cubes].map((x) => x.toPrecision(4))].join(" ");
}

/** How many parts are of each shape, itself included. */
export function identicalCounts(asset: Asset): Map<string, number> {
  const prints = partPrints(asset, "identical");
  const counts = new Map<string, number>();
  for (const print of prints.values()) counts.set(print, (counts.get(print) ?? 0) + 1);
  return new Map([...prints].map(([id, print]) => [id, counts.get(print)!]));
}
