import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { box, lathe } from "../../../demo/kit";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { assetOf, laidOutModel, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import { readObj } from "../formats/obj-read";
import { writeObj } from "../formats/obj-write";
import { type Asset, type Part, shapesOf, withParts } from "../layout/asset";
import { getBit } from "../layout/bits";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { faceCount, meshFromPolygons, type PolyMesh } from "../mesh/poly-mesh";
import { TriangleTree } from "../numeric/triangle-tree";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { matchMeshes } from "./match";
import { symmetryOf } from "./symmetry";

const edit = async (asset: Asset, id: string, options: unknown = {}, scope = everything(asset), imported?: Asset[]) =>
  runEdit(asset, id, options, scope, imported ? { ...quiet, imported } : quiet);

/** A random number generator that a seed decides. */
function chance(seed: number): () => number {
  let s = seed >>> 0;
  return () => {
    s = (Math.imul(s, 1664525) + 1013904223) >>> 0;
    return s / 4294967296;
  };
}
function shuffled(n: number, next: () => number): number[] {
  const list = Array.from({ length: n }, (_, i) => i);
  for (let i = n - 1; i > 0; i--) {
    const j = Math.floor(next() * (i + 1));
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
  return list;
}

/** The same mesh with vertices and faces numbered otherwise, faces begun at other corners, and mirrored if wanted. */
function renumbered(mesh: PolyMesh, seed: number, mirror: boolean): PolyMesh {
  const next = chance(seed);
  const to = shuffled(mesh.positions.length / 3, next);
  const positions = new Array<number>(mesh.positions.length);
  to.forEach((n, v) => {
    for (let d = 0; d < 3; d++) positions[3 * n + d] = mesh.positions[3 * v + d]! * (mirror && d === 0 ? -1 : 1);
  });
  const faces = shuffled(faceCount(mesh), next).map((f) => {
    const list = [...mesh.cornerVertex.subarray(mesh.faceStart[f]!, mesh.faceStart[f + 1]!)].map((v) => to[v]!);
    if (mirror) list.reverse();
    const turn = Math.floor(next() * list.length);
    return [...list.slice(turn), ...list.slice(0, turn)];
  });
  return meshFromPolygons(positions, faces);
}

const millBody = () => shapesOf(pepperMill())[0]!.mesh;

describe("matching by connectivity", () => {
  it("finds every corner again, whatever the numbering, mirrored or not", () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.boolean(), fc.constantFrom("mill", "box", "lantern"), (seed, mirror, which) => {
        const s = box([1, 2, 3], [2, 3, 1]);
        const source =
          which === "mill"
            ? millBody()
            : which === "box"
              ? meshFromPolygons(s.points.flat(), s.faces)
              : shapesOf(paperLantern())[0]!.mesh;
        const target = renumbered(source, seed, mirror);
        const match = matchMeshes(source, target)!;
        expect(match).not.toBeNull();
        expect(new Set(match.corner).size).toBe(target.cornerVertex.length);
        // The same vertex of the target is the same vertex of the source at every corner.
        const seen = new Map<number, number>();
        match.corner.forEach((c, k) => {
          const [v, w] = [target.cornerVertex[k]!, source.cornerVertex[c]!];
          expect(seen.get(v) ?? w).toBe(w);
          seen.set(v, w);
        });
      }),
      { numRuns: 12 },
    );
  });

  it("does not match what is joined otherwise", () => {
    const a = box([1, 1, 1], [2, 2, 2]);
    const b = box([1, 1, 1], [4, 2, 1]);
    const mesh = (s: typeof a) => meshFromPolygons(s.points.flat(), s.faces);
    expect(matchMeshes(mesh(a), mesh(b))).toBeNull();
    expect(matchMeshes(mesh(a), mesh({ ...a, faces: a.faces.slice(1) }))).toBeNull();
  });
});

describe("nearest surface", () => {
  it("finds what trying every triangle finds", () => {
    const s = lathe(
      [
        [1, 0],
        [2, 1],
        [0.5, 2],
      ],
      7,
    );
    const points = Float64Array.from(s.points.flat());
    const triangles = Uint32Array.from(
      s.faces.flatMap((f) => f.slice(2).flatMap((_, i) => [f[0]!, f[i + 1]!, f[i + 2]!])),
    );
    const tree = new TriangleTree(points, triangles);
    const one = Array.from(
      { length: triangles.length / 3 },
      (_, t) => new TriangleTree(points, triangles.slice(3 * t, 3 * t + 3)),
    );
    const at = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(at, at, at, (x, y, z) => {
        const found = tree.nearest(x, y, z)!;
        const least = Math.min(...one.map((o) => o.nearest(x, y, z)!.distance));
        expect(found.distance).toBeCloseTo(least, 12);
        expect(found.a + found.b + found.c).toBeCloseTo(1, 12);
      }),
    );
  });
});

/** The mill's body laid, and a second part beside it. */
async function withCopy(copy: PolyMesh): Promise<Asset> {
  const mill = (await edit(pepperMill(), "draft")).asset;
  const part: Part = { ...mill.parts[0]!, id: "copy", shape: "copy", name: "Copy" };
  return withParts(mill, [mill.parts[0]!, part], [{ id: "copy", mesh: copy, layouts: new Map() }]);
}
const pick = (asset: Asset, shape: string) => picking(asset, "faces", [0], shape);

describe("transfer between parts", () => {
  it.each([false, true])("copies a layout to a copy with other numbers (mirrored: %s)", async (mirror) => {
    const asset = await withCopy(renumbered(millBody(), 5, mirror));
    const { asset: laid } = await edit(asset, "transfer", { from: asset.parts[0]!.name }, pick(asset, "copy"));
    const only = (i: number) => measure(withParts(laid, [laid.parts[i]!]));
    const [a, b] = [only(0), only(1)];
    expect(b.shells).toBe(a.shells);
    // A face begun at another corner is cut into other triangles, where it is not flat.
    expect(b.symmetricDirichlet).toBeCloseTo(a.symmetricDirichlet!, 2);
    expect(b.seamLength).toBeCloseTo(a.seamLength!, 9);
    expect(b.flippedTriangles).toBe(0);
    expect(b.mirroredShells).toBe(0);
  });

  it("lays what is joined otherwise by the nearest surface", async () => {
    const body = millBody();
    const cut: number[][] = [];
    for (let f = 0; f + 1 < body.faceStart.length; f++) {
      const l = [...body.cornerVertex.subarray(body.faceStart[f]!, body.faceStart[f + 1]!)];
      for (let i = 1; i + 1 < l.length; i++) cut.push([l[0]!, l[i]!, l[i + 1]!]);
    }
    const asset = await withCopy(meshFromPolygons(body.positions, cut));
    const { asset: laid, result } = await edit(asset, "transfer", { from: asset.parts[0]!.id }, pick(asset, "copy"));
    expect(result.notes[0]!.words).toContain("coordinates from the nearest surface");
    const b = measure(withParts(laid, [laid.parts[1]!]));
    expect(b.cornersWithoutUv).toBe(0);
    expect(b.flippedTriangles).toBe(0);
    expect(b.symmetricDirichlet!).toBeCloseTo(measure(withParts(laid, [laid.parts[0]!])).symmetricDirichlet!, 2);
    await expect(
      edit(asset, "transfer", { from: asset.parts[0]!.id, way: "connectivity" }, pick(asset, "copy")),
    ).rejects.toThrow("different topology");
  });

  it("mirrors one half to the other", async () => {
    const s = box([2, 1, 1], [4, 2, 2]);
    const mesh = meshFromPolygons(
      s.points.flat().map((x, i) => (i % 3 ? x : x - 1)),
      s.faces,
    );
    expect(symmetryOf(mesh, 0).face.every((f) => f >= 0)).toBe(true);
    const base = pepperMill();
    const part = base.parts[0]!;
    const start = withParts(base, [part], [{ id: part.shape, mesh, layouts: new Map() }]);
    const laid = (await edit((await edit(start, "creased", { angle: 40 })).asset, "unfold")).asset;
    const right = Uint32Array.from({ length: faceCount(mesh) }, (_, f) => f).filter((f) => {
      let x = 0;
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) x += mesh.positions[3 * mesh.cornerVertex[c]!]!;
      return x < 0;
    });
    const bare = (await edit(laid, "unmap", {}, picking(laid, "faces", right))).asset;
    for (const place of ["beside", "on top"]) {
      const { asset } = await edit(bare, "mirror-half", { axis: "x", from: "positive", place });
      const m = measure(asset);
      expect(m.cornersWithoutUv).toBe(0);
      expect(m.symmetricDirichlet).toBeCloseTo(measure(bare).symmetricDirichlet!, 9);
      expect((m.overlapShare ?? 0) > 0.1).toBe(place === "on top");
    }
  });

  it("leaves a part that is laid in one piece in one piece, where the mirror line lies straight", async () => {
    // A sheet of four by two squares, laid as it lies but for the left half, which is pulled.
    const positions: number[] = [];
    for (let y = 0; y <= 2; y++) for (let x = -2; x <= 2; x++) positions.push(x, y, 0);
    const faces = Array.from({ length: 8 }, (_, i) => {
      const a = 5 * (i >> 2) + (i % 4);
      return [a, a + 1, a + 6, a + 5];
    });
    const mesh = meshFromPolygons(positions, faces);
    const at = (v: number) => {
      const [x, y] = [positions[3 * v]!, positions[3 * v + 1]!];
      return [0.5 + (x < 0 ? 0.2 * x - 0.01 * y : 0.1 * x), 0.1 + 0.1 * y];
    };
    const laid = assetOf(mesh, layoutFromCorners(mesh, Float64Array.from([...mesh.cornerVertex].flatMap(at))));
    const seams = measure(laid).seamLength;
    const { asset } = await edit(laid, "mirror-half", { axis: "x", from: "positive", place: "beside" });
    const m = measure(asset);
    expect([m.shells, m.seamLength, m.flippedTriangles, m.overlapShare]).toEqual([1, seams, 0, 0]);
    expect(m.symmetricDirichlet).toBeCloseTo(1, 9);
  });
});

describe("files that come in later", () => {
  const objOf = (asset: Asset, name: string) => readObj(writeObj(asset, name).obj, { name: `${name}.obj` });

  it("replaces the mesh: keeps what holds and picks what does not", async () => {
    const mill = objOf(await laidOutModel(pepperMill), "mill");
    const text = new TextDecoder().decode(writeObj(pepperMill(), "mill").obj);
    const same = readObj(new TextEncoder().encode(text), { name: "mill_new.obj" });
    const kept = await edit(mill, "replace-mesh", {}, everything(mill), [same]);
    expect(kept.result.pick).toBeUndefined();
    expect(kept.result.words).toContain("kept");
    shapesOf(kept.asset).forEach((_, i) => {
      expect(layoutAt(kept.asset, i).uv).toEqual(layoutAt(mill, i).uv);
    });
    // One face of the body less, one of its vertices elsewhere.
    const body = shapeAt(same);
    const faces = Array.from({ length: faceCount(body.mesh) }, (_, f) => [
      ...body.mesh.cornerVertex.subarray(body.mesh.faceStart[f]!, body.mesh.faceStart[f + 1]!),
    ]).slice(1);
    const positions = body.mesh.positions.map((x, i) => (i === 3 * 40 ? x * 1.5 + 0.3 : x));
    const changed = withParts(same, same.parts, [
      { id: body.id, mesh: meshFromPolygons(positions, faces), layouts: new Map() },
    ]);
    const { asset, result } = await edit(mill, "replace-mesh", {}, everything(mill), [changed]);
    const affected = result.pick!.items.get(asset.parts[0]!.shape)!;
    expect(affected.length).toBeGreaterThan(0);
    expect(affected.length).toBeLessThan(10);
    const set = layoutAt(asset, 0, 0);
    expect(faces.every((_, f) => getBit(set.mapped, f))).toBe(true);
    expect(asset.source.name).toBe("mill_new.obj");
  });

  it("adds parts beside the layout, at its density, and moves nothing", async () => {
    const mill = await laidOutModel(pepperMill);
    const lantern = objOf(await laidOutModel(paperLantern), "lantern");
    const { asset } = await edit(mill, "add-file", {}, everything(mill), [lantern]);
    expect(asset.parts).toHaveLength(mill.parts.length + lantern.parts.length);
    for (const shape of mill.shapes.values())
      expect(asset.shapes.get(shape.id)!.layouts.get("s1")).toBe(shape.layouts.get("s1"));
    const m = measure(asset);
    expect(m.texelDensityVariation!).toBeLessThan(0.01);
    for (const { id, mesh, layouts } of shapesOf(asset)) {
      if (mill.shapes.has(id)) continue;
      const layout = layouts.get("s1")!;
      const s = structureOf(mesh, layout);
      for (let w = 0; w < s.wedgeCount; w++) expect(layout.uv[2 * w]!).toBeGreaterThan(1);
    }
    const out = writeObj(asset, "both");
    expect(readObj(out.obj, { name: "both.obj" }).parts).toHaveLength(asset.parts.length);
  });
});
