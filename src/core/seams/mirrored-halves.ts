import { type Bits, getBit, makeBits, placesOfBits, setBit } from "../layout/bits";
import { edgeImages } from "../mesh/edge-images";
import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { edgeCorner, edgeFaceCount, topologyOf } from "../mesh/topology";
import { type Symmetry, symmetryOf } from "../transfer/symmetry";
import type { Source } from "./piece";
import type { GraphShell } from "./seam-graph";

/** A form of two halves that mirror each other, with edges between them. */
export interface Halves {
  /** Faces of one half, ascending. */
  readonly half: Uint32Array;
  /** The image of every face, vertex and edge of the mesh; -1 for none. */
  readonly face: Int32Array;
  readonly vertex: Int32Array;
  readonly edge: Int32Array;
  /** Edges between the halves. */
  readonly middle: readonly Edge[];
}

/** Faces from which on it is worth while to look for a half. */
const FEWEST = 24;
/** Of the size of a mesh: by how much the middle of what has halves may lie off the plane. */
const OFF = 1e-3;
/** The order in which axes are tried: left and right first, then front and back; up and down are seldom meant. */
const AXES = { 1: [0, 2, 1], 2: [0, 1, 2] } as const;

/** Finds the halves of forms of one mesh. */
export class HalvesFinder {
  private readonly known = new Map<number, Symmetry & { readonly edge: Int32Array }>();

  /** @param up 1 or 2: the axis that points up */
  constructor(
    private readonly mesh: PolyMesh,
    private readonly up: 1 | 2,
  ) {}

  /** The halves of some faces that hang together; null where they have none. @param cut edges that count as borders */
  of(faces: Uint32Array, cut: Bits): Halves | null {
    if (faces.length < FEWEST) return null;
    for (const axis of AXES[this.up]) {
      const found = this.isBalanced(axis, faces) && this.across(axis, faces, cut);
      if (found) return found;
    }
    return null;
  }

  /** Whether the middle of some faces lies where a plane may be: what has halves has it there. Quick. */
  private isBalanced(axis: number, faces: Uint32Array): boolean {
    const { positions: p, faceStart, cornerVertex } = this.mesh;
    let [low, high] = [Infinity, -Infinity];
    for (let i = axis; i < p.length; i += 3) {
      low = Math.min(low, p[i]!);
      high = Math.max(high, p[i]!);
    }
    let [sum, count] = [0, 0];
    for (const f of faces)
      for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
        sum += p[3 * cornerVertex[c]! + axis]!;
        count++;
      }
    const off = Math.min(Math.abs(sum / count), Math.abs(sum / count - (low + high) / 2));
    return off <= OFF * (high - low);
  }

  private symmetry(axis: number): Symmetry & { readonly edge: Int32Array } {
    const known = this.known.get(axis);
    if (known) return known;
    const found = symmetryOf(this.mesh, axis);
    const made = { ...found, edge: edgeImages(this.mesh, found.vertex) };
    this.known.set(axis, made);
    return made;
  }

  private across(axis: number, faces: Uint32Array, cut: Bits): Halves | null {
    const { mesh } = this;
    const { vertex, face, at, edge } = this.symmetry(axis);
    const { positions: p, faceStart, cornerVertex } = mesh;
    const { cornerEdge } = topologyOf(mesh);
    const inside = makeBits(faceStart.length - 1);
    for (const f of faces) setBit(inside, f);
    const half: number[] = [];
    const isHalf = makeBits(faceStart.length - 1);
    for (const f of faces) {
      const image = face[f]!;
      // A face that is its own image lies across the plane: there is no line of edges to part it along.
      if (image < 0 || image === f || !getBit(inside, image)) return null;
      let sum = 0;
      for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
        sum += p[3 * cornerVertex[c]! + axis]! - at;
        // Seams that stay on one side alone leave nothing to repeat.
        const e = cornerEdge[c]!;
        if (getBit(cut, e) && !(edge[e]! >= 0 && getBit(cut, edge[e]!))) return null;
      }
      if (sum <= 0) continue;
      half.push(f);
      setBit(isHalf, f);
    }
    if (2 * half.length !== faces.length) return null;
    const middle = this.between(half, isHalf, vertex, cut);
    return middle?.length ? { half: Uint32Array.from(half).sort(), face, vertex, edge, middle } : null;
  }

  /** Edges between a half and the other; null where one of them does not lie in the plane. */
  private between(half: readonly number[], isHalf: Bits, vertex: Int32Array, cut: Bits): Edge[] | null {
    const t = topologyOf(this.mesh);
    const out: Edge[] = [];
    for (const f of half)
      for (let c = this.mesh.faceStart[f]!; c < this.mesh.faceStart[f + 1]!; c++) {
        const e = t.cornerEdge[c]!;
        if (edgeFaceCount(t, e) !== 2 || getBit(cut, e)) continue;
        const [a, b] = [t.cornerFace[edgeCorner(t, e)]!, t.cornerFace[edgeCorner(t, e, 1)]!];
        if (getBit(isHalf, a) && getBit(isHalf, b)) continue;
        if ([0, 1].some((k) => vertex[t.edgeVertices[2 * e + k]!] !== t.edgeVertices[2 * e + k])) return null;
        out.push(e);
      }
    return out;
  }
}

/** A shell of one half on the other. */
export function mirroredShell(mesh: PolyMesh, { face, vertex }: Halves, shell: GraphShell): GraphShell {
  const { faceStart, cornerVertex } = mesh;
  const start = new Map<number, number>();
  let at = 0;
  for (const f of shell.faces) {
    start.set(face[f]!, at);
    at += faceStart[f + 1]! - faceStart[f]!;
  }
  const faces = shell.faces.map((f) => face[f]!).sort();
  const cornerUv = new Float64Array(shell.cornerUv.length);
  let to = 0;
  for (const g of faces) {
    // A mirror image's image is the face itself.
    const f = face[g]!;
    for (let c = faceStart[g]!; c < faceStart[g + 1]!; c++) {
      const own = vertex[cornerVertex[c]!]!;
      for (let k = faceStart[f]!; k < faceStart[f + 1]!; k++) {
        if (cornerVertex[k] !== own) continue;
        const from = 2 * (start.get(g)! + k - faceStart[f]!);
        cornerUv[to] = -shell.cornerUv[from]!;
        cornerUv[to + 1] = shell.cornerUv[from + 1]!;
        break;
      }
      to += 2;
    }
  }
  return { ...shell, faces, cornerUv };
}

/** Seams of one half on both, beside those of the rest, with all edges between the halves. @param one seams of that half */
export function mirroredCut({ topology: t }: Source, rest: Bits, one: Bits, { half, edge, middle }: Halves): Bits {
  const out = rest.slice();
  const own = new Set(half);
  for (const e of middle) setBit(out, e);
  for (const e of placesOfBits(one)) {
    if (edgeFaceCount(t, e as Edge) !== 2 || !own.has(t.cornerFace[edgeCorner(t, e as Edge)]!)) continue;
    setBit(out, e);
    if (edge[e]! >= 0) setBit(out, edge[e]!);
  }
  return out;
}
