import { type Asset, type PlacedShape, placedShape, shapesOf, withLayouts } from "../../layout/asset";
import { type Bits, makeBits, setBit } from "../../layout/bits";
import { type Layout, shellName, structureOf } from "../../layout/layout";
import { withShellPoints } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { edgesOfFace, topologyOf } from "../../mesh/topology";
import type { Standing } from "../../project/frame";
import { projectedLayout, seamsWithin } from "../../project/projected-layout";
import type { EditResult, Scope } from "../operation";
import { facesInScope, layoutOf, shellsInScope } from "../scope";
import { count } from "../words";
import { parkedBeside } from "./parked";

/** Faces of a shape that are to be projected. */
export interface ToProject {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly faces: Uint32Array;
  /** Edges along which they are opened. */
  readonly cut: Bits;
}

/** Faces with their coordinates, in lengths of space. */
export interface Flat {
  readonly work: ToProject;
  readonly uv: Float64Array;
  /** What it was taken for. */
  readonly told: string;
  readonly stands?: Standing;
  /** What other ways would come to. */
  readonly others?: string;
  readonly stretch: number;
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
  const laid = flat.map(({ work: { shape, layout, cut }, uv }) => ({
    shape,
    ...projectedLayout(shape.mesh, layout, uv, cut),
  }));
  const byShape = new Map(laid.map((own) => [own.shape.id, own]));
  const there = shapesOf(asset).map((shape) => {
    const own = byShape.get(shape.id);
    return own
      ? { shape, layout: own.layout, but: new Set(own.shells.map((s) => s.shell)) }
      : { shape, layout: layoutOf(shape, scope.set) };
  });
  const all = laid.flatMap((own) => own.shells.map((shell) => ({ own, shell })));
  const placed = parkedBeside(
    there,
    all.map(({ shell }) => shell.uv),
  );
  const changes = laid.map((own) => {
    const points = own.shells.map((shell) => ({ ...shell, uv: placed[all.findIndex((a) => a.shell === shell)]! }));
    return { shape: own.shape.id, set: scope.set, layout: withShellPoints(own.shape.mesh, own.layout, points) };
  });
  const area = (f: Flat) => f.work.faces.length;
  const faces = flat.reduce((sum, f) => sum + area(f), 0);
  const stretch = flat.reduce((sum, f) => sum + f.stretch * area(f), 0) / faces;
  const how = new Set(flat.map((f) => f.told));
  const told = how.size === 1 && [...how][0] ? ` ${[...how][0]}` : "";
  const others = flat.length === 1 ? (flat[0]!.others ?? "") : "";
  const pick = new Map(
    laid.map(({ shape, layout, shells }) => {
      const s = structureOf(shape.mesh, layout);
      return [shape.id, Uint32Array.from(shells, ({ shell }) => shellName(s, shell as Shell)).sort()];
    }),
  );
  return {
    asset: withLayouts(asset, changes),
    words: `${title} ${count(faces, "face")}${told}: ${count(all.length, "shell")}, stretch ${stretch.toFixed(3)}${others}`,
    notes: [],
    pick: { kind: "shells", items: pick },
    ...(flat.length === 1 && flat[0]!.stands ? { stands: flat[0]!.stands } : {}),
  };
}
