import { describe, expect, it } from "vitest";
import type { Face } from "./indices";
import { meshFromPolygons, type PolyMesh } from "./poly-mesh";
import { stripBetween, stripsThrough } from "./strips";

/** Quads of a grid, m across and n up; joined round sideways if wanted, turned over where they meet if wanted. */
function grid(m: number, n: number, joined = false, turned = false): PolyMesh {
  const across = joined ? m : m + 1;
  const at = (i: number, j: number) => {
    if (!joined || i < m) return j * across + i;
    return (turned ? n - j : j) * across;
  };
  const points = Array.from({ length: across * (n + 1) }, (_, k) => [k % across, Math.floor(k / across), 0]);
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < m; i++) faces.push([at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
  return meshFromPolygons(points.flat(), faces);
}
const row = (m: number, j: number) => Array.from({ length: m }, (_, i) => j * m + i);
const sorted = (faces: readonly number[] | null) => faces && [...faces].sort((a, b) => a - b);
const between = (mesh: PolyMesh, a: number, b: number) => sorted(stripBetween(mesh, a as Face, b as Face));

describe("rows of faces", () => {
  it("run from border to border, both ways through a face", () => {
    const [up, across] = stripsThrough(grid(5, 3), 6 as Face);
    expect(sorted(across!.faces)).toEqual(row(5, 1));
    expect(sorted(up!.faces)).toEqual([1, 6, 11]);
    expect([up!.closed, across!.closed]).toEqual([false, false]);
  });

  it("close on a cylinder", () => {
    const strips = stripsThrough(grid(6, 2, true), 8 as Face);
    const round = strips.find((s) => s.closed)!;
    expect(sorted(round.faces)).toEqual(row(6, 1));
    expect(strips.find((s) => !s.closed)!.faces).toHaveLength(2);
  });

  it("go twice round a band that is turned over, unless they are its middle", () => {
    const wide = stripsThrough(grid(6, 2, true, true), 0 as Face).map((s) => sorted(s.faces)!);
    expect(wide).toContainEqual([...row(6, 0), ...row(6, 1)]);
    const narrow = stripsThrough(grid(6, 1, true, true), 0 as Face).map((s) => new Set(s.faces).size);
    expect(Math.max(...narrow)).toBe(6);
  });

  it("end at faces that have not four corners, and none goes through such a face", () => {
    // A quad, a triangle on its right, and a quad beyond that.
    const mesh = meshFromPolygons(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 2, 0.5, 0, -1, 0, 0, -1, 1, 0],
      [
        [0, 1, 2, 3],
        [1, 4, 2],
        [5, 0, 3, 6],
      ],
    );
    expect(stripsThrough(mesh, 0 as Face).map((s) => s.faces.length)).toEqual(expect.arrayContaining([1, 2]));
    expect(stripsThrough(mesh, 1 as Face)).toEqual([]);
    expect(between(mesh, 0, 1)).toBeNull();
  });

  it("between two faces are the shorter way, and the whole row of neighbours", () => {
    const sheet = grid(5, 3);
    expect(between(sheet, 5, 8)).toEqual([5, 6, 7, 8]);
    expect(between(sheet, 6, 7)).toEqual(row(5, 1));
    expect(between(sheet, 0, 12)).toBeNull();
    const cylinder = grid(8, 1, true);
    expect(between(cylinder, 1, 7)).toEqual([0, 1, 7]);
    expect(between(cylinder, 0, 7)).toEqual(row(8, 0));
  });
});
