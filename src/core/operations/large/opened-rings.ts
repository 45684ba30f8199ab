import { type Asset, type ShapeId, withLayouts } from "../../layout/asset";
import { setBit } from "../../layout/bits";
import { facesOfShell, type Layout, structureOf, withBits } from "../../layout/layout";
import { topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { openedAt } from "../../project/bent-tube";
import { hiddenWeight } from "../../project/hidden-weight";
import { placedIn } from "../../project/pieces";
import { turnedBody } from "../../seams/turned";
import { backOf } from "../../seams/visibility";
import { formOf } from "../../unfold/shell-mesh";
import type { LaidShell } from "./straightened-shells";

/**
 * Opens shells that are rings of quads along one of their columns, the one that is seen least; nothing moves.
 *
 * @returns how many were opened, and the asset with them; null where none is a ring
 */
export function withOpenedRings(
  asset: Asset,
  shells: readonly LaidShell[],
  set: string,
): { asset: Asset; opened: number } | null {
  const layouts = new Map<ShapeId, LaidShell & { readonly layout: Layout }>();
  let opened = 0;
  for (const own of shells) {
    if (formOf(own.form).loops.length !== 2) continue;
    const edges = columnOf(asset, own);
    if (!edges) continue;
    const before = layouts.get(own.shape.id)?.layout ?? own.layout;
    const cut = before.cut.slice();
    for (const e of edges) setBit(cut, e);
    layouts.set(own.shape.id, { ...own, layout: withBits(own.shape.mesh, before, cut) });
    opened++;
  }
  const changes = [...layouts.values()].map(({ shape, layout }) => ({ shape: shape.id, set, layout }));
  return opened ? { asset: withLayouts(asset, changes), opened } : null;
}

/** The edges of a column of a shell that is a ring of quads; null where it is none. */
function columnOf(asset: Asset, { shape, layout, shell }: LaidShell): readonly number[] | null {
  const { mesh, metric } = shape;
  const faces = Uint32Array.from(facesOfShell(structureOf(mesh, layout), shell)).sort();
  const body = turnedBody({ mesh, topology: topologyOf(mesh) }, faces, layout.cut);
  if (!body || body.startClosed || body.endClosed || body.isTorus) return null;
  const weight = hiddenWeight(placedIn(mesh, worldPositions(mesh, metric)), backOf(asset));
  const column = openedAt(body.layers, body.columns, layout.cut, weight);
  return body.layers.map(({ meridians }) => meridians[column]!);
}
