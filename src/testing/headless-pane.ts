import { drawnParts } from "../core/layout/asset";
import { structureOf } from "../core/layout/layout";
import { trianglesOf } from "../core/mesh/triangulate";
import { layoutOf } from "../core/operations/scope";
import type { Bench, Motion, Stop } from "../ui/session/store";
import { Gestures } from "../ui/tools/gestures";
import type { Surface } from "../ui/tools/picker";
import { benchOver, pointingOn, sheetAt } from "../ui/tools/stage-bench";
import type { At } from "../ui/tools/tool";
import { toolNamed } from "../ui/tools/tools";

type Stroke = { readonly stroke: string };
type Held = Partial<Omit<At, "x" | "y">>;

/**
 * Sheet without a browser: the first tile on a square of pixels, pointed into at u and v. Faces are found by their
 * triangles, and moves are written down in place of being computed.
 */
export class HeadlessPane {
  readonly gestures: Gestures;
  /** What the thread tool did, in order. */
  readonly threads: Array<readonly ["point", Stop | null] | readonly ["lay", Stop] | readonly ["keep"]> = [];
  /** What was asked of live moves, in order. */
  readonly moves: Array<readonly ["update" | "commit", Motion] | readonly ["drop"]> = [];
  /** What was asked of strokes of the relax brush, in order, each as its dabs in words. */
  readonly strokes: Array<readonly ["update" | "commit", string] | readonly ["drop"]> = [];
  readonly plots: Array<Readonly<Record<"u0" | "v0" | "u1" | "v1", number>>> = [];

  constructor(
    private readonly bench: Bench,
    private readonly side: number,
  ) {
    const surface = this.surface();
    const over = benchOver(bench, "sheet", surface, () => side);
    const beginMove = async () => ({
      update: (motion: Motion) => void this.moves.push(["update", motion]),
      commit: async (motion: Motion) => void this.moves.push(["commit", motion]),
      drop: () => void this.moves.push(["drop"]),
      isBusy: () => false,
    });
    const beginRelax = async () => ({
      update: ({ stroke }: Stroke) => void this.strokes.push(["update", stroke]),
      commit: async ({ stroke }: Stroke) => void this.strokes.push(["commit", stroke]),
      drop: () => void this.strokes.push(["drop"]),
      isBusy: () => false,
    });
    const thread = {
      point: (at: Stop | null) => void this.threads.push(["point", at]),
      lay: (at: Stop) => void this.threads.push(["lay", at]),
      keep: () => void this.threads.push(["keep"]),
    };
    this.gestures = new Gestures(
      { ...over, beginMove, beginPull: beginMove, beginRelax, drawPlot: (box) => void this.plots.push(box), thread },
      () => toolNamed(bench.getState().tool),
      pointingOn(bench, "sheet", sheetAt(bench, "sheet", surface)),
    );
  }

  surface(): Surface {
    const { side, bench } = this;
    const faceAt: Surface["faceAt"] = (x, y) => faceUnder(bench, x / side, 1 - y / side);
    return {
      faceAt,
      facesIn(region) {
        const found = new Map<string, { part: string; face: number }>();
        const [left, top, right, bottom] = region.box;
        for (let y = Math.max(0, Math.floor(top)); y <= Math.min(side - 1, bottom); y++)
          for (let x = Math.max(0, Math.floor(left)); x <= Math.min(side - 1, right); x++) {
            const seen = region.has(x, y) ? faceAt(x, y) : null;
            if (seen) found.set(`${seen.part} ${seen.face}`, seen);
          }
        return [...found.values()];
      },
      pixelMatrix: () => [side, 0, 0, 0, 0, -side, 0, 0, 0, 0, 1, 0, 0, side, 0, 1],
    };
  }

  private at(u: number, v: number, held: Held): At {
    return { shift: false, ctrl: false, alt: false, ...held, x: u * this.side, y: (1 - v) * this.side };
  }

  press(u: number, v: number, held: Held = {}): void {
    this.gestures.press(this.at(u, v, held));
  }

  moveTo(u: number, v: number, held: Held = {}): void {
    this.gestures.move(this.at(u, v, held));
  }

  release(u: number, v: number, held: Held = {}): void {
    this.gestures.release(this.at(u, v, held));
  }

  click(u: number, v: number, held: Held = {}): void {
    this.press(u, v, held);
    this.release(u, v, held);
  }

  drag(way: ReadonlyArray<readonly [number, number]>, held: Held = {}): void {
    this.press(...way[0]!, held);
    for (const [u, v] of way.slice(1)) this.moveTo(u, v, held);
    this.release(...way.at(-1)!, held);
  }
}

/** The face over a point of the sheet, the first of those that lie there. */
function faceUnder(bench: Bench, u: number, v: number): { part: string; face: number } | null {
  const { asset, set, hidden } = bench.getState();
  for (const part of drawnParts(asset!).filter((p) => !hidden.has(p.id))) {
    const layout = layoutOf(part, set);
    const { cornerWedge } = structureOf(part.mesh, layout);
    const t = trianglesOf(part.mesh);
    for (let k = 0; k < t.face.length; k++) {
      const [a, b, c] = [0, 1, 2].map((i) => 2 * cornerWedge[t.corners[3 * k + i]!]!) as [number, number, number];
      const side = (p: number, q: number) =>
        (layout.uv[q]! - layout.uv[p]!) * (v - layout.uv[p + 1]!) -
        (layout.uv[q + 1]! - layout.uv[p + 1]!) * (u - layout.uv[p]!);
      const sides = [side(a, b), side(b, c), side(c, a)];
      if (sides.every((s) => s >= 0) || sides.every((s) => s <= 0)) return { part: part.id, face: t.face[k]! };
    }
  }
  return null;
}
