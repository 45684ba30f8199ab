import { type Asset, type PlacedShape, placedShape, shapesOf, withLayouts } from "../../layout/asset";
import { type Bits, makeBits, setBit } from "../../layout/bits";
import { type Layout, shellName, structureOf } from "../../layout/layout";
import { withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { edgesOfFace, topologyOf } from "../../mesh/topology";
import type { ProjectionWay, Standing } from "../../project/frame";
import type { Piece } from "../../project/pieces";
import { projectedLayout, seamsWithin } from "../../project/projected-layout";
import type { EditResult, Scope } from "../operation";
import { facesInScope, layoutOf, shellsInScope } from "../scope";
import { count } from "../words";
import { parkedBeside } from "./parked";

/** A shape some of whose faces are projected. */
interface Work {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  /** Edges along which they are opened. */
  readonly cut: Bits;
}

export interface ToProject extends Work {
  readonly faces: Uint32Array;
}

/** A piece of the faces that are projected, with its coordinates. */
export interface Flat {
  readonly work: Work;
  readonly piece: Piece;
  /** 2 per corner of the piece, in lengths of space. */
  readonly uv: Float64Array;
  /** What it was taken for. */
  readonly told: string;
  readonly stands?: Standing;
  /** Ways that were looked at, that which was taken first. */
  readonly ways?: readonly ProjectionWay[];
  readonly stretch: number;
  /** In space. */
  readonly area: number;
}

/** What is to be projected: with lines of edges picked the shells they lie in, which open along them. */
export function toProject(asset: Asset, scope: Scope, fresh: boolean): ToProject[] {
  const lines = linesPicked(asset, scope);
  const shells = lines ? shellsInScope(asset, scope) : [];
  const work = facesInScope(asset, scope).map(({ shape, faces: touched }, i) => {
    const layout = layoutOf(shape, scope.set);
    const inside = new Uint8Array(shape.mesh.faceStart.length - 1);
    const faces = lines ? facesOf(shells[i]!.shells, structureOf(shape.mesh, layout).faceShell) : touched;
    for (const f of faces) inside[f] = 1;
    const cut = fresh ? makeBits(topologyOf(shape.mesh).edgeCount) : seamsWithin(shape.mesh, layout, inside);
    for (const e of lines?.get(shape.id) ?? []) setBit(cut, e);
    return { shape, layout, faces, cut };
  });
  if (!work.some(({ faces }) => faces.length)) throw new UserError("Pick faces to project first.");
  return work;
}

/** Picked edges that are lines, by shape; nothing where they go all round some face, and so stand for faces. */
function linesPicked(asset: Asset, { selection }: Scope): ReadonlyMap<string, Uint32Array> | null {
  if (selection?.kind !== "edges") return null;
  for (const [id, edges] of selection.items) {
    const { mesh } = placedShape(asset, id);
    const t = topologyOf(mesh);
    const picked = new Set(edges);
    for (const e of edges)
      for (let k = t.edgeCornerStart[e]!; k < t.edgeCornerStart[e + 1]!; k++) {
        const f = t.cornerFace[t.edgeCorners[k]!]!;
        if (edgesOfFace(mesh, f).every((own) => picked.has(own))) return null;
      }
  }
  return selection.items;
}

function facesOf(shells: Uint32Array, faceShell: Uint32Array): Uint32Array {
  const wanted = new Set(shells);
  return Uint32Array.from(faceShell.keys()).filter((f) => wanted.has(faceShell[f]!));
}

/** Lays what was projected beside everything else, at its density, and picks it. */
export function laidBeside(asset: Asset, scope: Scope, flat: readonly Flat[], title: string): EditResult {
  const laid = [...byShape(flat)].map(([{ shape, layout, cut }, uv]) => ({
    shape,
    ...projectedLayout(shape.mesh, layout, uv, cut),
  }));
  const laidOf = new Map(laid.map((own) => [own.shape.id, own]));
  const there = shapesOf(asset).map((shape) => {
    const own = laidOf.get(shape.id);
    return own
      ? { shape, layout: own.layout, but: new Set(own.shells.map((s) => s.shell)) }
      : { shape, layout: layoutOf(shape, scope.set) };
  });
  const all = laid.flatMap((own) => own.shells);
  const uvs = parkedBeside(
    asset,
    scope.set,
    there,
    all.map((shell) => shell.uv),
  );
  const placed = new Map(all.map((shell, i) => [shell, uvs[i]!]));
  const changes = laid.map(({ shape, layout, shells }) => {
    const points = shells.map((shell) => ({ ...shell, uv: placed.get(shell)! }));
    return { shape: shape.id, set: scope.set, layout: withShellPoints(shape.mesh, layout, points) };
  });
  const pick = new Map(
    laid.map(({ shape, layout, shells }) => {
      const s = structureOf(shape.mesh, layout);
      return [shape.id, Uint32Array.from(shells, ({ shell }) => shellName(s, shell as Shell)).sort()];
    }),
  );
  const single = flat.length === 1 ? flat[0] : undefined;
  return {
    asset: withLayouts(asset, changes),
    words: `${title} ${toldOf(flat)}: ${count(all.length, "shell")}, stretch ${stretchOfAll(flat).toFixed(3)}${othersTold(single?.ways)}`,
    notes: [],
    pick: { kind: "shells", items: pick },
    ...(single?.stands ? { stands: single.stands } : {}),
    ...(single?.ways ? { ways: single.ways } : {}),
  };
}

/** Coordinates of all that was projected of each shape, 2 per corner of its mesh; NaN where nothing was. */
function byShape(flat: readonly Flat[]): Map<Work, Float64Array> {
  const out = new Map<Work, Float64Array>();
  for (const { work, piece, uv } of flat) {
    const all = out.get(work) ?? new Float64Array(2 * work.shape.mesh.cornerVertex.length).fill(NaN);
    out.set(work, all);
    for (let c = 0; c < piece.corner.length; c++) {
      const to = 2 * piece.corner[c]!;
      all[to] = uv[2 * c]!;
      all[to + 1] = uv[2 * c + 1]!;
    }
  }
  return out;
}

/** How many faces were projected, and as what; where there are several, how many as each. */
function toldOf(flat: readonly Flat[]): string {
  const faces = count(
    flat.reduce((sum, f) => sum + f.piece.mesh.faceStart.length - 1, 0),
    "face",
  );
  const how = new Map<string, number>();
  for (const { told } of flat) if (told) how.set(told, (how.get(told) ?? 0) + 1);
  if (!how.size) return faces;
  const list = [...how].map(([told, times]) => (flat.length > 1 ? `${times} ${told}` : told));
  return `${faces}${flat.length > 1 ? "," : ""} ${list.join(", ")}`;
}

/** Mean stretch by area. */
function stretchOfAll(flat: readonly Flat[]): number {
  let [sum, all] = [0, 0];
  for (const { stretch, area } of flat) {
    sum += stretch * area;
    all += area;
  }
  return all > 0 ? sum / all : 1;
}

/** What the next two ways would come to, in a few words. */
function othersTold(ways: readonly ProjectionWay[] = []): string {
  const told = ways.slice(1, 3).map(({ kind, stretch }) => `${kind} ${stretch.toFixed(3)}`);
  return told.length ? `; as ${told.join(", as ")}` : "";
}
