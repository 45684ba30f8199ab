import { anglesAround, straightWrap } from "./around";
import { boxSides } from "./box-sides";
import { type Form, noCoordinates, writeNormal } from "./form";
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
  else if (kind === "disc") disc(form, form.faces, 1, options.radius, out.uv);
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
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const p = 3 * mesh.cornerVertex[c]!;
      out[2 * c] = du * points[p + u]!;
      out[2 * c + 1] = dv * points[p + v]!;
    }
}

function bySides(form: Form, sides: readonly number[], { uv, part }: Projected): void {
  part.set(boxSides(form, sides));
  for (const side of sides) {
    const own = form.faces.filter((f) => part[f] === side);
    flat(form, own, side, uv);
  }
}

/** The cosine to the axis from which on a face is part of a flat end. */
const CAP = Math.SQRT1_2;

/** Faces of the part about the axis, of that at its one end, and at its other. */
const ABOUT = 0;
const TOP = 1;
const BOTTOM = 2;

/** Tells which part of a projection every face goes to. @param end below 0 at the bottom, above 0 at the top, 0 about the axis */
function parted(form: Form, part: Uint8Array, end: (face: number) => number): (which: number) => Uint32Array {
  for (const f of form.faces) {
    const at = end(f);
    part[f] = at > 0 ? TOP : at < 0 ? BOTTOM : ABOUT;
  }
  return (which) => form.faces.filter((f) => part[f] === which);
}

function cylinder(form: Form, { wrap, caps }: ProjectionOptions, { uv: out, part }: Projected): void {
  const normal = new Float64Array(3);
  const own = parted(form, part, (f) => {
    if (!caps) return 0;
    writeNormal(form, f, normal);
    return Math.abs(normal[2]!) > CAP ? normal[2]! : 0;
  });
  flat(form, own(TOP), 4, out);
  flat(form, own(BOTTOM), 5, out);
  const side = own(ABOUT);
  if (!side.length) return;
  const tube = among(form, side);
  const angles = anglesAround(tube, straightWrap(tube, wrap));
  const radius = radiusBy(tube, angles);
  eachCorner(tube, side, (c, p) => {
    out[2 * c] = radius * angles[c]!;
    out[2 * c + 1] = form.points[p + 2]!;
  });
}

function sphere(form: Form, capsFrom: number, { wrap }: ProjectionOptions, { uv: out, part }: Projected): void {
  const { mesh, points } = form;
  const radius = meanDistance(form);
  const latitude = (p: number) => Math.atan2(points[p + 2]!, Math.sqrt(points[p]! ** 2 + points[p + 1]! ** 2));
  const own = parted(form, part, (f) => {
    let sum = 0;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) sum += latitude(3 * mesh.cornerVertex[c]!);
    const mean = sum / (mesh.faceStart[f + 1]! - mesh.faceStart[f]!);
    return Math.abs(mean) > capsFrom ? mean : 0;
  });
  disc(form, own(TOP), 1, "angle", out);
  disc(form, own(BOTTOM), -1, "angle", out);
  const side = own(ABOUT);
  if (!side.length) return;
  const belt = among(form, side);
  const angles = anglesAround(belt, straightWrap(belt, wrap));
  eachCorner(belt, side, (c, p) => {
    out[2 * c] = radius * angles[c]!;
    out[2 * c + 1] = radius * latitude(p);
  });
}

/** Of the radius: what is nearer to the axis lies on it. */
const AT_AXIS = 1e-6;

/** Faces about a pole, by their distance from it. @param pole 1 for that towards +z, -1 for the other */
function disc(form: Form, faces: Uint32Array, pole: number, radius: (typeof RADII)[number], out: Float64Array): void {
  if (!faces.length) return;
  const { points } = form;
  const mean = meanDistance(form);
  const off = (p: number) => Math.sqrt(points[p]! ** 2 + points[p + 1]! ** 2);
  const angle = (p: number) => Math.atan2(off(p), pole * points[p + 2]!);
  const length = radius === "length" ? profileLengths(among(form, faces), angle) : null;
  const { mesh } = form;
  for (const f of faces) {
    // What lies on the axis goes the way of the others of its face: at the far pole that is not all the same.
    let [x, y] = [0, 0];
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      x += points[3 * mesh.cornerVertex[c]!]!;
      y += points[3 * mesh.cornerVertex[c]! + 1]!;
    }
    const middle = Math.sqrt(x * x + y * y) || 1;
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const p = 3 * mesh.cornerVertex[c]!;
      const far = length ? length[p / 3]! : mean * angle(p);
      const about = off(p);
      const onAxis = !(about > AT_AXIS * mean);
      out[2 * c] = pole * far * (onAxis ? x / middle : points[p]! / about);
      out[2 * c + 1] = far * (onAxis ? y / middle : points[p + 1]! / about);
    }
  }
}

/** The same form with fewer faces. */
function among(form: Form, faces: Uint32Array): Form {
  const inside = new Uint8Array(form.inside.length);
  for (const f of faces) inside[f] = 1;
  return { ...form, faces, inside };
}

function eachCorner({ mesh }: Form, faces: Uint32Array, visit: (corner: number, point: number) => void): void {
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) visit(c, 3 * mesh.cornerVertex[c]!);
}

/** The mean distance of the corners of a form from its centre. */
function meanDistance(form: Form): number {
  let [sum, count] = [0, 0];
  const { points } = form;
  eachCorner(form, form.faces, (_, p) => {
    sum += Math.sqrt(points[p]! ** 2 + points[p + 1]! ** 2 + points[p + 2]! ** 2);
    count++;
  });
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
      const [p, q] = [3 * mesh.cornerVertex[c]!, 3 * mesh.cornerVertex[next]!];
      const turn = Math.abs(angles[next]! - angles[c]!);
      lengths += turn * Math.sqrt((points[q]! - points[p]!) ** 2 + (points[q + 1]! - points[p + 1]!) ** 2);
      squares += turn * turn;
    }
  return squares > 0 ? lengths / squares : 1;
}
