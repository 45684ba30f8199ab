import { z } from "zod";
import { withLayouts } from "../layout/asset";
import { clearBit, getBit, setBit } from "../layout/bits";
import { edgeEnds, type Layout, structureOf, withBits } from "../layout/layout";
import { UserError } from "../layout/user-error";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import type { EditOperation } from "./operation";
import { type PickedPoints, pickedPoints } from "./picked-points";
import { count } from "./words";

const options = z.object({
  within: z.number().min(0).max(1).default(0.002).meta({
    title: "Within",
    description: "Points of one vertex that lie no farther apart become one; 0 for those that meet exactly",
    unit: "tiles",
  }),
});

/** Seams between points that are to become one, and which points those are: [one, its mate, ...]. */
function meetingSeams({ shape, layout, picked }: PickedPoints, within: number) {
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const { cornerWedge } = structureOf(mesh, layout);
  const { uv, pinned } = layout;
  const isPicked = (...wedges: number[]): boolean => wedges.some((w) => picked[w]);
  const meets = (a: number, b: number): boolean => {
    if (a === b) return true;
    const apart = Math.hypot(uv[2 * a]! - uv[2 * b]!, uv[2 * a + 1]! - uv[2 * b + 1]!);
    if (apart === 0) return true;
    // Two pinned points that lie apart cannot both stay where they are.
    return isPicked(a, b) && apart <= within && !(getBit(pinned, a) && getBit(pinned, b));
  };
  const seams: Edge[] = [];
  const pairs: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (edgeFaceCount(t, e) !== 2 || !getBit(layout.cut, e)) continue;
    const ends = edgeEnds(mesh, t, e);
    if (![ends[0], ends[2]].every((c) => getBit(layout.mapped, t.cornerFace[c]!))) continue;
    const [a0, a1, b0, b1] = ends.map((c) => cornerWedge[c]!) as unknown as [number, number, number, number];
    if (!isPicked(a0, a1, b0, b1) || !meets(a0, b0) || !meets(a1, b1)) continue;
    seams.push(e);
    pairs.push(a0, b0, a1, b1);
  }
  return { seams, pairs };
}

const isAt = (uv: Float64Array, a: number, b: number): boolean =>
  uv[2 * a] === uv[2 * b] && uv[2 * a + 1] === uv[2 * b + 1];

/** The layout with points that become one in one place: where a pinned one is, else in the middle of them. */
function broughtTogether(layout: Layout, pairs: readonly number[]): { layout: Layout; points: number } {
  const sets = iota(layout.uv.length / 2);
  for (let k = 0; k < pairs.length; k += 2) unite(sets, pairs[k]!, pairs[k + 1]!);
  const groups = new Map<number, number[]>();
  for (const w of new Set(pairs)) {
    const root = rootOf(sets, w);
    groups.set(root, [...(groups.get(root) ?? []), w]);
  }
  const uv = layout.uv.slice();
  const pinned = layout.pinned.slice();
  let points = 0;
  for (const group of groups.values()) {
    if (group.length < 2) continue;
    points += group.length;
    const held = group.filter((w) => getBit(pinned, w));
    const of = held.length ? held.slice(0, 1) : group;
    if (held.some((w) => !isAt(uv, w, held[0]!)))
      throw new UserError("Pinned points that lie apart would become one: unpin some of them first.");
    // Where all are in one place already, exactly that.
    const isOne = group.every((w) => isAt(uv, w, group[0]!));
    const place = [0, 1].map((d) =>
      isOne ? uv[2 * group[0]! + d]! : of.reduce((sum, w) => sum + uv[2 * w + d]!, 0) / of.length,
    );
    for (const w of group) {
      uv.set(place, 2 * w);
      if (held.length) setBit(pinned, w);
    }
  }
  return { layout: { ...layout, uv, pinned }, points };
}

/** Makes points of one vertex that meet, or nearly do, one point: the seams between them are gone. */
export const weldPoints: EditOperation<z.infer<typeof options>> = {
  id: "weld-points",
  title: "Weld points",
  about:
    "Makes picked UV points and those of the same vertices that lie near them one, so that the seams between them are gone.",
  kind: "edit",
  stage: "unfold",
  heading: "Points",
  acts: "faces",
  picks: true,
  options,
  run(asset, scope, { within }) {
    let total = 0;
    const changes = pickedPoints(asset, scope).flatMap((work) => {
      const { seams, pairs } = meetingSeams(work, within);
      if (!seams.length) return [];
      const { layout, points } = broughtTogether(work.layout, pairs);
      total += points;
      const bits = layout.cut.slice();
      for (const e of seams) clearBit(bits, e);
      return [{ shape: work.shape.id, set: scope.set, layout: withBits(work.shape.mesh, layout, bits) }];
    });
    if (!changes.length)
      throw new UserError("No seam lies between these points and others of their vertices within that distance.");
    return { asset: withLayouts(asset, changes), words: `Weld ${count(total, "UV point")}`, notes: [] };
  },
};
