import { shortestPaths } from "../numeric/heap";
import { iota } from "../numeric/iota";
import { rootOf, unite } from "../numeric/union-find";
import type { Piece, Source } from "./piece";
import { angleDefects, type PieceGraph, pieceGraph } from "./piece-graph";

/** A single vertex with this angle defect cannot lie flat among its neighbours: the corner of a cube has pi / 2. */
const SHARP_TIP = Math.PI / 3;
/** A neighbourhood with this much curvature in all is a tip, as of a finger or a horn. */
const BROAD_TIP = 0.9 * Math.PI;
const MOST_TIPS = 14;

/**
 * Edges of the part to cut so that one piece becomes a disk: borders are tied to one another, handles are opened, and
 * tips (far-apart points of high curvature) are reached, all along paths that cost least: short, along creases, little
 * seen. Empty for a disk without tips.
 *
 * Source: Erickson, Whittlesey, Greedy optimal homotopy and homology generators (2005) for handles; Sheffer, Hart,
 * Seamster: inconspicuous low-distortion texture seam layout (2002) for paths through points of high curvature.
 */
export function openUp(source: Source, piece: Piece, reachTips = true): Uint32Array {
  const g = pieceGraph(source, piece);
  if (g.faults.length) return Uint32Array.from(g.faults, (e) => g.partEdge[e]!);
  const opening = new Opening(g);
  const defects = angleDefects(piece, g.loopOf);
  if (g.loops === 0) opening.beginClosed(defects);
  opening.tieLoops();
  if (reachTips || g.loops === 0) opening.reachTips(defects);
  opening.openHandles();
  return Uint32Array.from(opening.cut, (e) => g.partEdge[e]!);
}

class Opening {
  /** Edges of the piece. */
  readonly cut = new Set<number>();
  /** Vertices on the cut or on a border tied to it. */
  private readonly reached = new Set<number>();

  constructor(private readonly g: PieceGraph) {}

  /** Starts the cut of a closed piece at one of two far-apart points and leads it to the other. */
  beginClosed(defects: Float64Array): void {
    const { g } = this;
    let sharpest = 0;
    for (let v = 1; v < defects.length; v++) if (defects[v]! > defects[sharpest]!) sharpest = v;
    const far = farthest(shortestPaths(g.graph, g.length, [sharpest]).distance, defects);
    const start = farthest(shortestPaths(g.graph, g.length, [far]).distance, defects);
    this.reached.add(start);
    this.lead(far);
  }

  private lead(target: number): void {
    const { g } = this;
    const paths = shortestPaths(g.graph, g.cost, this.reached);
    this.walkBack(paths.before, paths.via, target);
  }

  private walkBack(before: Int32Array, via: Int32Array, target: number): void {
    for (let v = target; v >= 0; v = before[v]!) {
      this.reached.add(v);
      if (via[v]! >= 0 && this.g.right[via[v]!]! >= 0) this.cut.add(via[v]!);
    }
  }

  private addLoop(loop: number): void {
    for (let v = 0; v < this.g.loopOf.length; v++) if (this.g.loopOf[v] === loop) this.reached.add(v);
  }

  /** Ties every border loop to the first, the nearest next. */
  tieLoops(): void {
    const { g } = this;
    if (g.loops === 0) return;
    const waiting = new Set<number>(Array.from({ length: g.loops - 1 }, (_, i) => i + 1));
    this.addLoop(0);
    while (waiting.size) {
      const paths = shortestPaths(g.graph, g.cost, this.reached);
      let best = -1;
      for (let v = 0; v < g.loopOf.length; v++)
        if (waiting.has(g.loopOf[v]!) && (best < 0 || paths.distance[v]! < paths.distance[best]!)) best = v;
      if (best < 0 || !Number.isFinite(paths.distance[best]!)) return;
      this.walkBack(paths.before, paths.via, best);
      waiting.delete(g.loopOf[best]!);
      this.addLoop(g.loopOf[best]!);
    }
  }

  /** Leads the cut to sharp single points, then to the far ends of long bulges. */
  reachTips(defects: Float64Array): void {
    const { g } = this;
    const sharp = Array.from(defects.keys())
      .filter((v) => defects[v]! > SHARP_TIP && !this.reached.has(v))
      .sort((a, b) => defects[b]! - defects[a]!)
      .slice(0, MOST_TIPS);
    for (const v of sharp) if (!this.reached.has(v)) this.lead(v);
    for (let n = sharp.length; n < MOST_TIPS; n++) {
      const { distance } = shortestPaths(g.graph, g.length, this.reached);
      const tip = farthest(distance, defects);
      const reach = distance[tip]! / 2;
      if (!(reach > 0) || !Number.isFinite(reach)) return;
      const near = shortestPaths(g.graph, g.length, [tip]).distance;
      let curvature = 0;
      for (let v = 0; v < near.length; v++) if (near[v]! <= reach) curvature += defects[v]!;
      if (curvature < BROAD_TIP) return;
      this.lead(tip);
    }
  }

  /** Cuts two loops for every handle: edges that neither the tree of least paths nor a tree of faces can do without. */
  openHandles(): void {
    const { g } = this;
    if (!this.reached.size) this.reached.add(g.ends[0]!);
    const paths = shortestPaths(g.graph, g.cost, this.reached);
    const inTree = new Uint8Array(g.edges);
    for (const e of paths.via) if (e >= 0) inTree[e] = 1;
    const order: number[] = [];
    for (let e = 0; e < g.edges; e++) if (g.right[e]! >= 0 && !inTree[e] && !this.cut.has(e)) order.push(e);
    const price = (e: number) => paths.distance[g.ends[2 * e]!]! + paths.distance[g.ends[2 * e + 1]!]! + g.cost[e]!;
    order.sort((a, b) => price(b) - price(a));
    const parent = iota(g.faces);
    for (const e of order) {
      const [left, right] = [g.left[e]!, g.right[e]!];
      if (rootOf(parent, left) !== rootOf(parent, right)) {
        unite(parent, left, right);
        continue;
      }
      this.cut.add(e);
      this.walkBack(paths.before, paths.via, g.ends[2 * e]!);
      this.walkBack(paths.before, paths.via, g.ends[2 * e + 1]!);
    }
  }
}

/** The farthest vertex, a little more readily a sharp one. */
function farthest(distance: Float64Array, defects: Float64Array): number {
  let best = 0;
  let most = -1;
  for (let v = 0; v < distance.length; v++) {
    if (!Number.isFinite(distance[v]!)) continue;
    const score = distance[v]! * (1 + 0.1 * Math.max(0, Math.min(1, defects[v]!)));
    if (score > most) {
      most = score;
      best = v;
    }
  }
  return best;
}
