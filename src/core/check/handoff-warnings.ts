import { type Asset, shapesOf, type UvSetId } from "../layout/asset";
import { getBit } from "../layout/bits";
import { edgeEnds, structureOf } from "../layout/layout";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { inputOf, layoutIn } from "./figures";
import { measureShape } from "./measure-shape";

/** Seam edges whose two sides lie on one another: a file of coordinates cannot tell them from edges that are joined. */
export function seamsNotWritable(asset: Asset, set: UvSetId): number {
  let count = 0;
  for (const shape of shapesOf(asset)) {
    const layout = shape.layouts.get(set);
    if (!layout) continue;
    const t = topologyOf(shape.mesh);
    const s = structureOf(shape.mesh, layout);
    const same = (a: number, b: number) => {
      const [p, q] = [2 * s.cornerWedge[a]!, 2 * s.cornerWedge[b]!];
      return layout.uv[p] === layout.uv[q] && layout.uv[p + 1] === layout.uv[q + 1];
    };
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
      const [a0, a1, b0, b1] = edgeEnds(shape.mesh, t, e);
      if (same(a0, b0) && same(a1, b1)) count++;
    }
  }
  return count;
}

/** Triangles that flip, or lose their area, when coordinates are rounded to single precision, as glTF holds them. */
export function flipsInSinglePrecision(asset: Asset, set: UvSetId): number {
  let count = 0;
  for (const shape of shapesOf(asset)) {
    const layout = layoutIn(shape, set);
    const before = measureShape(inputOf(shape, set));
    const t = trianglesOf(shape.mesh);
    const s = structureOf(shape.mesh, layout);
    const uv = layout.uv.map((x) => Math.fround(x));
    for (let k = 0; k < t.face.length; k++) {
      const own = before.majority[s.faceShell[t.face[k]!]!]!;
      if (before.triangle.sign[k]! * own <= 0) continue;
      const [a, b, c] = [0, 1, 2].map((n) => 2 * s.cornerWedge[t.corners[3 * k + n]!]!) as [number, number, number];
      const area = (uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[c]! - uv[a]!) * (uv[b + 1]! - uv[a + 1]!);
      if (area * own <= 0) count++;
    }
  }
  return count;
}

/** What was said of parts that a file which is written back into itself keeps as it had it. */
export function namesNotWritten(asset: Asset, original: Asset): string[] {
  const was = new Map(original.parts.map((p) => [p.sourceIndex, p]));
  let [renamed, regrouped] = [0, 0];
  for (const part of asset.parts) {
    const old = part.sourceIndex === undefined ? undefined : was.get(part.sourceIndex);
    if (!old) continue;
    if (old.name !== part.name) renamed++;
    if (old.path.join("/") !== part.path.join("/")) regrouped++;
  }
  const out: string[] = [];
  const parts = (n: number) => `${n} part${n === 1 ? "" : "s"}`;
  if (renamed)
    out.push(
      `${parts(renamed)} ${renamed === 1 ? "goes" : "go"} by the name that the file had; new names are kept in Tavlin only.`,
    );
  if (regrouped) out.push(`The new groups of ${parts(regrouped)} are kept in Tavlin only.`);
  return out;
}
