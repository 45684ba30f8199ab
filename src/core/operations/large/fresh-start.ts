import type { Asset } from "../../layout/asset";
import { type Bits, clearBit } from "../../layout/bits";
import { facesOfShell, type Layout, structureOf } from "../../layout/layout";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { PLAIN, projected } from "../../project/kinds";
import { pieceForm, piecesFrom, placedIn } from "../../project/pieces";
import { stretchOf, suggestions } from "../../project/suggest";
import { upOf } from "../../seams/visibility";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { type Flat, laidBeside } from "./projected-work";

/** Lays shells out flat as one piece each, whatever became of them. */
export function run(asset: Asset, scope: Scope, _: unknown, { progress }: EditContext): EditResult {
  const asked = { up: upOf(asset), centre: [0, 0, 0] as const, options: PLAIN, kinds: ["flat"] as const, axes: null };
  const flat = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }, i, all): Flat[] => {
    const { mesh } = shape;
    const work = { shape, layout, cut: seamsBetween(mesh, layout) };
    const pieceOf = piecesFrom(placedIn(mesh, worldPositions(mesh, shape.metric)), work.cut);
    return [...shells].map((shell, k) => {
      progress((i + k / shells.length) / all.length);
      const piece = pieceOf(Uint32Array.from(facesOfShell(structureOf(mesh, layout), shell)).sort());
      const { frame } = suggestions(piece.mesh, asked)[0]!;
      const { uv } = projected(pieceForm(piece, frame), "flat", PLAIN);
      return { work, piece, uv, told: "", ...stretchOf(piece.mesh, uv) };
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
