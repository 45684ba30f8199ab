import { length3 } from "../numeric/length";
import { layoutArea, signedArea } from "./area";
import type { ShellMesh } from "./shell-mesh";

/** How far maps of shells are from keeping angles and areas, as sums over area, so that those of several add up. */
export interface MapErrors {
  /** In space. */
  readonly area: number;
  /** Radians by which corners differ, times area. */
  readonly angles: number;
  /** By how much the areas of triangles differ, each shell being taken at its own scale. */
  readonly areas: number;
}

export const NO_ERRORS: MapErrors = { area: 0, angles: 0, areas: 0 };

export const addErrors = (a: MapErrors, b: MapErrors): MapErrors => ({
  area: a.area + b.area,
  angles: a.angles + b.angles,
  areas: a.areas + b.areas,
});

const angleBetween = (dot: number, cross: number): number => Math.atan2(Math.abs(cross), dot);

/** Compares a shell with a map of it. Linear time. @param uv 2 a point */
export function mapErrors({ triangles, positions: p }: ShellMesh, uv: Float64Array): MapErrors {
  const whole = Math.abs(layoutArea(triangles, uv)) || 1;
  const own = new Float64Array(triangles.length / 3);
  let [area, angles] = [0, 0];
  for (let t = 0; t < own.length; t++) {
    let bent = 0;
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [triangles[3 * t + k]!, triangles[3 * t + ((k + 1) % 3)]!, triangles[3 * t + ((k + 2) % 3)]!];
      const [ux, uy, uz] = [p[3 * b]! - p[3 * a]!, p[3 * b + 1]! - p[3 * a + 1]!, p[3 * b + 2]! - p[3 * a + 2]!];
      const [vx, vy, vz] = [p[3 * c]! - p[3 * a]!, p[3 * c + 1]! - p[3 * a + 1]!, p[3 * c + 2]! - p[3 * a + 2]!];
      const cross = length3(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      const [qx, qy] = [uv[2 * b]! - uv[2 * a]!, uv[2 * b + 1]! - uv[2 * a + 1]!];
      const [rx, ry] = [uv[2 * c]! - uv[2 * a]!, uv[2 * c + 1]! - uv[2 * a + 1]!];
      const inSpace = angleBetween(ux * vx + uy * vy + uz * vz, cross);
      bent += Math.abs(inSpace - angleBetween(qx * rx + qy * ry, qx * ry - qy * rx)) / 3;
      own[t] = cross / 2;
    }
    area += own[t]!;
    angles += own[t]! * bent;
  }
  let areas = 0;
  for (let t = 0; t < own.length; t++)
    areas += Math.abs((Math.abs(signedArea(uv, triangles, 3 * t)) * area) / whole - own[t]!);
  return { area, angles, areas };
}

/** In words: by how much angles and areas are off, on average. */
export function errorWords({ area, angles, areas }: MapErrors): string {
  const degrees = (angles / (area || 1)) * (180 / Math.PI);
  return `angles off by ${degrees.toFixed(1)}°, areas by ${((100 * areas) / (area || 1)).toFixed(1)} %`;
}
