import type { Kernels } from "../kernels/kernels";
import { moved, type Page } from "./page";
import type { Item } from "./raster";

/** Nodes of the raster beyond the page, on every side. */
const RIM = 3;

/**
 * All that stays on a page, in the memory of kernels, as one shape that is never moved: distances from it all over the page.
 * It does not grow with the shells, so that it is laid out anew for every size of the page.
 */
export class StayingShape {
  private readonly raster: number;
  private readonly hull: number;
  private readonly outline: Float64Array;
  private readonly triangles: Float64Array;

  /** @param most nodes that a unit of the page ever is */
  constructor(
    private readonly kernels: Kernels,
    stays: readonly Item[],
    private readonly page: Page,
    most: number,
  ) {
    const { nx, ny } = this.nodesOf(most);
    this.raster = kernels.take(4 * nx * ny);
    this.hull = kernels.take(4 * 8);
    this.outline = joined(stays.map((item) => item.outline));
    this.triangles = joined(stays.map((item) => item.triangles));
  }

  /** Lays it out. @param record where kernels are told of it @param band nodes in which distances are exact */
  write(record: number, perUnit: number, band: number): void {
    const { kernels, page, raster, hull } = this;
    const { nx, ny, w, h } = this.nodesOf(perUnit);
    kernels.during(() => {
      const to = { xx: perUnit, xy: 0, yx: 0, yy: perUnit, du: RIM - perUnit * page.u0, dv: RIM - perUnit * page.v0 };
      const segments = kernels.put(Float32Array.from(moved(this.outline, to)));
      const triangles = kernels.put(Float32Array.from(moved(this.triangles, to)));
      const counts = [this.outline.length / 4, this.triangles.length / 6] as const;
      const inside = kernels.take(nx * ny);
      kernels.code.shellDistances(raster, inside, nx, ny, segments, counts[0], triangles, counts[1], band);
    });
    kernels.f32(hull, 8).set([0, 0, w, 0, w, h, 0, h]);
    const whole = kernels.i32(record, 12);
    const broken = kernels.f32(record, 12);
    whole.set([raster, nx, ny]);
    broken.set([-RIM, -RIM], 3);
    // It has no samples: those of the shells that are moved tell what lies too near.
    whole.set([0, 0, 0, 0, hull, 4], 5);
    broken[11] = Math.hypot(w, h);
  }

  private nodesOf(perUnit: number) {
    const [w, h] = [this.page.w * perUnit, this.page.h * perUnit];
    return { w, h, nx: Math.ceil(w) + 2 * RIM + 1, ny: Math.ceil(h) + 2 * RIM + 1 };
  }
}

function joined(lists: readonly Float64Array[]): Float64Array {
  const out = new Float64Array(lists.reduce((sum, list) => sum + list.length, 0));
  let at = 0;
  for (const list of lists) {
    out.set(list, at);
    at += list.length;
  }
  return out;
}

/** Nodes between samples of outlines where what stays has none, by how far from it shells are to lie. */
export const besideStaying = (padding: number): number => Math.max(1, Math.min(4, Math.sqrt(padding)));

/**
 * How deep what stays may reach between two samples, nodes: at a distance it is round at its sharpest, and without one it may
 * be as sharp as a corner.
 */
export function unseenBetween(samples: number, padding: number): number {
  const half = samples / 2;
  return padding > half ? padding - Math.sqrt(padding * padding - half * half) : half;
}
