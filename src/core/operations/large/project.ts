import type { Asset } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { topologyOf } from "../../mesh/topology";
import { transformPoints, worldPositions } from "../../mesh/transform";
import { length3 } from "../../numeric/length";
import { unrolledTube } from "../../project/bent-tube";
import { type Form, formOf } from "../../project/form";
import { dot, type Frame, turnedFrame, unit, type Vector } from "../../project/frame";
import { PROJECTIONS, type Projection, type ProjectionOptions, projected } from "../../project/kinds";
import { type Each, piecesOf } from "../../project/pieces";
import { middleOf, type Suggestion, scoreOf, stretchOf, suggestions } from "../../project/suggest";
import { backOf } from "../../seams/visibility";
import type { EditContext, EditResult, Scope } from "../operation";
import { type Flat, laidBeside, type ToProject, toProject, upOf } from "./projected-work";

interface ProjectInput extends Pick<ProjectionOptions, "caps" | "radius"> {
  readonly kind: Projection | "by the form" | "bent tube";
  readonly axis: "by the form" | "x" | "y" | "z" | "-x" | "-y" | "-z";
  /** Degrees. */
  readonly wrap?: number | undefined;
  readonly capsFrom: number;
  readonly turnX: number;
  readonly turnY: number;
  readonly turnZ: number;
  readonly centre: "middle" | "base" | "origin";
  /** By how much the centre is moved. */
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly each: Each;
  readonly fresh: boolean;
}

/** Gives faces coordinates by projecting them, beside what is laid out. */
export function run(asset: Asset, scope: Scope, options: ProjectInput, context: EditContext): EditResult {
  const work = toProject(asset, scope, options.fresh);
  const byForm = options.kind === "by the form" || options.kind === "bent tube";
  const flat = work.flatMap((own, i): Flat[] => {
    const look = () => context.progress(i / work.length);
    const pieces = byForm ? piecesOf(own.shape.mesh, own.faces, own.cut, options.each) : [own.faces];
    return pieces.map((faces) => projectedWork(asset, { ...own, faces }, options, look));
  });
  return laidBeside(asset, scope, flat, "Project");
}

const AXES: Readonly<Record<string, Vector>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** @param look called between steps; throws to stop */
function projectedWork(asset: Asset, work: ToProject, options: ProjectInput, look: () => void): Flat {
  look();
  const { mesh, metric, name } = work.shape;
  const world = worldPositions(mesh, metric);
  const isOpen = options.kind === "by the form";
  const tube = isOpen || options.kind === "bent tube" ? asTube(work, world, backOf(asset)) : null;
  if (options.kind === "bent tube") {
    if (tube) return tube;
    throw new UserError(`The picked faces of ${name} are no tube: rings of quads, all with as many faces.`);
  }
  look();
  const ways = waysOf(asset, work, world, options);
  look();
  const best = ways[0]!;
  const tubes = tube ? [{ kind: "bent tube", stretch: tube.stretch, pieces: tube.pieces }] : [];
  const all = [...tubes, ...ways.map(({ kind, stretch, pieces }) => ({ kind, stretch, pieces }))];
  if (isOpen) all.sort((a, b) => scoreOf(a) - scoreOf(b));
  if (tube && all[0] === tubes[0]) return { ...tube, ways: all };
  const frame = turnedFrame(best.frame, [options.turnX, options.turnY, options.turnZ]);
  const wrap = options.wrap === undefined ? backAngle(frame, backOf(asset)) : radians(options.wrap);
  const form = formOf(mesh, world, work.faces, work.cut, frame);
  const { uv } = projected(form, best.kind, { ...shapeOptions(options), wrap });
  look();
  const stands = {
    kind: best.kind,
    base: best.frame,
    frame,
    reach: reachOf(form),
    capsFrom: radians(options.capsFrom),
  };
  return {
    work,
    uv,
    told: `as ${best.kind}`,
    stretch: stretchOf(form, world, uv),
    stands,
    ...(isOpen ? { ways: all } : {}),
  };
}

/** How far a form reaches from the centre along each axis. */
function reachOf({ mesh, points, faces }: Form): Vector {
  const reach: [number, number, number] = [0, 0, 0];
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++)
      for (const d of [0, 1, 2] as const)
        reach[d] = Math.max(reach[d], Math.abs(points[3 * mesh.cornerVertex[c]! + d]!));
  return reach;
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

const shapeOptions = ({ caps, capsFrom, radius }: ProjectInput): ProjectionOptions => ({
  wrap: 0,
  caps,
  capsFrom: radians(capsFrom),
  radius,
});

function waysOf(asset: Asset, work: ToProject, world: Float64Array, options: ProjectInput): Suggestion[] {
  const up = upOf(asset);
  const kinds: readonly Projection[] =
    options.kind === "by the form" || options.kind === "bent tube" ? PROJECTIONS : [options.kind];
  return suggestions(work.shape.mesh, world, work.faces, {
    up,
    centre: centreOf(work, world, up, options),
    options: shapeOptions(options),
    kinds,
    axes: options.axis === "by the form" ? null : [signed(options.axis)],
  });
}

/** Faces unrolled as a tube, where they are one; opened on the side that is seen least. @param back away from who looks */
function asTube(work: ToProject, world: Float64Array, back: Vector): (Flat & { readonly pieces: number }) | null {
  const { faces, cut, shape } = work;
  const { mesh } = shape;
  const t = topologyOf(mesh);
  const { middle } = middleOf(mesh, world, faces);
  const weight = (e: number): number => {
    const [p, q] = [3 * t.edgeVertices[2 * e]!, 3 * t.edgeVertices[2 * e + 1]!];
    const mean = (d: number) => (world[p + d]! + world[q + d]!) / 2 - middle[d]!;
    const length = length3(world[q]! - world[p]!, world[q + 1]! - world[p + 1]!, world[q + 2]! - world[p + 2]!);
    return length * (1.01 - dot(unit([mean(0), mean(1), mean(2)]), back));
  };
  const found = unrolledTube({ mesh, topology: t, world }, faces, cut, weight);
  if (!found) return null;
  const { uv, pieces } = found;
  return { work, uv, pieces, told: "as bent tube", stretch: stretchOf({ mesh, faces }, world, uv) };
}

const signed = (axis: string): Vector => {
  const own = AXES[axis.at(-1)!]!;
  return axis.length > 1 ? [-own[0], -own[1], -own[2]] : own;
};

/** The angle about a frame's axis that points away from who looks. */
const backAngle = ({ x, y }: Frame, back: Vector): number => Math.atan2(dot(back, y), dot(back, x));

function centreOf({ shape, faces }: ToProject, world: Float64Array, up: Vector, options: ProjectInput): Vector {
  const { middle, low } = middleOf(shape.mesh, world, faces);
  const from: Record<ProjectInput["centre"], Vector> = {
    middle,
    base: middle.map((m, d) => (up[d] ? low[d]! : m)) as unknown as Vector,
    origin: transformPoints(shape.metric, new Float64Array(3)) as unknown as Vector,
  };
  const at = from[options.centre];
  return [at[0]! + options.x, at[1]! + options.y, at[2]! + options.z];
}
