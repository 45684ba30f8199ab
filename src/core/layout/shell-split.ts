import { type Corner, indices } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { mateCorner, topologyOf } from "../mesh/topology";
import { isBarrier, type Layout, listFaces, type Structure } from "./structure";

type Shells = Pick<Structure, "shellCount" | "faceShell" | "shellStart" | "shellFaces">;
type Cuts = Pick<Layout, "cut" | "mapped">;

/** Faces looked around from before the next region has its turn. */
const STRIDE = 16;

/**
 * The shells after cutting: regions grow from both sides of every new cut in turns, and become one where they meet. What
 * has nowhere left to grow is a shell of its own, and the last one of a shell is the rest of it, so that the time goes
 * with the smaller parts.
 *
 * @param edges the new cuts, all inside shells of `old`
 */
export function splitShells(mesh: PolyMesh, old: Structure, after: Cuts, edges: readonly number[]): Shells {
  const { shellCount, faceShell, shellStart, shellFaces } = old;
  const t = topologyOf(mesh);
  const seeds = new Map<number, Set<number>>();
  for (const e of edges)
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
      const face = t.cornerFace[t.edgeCorners[k]!]!;
      const shell = faceShell[face]!;
      seeds.set(shell, (seeds.get(shell) ?? new Set()).add(face));
    }
  const regions = new Regions(mesh, after, faceShell.length);
  const parted = new Map<number, number[][]>();
  for (const [shell, faces] of seeds) {
    const parts = regions.grow([...faces]);
    if (parts.length) parted.set(shell, parts);
  }
  return parted.size ? numbered(old, parted) : { shellCount, faceShell, shellStart, shellFaces };
}

/** Faces that reach each other, found by walking from one side of a cut. */
interface Region {
  /** Those that were looked around from, and those that were not yet. */
  faces: number[];
  front: number[];
  head: number;
}

class Regions {
  /** The region that a face was reached by, counted from 1; 0 for those not reached. */
  private readonly owner: Int32Array;
  private readonly regions: Region[] = [];
  private readonly root: number[] = [];

  constructor(
    private readonly mesh: PolyMesh,
    private readonly bits: Cuts,
    faces: number,
  ) {
    this.owner = new Int32Array(faces);
  }

  /** Grows regions from some faces of one shell. @returns the faces of all but the last that is left */
  grow(seeds: readonly number[]): number[][] {
    let growing = seeds.map((face) => {
      this.owner[face] = this.regions.push({ faces: [], front: [face], head: 0 });
      return this.root.push(this.root.length) - 1;
    });
    const done: number[][] = [];
    for (;;) {
      growing = growing.filter((r) => this.root[r] === r);
      if (growing.length <= 1) return done;
      for (const r of growing) if (this.root[r] === r) this.step(r);
      const left = growing.filter((r) => this.root[r] === r);
      for (const r of left) {
        const { faces, front, head } = this.regions[r]!;
        // The last one is the rest of the shell, whether it was walked through or not.
        if (head < front.length || growing.length <= 1) continue;
        done.push(faces);
        growing = growing.filter((other) => other !== r);
      }
    }
  }

  private step(r: number): void {
    const { faceStart } = this.mesh;
    const t = topologyOf(this.mesh);
    for (let n = 0; n < STRIDE; n++) {
      const region = this.regions[r]!;
      if (region.head === region.front.length) return;
      const face = region.front[region.head++]!;
      region.faces.push(face);
      for (let c = faceStart[face]!; c < faceStart[face + 1]!; c++) {
        if (isBarrier(t, this.bits, t.cornerEdge[c]!)) continue;
        const other = t.cornerFace[mateCorner(t, c as Corner)]!;
        const owner = this.owner[other]!;
        if (owner) this.unite(r, this.rootOf(owner - 1));
        else {
          this.owner[other] = r + 1;
          // The region may have become part of another at an edge before this one.
          this.regions[this.rootOf(r)]!.front.push(other);
        }
      }
      if (this.root[r] !== r) return;
    }
  }

  private rootOf(r: number): number {
    let at = r;
    while (this.root[at] !== at) at = this.root[at]!;
    return at;
  }

  /** Makes one region of two, of which the larger stays. */
  private unite(a: number, b: number): void {
    const from = this.rootOf(a);
    if (from === b) return;
    const size = (r: number) => this.regions[r]!.faces.length;
    const [small, large] = size(from) < size(b) ? [from, b] : [b, from];
    const [s, l] = [this.regions[small]!, this.regions[large]!];
    for (const face of s.faces) l.faces.push(face);
    for (let k = s.head; k < s.front.length; k++) l.front.push(s.front[k]!);
    this.regions[small] = { faces: [], front: [], head: 0 };
    this.root[small] = large;
  }
}

/** Renumbers shells by their first faces. */
function numbered(old: Structure, parted: ReadonlyMap<number, readonly number[][]>): Shells {
  // Parts that come off get numbers beyond the old ones first; then all are numbered by their first faces.
  const mark = old.faceShell.slice();
  let count = old.shellCount;
  for (const parts of parted.values())
    for (const faces of parts) {
      for (const f of faces) mark[f] = count;
      count++;
    }
  const numbers = new Int32Array(count).fill(-1);
  let next = 0;
  for (let f = 0; f < mark.length; f++) {
    const shell = mark[f]!;
    if (numbers[shell] === -1) numbers[shell] = next++;
    mark[f] = numbers[shell]!;
  }
  return listFaces(indices(mark), next);
}
