import type { Asset } from "../../layout/asset";
import { edgeEnds, type Layout, structureOf } from "../../layout/layout";
import { bestFit, turnedAbout } from "../../layout/orient";
import { isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Edge } from "../../mesh/indices";
import { topologyOf } from "../../mesh/topology";
import { boxOf, middleOfBox } from "../../place/box";
import type { EditResult, Scope } from "../operation";
import { type ShellAt, shellsAt, shifted, withShellsAt } from "../place/shells-at";
import { count } from "../words";
import { bordersOf } from "./graft";

/** Sets shells beside their neighbours; each lies where those before it were set. */
export function run(asset: Asset, scope: Scope, { gap }: { readonly gap: number }): EditResult {
  let now = asset;
  let total = 0;
  for (const { shape, face } of shellsAt(asset, scope)) {
    const items = new Map([[shape.id, Uint32Array.of(face)]]);
    const [own] = shellsAt(now, { ...scope, selection: { kind: "shells", items } });
    const beside = own && besideNeighbour(own, gap / asset.tiles.resolution);
    if (!own || !beside) continue;
    now = withShellsAt(now, scope.set, [own], [beside]);
    total++;
  }
  if (!total) throw new UserError("None of these shells shares a seam with another one that is laid out.");
  return {
    asset: now,
    words: `Set ${count(total, "shell")} beside ${total === 1 ? "its neighbour" : "their neighbours"}`,
    notes: [],
  };
}

/** Points of a shell beside its neighbour, which stays; null where it shares no seam. */
function besideNeighbour(own: ShellAt, gap: number): Float64Array | null {
  const { shape, layout, shell, uv } = own;
  const [border] = bordersOf(shape, layout, shell, null)
    .filter(({ other }) => isMapped(shape.mesh, layout, other))
    .sort((a, b) => b.length - a.length);
  if (!border) return null;
  const { from, to } = sidesOf(layout, own, border.edges);
  // Its size stays: only the turn of the fit is taken, and both middles laid on each other.
  const { angle } = bestFit(from, to);
  const [turned, side] = [turnedAbout(uv, angle, [0, 0]), turnedAbout(from, angle, [0, 0])];
  const [du, dv] = [0, 1].map((d) => meanOf(to, d) - meanOf(side, d)) as [number, number];
  const laid = shifted(turned, [du, dv]);
  // Away from the neighbour, square to the side that they share.
  const [mu, mv] = middleOfBox(boxOf(laid));
  const [x, y] = longestWay(to);
  const isLeft = (mu - meanOf(to, 0)) * -y + (mv - meanOf(to, 1)) * x >= 0;
  const by = isLeft ? gap : -gap;
  return shifted(laid, [-y * by, x * by]);
}

/** The way from the first of some points to the one farthest from it, and from there to the one farthest from that; unit. */
function longestWay(uv: Float64Array): readonly [number, number] {
  const farthest = (k: number): number => {
    let [best, most] = [k, 0];
    for (let i = 0; i < uv.length; i += 2) {
      const off = (uv[i]! - uv[k]!) ** 2 + (uv[i + 1]! - uv[k + 1]!) ** 2;
      if (off > most) [best, most] = [i, off];
    }
    return best;
  };
  const from = farthest(0);
  const to = farthest(from);
  const [du, dv] = [uv[to]! - uv[from]!, uv[to + 1]! - uv[from + 1]!];
  const length = Math.sqrt(du * du + dv * dv) || 1;
  return [du / length, dv / length];
}

/** Points of a seam on the side of a shell, and on the other, pair by pair. */
function sidesOf(
  layout: Layout,
  { shape, shell }: ShellAt,
  edges: readonly number[],
): { from: Float64Array; to: Float64Array } {
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const s = structureOf(mesh, layout);
  const pairs: number[][] = [];
  for (const e of edges) {
    const [a0, a1, b0, b1] = edgeEnds(mesh, t, e as Edge) as unknown as [number, number, number, number];
    const isOwn = s.faceShell[t.cornerFace[a0]!] === shell;
    for (const [p, q] of isOwn
      ? [
          [a0, b0],
          [a1, b1],
        ]
      : [
          [b0, a0],
          [b1, a1],
        ])
      pairs.push([s.cornerWedge[p!]!, s.cornerWedge[q!]!]);
  }
  const points = (side: number) =>
    Float64Array.from(pairs.flatMap((pair) => [layout.uv[2 * pair[side]!]!, layout.uv[2 * pair[side]! + 1]!]));
  return { from: points(0), to: points(1) };
}

const meanOf = (uv: Float64Array, d: number): number => {
  let sum = 0;
  for (let i = d; i < uv.length; i += 2) sum += uv[i]!;
  return (2 * sum) / uv.length;
};
