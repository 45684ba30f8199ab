import { facesOfShell, type Layout, structureOf } from "../layout/layout";
import type { Shell } from "../mesh/indices";
import type { PolyMesh } from "../mesh/poly-mesh";
import { trianglesOf } from "../mesh/triangulate";
import { borderOf } from "./borders";
import type { ShellBorders } from "./near-shells";
import type { UvTriangles } from "./overlap-pairs";
import type { ShapeFigures } from "./shape-figures";
import { stackedOn } from "./stacks";

/** A shape as measuring between shells needs it. */
export interface BetweenShape {
  readonly mesh: PolyMesh;
  readonly layout: Layout;
  readonly figures: Pick<ShapeFigures, "count" | "mapped" | "box" | "uvArea" | "majority" | "triangles" | "border">;
  /** One number a shell that no other measuring has. */
  readonly stamps: Float64Array;
}

/** Mapped shells of all shapes in one list. */
export interface AllShells extends ShellBorders {
  readonly stamps: Float64Array;
  readonly triangles: Uint32Array;
  /** Which shape a shell is of, and its number there. */
  readonly shape: Uint32Array;
  readonly local: Uint32Array;
}

export function allShells(shapes: readonly BetweenShape[]): AllShells {
  const count = shapes.reduce((n, { figures: f }) => n + f.mapped.reduce((m, x) => m + x, 0), 0);
  const f64 = (n = count) => new Float64Array(n);
  const u32 = () => new Uint32Array(count);
  const out = {
    count,
    box: f64(4 * count),
    uvArea: f64(),
    stamps: f64(),
    simple: new Uint8Array(count),
    triangles: u32(),
    shape: u32(),
    local: u32(),
  };
  let at = 0;
  shapes.forEach(({ figures: f, stamps }, n) => {
    for (let k = 0; k < f.count; k++) {
      if (!f.mapped[k]) continue;
      for (let d = 0; d < 4; d++) out.box[4 * at + d] = f.box[4 * k + d]!;
      out.uvArea[at] = f.uvArea[k]!;
      out.stamps[at] = stamps[k]!;
      out.simple[at] = f.border.simple[k]!;
      out.triangles[at] = f.triangles[k]!;
      out.shape[at] = n;
      out.local[at++] = k;
    }
  });
  return {
    ...out,
    twin: stackedOn(out.box, out.uvArea),
    border(shell) {
      const { border, majority } = shapes[out.shape[shell]!]!.figures;
      const k = out.local[shell]!;
      return borderOf(border, k, majority[k]!);
    },
  };
}

/** A box in UV: u0, v0, u1, v1. */
export type Window = readonly [number, number, number, number];

/** Triangles of some shells, of each only those that meet its window, where it has one. */
export function trianglesOfShells(
  shapes: readonly BetweenShape[],
  shells: AllShells,
  wanted: ReadonlyMap<number, Window | null>,
): UvTriangles {
  let room = 0;
  for (const k of wanted.keys()) room += shells.triangles[k]!;
  const points = new Float64Array(6 * room);
  const shell = new Uint32Array(room);
  let at = 0;
  for (const [k, window] of wanted) {
    eachTriangle(shapes, shells, k, (uv, a, b, c) => {
      const p = 6 * at;
      points[p] = uv[a]!;
      points[p + 1] = uv[a + 1]!;
      points[p + 2] = uv[b]!;
      points[p + 3] = uv[b + 1]!;
      points[p + 4] = uv[c]!;
      points[p + 5] = uv[c + 1]!;
      if (window && !meets(points, p, window)) return;
      shell[at++] = k;
    });
  }
  return { points: points.subarray(0, 6 * at), shell: shell.subarray(0, at) };
}

const meets = (q: Float64Array, p: number, [u0, v0, u1, v1]: Window): boolean =>
  Math.max(q[p]!, q[p + 2]!, q[p + 4]!) >= u0 &&
  Math.min(q[p]!, q[p + 2]!, q[p + 4]!) <= u1 &&
  Math.max(q[p + 1]!, q[p + 3]!, q[p + 5]!) >= v0 &&
  Math.min(q[p + 1]!, q[p + 3]!, q[p + 5]!) <= v1;

/** Calls `act` with the places of the three points of every triangle of a shell. */
function eachTriangle(
  shapes: readonly BetweenShape[],
  shells: AllShells,
  k: number,
  act: (uv: Float64Array, a: number, b: number, c: number) => void,
): void {
  const { mesh, layout } = shapes[shells.shape[k]!]!;
  const s = structureOf(mesh, layout);
  const t = trianglesOf(mesh);
  for (const f of facesOfShell(s, shells.local[k]! as Shell))
    for (let i = t.faceStart[f]!; i < t.faceStart[f + 1]!; i++)
      act(
        layout.uv,
        2 * s.cornerWedge[t.corners[3 * i]!]!,
        2 * s.cornerWedge[t.corners[3 * i + 1]!]!,
        2 * s.cornerWedge[t.corners[3 * i + 2]!]!,
      );
}

/** A triangle that reaches into a tile by less than this is not counted as lying in it. */
const SPILL = 1 / 8192;
/** More tiles than a layout in tiles has. */
const MOST_TILES = 100_000;

/** How many unit squares hold something; null for a layout too wide to count. */
export function tilesTouched(shapes: readonly BetweenShape[], shells: AllShells): number | null {
  const seen = new Set<string>();
  let last = "";
  const enter = (u0: number, v0: number, u1: number, v1: number): boolean => {
    const [a, b] = [Math.floor(u0 + SPILL), Math.floor(v0 + SPILL)];
    const [c, d] = [Math.max(a, Math.ceil(u1 - SPILL) - 1), Math.max(b, Math.ceil(v1 - SPILL) - 1)];
    if ((c - a + 1) * (d - b + 1) > MOST_TILES || seen.size > MOST_TILES) return false;
    const key = `${a},${b},${c},${d}`;
    // Most lie in one tile, and in that of the one before.
    if (key === last) return true;
    last = key;
    for (let u = a; u <= c; u++) for (let v = b; v <= d; v++) seen.add(`${u},${v}`);
    return true;
  };
  for (let k = 0; k < shells.count; k++) {
    const [u0, v0, u1, v1] = shells.box.subarray(4 * k, 4 * k + 4) as unknown as Window;
    const inOne = Math.floor(u0 + SPILL) >= u1 - SPILL - 1 && Math.floor(v0 + SPILL) >= v1 - SPILL - 1;
    if (inOne) {
      if (!enter(u0, v0, u1, v1)) return null;
      continue;
    }
    let fits = true;
    eachTriangle(shapes, shells, k, (uv, a, b, c) => {
      fits &&= enter(
        Math.min(uv[a]!, uv[b]!, uv[c]!),
        Math.min(uv[a + 1]!, uv[b + 1]!, uv[c + 1]!),
        Math.max(uv[a]!, uv[b]!, uv[c]!),
        Math.max(uv[a + 1]!, uv[b + 1]!, uv[c + 1]!),
      );
    });
    if (!fits) return null;
  }
  return seen.size;
}
