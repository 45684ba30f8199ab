import { type Bits, clearBit, getBit, setBit } from "../layout/bits";
import type { Edge } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { edgeFaceCount } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { joinedFaces } from "./piece";
import type { SeamField } from "./seam-field";

/** A seam from node to node: nodes are vertices on borders and those where not just two seams meet. */
export interface Chain {
  readonly edges: readonly number[];
  /** One more than edges; the first again at the end where it closes. */
  readonly vertices: readonly number[];
  readonly isClosed: boolean;
  /** The shells beside it. */
  readonly a: number;
  readonly b: number;
}

/** A shell of the graph: it is never changed, one that differs has another number. */
export interface GraphShell {
  /** Ascending. */
  readonly faces: Uint32Array;
  readonly area: number;
  /** Mean stretch of its map, 1 for none, and that beyond which only a hundredth of it is. */
  readonly energy: number;
  readonly tail: number;
  /** 2 per corner of its faces, in their order. */
  readonly cornerUv: Float64Array;
}

/** What a change takes off and puts on. */
export interface Change {
  readonly off: readonly number[];
  readonly on: readonly number[];
}

/** The seams of a part as a graph over its vertices, with the shells between them. */
export class SeamGraph {
  private readonly shellOfFace: Int32Array;
  readonly shells = new Map<number, GraphShell>();
  private nextShell = 0;
  /** Seams at every vertex. */
  readonly degree: Int32Array;

  /** @param cut changed in place @param strict 1 for vertices of turned bodies */
  constructor(
    readonly field: SeamField,
    readonly cut: Bits,
    shells: readonly GraphShell[],
    readonly strict: Uint8Array,
  ) {
    const { mesh, topology: t } = field;
    this.shellOfFace = new Int32Array(faceCount(mesh)).fill(-1);
    this.degree = new Int32Array(mesh.positions.length / 3);
    for (let e = 0; e < t.edgeCount; e++) if (this.isSeam(e)) this.count(e, 1);
    for (const shell of shells) this.add(shell);
  }

  isSeam(e: number): boolean {
    return getBit(this.cut, e) && edgeFaceCount(this.field.topology, e as Edge) === 2;
  }
  isInner(e: number): boolean {
    return !getBit(this.cut, e) && edgeFaceCount(this.field.topology, e as Edge) === 2;
  }
  /** Whether seams end, meet or begin at a vertex. */
  isNode(v: number): boolean {
    return this.field.onBorder[v] === 1 || this.degree[v] !== 2;
  }
  /** Whether a vertex lies on a seam or on a border. */
  isOnLine(v: number): boolean {
    return this.field.onBorder[v] === 1 || this.degree[v]! > 0;
  }
  otherEnd(e: number, v: number): number {
    const { edgeVertices } = this.field.topology;
    return edgeVertices[2 * e]! === v ? edgeVertices[2 * e + 1]! : edgeVertices[2 * e]!;
  }
  /** The shells on the two sides of an edge. */
  sides(e: number): readonly [number, number] {
    const t = this.field.topology;
    const k = t.edgeCornerStart[e]!;
    return [
      this.shellOfFace[t.cornerFace[t.edgeCorners[k]!]!]!,
      this.shellOfFace[t.cornerFace[t.edgeCorners[k + 1]!]!]!,
    ];
  }
  /** Whether no seam runs along an edge, and the shells on its two sides are both of two. */
  isWithin(e: number, a: number, b: number): boolean {
    if (!this.isInner(e)) return false;
    const t = this.field.topology;
    const k = t.edgeCornerStart[e]!;
    const left = this.shellOfFace[t.cornerFace[t.edgeCorners[k]!]!]!;
    const right = this.shellOfFace[t.cornerFace[t.edgeCorners[k + 1]!]!]!;
    return (left === a || left === b) && (right === a || right === b);
  }
  /** Seams at a vertex. */
  seamsAt(v: number): number[] {
    const { start, link } = this.field.graph;
    const out: number[] = [];
    for (let k = start[v]!; k < start[v + 1]!; k++) if (this.isSeam(link[k]!)) out.push(link[k]!);
    return out;
  }

  private count(e: number, by: 1 | -1): void {
    const { edgeVertices } = this.field.topology;
    this.degree[edgeVertices[2 * e]!]! += by;
    this.degree[edgeVertices[2 * e + 1]!]! += by;
  }

  private add(shell: GraphShell): void {
    const id = this.nextShell++;
    this.shells.set(id, shell);
    for (const f of shell.faces) this.shellOfFace[f] = id;
  }

  /** Changes seams, for good or to look; the shells stay as they are. */
  flip({ off, on }: Change): void {
    for (const e of off) {
      clearBit(this.cut, e);
      this.count(e, -1);
    }
    for (const e of on) {
      setBit(this.cut, e);
      this.count(e, 1);
    }
  }
  flipBack({ off, on }: Change): void {
    this.flip({ off: on, on: off });
  }

  /** The faces of some shells as a change would group them, the smallest group first, with the seams as they would be. */
  after(change: Change, shells: Iterable<number>): { groups: Uint32Array[]; cut: Bits } {
    const lists = Array.from(shells, (id) => this.shells.get(id)!.faces);
    const faces = new Uint32Array(lists.reduce((sum, list) => sum + list.length, 0));
    let at = 0;
    for (const list of lists) {
      faces.set(list, at);
      at += list.length;
    }
    this.flip(change);
    const groups = joinedFaces(this.field, faces.sort(), this.cut).sort((a, b) => a.length - b.length || a[0]! - b[0]!);
    const cut = this.cut.slice();
    this.flipBack(change);
    return { groups, cut };
  }

  /** Takes a change, with the shells that come of it in place of some. */
  take(change: Change, old: Iterable<number>, now: readonly GraphShell[]): void {
    this.flip(change);
    for (const id of old) this.shells.delete(id);
    for (const shell of now) this.add(shell);
  }

  weightOf(edges: readonly number[]): number {
    return edges.reduce((sum, e) => sum + this.field.weight[e]!, 0);
  }

  /** All seams as chains, each once. */
  chains(): Chain[] {
    const { edgeCount, edgeVertices } = this.field.topology;
    const done = new Uint8Array(edgeCount);
    const out: Chain[] = [];
    const seams = iota(edgeCount).filter((e) => this.isSeam(e));
    for (const e of seams)
      for (const v of [edgeVertices[2 * e]!, edgeVertices[2 * e + 1]!])
        if (!done[e] && this.isNode(v)) out.push(this.walk(e, v, done));
    // What has no node on it closes in itself.
    for (const e of seams) if (!done[e]) out.push(this.walk(e, edgeVertices[2 * e]!, done));
    return out;
  }

  private walk(first: number, from: number, done: Uint8Array): Chain {
    const edges = [first];
    const vertices = [from];
    done[first] = 1;
    let v = this.otherEnd(first, from);
    for (let e = first; ; ) {
      vertices.push(v);
      if (this.isNode(v)) break;
      const next = this.seamsAt(v).find((x) => x !== e);
      if (next === undefined || done[next]) break;
      done[next] = 1;
      edges.push(next);
      v = this.otherEnd(next, v);
      e = next;
    }
    const [a, b] = this.sides(first);
    return { edges, vertices, isClosed: vertices[0] === vertices.at(-1), a, b };
  }
}
