import { Kernels } from "../kernels/kernels";
import type { BrushWay, Dab } from "../layout/stroke";
import { signedArea } from "./area";
import { BorderBarrier } from "./border-barrier";
import { type LayoutMap, mapOfLayout } from "./holes";
import { formOf, type ShellMesh, triangleAreas } from "./shell-mesh";
import { type Beside, besideOf, cornersAbout } from "./shell-pattern";
import { ShellShapes } from "./shell-system";

/** Sweeps over the points under the brush with every dab. */
const SWEEPS = 2;
/** Of the area that a triangle has in space, what it keeps at least where points are drawn to the middle of others. */
const LEFT = 0.15;
/** A step that would flip a triangle is halved so often before it is given up. */
const HALVINGS = 3;

/**
 * A shell under a brush: each dab moves the points within it a part of the way to the least stretch about them, or to the
 * middle of their neighbours, more in its middle than at its rim. No triangle flips that was not flipped, and a border that
 * is simple stays so.
 */
export class RelaxBrush {
  private readonly disk: LayoutMap;
  private readonly shapes: ShellShapes;
  private readonly border: BorderBarrier | null;
  private readonly x: number;
  private readonly marks: number;
  private readonly map: Float64Array;
  private readonly about: { readonly start: Uint32Array; readonly corners: Uint32Array };
  /** What a point is drawn to the middle of: all beside it, on a border the two along that. */
  private readonly beside: Beside;
  /** Area that a step leaves a triangle at least: what it has to begin with may be less. */
  private readonly least: Float64Array;
  /** 1 for triangles that are flipped. */
  private readonly flipped: Uint8Array;
  private readonly moves: Uint8Array;

  /** @param uv 2 a point, the layout it has @param moves 1 for every point that may move */
  constructor(shell: ShellMesh, uv: Float64Array, moves: Uint8Array) {
    const kernels = new Kernels();
    this.disk = mapOfLayout(shell, uv);
    const { triangles } = this.disk.shell;
    this.map = this.disk.map;
    this.shapes = new ShellShapes(kernels, this.disk.shell);
    this.shapes.weigh();
    const { points } = this.shapes;
    // The middles of holes go along.
    this.moves = Uint8Array.from({ length: points }, (_, p) => moves[p] ?? 1);
    this.about = cornersAbout(triangles, points);
    const form = formOf(this.disk.shell);
    this.beside = withBorders(besideOf(triangles, points), formOf(shell).loops);
    this.x = kernels.put(this.map);
    this.marks = kernels.take(points);
    const border = form.isDisk ? new BorderBarrier(this.shapes, form.loops[0]!) : null;
    this.border = border?.meets(this.x) ? null : border;
    const areas = triangleAreas(this.disk.shell);
    const total = areas.reduce((sum, area) => sum + area, 0);
    this.least = areas.map((area, t) => {
      const now = signedArea(this.map, triangles, 3 * t);
      return now > 0 ? Math.min((LEFT * area) / total, now / 2) : 0;
    });
    this.flipped = Uint8Array.from({ length: triangles.length / 3 }, (_, t) => (this.isFlipped(t) ? 1 : 0));
  }

  /** Whether a triangle is flipped, or has less area left than it may have. */
  private isFlipped(t: number): boolean {
    return !(signedArea(this.map, this.disk.shell.triangles, 3 * t) > this.least[t]!);
  }

  /** @param strength of the way to where they go, how far points in the middle of the dab come @returns whether any moved */
  dab(at: Dab, strength: number, way: BrushWay): boolean {
    const { points, weights } = this.under(at, strength);
    if (points.length) this.touch(points, weights, way);
    return points.length > 0;
  }

  /** Moves some points that may move, each as much of its way as it has weight. */
  touch(points: readonly number[], weights: readonly number[], way: BrushWay): void {
    if (way === "even") this.evenOut(points, weights);
    // What is flipped has no least stretch to go to.
    const rest = way === "smooth" ? points : points.filter((p) => this.isTangled(p));
    if (rest.length) this.smooth(rest, way === "smooth" ? weights : rest.map(() => 1));
    for (const p of points)
      this.eachTriangle(p, (t) => {
        this.flipped[t] = this.isFlipped(t) ? 1 : 0;
      });
  }

  /** Points under a dab that may move, and how far of their way each goes. */
  private under({ u, v, radius }: Dab, strength: number): { points: number[]; weights: number[] } {
    const { map, moves } = this;
    const [a, b] = this.disk.scale;
    const [mu, mv, square] = [u * a, v * b, (radius * b) ** 2];
    const points: number[] = [];
    const weights: number[] = [];
    for (let p = 0; p < moves.length; p++) {
      const [x, y] = [map[2 * p]! - mu, map[2 * p + 1]! - mv];
      const share = 1 - (x * x + y * y) / square;
      if (!moves[p] || !(share > 0)) continue;
      points.push(p);
      weights.push(strength * share * share);
    }
    return { points, weights };
  }

  private eachTriangle(p: number, see: (t: number) => void): void {
    const { start, corners } = this.about;
    for (let k = start[p]!; k < start[p + 1]!; k++) see(Math.floor(corners[k]! / 3));
  }

  private isTangled(p: number): boolean {
    let found = false;
    this.eachTriangle(p, (t) => {
      found ||= this.flipped[t] === 1;
    });
    return found;
  }

  /** Whether a triangle about a point is flipped now that was not. */
  private flips(p: number): boolean {
    let found = false;
    this.eachTriangle(p, (t) => {
      found ||= !this.flipped[t] && this.isFlipped(t);
    });
    return found;
  }

  private evenOut(points: readonly number[], weights: readonly number[]): void {
    const { map, shapes, marks, x } = this;
    const { kernels } = shapes;
    const flags = new Uint8Array(kernels.code.memory.buffer, marks, shapes.points).fill(0);
    for (const p of points) flags[p] = 1;
    shapes.smoothMarked(x, SWEEPS, marks, this.border);
    const now = kernels.f64(x, map.length);
    const whole = points.map((p) => [now[2 * p]!, now[2 * p + 1]!] as const);
    points.forEach((p, i) => {
      for (const d of [0, 1] as const) map[2 * p + d]! += weights[i]! * (whole[i]![d] - map[2 * p + d]!);
    });
    this.write(points);
    // A part of the way may flip what the whole of it does not.
    if (!points.some((p) => this.flips(p)) && !this.border?.meets(x)) return;
    points.forEach((p, i) => {
      map.set(whole[i]!, 2 * p);
    });
    this.write(points);
  }

  /** Brings points to the middle of those beside them, one after the other. */
  private smooth(points: readonly number[], weights: readonly number[]): void {
    const { map, shapes, x } = this;
    const { start, neighbours } = this.beside;
    for (let sweep = 0; sweep < SWEEPS; sweep++) {
      const circles = this.border?.circlesAbout(x);
      const radii = circles && shapes.kernels.f64(circles.radii, shapes.points);
      points.forEach((p, i) => {
        const [u, v] = [map[2 * p]!, map[2 * p + 1]!];
        const count = start[p + 1]! - start[p]!;
        let [mu, mv] = [0, 0];
        for (let k = start[p]!; k < start[p + 1]!; k++) {
          mu += map[2 * neighbours[k]!]! / count;
          mv += map[2 * neighbours[k]! + 1]! / count;
        }
        const reach = radii?.[p] ?? Infinity;
        for (let part = weights[i]!, tries = 0; tries <= HALVINGS; tries++, part /= 2) {
          const [du, dv] = [part * (mu - u), part * (mv - v)];
          map[2 * p] = u + du;
          map[2 * p + 1] = v + dv;
          if (du * du + dv * dv <= reach * reach && !this.flips(p)) return;
        }
        map[2 * p] = u;
        map[2 * p + 1] = v;
      });
      this.write(points);
    }
  }

  /** Writes points where the kernels see them. */
  private write(points: readonly number[]): void {
    const now = this.shapes.kernels.f64(this.x, this.map.length);
    for (const p of points) now.set(this.map.subarray(2 * p, 2 * p + 2), 2 * p);
  }

  /** The layout as it is now; what may not move does not to the last bit. @param from the layout it began with */
  uv(from: Float64Array): Float64Array {
    const { map, moves } = this;
    const { scale } = this.disk;
    return from.map((x, i) => (moves[i >> 1] ? map[i]! / scale[i % 2]! : x));
  }
}

/** Neighbours of every point, those of a border being the two along it alone. */
function withBorders({ start, neighbours }: Beside, loops: readonly number[][]): Beside {
  const along = new Map<number, readonly [number, number]>();
  for (const loop of loops)
    loop.forEach((p, i) => {
      along.set(p, [loop[(i + loop.length - 1) % loop.length]!, loop[(i + 1) % loop.length]!]);
    });
  const starts = new Uint32Array(start.length);
  const out = new Uint32Array(neighbours.length);
  for (let p = 0; p + 1 < start.length; p++) {
    const own = along.get(p) ?? neighbours.subarray(start[p]!, start[p + 1]!);
    out.set(own, starts[p]!);
    starts[p + 1] = starts[p]! + own.length;
  }
  return { start: starts, neighbours: out };
}
