import type { Corner, Edge } from "../mesh/indices";
import { faceCount, type PolyMesh, vertexCount } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, type Topology, topologyOf } from "../mesh/topology";
import { GrowableArray } from "../numeric/growable-array";

/** Which corner of one mesh every corner of another is, found by how their faces are joined. */
export interface Match {
  /** Per corner of the target the corner of the source. */
  readonly corner: Int32Array;
  /** Per face of the target: 1 where it runs the other way round, as on a mirrored copy. */
  readonly mirrored: Uint8Array;
}

/** Whether two meshes have the same faces over the same vertex numbers. */
export function sameNumbering(a: PolyMesh, b: PolyMesh): boolean {
  return (
    a.faceStart.length === b.faceStart.length &&
    a.cornerVertex.length === b.cornerVertex.length &&
    a.faceStart.every((x, i) => x === b.faceStart[i]) &&
    a.cornerVertex.every((x, i) => x === b.cornerVertex[i])
  );
}

/**
 * Matches two meshes by connectivity, whatever their numbering, the same way round or mirrored. Vertices are distinguished
 * by refining colours (B. Weisfeiler, A. Lehman, 1968); from a corner of a rare colour both meshes are then walked side
 * by side. Where several ways fit, as on a symmetric mesh, the one whose edges and places agree best is taken.
 *
 * @returns null when the meshes are connected differently
 */
export function matchMeshes(source: PolyMesh, target: PolyMesh): Match | null {
  if (sameNumbering(source, target)) return identityMatch(target);
  if (source.cornerVertex.length !== target.cornerVertex.length) return null;
  if (source.faceStart.length !== target.faceStart.length) return null;
  const a = new Side(source);
  const b = new Side(target);
  refineTogether(a, b);
  if (!sameCounts(a.color, b.color)) return null;
  const corner = new Int32Array(target.cornerVertex.length).fill(-1);
  const mirrored = new Uint8Array(faceCount(target));
  const taken = new Uint8Array(faceCount(source));
  const state = new WalkState(a, b);
  const keysA = a.cornerKeys();
  const keysB = b.cornerKeys();
  const byKey = new Map<number, number[]>();
  keysA.forEach((key, c) => {
    const list = byKey.get(key);
    if (list) list.push(c);
    else byKey.set(key, [c]);
  });
  // A corner of the rarest kind in every connected run of faces leaves the fewest ways to try.
  for (const run of b.runs()) {
    let seed = -1 as Corner;
    let rarest = Infinity;
    for (const f of run)
      for (let c = target.faceStart[f]! as Corner; c < target.faceStart[f + 1]!; c++) {
        const n = byKey.get(keysB[c]!)?.length ?? 0;
        if (!n) return null;
        if (n < rarest) [rarest, seed] = [n, c];
      }
    const best = bestWalk(a, b, seed, byKey, keysB, taken, run.length, state);
    if (!best) return null;
    for (let i = 0; i < best.pairs.length; i += 2) {
      const cb = best.pairs[i]!;
      const ca = best.pairs[i + 1]!;
      corner[cb] = ca;
      taken[a.t.cornerFace[ca]!] = 1;
      mirrored[b.t.cornerFace[cb]!] = best.mirrored ? 1 : 0;
    }
  }
  return { corner, mirrored };
}

const identityMatch = (mesh: PolyMesh): Match => ({
  corner: Int32Array.from({ length: mesh.cornerVertex.length }, (_, c) => c),
  mirrored: new Uint8Array(faceCount(mesh)),
});

/** Ways tried from one seed before the best so far is taken. */
const MOST_TRIES = 96;

interface Walk {
  /** Corners of the target, each followed by that of the source. */
  readonly pairs: Float64Array;
  readonly mirrored: boolean;
  readonly misfit: number;
}

function bestWalk(
  a: Side,
  b: Side,
  seed: Corner,
  byKey: ReadonlyMap<number, readonly number[]>,
  keysB: Float64Array,
  taken: Uint8Array,
  faces: number,
  state: WalkState,
): Walk | null {
  let best: Walk | null = null;
  let tries = 0;
  for (const mirrored of [false, true]) {
    // Mirrored, the edge leaving a corner is the edge coming to its partner.
    const from = mirrored ? (byKey.get(b.reversedKey(seed)) ?? []) : (byKey.get(keysB[seed]!) ?? []);
    for (const c of from) {
      const start = mirrored ? a.t.cornerNext[c]! : c;
      if (taken[a.t.cornerFace[start]!]) continue;
      if (++tries > MOST_TRIES && best) return best;
      const walk = walkTogether(a, b, { a: start, b: seed, mirrored }, taken, faces, best?.misfit ?? Infinity, state);
      if (walk) best = walk;
      if (best && best.misfit < 1e-12) return best;
    }
  }
  return best;
}

/** Scratch of walks: what every face and vertex of the target was matched with, where the stamp is that of the walk. */
class WalkState {
  private stamp = 0;
  private readonly faceStamp: Uint32Array;
  private readonly usedStamp: Uint32Array;
  private readonly vertexStamp: Uint32Array;
  private readonly face: Uint32Array;
  private readonly vertex: Uint32Array;
  /** Corners that are to be walked from, as pairs: source, target. */
  readonly queue = new GrowableArray();
  /** Corners that were matched, as pairs: target, source. */
  readonly pairs = new GrowableArray();
  faces = 0;

  constructor(a: Side, b: Side) {
    this.usedStamp = new Uint32Array(faceCount(a.mesh));
    this.faceStamp = new Uint32Array(faceCount(b.mesh));
    this.face = new Uint32Array(faceCount(b.mesh));
    this.vertexStamp = new Uint32Array(vertexCount(b.mesh));
    this.vertex = new Uint32Array(vertexCount(b.mesh));
  }

  begin(): void {
    this.stamp++;
    this.queue.length = this.pairs.length = this.faces = 0;
  }

  /** The source face that a target face was matched with; -1 for none yet. */
  faceOf = (fb: number): number => (this.faceStamp[fb] === this.stamp ? this.face[fb]! : -1);
  isUsed = (fa: number): boolean => this.usedStamp[fa] === this.stamp;

  matchFaces(fa: number, fb: number): void {
    this.faceStamp[fb] = this.usedStamp[fa] = this.stamp;
    this.face[fb] = fa;
    this.faces++;
  }

  /** Matches two vertices. @returns whether that agrees with what was matched before */
  matchVertices(va: number, vb: number): boolean {
    if (this.vertexStamp[vb] === this.stamp) return this.vertex[vb] === va;
    this.vertexStamp[vb] = this.stamp;
    this.vertex[vb] = va;
    return true;
  }
}

/** Walks both meshes face by face from a pair of corners; null when they differ or the fit is no better than `bound`. */
function walkTogether(
  a: Side,
  b: Side,
  start: { readonly a: number; readonly b: number; readonly mirrored: boolean },
  taken: Uint8Array,
  faces: number,
  bound: number,
  state: WalkState,
): Walk | null {
  const { mirrored } = start;
  state.begin();
  const { queue, pairs } = state;
  queue.add(start.a).add(start.b);
  let misfit = 0;
  for (let i = 0; i < queue.length; i += 2) {
    const fa = a.t.cornerFace[queue.data[i]!]!;
    const fb = b.t.cornerFace[queue.data[i + 1]!]!;
    const known = state.faceOf(fb);
    if (known >= 0) {
      if (known !== fa) return null;
      continue;
    }
    if (taken[fa] || state.isUsed(fa) || a.size(fa) !== b.size(fb)) return null;
    state.matchFaces(fa, fb);
    let x = queue.data[i]!;
    let y = queue.data[i + 1]!;
    for (let k = b.size(fb); k > 0; k--) {
      const va = a.mesh.cornerVertex[x]!;
      const vb = b.mesh.cornerVertex[y]!;
      if (a.color[va] !== b.color[vb] || !state.matchVertices(va, vb)) return null;
      pairs.add(y).add(x);
      // The edge leaving y is, mirrored, the edge that comes to x.
      const edgeA = mirrored ? a.prev(x) : x;
      misfit += (a.edgeLength(edgeA) - b.edgeLength(y)) ** 2 + 1e-6 * a.distance(va, b, vb);
      if (!goOn(a, b, edgeA, y, mirrored, queue)) return null;
      x = mirrored ? a.prev(x) : a.t.cornerNext[x]!;
      y = b.t.cornerNext[y]!;
    }
    if (misfit >= bound) return null;
  }
  return state.faces === faces ? { pairs: pairs.data.slice(0, pairs.length), mirrored, misfit } : null;
}

/** Adds the corners behind an edge to those walked from. @returns false when the two sides differ there */
function goOn(a: Side, b: Side, edgeA: number, edgeB: number, mirrored: boolean, queue: GrowableArray): boolean {
  const mateA = mateCorner(a.t, edgeA as Corner);
  const mateB = mateCorner(b.t, edgeB as Corner);
  if (mateA < 0 || mateB < 0) return mateA < 0 && mateB < 0;
  // Both sides must run along the edge in the same manner.
  const alikeA = a.mesh.cornerVertex[edgeA] !== a.mesh.cornerVertex[mateA];
  const alikeB = b.mesh.cornerVertex[edgeB] !== b.mesh.cornerVertex[mateB];
  if (alikeA !== alikeB) return false;
  queue.add(mirrored ? a.t.cornerNext[mateA]! : mateA).add(mateB);
  return true;
}

/** One of the two meshes, with what matching asks of it. */
class Side {
  readonly t: Topology;
  color: Float64Array;
  private readonly before: Uint32Array;
  private readonly scale: number;
  private readonly middle: [number, number, number];

  constructor(readonly mesh: PolyMesh) {
    this.t = topologyOf(mesh);
    this.before = new Uint32Array(mesh.cornerVertex.length);
    for (let c = 0; c < this.before.length; c++) this.before[this.t.cornerNext[c]!] = c;
    this.color = new Float64Array(mesh.positions.length / 3);
    for (const v of mesh.cornerVertex) this.color[v]!++;
    for (let e = 0 as Edge; e < this.t.edgeCount; e++)
      if (edgeFaceCount(this.t, e) !== 2)
        for (const k of [0, 1]) this.color[this.t.edgeVertices[2 * e + k]!]! += 1000 * edgeFaceCount(this.t, e);
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    for (let i = 0; i < mesh.positions.length; i++) {
      low[i % 3] = Math.min(low[i % 3]!, mesh.positions[i]!);
      high[i % 3] = Math.max(high[i % 3]!, mesh.positions[i]!);
    }
    this.scale = Math.hypot(...low.map((x, i) => high[i]! - x)) || 1;
    this.middle = low.map((x, i) => (x + high[i]!) / 2) as [number, number, number];
  }

  size = (f: number): number => this.mesh.faceStart[f + 1]! - this.mesh.faceStart[f]!;
  prev = (c: number): number => this.before[c]!;

  /** Length of the edge leaving a corner, as a share of the mesh's size. */
  edgeLength(c: number): number {
    const p = this.mesh.positions;
    const i = 3 * this.mesh.cornerVertex[c]!;
    const j = 3 * this.mesh.cornerVertex[this.t.cornerNext[c]!]!;
    return Math.sqrt((p[i]! - p[j]!) ** 2 + (p[i + 1]! - p[j + 1]!) ** 2 + (p[i + 2]! - p[j + 2]!) ** 2) / this.scale;
  }

  /** Squared distance of two vertices, each from the middle of its mesh. */
  distance(v: number, other: Side, w: number): number {
    let sum = 0;
    for (let d = 0; d < 3; d++) {
      const x = (this.mesh.positions[3 * v + d]! - this.middle[d]!) / this.scale;
      const y = (other.mesh.positions[3 * w + d]! - other.middle[d]!) / other.scale;
      sum += (x - y) ** 2;
    }
    return sum;
  }

  refined(): Float64Array {
    const sum = new Float64Array(this.color.length);
    const { edgeVertices, edgeCount } = this.t;
    for (let e = 0; e < edgeCount; e++) {
      const [a, b] = [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!];
      sum[a]! += mixed(this.color[b]!);
      sum[b]! += mixed(this.color[a]!);
    }
    for (let f = 0; f + 1 < this.mesh.faceStart.length; f++) {
      const n = this.size(f);
      for (let c = this.mesh.faceStart[f]!; c < this.mesh.faceStart[f + 1]!; c++)
        sum[this.mesh.cornerVertex[c]!]! += mixed(n + 77);
    }
    return sum.map((s, v) => mixed(s % 9007199254740881) + 3 * this.color[v]!).map((x) => x % 4294967291);
  }

  /** A number for every corner: its vertex's colour, the next one's, and the size of its face. */
  cornerKeys(): Float64Array {
    return Float64Array.from({ length: this.before.length }, (_, c) =>
      keyOf(
        this.color[this.mesh.cornerVertex[c]!]!,
        this.color[this.mesh.cornerVertex[this.t.cornerNext[c]!]!]!,
        this.size(this.t.cornerFace[c]!),
      ),
    );
  }

  /** The key a corner has when its edge is run the other way. */
  reversedKey(c: Corner): number {
    return keyOf(
      this.color[this.mesh.cornerVertex[this.t.cornerNext[c]!]!]!,
      this.color[this.mesh.cornerVertex[c]!]!,
      this.size(this.t.cornerFace[c]!),
    );
  }

  /** Faces that are joined across edges of two, run by run. */
  runs(): number[][] {
    const seen = new Uint8Array(faceCount(this.mesh));
    const out: number[][] = [];
    for (let start = 0; start < seen.length; start++) {
      if (seen[start]) continue;
      seen[start] = 1;
      const run = [start];
      for (let i = 0; i < run.length; i++)
        for (let c = this.mesh.faceStart[run[i]!]!; c < this.mesh.faceStart[run[i]! + 1]!; c++) {
          const mate = mateCorner(this.t, c as Corner);
          if (mate < 0 || seen[this.t.cornerFace[mate]!]) continue;
          seen[this.t.cornerFace[mate]!] = 1;
          run.push(this.t.cornerFace[mate]!);
        }
      out.push(run);
    }
    return out;
  }
}

const keyOf = (a: number, b: number, size: number): number => mixed(a) * 31 + mixed(b + 0.5) * 17 + size;

/** A whole number below 2^32 scattered from a number. */
function mixed(x: number): number {
  let h =
    Math.imul(Math.floor(x % 4294967296) | 0, 0x9e3779b1) ^
    Math.imul(Math.floor((x * 16) % 4294967296) | 0, 0x85ebca6b);
  h ^= h >>> 15;
  h = Math.imul(h, 0x2c1b3c6d);
  h ^= h >>> 12;
  return h >>> 0;
}

/** Rounds after which colours rarely tell more. */
const ROUNDS = 12;

function refineTogether(a: Side, b: Side): void {
  let kinds = 0;
  for (let round = 0; round < ROUNDS; round++) {
    a.color = a.refined();
    b.color = b.refined();
    const now = new Set(a.color).size;
    if (now === kinds) return;
    kinds = now;
  }
}

function sameCounts(a: Float64Array, b: Float64Array): boolean {
  // Stray vertices have no corners and matter to nothing.
  const [x, y] = [Float64Array.from(a).sort(), Float64Array.from(b).sort()];
  return x.length === y.length && x.every((v, i) => v === y[i]);
}
