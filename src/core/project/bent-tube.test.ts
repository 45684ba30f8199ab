import { describe, expect, it } from "vitest";
import { makeBits, setBit } from "../layout/bits";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { edgeLengths } from "../seams/edge-cost";
import { unrolledTube } from "./bent-tube";

const SIDES = 8;
const ROWS = 6;

/** A quarter of a ring, round and open, or closed by a cap at its beginning. */
function bentBar(cap: boolean) {
  const points: number[] = [];
  for (let j = 0; j <= ROWS; j++)
    for (let i = 0; i < SIDES; i++) {
      const [turn, bend] = [(2 * Math.PI * i) / SIDES, (Math.PI * j) / ROWS / 2];
      const out = 5 - Math.cos(turn);
      points.push(out * Math.cos(bend), Math.sin(turn), out * Math.sin(bend));
    }
  const faces: number[][] = [];
  const at = (i: number, j: number) => j * SIDES + (i % SIDES);
  for (let j = 0; j < ROWS; j++)
    for (let i = 0; i < SIDES; i++) faces.push([at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
  if (cap) faces.push(Array.from({ length: SIDES }, (_, i) => SIDES - 1 - i));
  return meshFromPolygons(Float64Array.from(points), faces);
}

function unrolled(cap: boolean, seam = -1) {
  const mesh = bentBar(cap);
  const t = topologyOf(mesh);
  const lengths = edgeLengths(mesh, mesh.positions);
  const cut = makeBits(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!];
    if (a % SIDES === seam && b % SIDES === seam) setBit(cut, e);
  }
  const source = { mesh, topology: t, world: mesh.positions };
  return { mesh, found: unrolledTube(source, iota(mesh.faceStart.length - 1), cut, (e) => lengths[e]!) };
}

describe("a bent tube", () => {
  it("is a rectangle with even rings, as wide as its sides and as long as its middle", () => {
    const { found } = unrolled(false);
    const { uv, pieces } = found!;
    expect(pieces).toBe(1);
    const side = 2 * Math.sin(Math.PI / SIDES);
    // Columns lie 4 to 6 from the axis that it is bent about, on average 5.
    const step = 2 * 5 * Math.sin(Math.PI / ROWS / 4);
    const values = (d: number) => [...new Set([...uv].filter((_, i) => i % 2 === d).map((x) => x.toFixed(6)))];
    const us = values(0)
      .map(Number)
      .sort((a, b) => a - b);
    const vs = values(1)
      .map(Number)
      .sort((a, b) => a - b);
    expect(us.length).toBe(SIDES + 1);
    expect(vs.length).toBe(ROWS + 1);
    us.forEach((u, i) => {
      expect(u).toBeCloseTo(i * side, 5);
    });
    vs.forEach((v, j) => {
      expect(v - vs[0]!).toBeCloseTo(j * step, 5);
    });
  });

  it("opens where it is a seam already, and has its end by itself at the same size", () => {
    const { mesh, found } = unrolled(true, 3);
    const { uv, pieces } = found!;
    expect(pieces).toBe(2);
    const width = Math.max(...[...uv].filter((_, i) => i % 2 === 0 && i < 8 * SIDES * ROWS));
    for (let c = 0; c < 4 * SIDES * ROWS; c++) {
      const isSeam = mesh.cornerVertex[c]! % SIDES === 3;
      const atEdge = Math.abs(uv[2 * c]!) < 1e-9 || Math.abs(uv[2 * c]! - width) < 1e-9;
      expect(atEdge).toBe(isSeam);
    }
    const end = 4 * SIDES * ROWS;
    for (let k = 0; k + 1 < SIDES; k++)
      expect(
        Math.hypot(uv[2 * (end + k + 1)]! - uv[2 * (end + k)]!, uv[2 * (end + k + 1) + 1]! - uv[2 * (end + k) + 1]!),
      ).toBeCloseTo(2 * Math.sin(Math.PI / SIDES), 6);
  });

  it("is nothing else: a sheet has no rings", () => {
    const mesh = meshFromPolygons(Float64Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]), [[0, 1, 2, 3]]);
    const source = { mesh, topology: topologyOf(mesh), world: mesh.positions };
    expect(unrolledTube(source, iota(1), makeBits(4), () => 1)).toBeNull();
  });
});
