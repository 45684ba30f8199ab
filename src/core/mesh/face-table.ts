import { faceCount, type PolyMesh } from "./poly-mesh";

/** Faces of a mesh, found by the labels of their vertices in whatever order these stand; expected constant time each. */
export class FaceTable {
  private readonly head: Int32Array;
  private readonly next: Int32Array;

  /** @param labelOf a number per vertex: faces are the same when their vertices have the same labels */
  constructor(
    private readonly mesh: PolyMesh,
    private readonly labelOf: ArrayLike<number>,
  ) {
    const count = faceCount(mesh);
    let size = 16;
    while (size < 2 * count) size *= 2;
    this.head = new Int32Array(size).fill(-1);
    this.next = new Int32Array(count);
    // From the last to the first, so that the lists begin with the first.
    for (let f = count - 1; f >= 0; f--) {
      const slot = this.slotOf(mesh, f, labelOf);
      this.next[f] = this.head[slot]!;
      this.head[slot] = f;
    }
  }

  /** The sum of scattered labels does not depend on their order. */
  private slotOf({ faceStart, cornerVertex }: PolyMesh, f: number, labelOf: ArrayLike<number>): number {
    let sum = 0;
    for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
      const h = Math.imul(labelOf[cornerVertex[c]!]!, 0x9e3779b1);
      sum = (sum + Math.imul(h ^ (h >>> 15), 0x85ebca6b)) | 0;
    }
    return (sum ^ (sum >>> 13)) & (this.head.length - 1);
  }

  /** The first face of the table with the labels of face `f` of a mesh; -1 when there is none. */
  find(mesh: PolyMesh, f: number, labelOf: ArrayLike<number>): number {
    for (let g = this.head[this.slotOf(mesh, f, labelOf)]!; g >= 0; g = this.next[g]!)
      if (this.isSame(g, mesh, f, labelOf)) return g;
    return -1;
  }

  /** The same, and takes the face out of the table. */
  take(mesh: PolyMesh, f: number, labelOf: ArrayLike<number>): number {
    const slot = this.slotOf(mesh, f, labelOf);
    let before = -1;
    for (let g = this.head[slot]!; g >= 0; before = g, g = this.next[g]!) {
      if (!this.isSame(g, mesh, f, labelOf)) continue;
      if (before < 0) this.head[slot] = this.next[g]!;
      else this.next[before] = this.next[g]!;
      return g;
    }
    return -1;
  }

  /** Every label stands in both faces as often; faces have few corners. */
  private isSame(g: number, mesh: PolyMesh, f: number, labelOf: ArrayLike<number>): boolean {
    const own = this.mesh;
    const from = own.faceStart[g]!;
    const to = own.faceStart[g + 1]!;
    const [start, end] = [mesh.faceStart[f]!, mesh.faceStart[f + 1]!];
    if (end - start !== to - from) return false;
    for (let c = start; c < end; c++) {
      const label = labelOf[mesh.cornerVertex[c]!]!;
      let balance = 0;
      for (let k = from; k < to; k++) if (this.labelOf[own.cornerVertex[k]!] === label) balance++;
      for (let k = start; k < end; k++) if (labelOf[mesh.cornerVertex[k]!] === label) balance--;
      if (balance !== 0) return false;
    }
    return true;
  }
}
