import { describe, expect, it } from "vitest";
import { box, lathe, type Shape } from "../../../demo/kit";
import { assetOf, edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { ball, meshOf, plate } from "../../testing/seam-forms";
import { measure } from "../check/measure";
import type { Asset } from "../layout/asset";
import { countBits } from "../layout/bits";
import { structureOf } from "../layout/layout";
import { topologyOf } from "../mesh/topology";
import { foretold } from "../seams/foretold";
import { inlineRunner } from "../tasks/inline-runner";
import type { TaskRunner } from "../tasks/task-runner";
import { type Scope, Stopped } from "./operation";
import { runEdit } from "./run";
import { everything } from "./scope";

/** What an edit would come to, in words. */
const told = async (asset: Asset, id: string, scope: Scope, options: unknown = {}) =>
  foretold(asset, await edit(asset, id, options, scope), scope.set);

const bare = (s: Shape) => assetOf(meshOf(s));
const shells = (asset: Asset) => structureOf(shapeAt(asset).mesh, layoutAt(asset)).shellCount;
const shape = (asset: Asset) => shapeAt(asset).id;
const run = (asset: Asset, id: string, options: unknown = {}, scope = everything(asset)) =>
  edit(asset, id, options, scope);
/** Unfolded in one piece. */
const laid = async (s: Shape) => run(bare(s), "unfold");

describe("what seams would come to", () => {
  it("is told before: how many shells, and which of them lie flat", async () => {
    const can = bare(
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
        ],
        12,
      ),
    );
    const loops = [0, 2].map((y) => {
      const { mesh } = shapeAt(can);
      const t = topologyOf(mesh);
      const at = (v: number) => mesh.positions[3 * v + 1] === y;
      return Array.from({ length: t.edgeCount }, (_, e) => e).filter(
        (e) => at(t.edgeVertices[2 * e]!) && at(t.edgeVertices[2 * e + 1]!),
      );
    });
    const pick = (...edges: number[][]) => picking(can, "edges", edges.flat());
    expect(await told(can, "cut", pick(loops[0]!))).toBe("Would make 2 shells of 1: 2 disks.");
    expect(await told(can, "cut", pick(...loops))).toBe(
      "Would make 3 shells of 1: 2 disks; 1 ring or tube, which needs one more cut.",
    );
    // An edge that parts nothing leaves one shell, which is open now.
    expect(await told(can, "cut", pick(loops[0]!.slice(0, 1)))).toBe(
      "Would make 1 shell as before: 1 closed, which needs a cut.",
    );
    expect(await told(can, "cut", pick(loops[0]!.slice(0, 3)))).toBe("Would make 1 shell as before: 1 disk.");
    expect(await told(can, "creased", everything(can), { angle: 60 })).toMatch(/^Would make 3 shells of 1/);
  });

  it("is told with a warning where seams pass points at which many edges meet", async () => {
    const round = bare(ball(8));
    const { mesh } = shapeAt(round);
    const t = topologyOf(mesh);
    const height = (v: number) => mesh.positions[3 * v + 1]!;
    const rim = [...Array(t.edgeCount).keys()].filter((e) =>
      [0, 1].every((k) => Math.abs(height(t.edgeVertices[2 * e + k]!)) < 1e-9),
    );
    // 16 triangles meet at each pole.
    const toPole = [...Array(t.edgeCount).keys()].find((e) => height(t.edgeVertices[2 * e + 1]!) > 0.999)!;
    expect(await told(round, "cut", picking(round, "edges", rim))).toBe("Would make 2 shells of 1: 2 disks.");
    expect(await told(round, "cut", picking(round, "edges", [...rim, toPole]))).toMatch(
      /New seams pass a point where many edges meet/,
    );
  });
});

describe("Break off", () => {
  it("makes picked faces a shell of their own, where they lie, and joining the same edges undoes it", async () => {
    const whole = await laid(plate(4, 4));
    const apart = await run(whole, "break-off", {}, picking(whole, "faces", [5, 6], shape(whole)));
    expect(shells(apart)).toBe(2);
    const cut = layoutAt(apart).cut;
    expect(countBits(cut)).toBe(6);
    const { edgeCount } = topologyOf(shapeAt(apart).mesh);
    const edges = Array.from({ length: edgeCount }, (_, e) => e).filter((e) => (cut[e >> 3]! >> (e & 7)) & 1);
    const again = await run(apart, "join", {}, picking(apart, "edges", edges, shape(apart)));
    expect(shells(again)).toBe(1);
    expect(layoutAt(again).cut).toEqual(layoutAt(whole).cut);
    expect(measure(again).symmetricDirichlet!).toBeCloseTo(1, 9);
  });

  it("refuses whole shells, and nothing picked", async () => {
    const whole = await laid(plate(2, 2));
    await expect(run(whole, "break-off", {}, picking(whole, "faces", [0, 1, 2, 3], shape(whole)))).rejects.toThrow(
      "whole shells already",
    );
    await expect(run(whole, "break-off")).rejects.toThrow();
  });
});

describe("Graft", () => {
  it("moves the picked shell onto its neighbour, though it is the larger, at that one's size", async () => {
    const whole = await laid(plate(4, 2));
    const apart = await run(whole, "break-off", {}, picking(whole, "faces", [0, 4], shape(whole)));
    const small = picking(apart, "shells", [0], shape(apart));
    const moved = await run(apart, "move", { dx: 7, dy: 3, angle: 40, scale: 0.5 }, small).catch(() => apart);
    const large = picking(moved, "shells", [1], shape(moved));
    const joined = await run(moved, "graft", {}, large);
    expect(shells(joined)).toBe(1);
    expect(measure(joined).symmetricDirichlet!).toBeCloseTo(1, 6);
    const w = 2 * structureOf(shapeAt(moved).mesh, layoutAt(moved)).cornerWedge[0]!;
    const now = 2 * structureOf(shapeAt(joined).mesh, layoutAt(joined)).cornerWedge[0]!;
    // What was not picked has stayed.
    expect(layoutAt(joined).uv[now]).toBeCloseTo(layoutAt(moved).uv[w]!, 9);
  });

  it("asks where two sides are about alike, unless the longest will do", async () => {
    const whole = await laid(plate(3, 2));
    const left = await run(whole, "break-off", {}, picking(whole, "faces", [0, 3], shape(whole)));
    const three = await run(left, "break-off", {}, picking(left, "faces", [2, 5], shape(left)));
    const middle = picking(three, "shells", [1], shape(three));
    expect(shells(three)).toBe(3);
    await expect(run(three, "graft", {}, middle)).rejects.toThrow("pick the edges of one side");
    expect(shells(await run(three, "graft", { longest: true }, middle))).toBe(2);
    await expect(run(whole, "graft", {}, picking(whole, "shells", [0], shape(whole)))).rejects.toThrow("shares a seam");
  });
});

/** A plate of n x n squares, each by itself. */
async function pieces(n: number): Promise<Asset> {
  const whole = bare(plate(n, n));
  const { edgeCount } = topologyOf(shapeAt(whole).mesh);
  const all = Array.from({ length: edgeCount }, (_, e) => e);
  return run(await run(whole, "cut", {}, picking(whole, "edges", all, shape(whole))), "unfold");
}

/** A plate of n x n squares in blocks of m x m, laid flat. */
async function blocks(n: number, m: number): Promise<Asset> {
  const whole = bare(plate(n, n));
  const t = topologyOf(shapeAt(whole).mesh);
  const block = (face: number) => `${Math.floor(face / n / m)} ${Math.floor((face % n) / m)}`;
  const edges = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
    const faces = Array.from(
      t.edgeCorners.subarray(t.edgeCornerStart[e]!, t.edgeCornerStart[e + 1]!),
      (c) => t.cornerFace[c]!,
    );
    return new Set(faces.map(block)).size > 1;
  });
  return run(await run(whole, "cut", {}, picking(whole, "edges", edges)), "unfold");
}

describe("Assemble", () => {
  it("makes a shape whole again that was cut to pieces, or as many shells as are wished for", async () => {
    const cut = await pieces(6);
    expect(shells(cut)).toBe(36);
    const whole = await run(cut, "assemble");
    expect(shells(whole)).toBe(1);
    expect(measure(whole).symmetricDirichlet!).toBeCloseTo(1, 6);
    expect(countBits(layoutAt(whole).cut)).toBe(0);
    const some = shells(await run(cut, "assemble", { wish: 10 }));
    expect(some).toBeLessThanOrEqual(10);
    expect(some).toBeGreaterThan(1);
    await expect(run(whole, "assemble")).rejects.toThrow("can be joined within");
  });

  it("keeps shells apart at creases", async () => {
    const crate = await run(await run(bare(box([2, 2, 2], [2, 2, 2])), "creased", { angle: 60 }), "unfold");
    expect(shells(crate)).toBe(6);
    await expect(run(crate, "assemble", { apart: "creases" })).rejects.toThrow("can be joined within");
    expect(shells(await run(crate, "assemble"))).toBe(1);
  });
});

describe("Assemble and Shorten, told to stop", () => {
  /** Stopped by the signal itself, or by workers that end with it, after so many looks or tasks; both are counted. */
  const stopping = (after: number, byWorkers: boolean) => {
    const seen = { looks: 0, tasks: 0 };
    const pool: TaskRunner = {
      width: 2,
      run: (name, task, progress) =>
        ++seen.tasks > after ? Promise.reject(new Stopped("Stopped.")) : inlineRunner.run(name, task, progress),
    };
    const progress = () => {
      if (++seen.looks > after && !byWorkers) throw new Stopped("Stopped.");
    };
    return { seen, context: { progress, ...(byWorkers ? { pool } : {}) } };
  };

  it.each([
    ["assemble", false],
    ["shorten", false],
    ["assemble", true],
    ["shorten", true],
  ])(
    "%s keeps what was reached, whenever that is, and else changes nothing (by workers: %s)",
    async (id, byWorkers) => {
      // Pieces that go to workers have more than a few faces.
      const cut = byWorkers ? await blocks(36, 9) : await pieces(5);
      const before = shells(cut);
      const whole = stopping(Infinity, byWorkers);
      await runEdit(cut, id, {}, everything(cut), whole.context);
      const all = byWorkers ? whole.seen.tasks : whole.seen.looks;
      let kept = 0;
      for (let after = 0; after < all; after += Math.ceil(all / 12)) {
        const done = await runEdit(cut, id, {}, everything(cut), stopping(after, byWorkers).context).catch((error) => {
          expect(error).toBeInstanceOf(Stopped);
          return null;
        });
        if (!done) continue;
        kept++;
        expect(done.result).toMatchObject({ stopped: true, words: expect.stringContaining("stopped early") });
        expect(shells(done.asset)).toBeLessThan(before);
        expect(measure(done.asset)).toMatchObject({ flippedTriangles: 0, overlapShareUnstacked: 0 });
      }
      expect(kept).toBeGreaterThan(0);
    },
  );
});

describe("Shorten and Straighten seams", () => {
  it("say by how much, and that there is nothing to be done", async () => {
    const cut = await pieces(4);
    const { asset, result } = await runEdit(cut, "shorten", {}, everything(cut), quiet);
    expect(result.words).toBe("Shorten seams by 100 %: 16 to 1 shells");
    await expect(run(asset, "shorten")).rejects.toThrow("cannot be made shorter");
    await expect(run(asset, "straighten-seams")).rejects.toThrow("as straight as the mesh allows");
  });

  it("leave pinned shells, and tell of those that are no disks", async () => {
    const cut = await pieces(3);
    const pinned = await run(cut, "pin", {}, picking(cut, "shells", [0], shape(cut)));
    expect(shells(await run(pinned, "shorten"))).toBe(2);
    const closed = await run(bare(box([1, 1, 1])), "unfold").catch(() => null);
    expect(closed).toBeNull();
  });
});

describe("Propose seams", () => {
  const can = () =>
    bare(
      lathe(
        [
          [1, 0],
          [1, 1],
          [1, 2],
        ],
        16,
      ),
    );
  it("along the flow of turned bodies: caps off and one seam, and refuses what is none", async () => {
    const cut = await run(can(), "turned");
    expect(shells(cut)).toBe(3);
    expect(measure(await run(cut, "unfold")).symmetricDirichlet!).toBeCloseTo(1, 6);
    await expect(run(cut, "turned")).rejects.toThrow("turned body");
    await expect(run(bare(box([1, 1, 1], [2, 2, 2])), "turned")).rejects.toThrow("turned body");
  });

  it("at creases that go on over weaker edges, at borders of groups, and where normals are hard", async () => {
    const roof = () => bare(plate(4, 1));
    const bent = roof();
    // Squares 0 to 3 in a row, bent by 70, 40 and 10 degrees.
    const p = shapeAt(bent).mesh.positions.slice();
    let [x, z, angle] = [0, 0, 0];
    for (let i = 0; i <= 4; i++) {
      for (const j of [0, 1]) p.set([x, j, z], 3 * (j * 5 + i));
      angle += ([0, 70, 40, 10][i] ?? 0) * (Math.PI / 180);
      x += Math.cos(angle);
      z += Math.sin(angle);
    }
    const mesh = { ...shapeAt(bent).mesh, positions: p, origin: shapeAt(bent).mesh.origin };
    const groups = { ...mesh, faceGroup: Uint32Array.of(0, 0, 0, 1), groups: ["a", "b"] };
    const of = (m: typeof mesh) => assetOf(m);
    expect(shells(await run(of(mesh), "creased", { angle: 60 }))).toBe(2);
    // Lines across do not touch: the weaker one is none that goes on from the stronger.
    expect(shells(await run(of(mesh), "creased", { angle: 60, down: 30 }))).toBe(2);
    expect(shells(await run(of(mesh), "creased", { angle: 30 }))).toBe(3);
    expect(shells(await run(of(groups), "creased", { angle: 60, groups: true }))).toBe(3);
    const normals = new Float32Array(3 * mesh.cornerVertex.length);
    for (let c = 0; c < mesh.cornerVertex.length; c++) normals[3 * c + (c < 12 ? 1 : 2)] = 1;
    expect(shells(await run(of({ ...mesh, cornerNormal: normals }), "creased", { angle: 60, normals: true }))).toBe(3);
  });
});
