import type { Asset } from "../../layout/asset";
import { worldPositions } from "../../mesh/transform";
import { faceAreas } from "../../seams/seam-field";
import type { Context } from "../../tasks/context";
import { seenFaces } from "../../tasks/seen-faces";
import type { Found, Scope } from "../operation";
import { shapesInScope } from "../scope";
import { elementWords } from "../words";

/** Picks the faces that are seen least, up to a share of the area. */
export async function run(asset: Asset, scope: Scope, { share }: { share: number }, context: Context): Promise<Found> {
  const seen = await seenFaces(asset, context, context.progress);
  const list: Array<{ shape: string; face: number; area: number; seen: number }> = [];
  for (const { id, mesh, metric } of shapesInScope(asset, { ...scope, selection: undefined })) {
    const areas = faceAreas({ mesh, world: worldPositions(mesh, metric) });
    for (let face = 0; face < areas.length; face++)
      list.push({ shape: id, face, area: areas[face]!, seen: seen.get(id)![face]! });
  }
  list.sort((a, b) => a.seen - b.seen || a.face - b.face);
  const room = (list.reduce((sum, f) => sum + f.area, 0) * share) / 100;
  const items = new Map<string, number[]>();
  let [taken, count] = [0, 0];
  for (const { shape, face, area } of list) {
    if (taken + area > room) break;
    taken += area;
    count++;
    const own = items.get(shape);
    if (own) own.push(face);
    else items.set(shape, [face]);
  }
  const picked = new Map([...items].map(([id, faces]) => [id, Uint32Array.from(faces).sort()]));
  return { selection: { kind: "faces", items: picked }, words: `${elementWords(count, "faces")} picked, seen least.` };
}
