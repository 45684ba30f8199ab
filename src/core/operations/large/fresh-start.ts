import type { Asset } from "../../layout/asset";
import { clearBit } from "../../layout/bits";
import { facesOfShell, structureOf } from "../../layout/layout";
import type { Edge } from "../../mesh/indices";
import { edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { formOf } from "../../project/form";
import type { Vector } from "../../project/frame";
import { PLAIN, projected } from "../../project/kinds";
import { stretchOf, suggestions } from "../../project/suggest";
import { upAxisOf } from "../../seams/visibility";
import type { EditContext, EditResult, Scope } from "../operation";
import { shellsInScope } from "../scope";
import { laidBeside } from "./projected-work";

/** Lays shells out flat as one piece each, whatever became of them. */
export function run(asset: Asset, scope: Scope, _: unknown, { progress }: EditContext): EditResult {
  const up: Vector = upAxisOf(asset) === 1 ? [0, 1, 0] : [0, 0, 1];
  const flat = shellsInScope(asset, scope).map(({ shape, layout, shells }, i, all) => {
    progress(i / all.length);
    const { mesh } = shape;
    const world = worldPositions(mesh, shape.metric);
    const s = structureOf(mesh, layout);
    const uv = new Float64Array(2 * mesh.cornerVertex.length).fill(NaN);
    for (const shell of shells) {
      const faces = Uint32Array.from(facesOfShell(s, shell));
      const asked = { up, centre: [0, 0, 0] as const, options: PLAIN, kinds: ["flat"] as const, axes: null };
      const { frame } = suggestions(mesh, world, faces, asked)[0]!;
      const own = projected(formOf(mesh, world, faces, layout.cut, frame), "flat", PLAIN).uv;
      for (const f of faces)
        for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
          uv[2 * c] = own[2 * c]!;
          uv[2 * c + 1] = own[2 * c + 1]!;
        }
    }
    const wanted = new Set(shells);
    const faces = Uint32Array.from(s.faceShell.keys()).filter((f) => wanted.has(s.faceShell[f]!));
    // Seams within a shell go; those between two stay.
    const t = topologyOf(mesh);
    const cut = layout.cut.slice();
    for (let e = 0 as Edge; e < t.edgeCount; e++) {
      if (edgeFaceCount(t, e) !== 2) continue;
      const k = t.edgeCornerStart[e]!;
      const [a, b] = [s.faceShell[t.cornerFace[t.edgeCorners[k]!]!], s.faceShell[t.cornerFace[t.edgeCorners[k + 1]!]!]];
      if (a === b) clearBit(cut, e);
    }
    return { work: { shape, layout, faces, cut }, uv, told: "", stretch: stretchOf({ mesh, faces }, world, uv) };
  });
  return laidBeside(asset, scope, flat, "Fresh start for");
}
