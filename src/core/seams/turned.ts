import { type Bits, getBit } from "../layout/bits";
import type { Corner, Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, mateCorner, type Topology } from "../mesh/topology";
import type { Source } from "./piece";

/** One ring of faces of a turned body, in order about it; a cap is one face, and a pole a fan of triangles. */
export interface Layer {
  readonly faces: readonly number[];
  /** By column: the edge along the body between a face and the one before it; none on a cap. */
  readonly meridians: readonly number[];
}

/**
 * A body of rings with as many faces each, as a lathe, a bent bar or a torus has: all columns run along it, all rings run
 * about it.
 */
export interface Turned {
  readonly columns: number;
  readonly layers: readonly Layer[];
  /** Edges of the ring before every layer, and of that behind the last; none at a closed end. */
  readonly rings: ReadonlyArray<readonly number[]>;
  readonly startClosed: boolean;
  readonly endClosed: boolean;
  /** The last ring is the first. */
  readonly isTorus: boolean;
}

/** Corners or triangles about a point from which on a face is a cap, or a vertex a pole. */
const FEWEST = 6;

interface Seed {
  /** Corners of the next ring, each from one column to the next. */
  readonly ring: readonly number[];
  readonly cap: Layer | null;
}

/**
 * The faces as a turned body, where they are one: rings are marched from a cap, a pole, a border, or, where there is none,
 * from a closed row of quads, and have to take in every face.
 *
 * @param cut edges that count as borders
 */
export function turnedBody(
  { mesh, topology }: Pick<Source, "mesh" | "topology">,
  faces: Uint32Array,
  cut: Bits,
): Turned | null {
  const march = new March(mesh, topology, faces, cut);
  let best: Turned | null = null;
  for (const seed of march.seeds()) {
    const turned = march.from(seed);
    if (turned && (!best || turned.layers.length > best.layers.length)) best = turned;
  }
  return best;
}

class March {
  private readonly inside: Set<number>;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly faces: Uint32Array,
    private readonly cut: Bits,
  ) {
    this.inside = new Set(faces);
  }

  private size(face: number): number {
    return this.mesh.faceStart[face + 1]! - this.mesh.faceStart[face]!;
  }
  private next(c: number): number {
    return this.t.cornerNext[c]!;
  }
  private before(c: number): number {
    const f = this.t.cornerFace[c]!;
    return c === this.mesh.faceStart[f]! ? this.mesh.faceStart[f + 1]! - 1 : c - 1;
  }
  private vertex(c: number): number {
    return this.mesh.cornerVertex[c]!;
  }
  /** The corner on the other side of a corner's edge; -1 at a border, a cut, or an edge of more than two faces. */
  private mate(c: number): number {
    const e = this.t.cornerEdge[c]! as Edge;
    if (getBit(this.cut, e) || edgeFaceCount(this.t, e) !== 2) return -1;
    const m = mateCorner(this.t, c as Corner);
    return m >= 0 && this.inside.has(this.t.cornerFace[m]!) ? m : -1;
  }
  private *corners(): Generator<number> {
    for (const f of this.faces) for (let c = this.mesh.faceStart[f]!; c < this.mesh.faceStart[f + 1]!; c++) yield c;
  }

  /** Where rings may begin: one is enough of a kind that is there on any turned body. */
  seeds(): Seed[] {
    const out = [...this.caps(), ...this.poles(), ...this.borders()];
    return out.length ? out : this.quadRows();
  }

  private caps(): Seed[] {
    return Array.from(this.faces).flatMap((f) => {
      if (this.size(f) < FEWEST) return [];
      const ring: number[] = [];
      for (let c = this.mesh.faceStart[f]!; c < this.mesh.faceStart[f + 1]!; c++) ring.unshift(this.mate(c));
      return ring.every((c) => c >= 0) ? [{ ring, cap: { faces: [f], meridians: [] } }] : [];
    });
  }

  private poles(): Seed[] {
    const about = new Map<number, number[]>();
    for (const c of this.corners()) {
      const list = about.get(this.vertex(c));
      if (list) list.push(c);
      else about.set(this.vertex(c), [c]);
    }
    const out: Seed[] = [];
    for (const corners of about.values()) {
      if (corners.length < FEWEST || corners.some((c) => this.size(this.t.cornerFace[c]!) !== 3)) continue;
      const seed = this.fan(corners);
      if (seed) out.push(seed);
    }
    return out;
  }

  /** The triangles about a vertex in turn, with the ring outside them. */
  private fan(corners: readonly number[]): Seed | null {
    const ring: number[] = [];
    const faces: number[] = [];
    const meridians: number[] = [];
    let c = corners[0]!;
    do {
      const outer = this.mate(this.next(c));
      const beside = this.mate(this.before(c));
      if (outer < 0 || beside < 0 || ring.length === corners.length) return null;
      ring.unshift(outer);
      faces.unshift(this.t.cornerFace[c]!);
      meridians.unshift(this.t.cornerEdge[this.before(c)]!);
      c = beside;
    } while (c !== corners[0]);
    return ring.length === corners.length ? { ring, cap: { faces, meridians } } : null;
  }

  private borders(): Seed[] {
    const left = new Set<number>();
    for (const c of this.corners()) if (this.mate(c) < 0) left.add(c);
    const out: Seed[] = [];
    const all = left.size;
    for (const first of left) {
      const ring: number[] = [];
      let c = first;
      while (left.delete(c)) {
        ring.push(c);
        let k = this.next(c);
        for (let n = 0; this.mate(k) >= 0 && n < all + this.faces.length; n++) k = this.next(this.mate(k));
        c = k;
      }
      if (c === first && ring.length >= 3) out.push({ ring, cap: null });
    }
    return out;
  }

  /** The two rows of quads through a face, where they close: one of them runs about a torus. */
  private quadRows(): Seed[] {
    const out: Seed[] = [];
    for (const side of [0, 1]) {
      const first = this.mesh.faceStart[this.faces[0]!]! + side;
      const ring: number[] = [];
      let c = first;
      do {
        if (c < 0 || this.size(this.t.cornerFace[c]!) !== 4 || ring.length > this.faces.length) break;
        ring.push(c);
        const beyond = this.mate(this.next(c));
        c = beyond < 0 ? -1 : this.next(beyond);
      } while (c !== first);
      if (c === first && ring.length >= 3) out.push({ ring, cap: null });
    }
    return out;
  }

  /** Marches on from a ring until the body ends or is not turned. */
  from({ ring: start, cap }: Seed): Turned | null {
    const columns = start.length;
    if (columns < 3) return null;
    const layers: Layer[] = cap ? [cap] : [];
    const rings: number[][] = cap ? [[]] : [];
    const seen = new Set<number>(cap?.faces);
    const done = (ends: { endClosed: boolean; isTorus: boolean }): Turned | null =>
      seen.size === this.inside.size ? { columns, layers, rings, startClosed: cap !== null, ...ends } : null;
    const edges = (corners: readonly number[]) => corners.map((c) => this.t.cornerEdge[c]!);
    for (let ring: readonly number[] = start; ; ) {
      rings.push(edges(ring));
      for (let k = 0; k < columns; k++)
        if (this.vertex(this.next(ring[k]!)) !== this.vertex(ring[(k + 1) % columns]!)) return null;
      if (seen.has(this.t.cornerFace[ring[0]!]!))
        return ring.some((c) => start.includes(c)) ? done({ endClosed: false, isTorus: true }) : null;
      const layer = this.layerAt(ring);
      if (!layer) return null;
      layers.push(layer);
      for (const f of layer.faces) seen.add(f);
      if (this.size(layer.faces[0]!) !== 4 || layer.faces.length === 1) {
        rings.push([]);
        return done({ endClosed: true, isTorus: false });
      }
      const far = ring.map((c) => this.next(this.next(c)));
      const on = far.map((c) => this.mate(c));
      if (on.every((c) => c < 0)) {
        rings.push(edges(far));
        return done({ endClosed: false, isTorus: false });
      }
      if (on.some((c) => c < 0)) return null;
      ring = on;
    }
  }

  /** The faces that a ring lies on: a cap, the triangles about one point, or as many quads side by side. */
  private layerAt(ring: readonly number[]): Layer | null {
    const faces = ring.map((c) => this.t.cornerFace[c]!);
    const size = this.size(faces[0]!);
    if (faces.every((f) => f === faces[0])) return size === ring.length ? { faces: [faces[0]!], meridians: [] } : null;
    if (new Set(faces).size !== ring.length || faces.some((f) => this.size(f) !== size)) return null;
    if (size === 3) {
      const apex = this.vertex(this.before(ring[0]!));
      if (ring.some((c) => this.vertex(this.before(c)) !== apex)) return null;
    } else if (size !== 4) return null;
    const meridians = ring.map((c) => this.t.cornerEdge[this.before(c)]!);
    for (let k = 0; k < ring.length; k++)
      if (this.t.cornerEdge[this.next(ring[k]!)] !== meridians[(k + 1) % ring.length]) return null;
    return { faces, meridians };
  }
}
