import { getBit } from "../layout/bits";
import type { Corner, Edge } from "../mesh/indices";
import { edgeFaceCount, mateCorner } from "../mesh/topology";
import { across, type Form } from "./form";

const WHOLE = 2 * Math.PI;
/** Of the radius: what is nearer to the axis has no angle about it. */
const AT_AXIS = 1e-6;
/** Radians by which two angles may differ that are the same. */
const SAME = 1e-6;

const wrapped = (angle: number): number => angle - WHOLE * Math.round(angle / WHOLE);

/** The angle about the z axis of every vertex that some faces touch; NaN for one on the axis, and for all others. */
export function vertexAngles({ mesh, points, faces }: Form): Float64Array {
  const angles = new Float64Array(points.length / 3).fill(NaN);
  let widest = 0;
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const v = mesh.cornerVertex[c]!;
      if (!Number.isNaN(angles[v]!)) continue;
      const x = points[3 * v]!;
      const y = points[3 * v + 1]!;
      angles[v] = Math.atan2(y, x);
      widest = Math.max(widest, x * x + y * y);
    }
  const least = AT_AXIS * AT_AXIS * widest;
  for (let v = 0; v < angles.length; v++) {
    const x = points[3 * v]!;
    const y = points[3 * v + 1]!;
    if (x * x + y * y <= least) angles[v] = NaN;
  }
  return angles;
}

/**
 * The angle about the z axis of every corner of the form's faces, so that no face runs across the wrap: faces go on from
 * one another where seams open the form, so that it falls on them; where none do, the wrap lies at an angle.
 *
 * @param own as `vertexAngles` gives them @param wrap radians @returns radians by corner of the mesh, from `wrap` on;
 * corners on the axis have the mean of the others of their face
 */
export function anglesAround(form: Form, own: Float64Array, wrap: number): Float64Array {
  const { mesh, faces } = form;
  const out = new Float64Array(mesh.cornerVertex.length);
  if (!isCutWithin(form)) {
    // A gap opens it too; otherwise it is opened at the angle, wherever it hangs together.
    const open = gapIn(own) ?? wrap;
    for (const f of faces) fromMiddle(form, own, out, f, open);
    for (const f of faces) fillAxis(form, own, out, f);
    return out;
  }
  const done = new Uint8Array(form.inside.length);
  for (const seed of faces) {
    if (done[seed]) continue;
    const list = walked(form, own, out, done, seed);
    if (!holdsTogether(form, own, out, list)) for (const f of list) fromMiddle(form, own, out, f, wrap);
    else shiftWhole(form, own, out, list, wrap);
  }
  for (const f of faces) fillAxis(form, own, out, f);
  return out;
}

/** Whether any seam runs between two faces of a form. */
function isCutWithin({ mesh, topology: t, faces, inside, cut }: Form): boolean {
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const e = t.cornerEdge[c]! as Edge;
      if (!getBit(cut, e) || edgeFaceCount(t, e) !== 2) continue;
      const k = t.edgeCornerStart[e]!;
      if (inside[t.cornerFace[t.edgeCorners[k]!]!] && inside[t.cornerFace[t.edgeCorners[k + 1]!]!]) return true;
    }
  return false;
}

/** Parts of a turn in which gaps are looked for. */
const BINS = 720;
/** How much wider than any other a gap is that opens a form: between the vertices of a ring all are about alike. */
const WIDER = 1.6;

/** The middle of the stretch of a turn in which no vertex is; null where none is much wider than the others. */
function gapIn(own: Float64Array): number | null {
  const taken = new Uint8Array(BINS);
  for (const angle of own)
    if (!Number.isNaN(angle)) taken[Math.min(BINS - 1, Math.floor(((angle + Math.PI) / WHOLE) * BINS))] = 1;
  const first = taken.indexOf(1);
  if (first < 0) return null;
  let [best, second, at, wide] = [0, 0, 0, 0];
  for (let k = 1; k <= BINS; k++) {
    if (!taken[(first + k) % BINS]) {
      wide++;
      continue;
    }
    if (wide > best) [best, second, at] = [wide, best, first + k - wide / 2];
    else second = Math.max(second, wide);
    wide = 0;
  }
  return best > WIDER * Math.max(1, second) ? wrapped((at / BINS) * WHOLE - Math.PI) : null;
}

/** Angles of faces that hang together, each going on from the one that it was reached from. @returns those faces */
function walked(form: Form, own: Float64Array, out: Float64Array, done: Uint8Array, seed: number): number[] {
  const { mesh, topology: t } = form;
  const list = [seed];
  done[seed] = 1;
  fromCorner(form, own, out, seed, firstOff(form, own, seed), NaN);
  for (let i = 0; i < list.length; i++) {
    const f = list[i]!;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const mate = across(form, c);
      if (mate < 0) continue;
      const g = t.cornerFace[mate]!;
      if (done[g]) continue;
      done[g] = 1;
      list.push(g);
      // The end of the shared edge that has an angle.
      const [a, b] = mesh.cornerVertex[c] === mesh.cornerVertex[mate] ? [c, mate] : [c, t.cornerNext[mate]!];
      const [p, q] =
        mesh.cornerVertex[c] === mesh.cornerVertex[mate]
          ? [t.cornerNext[c]!, t.cornerNext[mate]!]
          : [t.cornerNext[c]!, mate];
      if (!Number.isNaN(own[mesh.cornerVertex[a]!]!)) fromCorner(form, own, out, g, b, out[a]!);
      else if (!Number.isNaN(own[mesh.cornerVertex[p]!]!)) fromCorner(form, own, out, g, q, out[p]!);
      else fromCorner(form, own, out, g, firstOff(form, own, g), NaN);
    }
  }
  return list;
}

/** The first corner of a face that is not on the axis. */
function firstOff({ mesh }: Form, own: Float64Array, f: number): number {
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
    if (!Number.isNaN(own[mesh.cornerVertex[c]!]!)) return c;
  return mesh.faceStart[f]!;
}

/** Writes the angles of a face from that of one of its corners; its own where none is given. */
function fromCorner(
  { mesh }: Form,
  own: Float64Array,
  out: Float64Array,
  f: number,
  corner: number,
  angle: number,
): void {
  const start = own[mesh.cornerVertex[corner]!]!;
  const from = Number.isNaN(angle) ? start : angle;
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
    out[c] = from + wrapped(own[mesh.cornerVertex[c]!]! - start);
}

/** Writes the angles of a face, each within half a turn of the first, so that their mean lies within a turn from the wrap on. */
function fromMiddle({ mesh }: Form, own: Float64Array, out: Float64Array, f: number, wrap: number): void {
  const from = mesh.faceStart[f]!;
  const to = mesh.faceStart[f + 1]!;
  let first = NaN;
  let sum = 0;
  let count = 0;
  for (let c = from; c < to; c++) {
    const angle = own[mesh.cornerVertex[c]!]!;
    out[c] = angle;
    if (Number.isNaN(angle)) continue;
    if (!count++) first = angle;
    const off = angle - first;
    const near = first + off - WHOLE * Math.round(off / WHOLE);
    out[c] = near;
    sum += near;
  }
  const turns = WHOLE * Math.floor((sum / count - wrap) / WHOLE);
  if (turns) for (let c = from; c < to; c++) out[c] = out[c]! - turns;
}

/** Whether faces have the same angles on both sides of every edge between them. */
function holdsTogether(form: Form, own: Float64Array, out: Float64Array, list: readonly number[]): boolean {
  const { mesh, topology: t } = form;
  const differs = (a: number, b: number) =>
    !Number.isNaN(own[mesh.cornerVertex[a]!]!) && Math.abs(out[a]! - out[b]!) > SAME;
  for (const f of list)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const mate = across(form, c);
      if (mate < 0) continue;
      const [next, beyond] = [t.cornerNext[c]!, t.cornerNext[mate]!];
      const alike = mesh.cornerVertex[c] === mesh.cornerVertex[mate];
      if (differs(c, alike ? mate : beyond) || differs(next, alike ? beyond : mate)) return false;
    }
  return true;
}

/** Moves faces that hang together by whole turns, so that their middle lies within one from the wrap on. */
function shiftWhole({ mesh }: Form, own: Float64Array, out: Float64Array, list: readonly number[], wrap: number): void {
  let [low, high] = [Infinity, -Infinity];
  for (const f of list)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      if (Number.isNaN(own[mesh.cornerVertex[c]!]!)) continue;
      low = Math.min(low, out[c]!);
      high = Math.max(high, out[c]!);
    }
  const by = WHOLE * Math.floor(((low + high) / 2 - wrap) / WHOLE);
  if (!Number.isFinite(by)) return;
  for (const f of list) for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) out[c] = out[c]! - by;
}

/** Corners on the axis stand in the middle of the others of their face. */
function fillAxis({ mesh }: Form, own: Float64Array, out: Float64Array, f: number): void {
  let missing = 0;
  let low = Infinity;
  let high = -Infinity;
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
    if (Number.isNaN(own[mesh.cornerVertex[c]!]!)) {
      missing++;
      continue;
    }
    low = Math.min(low, out[c]!);
    high = Math.max(high, out[c]!);
  }
  if (!missing) return;
  const middle = low <= high ? (low + high) / 2 : 0;
  for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
    if (Number.isNaN(own[mesh.cornerVertex[c]!]!)) out[c] = middle;
}

/** Of the height: what edges along the axis at one angle have to come to for the wrap to fall on them. */
const LINE = 0.5;
/** Radians within which edges along the axis stand at the same angle. */
const BIN = 1e-3;

/**
 * The angle nearest to a wanted one at which edges run along the axis for half the form's height or more: the wrap is
 * straight there. The wanted one where there is none.
 *
 * @param own as `vertexAngles` gives them
 */
export function straightWrap(form: Form, own: Float64Array, wanted: number): number {
  const { mesh, topology: t, points, faces, inside } = form;
  // By angle: twice the length of the edges along the axis, as each is met from both its sides, and where the first stands.
  const lengths = new Float64Array(Math.ceil(WHOLE / BIN) + 2);
  const angles = new Float64Array(lengths.length);
  let [low, high] = [Infinity, -Infinity];
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const v = mesh.cornerVertex[c]!;
      const w = mesh.cornerVertex[t.cornerNext[c]!]!;
      const z = points[3 * v + 2]!;
      if (z < low) low = z;
      if (z > high) high = z;
      const a = own[v]!;
      const b = own[w]!;
      let off = Math.abs(a - b);
      if (off > Math.PI) off = WHOLE - off;
      if (!(off < BIN)) continue;
      const k = Math.round((a + Math.PI) / BIN);
      if (!lengths[k]) angles[k] = a;
      const mate = edgeFaceCount(t, t.cornerEdge[c]! as Edge) === 2 ? mateCorner(t, c as Corner) : -1;
      lengths[k]! += Math.abs(z - points[3 * w + 2]!) * (mate >= 0 && inside[t.cornerFace[mate]!] ? 1 : 2);
    }
  let best = wanted;
  let nearest = Infinity;
  for (let k = 0; k < lengths.length; k++) {
    const off = Math.abs(wrapped(angles[k]! - wanted));
    if (!lengths[k] || lengths[k]! < 2 * LINE * (high - low) || off >= nearest) continue;
    nearest = off;
    best = angles[k]!;
  }
  return best;
}
