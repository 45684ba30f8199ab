import { facesOfShell, isBarrier, shellName, structureOf } from "../../layout/layout";
import type { Edge } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf, windsAlike } from "../../mesh/topology";
import { vertexGraph } from "../../mesh/walks";
import { spreadReached } from "../../tasks/spread";
import { WORTH } from "../../unfold/easing-cut";
import { formOf } from "../../unfold/shell-mesh";
import type { Unfolded } from "../../unfold/unfold-shell";
import { cut } from "../cut";
import type { EditContext, Note } from "../operation";
import type { ShapeShell } from "./new-layouts";

/**
 * The edges for which a shell cannot lie flat: those at which faces wind against each other or more than two meet, else
 * its borders where it has several. None for one that is closed, or has a handle: that is no matter of single edges.
 */
export function edgesBehind({ shape: { mesh }, layout, shell, form }: ShapeShell): Uint32Array {
  const { faults, loops } = formOf(form);
  if (!faults && loops.length < 2) return new Uint32Array(0);
  const t = topologyOf(mesh);
  const isBehind = (e: Edge): boolean => {
    if (!faults) return isBarrier(t, layout, e);
    const faces = edgeFaceCount(t, e);
    return faces > 2 || (faces === 2 && !windsAlike(mesh, t, edgeCorner(t, e), edgeCorner(t, e, 1)));
  };
  const out = new Set<number>();
  for (const f of facesOfShell(structureOf(mesh, layout), shell))
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      if (isBehind(t.cornerEdge[c]!)) out.add(t.cornerEdge[c]!);
  return Uint32Array.from(out).sort();
}

/** Notes on shells that are stretched a good deal only to keep beside themselves, each with the cut that would ease it. */
export async function easingCuts(
  work: ReadonlyArray<ShapeShell & { readonly keeping: unknown }>,
  results: ReadonlyArray<Unfolded | undefined>,
  passes: number,
  context: EditContext,
): Promise<Note[]> {
  const pressed = work.flatMap((w, i) => {
    const result = results[i];
    return result?.ok && result.windsAbout && result.energy >= WORTH && !w.keeping
      ? [{ ...w, energy: result.energy }]
      : [];
  });
  if (!pressed.length) return [];
  const inputs = pressed.map(({ form, energy }) => ({ form, energy, passes }));
  const weights = inputs.map((w) => w.form.triangles.length);
  const { out } = await spreadReached("easingCut", inputs, weights, context, () => {});
  return pressed.flatMap(({ shape, layout, shell, form }, i): Note[] => {
    const way = out[i];
    if (!way) return [];
    const s = structureOf(shape.mesh, layout);
    const edges = edgesAlong(
      shape.mesh,
      way.map((p) => s.wedgeVertex[form.wedges[p]!]!),
    );
    const words = `Shell ${shell + 1} of ${shape.name} is stretched only to keep beside itself: the cut that is lit would ease it.`;
    return [
      {
        words,
        shells: [{ shape: shape.id, face: shellName(s, shell) }],
        edges: { shape: shape.id, edges },
        offer: cut.id,
      },
    ];
  });
}

/** The edges from vertex to vertex. */
function edgesAlong(mesh: PolyMesh, way: readonly number[]): Uint32Array {
  const { start, to, link } = vertexGraph(mesh);
  const out = way.slice(1).flatMap((v, i) => {
    for (let k = start[v]!; k < start[v + 1]!; k++) if (to[k] === way[i]) return [link[k]!];
    return [];
  });
  return Uint32Array.from(out).sort();
}
