import { describe, expect, it } from "vitest";
import { box, lathe } from "../../../demo/kit";
import { brassBalance } from "../../../demo/models/brass-balance";
import { marketCart } from "../../../demo/models/market-cart";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { assetOf, laidOut, laidOutModel, layoutAt, quiet, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { decodeAsset, encodeAsset } from "../formats/asset-bundle";
import { readGltf } from "../formats/gltf/read";
import { writeGlb } from "../formats/gltf/write";
import type { Edge } from "../mesh/indices";
import { meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import type { Mat4 } from "../mesh/transform";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { type Asset, shapesOf } from "./asset";
import { clearBit, countBits, getBit, makeBits, setBit } from "./bits";
import { emptyLayout, type Layout, layoutFromCorners, structureOf, withBits } from "./layout";

const meshOf = (s: ReturnType<typeof box>) => meshFromPolygons(s.points.flat(), s.faces);
const cube = () => meshOf(box([1, 1, 1]));

/** A flat sheet of n x n squares with its own coordinates. */
function sheet(n: number): { mesh: PolyMesh; set: Layout } {
  const points: number[] = [];
  const faces: number[][] = [];
  for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) points.push(x, y, 0);
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      const a = y * (n + 1) + x;
      faces.push([a, a + 1, a + n + 2, a + n + 1]);
    }
  const mesh = meshFromPolygons(points, faces);
  const uv = Float64Array.from([...mesh.cornerVertex].flatMap((v) => [points[3 * v]! / n, points[3 * v + 1]! / n]));
  return { mesh, set: layoutFromCorners(mesh, uv) };
}

const edgeScope = (edges: number[]) => ({
  set: "s1",
  parts: ["p1"],
  selection: { kind: "edges" as const, items: new Map([["p1", Uint32Array.from(edges)]]) },
});

const edgeBetween = (mesh: PolyMesh, a: number, b: number): Edge => {
  const { edgeVertices, edgeCount } = topologyOf(mesh);
  for (let e = 0 as Edge; e < edgeCount; e++)
    if ([a, b].every((v) => v === edgeVertices[2 * e] || v === edgeVertices[2 * e + 1])) return e;
  throw new Error("no such edge");
};

describe("the document model", () => {
  it("keeps a single inner edge cut on a closed mesh, through saving and reading back", async () => {
    const mesh = cube();
    const { asset } = await runEdit(assetOf(mesh, emptyLayout(mesh)), "cut", {}, edgeScope([3]), quiet);
    const back = decodeAsset(encodeAsset(asset));
    const set = layoutAt(back, 0, 0);
    expect(countBits(set.cut)).toBe(1);
    expect(getBit(set.cut, 3)).toBe(true);
    const s = structureOf(shapeAt(back, 0).mesh, set);
    expect([s.wedgeCount, s.shellCount]).toEqual([8, 1]); // splits no wedge, and is still recorded
  });

  it("takes seams on an asset without any coordinates", async () => {
    const mesh = cube();
    const { asset, result } = await runEdit(
      assetOf(mesh, emptyLayout(mesh)),
      "creased",
      { angle: 60 },
      everything(assetOf(mesh, emptyLayout(mesh))),
      quiet,
    );
    const set = layoutAt(asset, 0, 0);
    expect(countBits(set.cut)).toBe(12);
    expect(countBits(set.mapped)).toBe(0);
    expect(structureOf(mesh, set).shellCount).toBe(6);
    expect(result.words).toContain("12 seam edges");
  });

  it("reads a face without coordinates as unmapped, with a shell of its own", () => {
    const { mesh } = sheet(2);
    const uv = new Float64Array(2 * mesh.cornerVertex.length);
    for (let c = 0; c < mesh.cornerVertex.length; c++)
      uv.set([mesh.positions[3 * mesh.cornerVertex[c]!]!, mesh.positions[3 * mesh.cornerVertex[c]! + 1]!], 2 * c);
    uv[2 * mesh.faceStart[2]!] = Number.NaN;
    const set = layoutFromCorners(mesh, uv);
    expect([0, 1, 2, 3].map((f) => getBit(set.mapped, f))).toEqual([true, true, false, true]);
    expect(structureOf(mesh, set).shellCount).toBe(2);
    expect(measure(assetOf(mesh, set)).cornersWithoutUv).toBe(4);
  });

  it("splits the wedges of a vertex where two shells touch", () => {
    const mesh = meshFromPolygons(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, -1, 0, 0, -1, -1, 0, 0, -1, 0],
      [
        [0, 1, 2, 3],
        [0, 4, 5, 6],
      ],
    );
    const s = structureOf(mesh, emptyLayout(mesh));
    expect([s.wedgeCount, s.shellCount]).toEqual([8, 2]);
    expect(Array.from(s.wedgeVertex).filter((v) => v === 0)).toHaveLength(2);
  });

  it("stops wedges and shells at an edge with three faces", () => {
    const mesh = meshFromPolygons(
      [0, 0, 0, 0, 0, 1, 1, 0, 0, -1, 0, 0, 0, 1, 0],
      [
        [0, 1, 2],
        [1, 0, 3],
        [0, 1, 4],
      ],
    );
    expect(edgeFaceCount(topologyOf(mesh), edgeBetween(mesh, 0, 1))).toBe(3);
    const s = structureOf(mesh, emptyLayout(mesh));
    expect([s.wedgeCount, s.shellCount]).toEqual([9, 3]);
  });

  it("brings seams and coordinates through GLB, out and in", async () => {
    const made = await laidOutModel(pepperMill);
    const back = await readGltf((await writeGlb(made)).bytes, { name: "mill.glb" });
    const [before, after] = [measure(made), measure(back)];
    expect(after.shells).toBe(before.shells);
    expect(after.flippedTriangles).toBe(0);
    expect(after.symmetricDirichlet!).toBeCloseTo(before.symmetricDirichlet!, 4);
    expect(after.seamLength!).toBeCloseTo(before.seamLength!, 4);
    expect(back.parts.map((p) => [p.name, p.shape])).toEqual(made.parts.map((p) => [p.name, p.shape]));
    // Once more through its own file: written back, only coordinates may differ.
    const again = await readGltf((await writeGlb(back)).bytes, { name: "mill.glb" });
    const points = (a: Asset) => shapesOf(a).map((_, i) => layoutAt(a, i).uv);
    expect(points(again)).toEqual(points(back));
  });

  it("measures two instances once, at the larger", async () => {
    const { mesh, set } = sheet(2);
    const one = assetOf(mesh, set);
    const twice: Mat4 = [2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 2, 0, 5, 0, 0, 1];
    const two: Asset = {
      ...one,
      parts: [...one.parts, { ...one.parts[0]!, id: "p2", name: "Copy", transform: twice }],
    };
    expect(measure(two).shells).toBe(1);
    expect(measure(two).texelDensityMean!).toBeCloseTo(measure(one).texelDensityMean! / 2, 9);
  });

  it("sees no difference in a mirrored transform, and stretch in a non-uniform one", () => {
    const { mesh, set } = sheet(3);
    const energy = (m: Mat4) => measure(assetOf(mesh, set, m)).symmetricDirichlet!;
    expect(energy([-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])).toBeCloseTo(1, 12);
    // lengths 2 : 1 at the best scale: (s^2 + 1/s^2) with s = sqrt 2
    expect(energy([2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1])).toBeCloseTo((2 + 0.5) / 2, 12);
  });

  it("joins shells that lie far apart by moving the smaller one, exactly", async () => {
    const { mesh, set } = sheet(4);
    // Part the lowest row from the rest, then carry it off, turned and scaled.
    const row = [0, 1, 2, 3].map((x) => edgeBetween(mesh, 5 + x, 6 + x));
    const asset = (await runEdit(assetOf(mesh, set), "cut", {}, edgeScope(row), quiet)).asset;
    const shells = {
      set: "s1",
      parts: ["p1"],
      selection: { kind: "faces" as const, items: new Map([["p1", Uint32Array.from([0, 1, 2, 3])]]) },
    };
    const moved = (await runEdit(asset, "move", { du: 3, dv: -2, turn: 40, scale: 1.7 }, shells, quiet)).asset;
    expect(measure(moved).shells).toBe(2);
    const joined = (await runEdit(moved, "join", {}, edgeScope(row), quiet)).asset;
    const after = layoutAt(joined, 0, 0);
    expect(countBits(after.cut)).toBe(0);
    for (const [i, x] of after.uv.entries()) expect(x).toBeCloseTo(set.uv[i]!, 9);
  });

  it("refuses to join what would close a shell, and leaves it as it was", async () => {
    const tube = meshOf(
      lathe(
        [
          [1, 0],
          [1, 2],
        ],
        8,
        0,
        false,
      ),
    );
    const seam = edgeBetween(tube, 0, 8);
    let asset = (await runEdit(assetOf(tube, emptyLayout(tube)), "cut", {}, edgeScope([seam]), quiet)).asset;
    asset = (await runEdit(asset, "unfold", {}, everything(asset), quiet)).asset;
    await expect(runEdit(asset, "join", {}, edgeScope([seam]), quiet)).rejects.toThrow(
      /two borders; leave part of the seam/,
    );
  });

  it.each([pepperMill, paperLantern, brassBalance, marketCart])(
    "cut then join gives back the same value (%#)",
    async (make) => {
      const drafted = await laidOut(make());
      for (const [i, part] of shapesOf(drafted).entries()) {
        const set = layoutAt(drafted, i);
        const t = topologyOf(part.mesh);
        const inner = Array.from({ length: t.edgeCount }, (_, e) => e)
          .filter((e) => edgeFaceCount(t, e as Edge) === 2 && !getBit(set.cut, e))
          .filter((_, i) => i % 5 === 0);
        const items = new Map([[part.id, Uint32Array.from(inner)]]);
        const scope = { set: "s1", parts: [part.parts[0]!.id], selection: { kind: "edges" as const, items } };
        const after = (await runEdit((await runEdit(drafted, "cut", {}, scope, quiet)).asset, "join", {}, scope, quiet))
          .asset;
        expect(layoutAt(after, i)).toEqual(set);
      }
    },
  );
});

describe("bits", () => {
  it("sets, clears, counts", () => {
    const bits = makeBits(19);
    for (const i of [0, 7, 8, 18]) setBit(bits, i);
    clearBit(bits, 8);
    expect([...Array(19).keys()].filter((i) => getBit(bits, i))).toEqual([0, 7, 18]);
    expect(countBits(bits)).toBe(3);
  });

  it("moves no point when bits change", () => {
    const { mesh, set } = sheet(3);
    const bits = set.cut.slice();
    for (let e = 0 as Edge; e < topologyOf(mesh).edgeCount; e = (e + 2) as Edge)
      if (edgeFaceCount(topologyOf(mesh), e) === 2) setBit(bits, e);
    const cut = withBits(mesh, set, bits);
    const [a, b] = [structureOf(mesh, set), structureOf(mesh, cut)];
    for (let c = 0; c < mesh.cornerVertex.length; c++)
      expect(cut.uv[2 * b.cornerWedge[c]!]).toBe(set.uv[2 * a.cornerWedge[c]!]);
  });
});
