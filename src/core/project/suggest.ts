import { makeBits } from "../layout/bits";
import { faceCount, type PolyMesh } from "../mesh/poly-mesh";
import { subMesh } from "../mesh/sub-mesh";
import { topologyOf } from "../mesh/topology";
import { trianglesOf } from "../mesh/triangulate";
import { writeVectorArea } from "../mesh/vector-area";
import { iota } from "../numeric/iota";
import { length3 } from "../numeric/length";
import { symmetricEigen } from "../numeric/symmetric-eigen";
import { triangleEnergy } from "../unfold/triangle-energy";
import { formOf, regionsOf } from "./form";
import { dot, type Frame, frameAbout, unit, type Vector } from "./frame";
import { type Projection, type ProjectionOptions, projected } from "./kinds";

/** A way to project, and what it comes to. */
export interface Suggestion {
  readonly kind: Projection;
  readonly frame: Frame;
  /** Mean by area of the symmetric Dirichlet energy, 1 = as in space; of one triangle no more than `MOST`. */
  readonly stretch: number;
  readonly pieces: number;
}

/** What a triangle that lies edge on, or is flipped, counts as stretched. */
const MOST = 10;
/** What a piece more is worth in mean stretch. */
const PIECE = 0.02;
/** Faces that are looked at for each way: of more, as many are taken evenly. */
const LOOKED_AT = 6000;
/** By how much a way has to be better than one that comes before it: simpler, or nearer to the axes of the world. */
const BETTER = 1e-3;

/** What a way is worth: the less the better. */
export const scoreOf = ({ stretch, pieces }: Pick<Suggestion, "stretch" | "pieces">): number =>
  stretch + PIECE * (pieces - 1);

export interface Asked {
  /** Unit. */
  readonly up: Vector;
  readonly centre: Vector;
  readonly options: ProjectionOptions;
  readonly kinds: readonly Projection[];
  /** Axes that are tried; nothing for those of the world, and those of the form itself. */
  readonly axes: readonly Vector[] | null;
}

/**
 * Ways to project faces, the best of each kind, those that stretch least for their number of pieces first.
 *
 * @param mesh those faces, with vertices in world space
 */
export function suggestions(mesh: PolyMesh, asked: Asked): Suggestion[] {
  const { up, centre, options, kinds } = asked;
  const step = Math.ceil(faceCount(mesh) / LOOKED_AT) || 1;
  const part = step > 1 ? subMesh(mesh, iota(Math.ceil(faceCount(mesh) / step), step)).mesh : mesh;
  const some = iota(faceCount(part));
  const none = makeBits(topologyOf(part).edgeCount);
  const axes = asked.axes ?? axesOf(part);
  const upright = axes.map((axis) => frameAbout(axis, up, centre));
  const sides = asked.axes ? [] : sidesOf(part, up, centre);
  const best = kinds.map((kind) => {
    // Of these the side that is looked at counts.
    const isSided = !asked.axes && (kind === "flat" || kind === "disc");
    // What is round about an axis faces no way more than others: one a little off it would only chance to stretch less.
    const ways = FLAT_SIDED.has(kind) ? [...upright, ...sides] : upright;
    const all = isSided ? ways.flatMap((frame) => [frame, fromBehind(frame)]) : ways;
    const tried = all.map((frame): Suggestion => {
      const form = formOf(part, part.positions, some, none, frame);
      const { uv, part: to } = projected(form, kind, options);
      // Faces that are taken from a larger form do not hang together.
      const pieces = step > 1 ? new Set(to).size : regionsOf(form, to).length;
      return { kind, frame, stretch: stretchOf(part, uv).stretch, pieces };
    });
    return tried.reduce((a, b) => (scoreOf(b) < scoreOf(a) - BETTER ? b : a));
  });
  return best.reduce<Suggestion[]>((list, own) => {
    const at = list.findIndex((other) => scoreOf(own) < scoreOf(other) - BETTER);
    list.splice(at < 0 ? list.length : at, 0, own);
    return list;
  }, []);
}

const opposite = (a: Vector): Vector => [-a[0], -a[1], -a[2]];
const fromBehind = ({ centre, x, y, z }: Frame): Frame => ({ centre, x: opposite(x), y, z: opposite(z) });

/**
 * Mean stretch by area of a mesh as it is projected; a triangle that lies edge on or is flipped counts as much as one may.
 *
 * @param uv 2 per corner @returns with the area in space
 */
export function stretchOf(mesh: PolyMesh, uv: Float64Array): { stretch: number; area: number } {
  const { corners } = trianglesOf(mesh);
  const world = mesh.positions;
  let [sum, all] = [0, 0];
  const [points, own] = [new Uint32Array(3), new Uint32Array(3)];
  for (let k = 0; k < corners.length; k += 3) {
    for (let i = 0; i < 3; i++) {
      own[i] = corners[k + i]!;
      points[i] = mesh.cornerVertex[own[i]!]!;
    }
    const area = areaInSpace(world, points);
    const energy = signedArea(uv, own) > 0 ? triangleEnergy(world, points, uv, own) : MOST;
    sum += area * Math.min(MOST, energy);
    all += area;
  }
  return { stretch: all > 0 ? sum / all : 1, area: all };
}

const signedArea = (uv: Float64Array, corners: Uint32Array): number => {
  const a = 2 * corners[0]!;
  const b = 2 * corners[1]!;
  const c = 2 * corners[2]!;
  return (uv[b]! - uv[a]!) * (uv[c + 1]! - uv[a + 1]!) - (uv[c]! - uv[a]!) * (uv[b + 1]! - uv[a + 1]!);
};

function areaInSpace(p: Float64Array, points: Uint32Array): number {
  const a = 3 * points[0]!;
  const b = 3 * points[1]!;
  const c = 3 * points[2]!;
  const bx = p[b]! - p[a]!;
  const by = p[b + 1]! - p[a + 1]!;
  const bz = p[b + 2]! - p[a + 2]!;
  const cx = p[c]! - p[a]!;
  const cy = p[c + 1]! - p[a + 1]!;
  const cz = p[c + 2]! - p[a + 2]!;
  return length3(by * cz - bz * cy, bz * cx - bx * cz, bx * cy - by * cx) / 2;
}

const FLAT_SIDED: ReadonlySet<Projection> = new Set(["flat", "front and back", "box"] as const);

/** The axes of the world, and those of the spread of a form's vertices. */
function axesOf(part: PolyMesh): Vector[] {
  const axes: Vector[] = [
    [0, 0, 1],
    [0, 1, 0],
    [1, 0, 0],
  ];
  const isNew = (axis: Vector) => axes.every((b) => Math.abs(dot(axis, b)) < ALONG);
  for (const axis of spreadAxes(part.positions)) if (isNew(axis)) axes.push(axis);
  return axes;
}

/** Frames along the ways that most of a form's area faces, turned so that their other sides face what else it does. */
function sidesOf(part: PolyMesh, up: Vector, centre: Vector): Frame[] {
  const faced = facedMost(part);
  return faced.map((axis) => {
    const beside = faced.filter((b) => Math.abs(dot(axis, b)) < SQUARE);
    const upmost = beside.reduce(
      (best, b) => (Math.abs(dot(b, up)) > Math.abs(dot(best, up)) ? b : best),
      beside[0] ?? up,
    );
    return frameAbout(axis, dot(upmost, up) < 0 ? opposite(upmost) : upmost, centre);
  });
}

/** The cosine below which two ways stand square to each other. */
const SQUARE = 0.1;
/** How many ways that are faced are taken, and the cosine from which on two normals face one way. */
const FACED = 3;
const ALIKE = 0.98;

/** The ways that most of a form's area faces, or faces from behind. */
function facedMost(part: PolyMesh): Vector[] {
  const n = new Float64Array(3);
  const ways: Array<{ way: Vector; area: number }> = [];
  for (let f = 0; f < faceCount(part); f++) {
    writeVectorArea(part.positions, part.cornerVertex, part.faceStart[f]!, part.faceStart[f + 1]!, n);
    const own: Vector = [n[0]!, n[1]!, n[2]!];
    const area = Math.sqrt(dot(own, own));
    if (!(area > 0)) continue;
    const way = unit(own);
    const known = ways.find((w) => Math.abs(dot(w.way, way)) > ALIKE);
    if (known) known.area += area;
    else if (ways.length < MOST_WAYS) ways.push({ way, area });
  }
  return ways
    .sort((a, b) => b.area - a.area)
    .slice(0, FACED)
    .map(({ way }) => way);
}

/** Ways that are told apart at the most: forms that face more have none that stands out. */
const MOST_WAYS = 64;

/** The cosine at which two axes are one. */
const ALONG = 0.9999;

function spreadAxes(p: Float64Array): Vector[] {
  const count = p.length / 3;
  const mean = [0, 0, 0];
  for (let i = 0; i < p.length; i++) mean[i % 3]! += p[i]! / count;
  const m = new Float64Array(9);
  for (let v = 0; v < count; v++)
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) m[3 * i + j]! += (p[3 * v + i]! - mean[i]!) * (p[3 * v + j]! - mean[j]!);
  return symmetricEigen(m).map((axis) => {
    const most = axis.reduce((best, x, d) => (Math.abs(x) > Math.abs(axis[best]!) ? d : best), 0);
    return unit(axis[most]! < 0 ? opposite(axis) : axis);
  });
}

/** The middle of the box about points, and its corner with the least coordinates. @param points 3 each */
export function middleOf(points: Float64Array): { middle: Vector; low: Vector } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 3)
    for (let d = 0; d < 3; d++) {
      const x = points[i + d]!;
      if (x < low[d]!) low[d] = x;
      if (x > high[d]!) high[d] = x;
    }
  const middle = low.map((x, d) => (x + high[d]!) / 2) as unknown as Vector;
  return { middle, low: low as unknown as Vector };
}
