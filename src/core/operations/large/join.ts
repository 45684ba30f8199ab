import type { Asset } from "../../layout/asset";
import { type PlacedShape, withLayouts } from "../../layout/asset";
import { clearBit, getBit } from "../../layout/bits";
import { edgeEnds, facesOfShell, type Layout, structureOf, withBits, withPoints } from "../../layout/layout";
import { bestFit } from "../../layout/orient";
import { lockedEdges, lockReasons } from "../../layout/seam-locks";
import { hasPins, wedgesOfShell, withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Edge, Shell } from "../../mesh/indices";
import { edgeCorner, edgeFaceCount, topologyOf } from "../../mesh/topology";
import { worldPositions } from "../../mesh/transform";
import { alignedLike } from "../../unfold/align";
import { unfoldGuided } from "../../unfold/guided-unfold";
import { pointsOf, shellMesh } from "../../unfold/shell-mesh";
import { unfoldShell } from "../../unfold/unfold-shell";
import type { EditResult, Scope } from "../operation";
import { edgesInScope } from "../scope";
import { count } from "../words";

/** Points this near (by the length of the joined seam in UV) meet. */
const MEETS = 1e-6;

/** Clears seams: the smaller shell is moved, turned and scaled onto its mates; where that is not enough both are unfolded again. */
export function run(asset: Asset, scope: Scope): EditResult {
  let [total, locked] = [0, 0];
  const reasons = new Set<string>();
  const changes = edgesInScope(asset, scope).flatMap(({ shape, layout, edges }) => {
    const t = topologyOf(shape.mesh);
    const locks = lockedEdges(asset, scope.set, shape);
    const all = edges.filter((e) => edgeFaceCount(t, e as Edge) === 2 && getBit(layout.cut, e));
    const seams = locks ? all.filter((e) => !getBit(locks, e)) : all;
    total += seams.length;
    locked += all.length - seams.length;
    if (all.length > seams.length) for (const why of lockReasons(asset, scope.set, shape, all)) reasons.add(why);
    return seams.length ? [{ shape: shape.id, set: scope.set, layout: joinEdges(shape, layout, seams) }] : [];
  });
  if (!total)
    throw new UserError(
      locked
        ? `These seams are locked (${[...reasons].join(", ")}); unlock them first.`
        : "None of these edges is a seam.",
    );
  const notes = locked
    ? [{ words: `${count(locked, "locked seam edge")} stayed cut (${[...reasons].join(", ")}).`, shells: [] }]
    : [];
  return { asset: withLayouts(asset, changes), words: `Join ${count(total, "edge")}`, notes };
}

/** The layout with some seams taken off. Points that lie apart are never averaged. @param mover the shell that is to move */
export function joinEdges(shape: PlacedShape, layout: Layout, seams: Uint32Array, mover?: Shell): Layout {
  const { mesh } = shape;
  const bits = layout.cut.slice();
  for (const e of seams) clearBit(bits, e);
  const t = topologyOf(mesh);
  const mapped = seams.filter((e) => getBit(layout.mapped, t.cornerFace[edgeCorner(t, e as Edge)]!));
  const moved = bringTogether(shape, layout, mapped, mover);
  const joined = withBits(mesh, moved, bits);
  const torn = tornShells(shape, moved, joined, mapped);
  return torn.size ? unfoldAgain(shape, joined, torn) : joined;
}

/** Ends of seam edges as pairs of wedges that are to meet: [this side, mate, ...] with their shells. */
function mates(shape: PlacedShape, layout: Layout, seams: Uint32Array) {
  const t = topologyOf(shape.mesh);
  const s = structureOf(shape.mesh, layout);
  return Array.from(seams, (e) => {
    const [a0, a1, b0, b1] = edgeEnds(shape.mesh, t, e as Edge);
    return {
      a: [s.cornerWedge[a0]!, s.cornerWedge[a1]!] as const,
      b: [s.cornerWedge[b0]!, s.cornerWedge[b1]!] as const,
      shellA: s.faceShell[t.cornerFace[a0]!]!,
      shellB: s.faceShell[t.cornerFace[b0]!]!,
    };
  });
}

/** Moves, turns and scales shells onto their mates, beginning from pinned ones, then from the largest of each group. */
function bringTogether(shape: PlacedShape, layout: Layout, seams: Uint32Array, mover?: Shell): Layout {
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const pairs = mates(shape, layout, seams);
  const size = (shell: Shell) => (shell === mover ? 0 : facesOfShell(s, shell).length);
  const waiting = new Set(pairs.flatMap((p) => [p.shellA, p.shellB]));
  const pinned = new Set([...waiting].filter((shell) => hasPins(mesh, layout, shell)));
  const order = [...waiting].sort((a, b) => size(b) - size(a));
  // Pinned shells stay where they are, whether they meet or not.
  const settled = new Set(pinned);
  const uv = layout.uv.slice();
  for (const anchor of order) {
    if (settled.has(anchor) && !pinned.has(anchor)) continue;
    settled.add(anchor);
    for (let next = nextTo(settled, pairs); next !== undefined; next = nextTo(settled, pairs)) {
      moveOnto(next, uv, pairs, settled, wedgesOfShell(mesh, layout, next));
      settled.add(next);
    }
  }
  return withPoints(layout, uv);
}

function nextTo(settled: ReadonlySet<number>, pairs: ReturnType<typeof mates>): Shell | undefined {
  for (const p of pairs) {
    if (settled.has(p.shellA) && !settled.has(p.shellB)) return p.shellB;
    if (settled.has(p.shellB) && !settled.has(p.shellA)) return p.shellA;
  }
  return undefined;
}

function moveOnto(
  shell: number,
  uv: Float64Array,
  pairs: ReturnType<typeof mates>,
  settled: ReadonlySet<number>,
  wedges: Uint32Array,
): void {
  const from: number[] = [];
  const to: number[] = [];
  for (const p of pairs) {
    const mine = p.shellA === shell ? p.a : p.shellB === shell ? p.b : null;
    const theirs = p.shellA === shell ? p.b : p.a;
    if (!mine || !settled.has(p.shellA === shell ? p.shellB : p.shellA)) continue;
    for (const k of [0, 1] as const) {
      from.push(uv[2 * mine[k]]!, uv[2 * mine[k] + 1]!);
      to.push(uv[2 * theirs[k]]!, uv[2 * theirs[k] + 1]!);
    }
  }
  if (from.every((x, i) => x === to[i])) return;
  const fit = bestFit(Float64Array.from(from), Float64Array.from(to));
  const c = fit.scale * Math.cos(fit.angle);
  const s = fit.scale * Math.sin(fit.angle);
  for (const w of wedges) {
    const u = uv[2 * w]!;
    const v = uv[2 * w + 1]!;
    uv[2 * w] = c * u - s * v + fit.du;
    uv[2 * w + 1] = s * u + c * v + fit.dv;
  }
}

/** Shells of the joined layout in which mates did not meet. */
function tornShells(shape: PlacedShape, moved: Layout, joined: Layout, seams: Uint32Array): Set<Shell> {
  const t = topologyOf(shape.mesh);
  const s = structureOf(shape.mesh, joined);
  const torn = new Set<Shell>();
  mates(shape, moved, seams).forEach(({ a, b }, i) => {
    const at = (w: number) => [moved.uv[2 * w]!, moved.uv[2 * w + 1]!] as const;
    const length = Math.hypot(at(a[0])[0] - at(a[1])[0], at(a[0])[1] - at(a[1])[1]);
    const apart = Math.max(...[0, 1].map((k) => Math.hypot(at(a[k]!)[0] - at(b[k]!)[0], at(a[k]!)[1] - at(b[k]!)[1])));
    if (apart > MEETS * length) torn.add(s.faceShell[t.cornerFace[edgeCorner(t, seams[i]! as Edge)]!]!);
  });
  return torn;
}

function unfoldAgain(shape: PlacedShape, joined: Layout, shells: ReadonlySet<Shell>): Layout {
  const world = worldPositions(shape.mesh, shape.metric);
  const points = [...shells].map((shell) => {
    const form = shellMesh(shape.mesh, world, joined, shell);
    const held = Uint8Array.from(form.wedges, (w) => (getBit(joined.pinned, w) ? 1 : 0));
    const isPinned = held.some(Boolean);
    const result = isPinned
      ? unfoldGuided(form, pointsOf(form, joined), { held }, { passes: 20 })
      : unfoldShell(form, { passes: 20 });
    if (!result.ok)
      throw new UserError(
        `Joined there, shell ${shell + 1} of ${shape.name} ${result.reason}; leave part of the seam.`,
      );
    return {
      shell,
      wedges: form.wedges,
      uv: isPinned ? result.uv : alignedLike(form.triangles, pointsOf(form, joined), result.uv),
    };
  });
  return withShellPoints(shape.mesh, joined, points);
}
