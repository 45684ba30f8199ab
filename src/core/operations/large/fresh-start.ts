import type { Asset } from "../../layout/asset";
import { type Bits, clearBit } from "../../layout/bits";
import { facesOfShell, type Layout, structureOf } from "../../layout/layout";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { formOf } from "../../project/form";
import { PLAIN, projected } from "../../project/kinds";
import { stretchOf, suggestions } from "../../project/suggest";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { type Flat, laidBeside, upOf } from "./projected-work";

/** Lays shells out flat as one piece each, whatever became of them. */
export function run(asset: Asset, scope: Scope, _: unknown, { progress }: EditContext): EditResult {
  const asked = { up: upOf(asset), centre: [0, 0, 0] as const, options: PLAIN, kinds: ["flat"] as const, axes: null };
  const flat = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }, i, all): Flat[] => {
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const cut = seamsBetween(mesh, layout);
    return [...shells].map((shell, k) => {
      progress((i + k / shells.length) / all.length);
      const faces = Uint32Array.from(facesOfShell(structureOf(mesh, layout), shell));
      const { frame } = suggestions(mesh, world, faces, asked)[0]!;
      const { uv } = projected(formOf(mesh, world, faces, cut, frame), "flat", PLAIN);
      const stretch = stretchOf({ mesh, faces }, world, uv);
      return { work: { shape, layout, faces, cut }, uv, told: "", stretch };
    });
  });
  return laidBeside(asset, scope, flat, "Fresh start for");
}

/** Seams of a layout without those that have the same shell on both sides. */
function seamsBetween(mesh: PolyMesh, layout: Layout): Bits {
  const t = topologyOf(mesh);
  const { faceShell } = structureOf(mesh, layout);
  const cut = layout.cut.slice();
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2) continue;
    const k = t.edgeCornerStart[e]!;
    const [a, b] = [t.cornerFace[t.edgeCorners[k]!]!, t.cornerFace[t.edgeCorners[k + 1]!]!];
    if (faceShell[a] === faceShell[b]) clearBit(cut, e);
  }
  return cut;
}
