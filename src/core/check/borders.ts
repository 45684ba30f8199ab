import { isBarrier, type Layout, type Structure } from "../layout/structure";
import { Derived } from "../mesh/derived";
import type { Edge } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { type Border, crossesOwn } from "./contact";

/** Corners along the borders of shells, loop by loop. It depends on cuts and mapped faces, not on where points lie. */
interface BorderCorners {
  /** Segments of shell s: start[s] .. start[s + 1] - 1; none for shells without coordinates. */
  readonly start: Uint32Array;
  /** The corner every segment begins at. */
  readonly corner: Uint32Array;
  /** The segment after each, and the one before, counted from the first of its shell. */
  readonly next: Uint32Array;
  readonly previous: Uint32Array;
  /** 1 for shells whose border does not close, as where faces beside each other are wound against each other. */
  readonly open: Uint8Array;
}

/** Borders of the shells of a shape in UV. */
export interface Borders {
  /** Segments of shell s: start[s] .. start[s + 1] - 1. */
  readonly start: Uint32Array;
  /** 4 numbers a segment, loop by loop. */
  readonly segments: Float64Array;
  readonly next: Uint32Array;
  readonly previous: Uint32Array;
  /** 1 for shells that surely do not lie over themselves. */
  readonly simple: Uint8Array;
}

/** The border of one shell. */
export function borderOf(
  { start, segments, next, previous }: Omit<Borders, "simple">,
  shell: number,
  side: number,
): Border {
  const [from, to] = [start[shell]!, start[shell + 1]!];
  return {
    segments: segments.subarray(4 * from, 4 * to),
    next: next.subarray(from, to),
    previous: previous.subarray(from, to),
    side,
  };
}

const cache = new Derived<Structure, BorderCorners>("border corners");
const NONE = 0xffffffff;

function borderCorners(mesh: PolyMesh, layout: Layout, s: Structure, mapped: Uint8Array): BorderCorners {
  const kept = cache.get(s);
  if (kept) return kept;
  const t = topologyOf(mesh);
  const begins = new Uint32Array(s.wedgeCount).fill(NONE);
  const start = new Uint32Array(s.shellCount + 1);
  const open = new Uint8Array(s.shellCount);
  const all: number[] = [];
  for (let e = 0 as Edge; e < t.edgeCount; e++) {
    if (!isBarrier(t, layout, e)) continue;
    for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
      const c = t.edgeCorners[k]!;
      const shell = s.faceShell[t.cornerFace[c]!]!;
      if (!mapped[shell]) continue;
      all.push(c);
      start[shell + 1]!++;
      if (begins[s.cornerWedge[c]!] !== NONE) open[shell] = 1;
      begins[s.cornerWedge[c]!] = c;
    }
  }
  for (let k = 0; k < s.shellCount; k++) start[k + 1]! += start[k]!;
  const corner = new Uint32Array(all.length);
  const [next, previous] = [new Uint32Array(all.length), new Uint32Array(all.length)];
  const fill = start.slice(0, -1);
  const done = new Uint8Array(mesh.cornerVertex.length);
  for (const first of all) {
    if (done[first]) continue;
    const shell = s.faceShell[t.cornerFace[first]!]!;
    const [base, from] = [start[shell]!, fill[shell]!];
    let [c, at] = [first, from];
    while (c !== NONE && !done[c]) {
      done[c] = 1;
      corner[at] = c;
      next[at] = at + 1 - base;
      previous[at] = at - 1 - base;
      at++;
      c = begins[s.cornerWedge[t.cornerNext[c]!]!]!;
    }
    if (c !== first) open[shell] = 1;
    next[at - 1] = from - base;
    previous[from] = at - 1 - base;
    fill[shell] = at;
  }
  const out = { start, corner, next, previous, open };
  cache.set(s, out);
  return out;
}

interface BorderInput {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  readonly structure: Structure;
  readonly mapped: Uint8Array;
  /** 1 or -1 by shell: the side it shows. */
  readonly majority: Int8Array;
  /** Triangles that show the other side, by shell: with any of those its border says nothing. */
  readonly flipped: Uint32Array;
  /** Shells to look at, and the borders of all as they were; all without. */
  readonly shells: Uint32Array | null;
  readonly before: Borders | null;
}

/**
 * Borders in UV, and which shells surely do not lie over themselves: all triangles show the same side, the border meets
 * itself nowhere, and one loop alone runs round the outside. Every point is then covered as often as the border winds
 * round it, once or not at all.
 */
export function bordersOf({
  mesh,
  layout,
  structure: s,
  mapped,
  majority,
  flipped,
  shells,
  before,
}: BorderInput): Borders {
  const border = borderCorners(mesh, layout, s, mapped);
  const { cornerNext } = topologyOf(mesh);
  const { start, corner, next, previous, open } = border;
  const segments = before ? before.segments.slice() : new Float64Array(4 * corner.length);
  const simple = before ? before.simple.slice() : new Uint8Array(s.shellCount);
  const { uv } = layout;
  for (let i = 0; i < (shells?.length ?? s.shellCount); i++) {
    const shell = shells ? shells[i]! : i;
    if (!mapped[shell]) continue;
    for (let k = start[shell]!; k < start[shell + 1]!; k++) {
      const a = 2 * s.cornerWedge[corner[k]!]!;
      const b = 2 * s.cornerWedge[cornerNext[corner[k]!]!]!;
      segments[4 * k] = uv[a]!;
      segments[4 * k + 1] = uv[a + 1]!;
      segments[4 * k + 2] = uv[b]!;
      segments[4 * k + 3] = uv[b + 1]!;
    }
    const own = borderOf({ start, segments, next, previous }, shell, majority[shell]!);
    simple[shell] = !open[shell] && !flipped[shell] && outerLoops(own) === 1 && !crossesOwn(own) ? 1 : 0;
  }
  return { start, segments, next, previous, simple };
}

/** A loop round less than this share of the square of its length is a cut that was not opened. */
const SLIT = 1e-12;

/** Loops that run round the outside of a shell. */
function outerLoops({ segments, next, side }: Border): number {
  let [count, area, length] = [0, 0, 0];
  for (let k = 0; k < next.length; k++) {
    const [u0, v0, u1, v1] = [segments[4 * k]!, segments[4 * k + 1]!, segments[4 * k + 2]!, segments[4 * k + 3]!];
    area += (u0 * v1 - u1 * v0) / 2;
    length += Math.abs(u1 - u0) + Math.abs(v1 - v0);
    if (next[k] === k + 1) continue;
    // The loop ends here.
    if (area * side > SLIT * length * length) count++;
    [area, length] = [0, 0];
  }
  return count;
}
