import { anglesAround, straightWrap, vertexAngles } from "./around";
import { boxSides } from "./box-sides";
import { type Form, faceNormals, noCoordinates } from "./form";
import { profileLengths } from "./profile";

/** How faces are projected; each at the size that they have in space. */
export const PROJECTIONS = ["flat", "front and back", "box", "cylinder", "sphere", "capped sphere", "disc"] as const;
export type Projection = (typeof PROJECTIONS)[number];

/** Those for which it matters where their centre is. */
export const CENTRED = ["cylinder", "sphere", "capped sphere", "disc"] as const satisfies readonly Projection[];

/** What the distance of a point from the pole of a disc is measured by. */
export const RADII = ["length", "angle"] as const;

export interface ProjectionOptions {
  /** The angle about the axis at which a form that no seam opens is opened; radians. */
  readonly wrap: number;
  /** Flat ends of a cylinder become discs of their own. */
  readonly caps: boolean;
  /** Radians off a sphere's equator from which on its caps begin. */
  readonly capsFrom: number;
  readonly radius: (typeof RADII)[number];
}

/** What holds where nothing is asked for. */
export const PLAIN: ProjectionOptions = { wrap: 0, caps: true, capsFrom: 0.9, radius: "length" };

/** Faces as they are projected. */
export interface Projected {
  /** 2 per corner of the mesh, in lengths of space; NaN for faces that are not of the form. */
  readonly uv: Float64Array;
  /** By face: which part of the projection it went to. */
  readonly part: Uint8Array;
}

/**
 * Projects the faces of a form. What is seen from outside is never mirrored. Where corners of two faces differ along an
 * edge the faces are parted there.
 */
export function projected(form: Form, kind: Projection, options: ProjectionOptions): Projected {
  const out = { uv: noCoordinates(form), part: new Uint8Array(form.inside.length) };
  if (kind === "flat") flat(form, form.faces, 4, out.uv);
  else if (kind === "front and back" || kind === "box")
    bySides(form, kind === "box" ? [0, 1, 2, 3, 4, 5] : [4, 5], out);
  else if (kind === "cylinder") cylinder(form, options, out);
  else if (kind === "disc") disc(form, 1, options.radius, out.uv);
  else sphere(form, kind === "sphere" ? Infinity : options.capsFrom, options, out);
  return out;
}

/** By side of a box (towards +x, -x, +y, -y, +z, -z): which way its u and v go. */
const SIDES: ReadonlyArray<readonly [number, number, number, number]> = [
  [2, -1, 1, 1],
  [2, 1, 1, 1],
  [0, 1, 2, -1],
  [0, 1, 2, 1],
  [0, 1, 1, 1],
  [0, -1, 1, 1],
];

/** Faces as who looks at one side of the box sees them. */
function flat({ mesh, points }: Form, faces: Uint32Array, side: number, out: Float64Array): void {
  const [u, du, v, dv] = SIDES[side]!;
  const { faceStart, cornerVertex } = mesh;
  for (let i = 0; i < faces.length; i++) {
    const f = faces[i]!;
    for (let c = faceStart[f]!; c < faceStart[f + 1]!; c++) {
      const p = 3 * cornerVertex[c]!;
      out[2 * c] = du * points[p + u]!;
      out[2 * c + 1] = dv * points[p + v]!;
    }
  }
}

function bySides(form: Form, sides: readonly number[], { uv, part }: Projected): void {
  part.set(boxSides(form, sides));
  const own = byPart(form, part);
  for (const side of sides) flat(form, own[side]!, side, uv);
}

/** The cosine to the axis from which on a face is part of a flat end. */
const CAP = Math.SQRT1_2;

/** Faces of the part about the axis, of that at its one end, and at its other. */
const ABOUT = 0;
const TOP = 1;
const BOTTOM = 2;

/** Faces by the part of a projection that they go to, of which there are no more than a box has sides. */
function byPart({ faces }: Form, part: Uint8Array): Uint32Array[] {
  const counts = new Uint32Array(6);
  for (const f of faces) counts[part[f]!]!++;
  const out = Array.from(counts, (count) => new Uint32Array(count));
  counts.fill(0);
  for (const f of faces) out[part[f]!]![counts[part[f]!]!++] = f;
  return out;
}

function cylinder(form: Form, { wrap, caps }: ProjectionOptions, { uv: out, part }: Projected): void {
  if (caps) {
    const { normals } = faceNormals(form);
    for (const f of form.faces) {
      const z = normals[3 * f + 2]!;
      part[f] = z > CAP ? TOP : z < -CAP ? BOTTOM : ABOUT;
    }
  }
  const own = byPart(form, part);
  flat(form, own[TOP]!, 4, out);
  flat(form, own[BOTTOM]!, 5, out);
  const side = own[ABOUT]!;
  if (!side.length) return;
  const tube = among(form, side);
  const about = vertexAngles(tube);
  const angles = anglesAround(tube, about, straightWrap(tube, about, wrap));
  const radius = radiusBy(tube, angles);
  for (let i = 0; i < side.length; i++)
    for (let c = form.mesh.faceStart[side[i]!]!; c < form.mesh.faceStart[side[i]! + 1]!; c++) {
      out[2 * c] = radius * angles[c]!;
      out[2 * c + 1] = form.points[3 * form.mesh.cornerVertex[c]! + 2]!;
    }
}

function sphere(form: Form, capsFrom: number, { wrap }: ProjectionOptions, { uv: out, part }: Projected): void {
  const { mesh } = form;
  const radius = meanDistance(form);
  const latitude = fromEquator(form);
  for (const f of form.faces) {
    let sum = 0;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) sum += latitude[mesh.cornerVertex[c]!]!;
    const mean = sum / (mesh.faceStart[f + 1]! - mesh.faceStart[f]!);
    part[f] = mean > capsFrom ? TOP : mean < -capsFrom ? BOTTOM : ABOUT;
  }
  const own = byPart(form, part);
  disc(among(form, own[TOP]!), 1, "angle", out);
  disc(among(form, own[BOTTOM]!), -1, "angle", out);
  const side = own[ABOUT]!;
  if (!side.length) return;
  const belt = among(form, side);
  const about = vertexAngles(belt);
  const angles = anglesAround(belt, about, straightWrap(belt, about, wrap));
  for (const f of side)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      out[2 * c] = radius * angles[c]!;
      out[2 * c + 1] = radius * latitude[mesh.cornerVertex[c]!]!;
    }
}

/** Radians off the plane through the centre across the axis, by vertex of the mesh. */
function fromEquator({ points }: Form): Float64Array {
  const out = new Float64Array(points.length / 3);
  for (let v = 0; v < out.length; v++) {
    const x = points[3 * v]!;
    const y = points[3 * v + 1]!;
    out[v] = Math.atan2(points[3 * v + 2]!, Math.sqrt(x * x + y * y));
  }
  return out;
}

/** Of the radius: what is nearer to the axis lies on it. */
const AT_AXIS = 1e-6;

/** Faces about a pole, by their distance from it. @param pole 1 for that towards +z, -1 for the other */
function disc(form: Form, pole: number, radius: (typeof RADII)[number], out: Float64Array): void {
  const { mesh, points, faces } = form;
  if (!faces.length) return;
  const mean = meanDistance(form);
  const angles = fromEquator(form);
  for (let v = 0; v < angles.length; v++) angles[v] = Math.PI / 2 - pole * angles[v]!;
  const length = radius === "length" ? profileLengths(form, angles) : null;
  for (const f of faces) {
    // What lies on the axis goes the way of the others of its face: at the far pole that is not all the same.
    let x = 0;
    let y = 0;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      x += points[3 * mesh.cornerVertex[c]!]!;
      y += points[3 * mesh.cornerVertex[c]! + 1]!;
    }
    const middle = Math.sqrt(x * x + y * y) || 1;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const v = mesh.cornerVertex[c]!;
      const px = points[3 * v]!;
      const py = points[3 * v + 1]!;
      const far = length ? length[v]! : mean * angles[v]!;
      const about = Math.sqrt(px * px + py * py);
      const onAxis = !(about > AT_AXIS * mean);
      out[2 * c] = pole * far * (onAxis ? x / middle : px / about);
      out[2 * c + 1] = far * (onAxis ? y / middle : py / about);
    }
  }
}

/** The same form with fewer faces. */
function among(form: Form, faces: Uint32Array): Form {
  const inside = new Uint8Array(form.inside.length);
  for (const f of faces) inside[f] = 1;
  return { ...form, faces, inside };
}

/** The mean distance of the corners of a form from its centre. */
function meanDistance({ mesh, points, faces }: Form): number {
  let [sum, count] = [0, 0];
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const p = 3 * mesh.cornerVertex[c]!;
      const x = points[p]!;
      const y = points[p + 1]!;
      const z = points[p + 2]!;
      sum += Math.sqrt(x * x + y * y + z * z);
      count++;
    }
  return count ? sum / count : 1;
}

/**
 * The length on the sheet of a radian about the axis at which edges that run about it are as long as they are in space: so
 * a tube of n sides comes out n sides wide, and not as wide as the circle about it.
 */
function radiusBy({ mesh, topology: t, points, faces }: Form, angles: Float64Array): number {
  let [lengths, squares] = [0, 0];
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const next = t.cornerNext[c]!;
      const p = 3 * mesh.cornerVertex[c]!;
      const q = 3 * mesh.cornerVertex[next]!;
      const turn = Math.abs(angles[next]! - angles[c]!);
      const x = points[q]! - points[p]!;
      const y = points[q + 1]! - points[p + 1]!;
      lengths += turn * Math.sqrt(x * x + y * y);
      squares += turn * turn;
    }
  return squares > 0 ? lengths / squares : 1;
}
