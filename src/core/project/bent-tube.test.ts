import { describe, expect, it } from "vitest";
import { makeBits, setBit } from "../layout/bits";
import { latticeDiagonals, longestEdges, withTrianglesPaired } from "../mesh/paired-triangles";
import { meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { edgeLengths } from "../seams/edge-cost";
import { unrolledTube } from "./bent-tube";
import { unrolledBody } from "./tube-with-ends";

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

describe("a tube of triangles", () => {
  /** Every face of more than three corners cut from its first corner; of the caps too. */
  const cutUp = (mesh: PolyMesh) => {
    const faces: number[][] = [];
    for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
      const own = [...mesh.cornerVertex.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])];
      for (let k = 1; k + 1 < own.length; k++) faces.push([own[0]!, own[k]!, own[k + 1]!]);
    }
    return meshFromPolygons(mesh.positions, faces);
  };

  it("is unrolled as one of quads is, and its ends beside it", () => {
    for (const cap of [false, true]) {
      const [whole, cut] = [bentBar(cap), cutUp(bentBar(cap))];
      const of = (mesh: PolyMesh) => unrolledBody(mesh, makeBits(topologyOf(mesh).edgeCount), [-1, 0, 0])!;
      const [a, b] = [of(whole), of(cut)];
      expect(b.pieces).toBe(a.pieces);
      expect(b.pieces).toBe(cap ? 2 : 1);
      const places = (mesh: PolyMesh, uv: Float64Array) =>
        new Set([...mesh.cornerVertex].map((v, c) => `${v} ${uv[2 * c]!.toFixed(9)} ${uv[2 * c + 1]!.toFixed(9)}`));
      const [one, other] = [places(whole, a.uv), places(cut, b.uv)];
      if (!cap) expect(other).toEqual(one);
      expect(other.size).toBe(one.size);
    }
  });

  it("is known with ends that are cut into anything flat, and no box is", () => {
    const bar = cutUp(bentBar(true));
    const box = meshFromPolygons(
      Float64Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1]),
      [
        [3, 2, 1, 0],
        [4, 5, 6, 7],
        [0, 1, 5, 4],
        [1, 2, 6, 5],
        [2, 3, 7, 6],
        [3, 0, 4, 7],
      ],
    );
    const of = (mesh: PolyMesh) => unrolledBody(mesh, makeBits(topologyOf(mesh).edgeCount), [-1, 0, 0]);
    expect(of(bar)).not.toBeNull();
    expect(of(box)).toBeNull();
  });

  it("is known where its quads lean so far that their diagonals are not their longest edges", () => {
    const [about, along] = [6, 20];
    const points: number[] = [];
    for (let j = 0; j <= along; j++)
      for (let i = 0; i < about; i++) {
        const turn = (2 * Math.PI * i) / about + 0.35 * j;
        points.push(Math.cos(turn), Math.sin(turn), 0.2 * j);
      }
    const at = (i: number, j: number) => j * about + (i % about);
    const faces: number[][] = [];
    for (let j = 0; j < along; j++)
      for (let i = 0; i < about; i++) {
        faces.push([at(i, j), at(i + 1, j), at(i, j + 1)]);
        faces.push([at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]);
      }
    const leaning = meshFromPolygons(Float64Array.from(points), faces);
    expect(latticeDiagonals(leaning, iota(faces.length))).toHaveLength(3);
    const found = unrolledBody(leaning, makeBits(topologyOf(leaning).edgeCount), [-1, 0, 0])!;
    expect(found.pieces).toBe(1);
    const us = [...found.uv].filter((_, i) => i % 2 === 0);
    expect(Math.max(...us) - Math.min(...us)).toBeCloseTo(6, 1);
  });

  it("is of quads again, corner by corner", () => {
    const whole = bentBar(false);
    const { mesh, corner } = withTrianglesPaired(cutUp(whole), longestEdges(cutUp(whole)));
    expect(mesh.faceStart.length).toBe(whole.faceStart.length);
    const loops = (m: PolyMesh) =>
      Array.from({ length: m.faceStart.length - 1 }, (_, f) =>
        [...m.cornerVertex.subarray(m.faceStart[f], m.faceStart[f + 1])].sort((a, b) => a - b).join(","),
      ).sort();
    expect(loops(mesh)).toEqual(loops(whole));
    cutUp(whole).cornerVertex.forEach((v, c) => {
      expect(mesh.cornerVertex[corner[c]!]).toBe(v);
    });
  });
});
