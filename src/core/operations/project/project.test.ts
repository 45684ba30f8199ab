import { beforeAll, describe, expect, it } from "vitest";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { edit, layoutAt, picking, quiet, shapeAt } from "../../../testing/assets";
import { type Asset, shapesOf } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { emptyLayout, structureOf } from "../../layout/layout";
import { wedgesOfShell } from "../../layout/shell-points";
import type { Shell } from "../../mesh/indices";
import { edgesOfFace, topologyOf } from "../../mesh/topology";
import { turnedBody } from "../../seams/turned";
import { runEdit } from "../run";
import { everything } from "../scope";

describe("projecting", () => {
  let mill: Asset;
  beforeAll(async () => {
    mill = await edit(pepperMill(), "draft");
  });
  const partOf = (asset: Asset, name: string) => asset.parts.find((p) => p.name === name)!;
  const on = (asset: Asset, name: string) => ({ ...everything(asset), picked: [partOf(asset, name).id] });
  const place = (asset: Asset, name: string) => shapesOf(asset).findIndex((s) => s.id === partOf(asset, name).shape);

  it("takes forms for what stretches them least, and leaves all other shells where they are", async () => {
    const { asset, result } = await runEdit(mill, "project", {}, on(mill, "Crank"), quiet);
    expect(result.words).toMatch(/^Project 242 faces as bent tube: 3 shells, stretch 1\.0\d+; as box 1\.\d+/);
    shapesOf(asset).forEach((shape, i) => {
      if (i !== place(mill, "Crank")) expect(layoutAt(asset, i).uv).toEqual(layoutAt(mill, i).uv);
      expect(shape.mesh).toBe(shapesOf(mill)[i]!.mesh);
    });
    // Beside the first tile, at the density of the others.
    const i = place(mill, "Crank");
    const layout = layoutAt(asset, i);
    const { wedgeCount } = structureOf(shapeAt(asset, i).mesh, layout);
    for (let w = 0; w < wedgeCount; w++) expect(layout.uv[2 * w]).toBeGreaterThan(1);
    expect(result.pick).toMatchObject({ kind: "shells" });
  });

  it("parts picked faces from the rest of their shell, and joins them to nothing", async () => {
    const i = place(mill, "Body");
    const { mesh, id } = shapeAt(mill, i);
    const faces = [0, 1, 2, 3];
    const asset = await edit(mill, "project", { kind: "flat" }, picking(mill, "faces", faces, id));
    const before = structureOf(mesh, layoutAt(mill, i));
    const after = structureOf(mesh, layoutAt(asset, i));
    const others = new Set([...after.faceShell].filter((_, f) => !faces.includes(f)));
    for (const f of faces) expect(others.has(after.faceShell[f]!)).toBe(false);
    expect(after.shellCount).toBeGreaterThan(before.shellCount);
  });

  it("opens a tube along picked edges, wherever those run", async () => {
    const i = place(mill, "Crank");
    const { mesh, id } = shapeAt(mill, i);
    const bare = await edit(mill, "clear-set");
    const t = topologyOf(mesh);
    const faces = Uint32Array.from({ length: mesh.faceStart.length - 1 }, (_, f) => f);
    const body = turnedBody({ mesh, topology: t }, faces, emptyLayout(mesh).cut)!;
    const line = body.layers.filter((l) => l.faces.length === body.columns).map((l) => l.meridians[3]!);
    const asset = await edit(bare, "project", { kind: "bent tube" }, picking(bare, "edges", line, id));
    for (const e of line) expect(getBit(layoutAt(asset, i).cut, e)).toBe(true);
    const { shellCount } = structureOf(mesh, layoutAt(asset, i));
    expect(shellCount).toBe(3);
    // Edges all round faces stand for the faces.
    const all = await edit(
      bare,
      "project",
      {},
      picking(bare, "edges", new Set([...faces].flatMap((f) => [...edgesOfFace(mesh, f)])), id),
    );
    expect(structureOf(mesh, layoutAt(all, i)).shellCount).toBe(3);
  });

  it("starts a shell afresh as one flat piece", async () => {
    const i = place(mill, "Body");
    const { mesh, id } = shapeAt(mill, i);
    const torn = await edit(mill, "cut", {}, picking(mill, "edges", [...edgesOfFace(mesh, 20)].slice(0, 2), id));
    const asset = await edit(torn, "fresh-start", {}, picking(torn, "faces", [20], id));
    const s = structureOf(mesh, layoutAt(asset, i));
    const shell = s.faceShell[20]! as Shell;
    expect(wedgesOfShell(mesh, layoutAt(asset, i), shell).length).toBeGreaterThan(10);
    const t = topologyOf(mesh);
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [0, 1].map((k) => s.faceShell[t.cornerFace[t.edgeCorners[t.edgeCornerStart[e]! + k]!]!]);
      if (a === shell && b === shell) expect(getBit(layoutAt(asset, i).cut, e)).toBe(false);
    }
  });

  it("projects as who looks sees it, true to the outline", async () => {
    const i = place(mill, "Ring");
    const { id, mesh } = shapeAt(mill, i);
    const bare = await edit(mill, "clear-set");
    const all = Uint32Array.from({ length: mesh.faceStart.length - 1 }, (_, f) => f);
    const asset = await edit(bare, "project-view", { y: 1 }, picking(bare, "faces", all, id));
    const { uv } = layoutAt(asset, i);
    const size = (d: number) => {
      const own = [...uv].filter((_, k) => k % 2 === d);
      return Math.max(...own) - Math.min(...own);
    };
    // Seen from above a ring is as wide as it is high.
    expect(size(0) / size(1)).toBeCloseTo(1, 6);
    expect(structureOf(mesh, layoutAt(asset, i)).shellCount).toBe(1);
    await expect(edit(bare, "project-view", {}, picking(bare, "faces", all, id))).rejects.toThrow("from where");
  });

  it("takes every body of a part, or every shell, for its own form", async () => {
    const both = await edit(
      mill,
      "merge-parts",
      {},
      { ...everything(mill), picked: ["Crank", "Body"].map((n) => partOf(mill, n).id) },
    );
    const merged = both.parts.find((p) => !mill.parts.some((q) => q.id === p.id))!;
    const scope = { ...everything(both), picked: [merged.id] };
    const bodies = await runEdit(both, "project", {}, scope, quiet);
    expect(bodies.result.words).toMatch(/^Project 564 faces, 2 as bent tube: 6 shells/);
    const shells = await runEdit(both, "project", { each: "shell" }, scope, quiet);
    expect(shells.result.words).toMatch(/^Project 564 faces, 2 as bent tube, 4 as flat: 6 shells/);
  });

  it("refuses faces that are no tube to be unrolled as one, in a sentence", async () => {
    const { id } = shapeAt(mill, place(mill, "Body"));
    const some = picking(mill, "faces", [0, 5], id);
    await expect(edit(mill, "project", { kind: "bent tube" }, some)).rejects.toThrow(/is no tube|are no tube/);
  });
});
