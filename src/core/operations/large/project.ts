import type { Asset, PlacedShape } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { transformPoints, worldPositions } from "../../mesh/transform";
import type { Form } from "../../project/form";
import { type Centre, dot, type Frame, type ProjectionWay, turnedFrame, type Vector } from "../../project/frame";
import { PROJECTIONS, type Projection, type ProjectionOptions, projected } from "../../project/kinds";
import { type Each, type Piece, pieceForm, piecesFrom, piecesOf, placedIn } from "../../project/pieces";
import { middleOf, type Suggestion, scoreOf, stretchOf, suggestions } from "../../project/suggest";
import { unrolledBody } from "../../project/tube-with-ends";
import { wayDrawn } from "../../project/way-drawn";
import { backOf, upOf } from "../../seams/visibility";
import type { EditContext, EditResult, Scope } from "../operation";
import { type Flat, laidBeside, type ToProject, toProject } from "./projected-work";

interface ProjectInput extends Pick<ProjectionOptions, "caps" | "radius"> {
  readonly kind: Projection | "by the form" | "bent tube";
  readonly axis: "by the form" | "x" | "y" | "z" | "-x" | "-y" | "-z";
  /** Degrees. */
  readonly wrap?: number | undefined;
  readonly capsFrom: number;
  readonly turnX: number;
  readonly turnY: number;
  readonly turnZ: number;
  readonly centre: Centre;
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
    const { mesh, metric } = own.shape;
    const lists = byForm ? piecesOf(mesh, own.faces, own.cut, options.each) : [own.faces];
    const pieceOf = piecesFrom(placedIn(mesh, worldPositions(mesh, metric)), own.cut);
    return lists.map((faces, k) => {
      const look = () => context.progress((i + k / lists.length) / work.length);
      const isDrawn = context.isTrial === true && work.length * lists.length === 1;
      return projectedPiece(asset, own, pieceOf(faces), options, isDrawn, look);
    });
  });
  return laidBeside(asset, scope, flat, "Project");
}

const AXES: Readonly<Record<string, Vector>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** @param isDrawn whether the ways are to be drawn beside each other @param look called between steps; throws to stop */
function projectedPiece(
  asset: Asset,
  work: ToProject,
  piece: Piece,
  options: ProjectInput,
  isDrawn: boolean,
  look: () => void,
): Flat {
  look();
  const isOpen = options.kind === "by the form";
  const tube = isOpen || options.kind === "bent tube" ? asTube(work, piece, backOf(asset)) : null;
  if (options.kind === "bent tube") {
    if (tube) return tube;
    throw new UserError(
      `The picked faces of ${work.shape.name} are no tube: rings of quads, all with as many faces, and flat ends.`,
    );
  }
  look();
  const ways = waysOf(asset, work, piece, options);
  look();
  const best = ways[0]!;
  const optionsAbout = (frame: Frame) => ({
    ...shapeOptions(options),
    wrap: options.wrap === undefined ? backAngle(frame, backOf(asset)) : radians(options.wrap),
  });
  const drawn = (uv: () => Float64Array) => (isDrawn && isOpen ? wayDrawn(piece, uv()) : {});
  const all: ProjectionWay[] = ways.map(({ kind, stretch, pieces, frame }) => ({
    kind,
    stretch,
    pieces,
    ...drawn(() => projected(pieceForm(piece, frame), kind, optionsAbout(frame)).uv),
  }));
  if (tube) all.unshift({ kind: "bent tube", stretch: tube.stretch, pieces: tube.pieces, ...drawn(() => tube.uv) });
  if (isOpen) all.sort((a, b) => scoreOf(a) - scoreOf(b));
  if (tube && all[0]!.kind === "bent tube") return { ...tube, ways: all };
  const frame = turnedFrame(best.frame, [options.turnX, options.turnY, options.turnZ]);
  const form = pieceForm(piece, frame);
  const { uv } = projected(form, best.kind, optionsAbout(frame));
  look();
  const stands = {
    kind: best.kind,
    base: best.frame,
    frame,
    reach: reachOf(form),
    capsFrom: radians(options.capsFrom),
    centres: centresOf(work.shape, piece.mesh.positions, upOf(asset)),
  };
  const told = `as ${best.kind}`;
  return { work, piece, uv, told, ...stretchOf(piece.mesh, uv), stands, ...(isOpen ? { ways: all } : {}) };
}

/** How far a form reaches from the centre along each axis. */
function reachOf({ points }: Form): Vector {
  const reach: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < points.length; i += 3)
    for (const d of [0, 1, 2] as const) if (Math.abs(points[i + d]!) > reach[d]) reach[d] = Math.abs(points[i + d]!);
  return reach;
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

const shapeOptions = ({ caps, capsFrom, radius }: ProjectInput): ProjectionOptions => ({
  wrap: 0,
  caps,
  capsFrom: radians(capsFrom),
  radius,
});

function waysOf(asset: Asset, { shape }: ToProject, { mesh }: Piece, options: ProjectInput): Suggestion[] {
  const up = upOf(asset);
  const at = centresOf(shape, mesh.positions, up)[options.centre];
  const kinds: readonly Projection[] =
    options.kind === "by the form" || options.kind === "bent tube" ? PROJECTIONS : [options.kind];
  return suggestions(mesh, {
    up,
    centre: [at[0] + options.x, at[1] + options.y, at[2] + options.z],
    options: shapeOptions(options),
    kinds,
    axes: options.axis === "by the form" ? null : [signed(options.axis)],
  });
}

/** A piece unrolled as a tube, where it is one; opened on the side that is seen least. @param back away from who looks */
function asTube(work: ToProject, piece: Piece, back: Vector): (Flat & { readonly pieces: number }) | null {
  const found = unrolledBody(piece.mesh, piece.cut, back);
  return found && { work, piece, ...found, told: "as bent tube", ...stretchOf(piece.mesh, found.uv) };
}

const signed = (axis: string): Vector => {
  const own = AXES[axis.at(-1)!]!;
  return axis.length > 1 ? [-own[0], -own[1], -own[2]] : own;
};

/** The angle about a frame's axis that points away from who looks. */
const backAngle = ({ x, y }: Frame, back: Vector): number => Math.atan2(dot(back, y), dot(back, x));

function centresOf({ metric }: PlacedShape, points: Float64Array, up: Vector): Record<Centre, Vector> {
  const { middle, low } = middleOf(points);
  return {
    middle,
    base: middle.map((m, d) => (up[d] ? low[d]! : m)) as unknown as Vector,
    origin: [...transformPoints(metric, new Float64Array(3))] as unknown as Vector,
  };
}
