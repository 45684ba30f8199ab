import { type Asset, shapesOf } from "../../layout/asset";
import { facesOfShell, type Layout, type ShellRef, structureOf } from "../../layout/layout";
import { MOST_RATIO } from "../../layout/shell-mark";
import { ratioOf, withSaid } from "../../layout/shell-marks";
import { isMapped } from "../../layout/shell-points";
import { resolutionAt } from "../../layout/tiles";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import type { PolyMesh } from "../../mesh/poly-mesh";
import { trianglesOf } from "../../mesh/triangulate";
import { boxOf, middleOfBox, type SheetBox } from "../../place/box";
import { TakenCells } from "../../place/free-boxes";
import type { EditResult, Note, Scope } from "../operation";
import { type ShellAt, shellsAt, withShellsAt } from "../place/shells-at";
import { layoutOf } from "../scope";
import { count } from "../words";

interface IntoFreeInput {
  readonly grow: boolean;
  readonly turn: boolean;
  /** Texels. */
  readonly padding: number;
  /** A place in the empty box that is meant, tiles; any box where it is not given. */
  readonly u?: number | undefined;
  readonly v?: number | undefined;
}

/** Boxes that are looked at, and of the tile, the area of one that is worth it. */
const BOXES = 24;
const LEAST = 1e-5;

/** How a shell goes into a box. */
interface Fit {
  readonly box: SheetBox;
  readonly turned: boolean;
  readonly scale: number;
}

/** Moves shells into the empty boxes of their tile. */
export function run(asset: Asset, scope: Scope, input: IntoFreeInput): EditResult {
  const { grow, turn, padding, u, v } = input;
  const shells = shellsAt(asset, scope);
  const size = ({ box }: ShellAt) => (box.u1 - box.u0) * (box.v1 - box.v0);
  const order = shells.map((_, i) => i).sort((a, b) => size(shells[b]!) - size(shells[a]!) || a - b);
  const [mu, mv] = u !== undefined && v !== undefined ? [u, v] : middleOfBox(shells[order[0]!]!.box);
  const tile = [Math.max(0, Math.floor(mu)), Math.max(0, Math.floor(mv))] as const;
  const apart = padding / resolutionAt(asset.tiles, tile[0] + 0.5, tile[1] + 0.5);
  const meant = new Set(shells.map(({ shape, shell }) => `${shape.id} ${shell}`));
  const cells = new TakenCells(...tile);
  for (const shape of shapesOf(asset))
    takeShells(cells, shape.mesh, layoutOf(shape, scope.set), (shell) => !meant.has(`${shape.id} ${shell}`));
  const uvs: Array<Float64Array | null> = shells.map(() => null);
  const scales = shells.map(() => 1);
  let moved = 0;
  const meantBoxes = () => {
    const all = cells.boxes(apart, BOXES, LEAST);
    return u === undefined || v === undefined ? all : all.filter((b) => holds(b, u, v));
  };
  let boxes = meantBoxes();
  let isOld = false;
  for (const k of order) {
    // Boxes are found anew where those that are left do not do: what is left of one that was filled is one as well.
    let fit = bestFit(shells[k]!.box, boxes, grow, turn);
    if (!fit && isOld) {
      boxes = meantBoxes();
      isOld = false;
      fit = bestFit(shells[k]!.box, boxes, grow, turn);
    }
    if (!fit) continue;
    const { box } = fit;
    boxes = boxes.filter((own) => own !== box);
    isOld = true;
    // No denser than what can be said of a shell, and so be kept.
    const { shape, face } = shells[k]!;
    const most = MOST_RATIO / ratioOf(asset, scope.set, { shape: shape.id, face });
    scales[k] = Math.min(fit.scale, most);
    uvs[k] = placed(shells[k]!, { ...fit, scale: scales[k]! });
    takePoints(cells, shells[k]!, uvs[k]!);
    moved++;
  }
  if (!moved) throw new UserError("No empty box of the tile is large enough for any of these shells.");
  const left = shells.filter((_, k) => !uvs[k]);
  const notes: Note[] = left.length
    ? [
        {
          words: `${count(left.length, "shell")} found no box large enough, and stayed.`,
          shells: left.map(({ shape, face }) => ({ shape: shape.id, face })),
        },
      ]
    : [];
  const said = shells.flatMap(({ shape, face }, k) => {
    const shell = { shape: shape.id, face };
    return scales[k] === 1 ? [] : [{ shell, say: { ratio: scales[k]! * ratioOf(asset, scope.set, shell) } }];
  });
  const laid = withShellsAt(asset, scope.set, shells, uvs);
  return {
    asset: said.length ? { ...laid, shellMarks: withSaid(asset, scope.set, said) } : laid,
    words: `Move ${count(moved, "shell")} into free space${grow ? `, grown up to ${Math.max(...scales).toFixed(2)} times` : ""}`,
    notes,
  };
}

const holds = (b: SheetBox, u: number, v: number): boolean => u >= b.u0 && u <= b.u1 && v >= b.v0 && v <= b.v1;

/** An empty box of a tile, and the shells that would go into it as large as they are. */
export interface FreeBox {
  readonly box: SheetBox;
  readonly fits: readonly ShellRef[];
}

/** Empty boxes that are shown of a tile, and tiles that are looked at. */
const [SHOWN, TILES] = [6, 12];
/** Of the tile, the area of a box that is worth showing. */
const WORTH = 1e-3;

/** The largest empty boxes of the tiles that shells lie in, with the shells that could go into each. @param padding texels */
export function freeBoxes(asset: Asset, set: string, padding: number): FreeBox[] {
  const shells = shellsAt(asset, { set, parts: asset.parts.map((p) => p.id) });
  const tiles = new Map<string, readonly [number, number]>();
  for (const { box } of shells) {
    const [u, v] = middleOfBox(box).map(Math.floor) as [number, number];
    if (u >= 0 && v >= 0 && tiles.size < TILES) tiles.set(`${u} ${v}`, [u, v]);
  }
  return [...tiles.values()].flatMap(([u, v]) => {
    const cells = new TakenCells(u, v);
    for (const shape of shapesOf(asset)) takeShells(cells, shape.mesh, layoutOf(shape, set), () => true);
    const apart = padding / resolutionAt(asset.tiles, u + 0.5, v + 0.5);
    return cells.boxes(apart, SHOWN, WORTH).map((box) => ({
      box,
      fits: shells
        .filter((s) => bestFit(s.box, [box], false, true))
        .map(({ shape, face }) => ({ shape: shape.id, face })),
    }));
  });
}

function takeShells(cells: TakenCells, mesh: PolyMesh, layout: Layout, takes: (shell: Shell) => boolean): void {
  const s = structureOf(mesh, layout);
  const t = trianglesOf(mesh);
  for (let shell = 0 as Shell; shell < s.shellCount; shell++) {
    if (!isMapped(mesh, layout, shell) || !takes(shell)) continue;
    for (const f of facesOfShell(s, shell)) takeFace(cells, layout.uv, (corner) => s.cornerWedge[corner]!, t, f);
  }
}

function takePoints(cells: TakenCells, { shape, layout, shell, wedges }: ShellAt, points: Float64Array): void {
  const s = structureOf(shape.mesh, layout);
  const places = new Map<number, number>();
  wedges.forEach((w, i) => {
    places.set(w, i);
  });
  const t = trianglesOf(shape.mesh);
  const placeOf = (corner: number) => places.get(s.cornerWedge[corner]!)!;
  for (const f of facesOfShell(s, shell)) takeFace(cells, points, placeOf, t, f);
}

function takeFace(
  cells: TakenCells,
  uv: Float64Array,
  placeOf: (corner: number) => number,
  t: ReturnType<typeof trianglesOf>,
  f: number,
): void {
  for (let k = 3 * t.faceStart[f]!; k < 3 * t.faceStart[f + 1]!; k += 3) {
    const a = 2 * placeOf(t.corners[k]!);
    const b = 2 * placeOf(t.corners[k + 1]!);
    const c = 2 * placeOf(t.corners[k + 2]!);
    cells.addTriangle(uv[a]!, uv[a + 1]!, uv[b]!, uv[b + 1]!, uv[c]!, uv[c + 1]!);
  }
}

/** The smallest box that holds a shell as it is; or that in which it becomes largest, where that is larger than it is. */
function bestFit(own: SheetBox, boxes: readonly SheetBox[], grow: boolean, turn: boolean): Fit | null {
  let best: Fit | null = null;
  let most = -Infinity;
  for (const box of boxes)
    for (const turned of turn ? [false, true] : [false]) {
      const [w, h] = turned ? [own.v1 - own.v0, own.u1 - own.u0] : [own.u1 - own.u0, own.v1 - own.v0];
      const scale = Math.min((box.u1 - box.u0) / w, (box.v1 - box.v0) / h);
      if (!(scale >= 1)) continue;
      const worth = grow ? scale : -(box.u1 - box.u0) * (box.v1 - box.v0);
      // As it stands where it fits as well so.
      if (worth <= most + 1e-9) continue;
      most = worth;
      best = { box, turned, scale: grow ? scale : 1 };
    }
  return best;
}

/** A shell in the lower left corner of its box. */
function placed({ uv, box: own }: ShellAt, { box, turned, scale }: Fit): Float64Array {
  const [mu, mv] = middleOfBox(own);
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    const [x, y] = [scale * (uv[i]! - mu), scale * (uv[i + 1]! - mv)];
    out[i] = turned ? -y : x;
    out[i + 1] = turned ? x : y;
  }
  const { u0, v0 } = boxOf(out);
  return out.map((x, i) => x + (i % 2 ? box.v0 - v0 : box.u0 - u0));
}
