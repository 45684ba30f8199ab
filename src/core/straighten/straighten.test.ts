import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { byVertex, edgeBetween, patch, shellOf } from "../../testing/patches";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { laidAlong, runsOf, straightened } from "./edge-runs";
import { fourCorners } from "./four-corners";
import { flippedIn, meanStretch } from "./mean-stretch";
import { GridFinder } from "./quad-grid";

/** An arch: bent about an axis, so that it can be rolled out; its sheet is a fan. */
const arch = (columns: number, rows: number) =>
  patch(
    columns,
    rows,
    (i, j) => [3 * Math.cos(i / 4), j / 2, 3 * Math.sin(i / 4)],
    (i, j) => [(0.5 + j / 20) * Math.cos(2 - i / 10), (0.5 + j / 20) * Math.sin(2 - i / 10)],
  );

describe("a strip of quads", () => {
  it("is a rectangle whose rows and columns are as long as in space, without stretch where it can be rolled out", async () => {
    const { asset } = arch(9, 2);
    const laid = await edit(asset, "rectangle");
    const { form, uv } = shellOf(laid);
    expect(meanStretch(form, uv)).toBeCloseTo(1, 9);
    const at = byVertex(laid);
    const step = 2 * 3 * Math.sin(1 / 8);
    const ratio = Math.abs(at[1]![0] - at[0]![0] || at[1]![1] - at[0]![1]) / step;
    for (let j = 0; j <= 2; j++)
      for (let i = 0; i <= 9; i++) {
        const [u, v] = at[j * 10 + i]!;
        const [du, dv] = [Math.abs(u - at[0]![0]), Math.abs(v - at[0]![1])];
        expect(Math.max(du, dv)).toBeCloseTo(Math.max(i * step * ratio, (j / 2) * ratio), 9);
        expect(Math.min(du, dv)).toBeCloseTo(Math.min(i * step * ratio, (j / 2) * ratio), 9);
      }
  });

  it("that tapers has columns of mean length, so that opposite sides match", () => {
    const { mesh, asset } = patch(
      3,
      1,
      (i, j) => [i * (1 + j), j, 0],
      (i, j) => [i / 9, j / 9],
    );
    const finder = new GridFinder(mesh, layoutAt(asset));
    const [grid] = finder.among([0, 1, 2]);
    const flat = finder.rectangle(grid!, mesh.positions, "as in 3D");
    const us = new Set([...flat].filter((_, i) => i % 2 === 0).map((u) => u.toFixed(9)));
    expect([...us].map(Number).sort()).toEqual([0, 1.5, 3, 4.5]);
  });

  it("is no grid where it comes back upon itself", () => {
    const ring = meshFromPolygons(Float64Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 0, 1, 1]), [
      [0, 1, 4, 3],
      [1, 2, 5, 4],
      [2, 0, 3, 5],
    ]);
    const { cut, mapped } = layoutFromCorners(ring, new Float64Array(24).fill(0.5));
    const bare = { cut, mapped, uv: new Float64Array(12), pinned: new Uint8Array(2) as never };
    expect(new GridFinder(ring, bare).among([0, 1, 2])).toEqual([]);
  });

  it("within a larger shell is a rectangle, and the rest follows without a flip", async () => {
    const { asset } = patch(
      8,
      8,
      (i, j) => [i, j, Math.sin(i / 3)],
      (i, j) => [(i + Math.sin(j) / 3) / 10, (j + Math.sin(i) / 3) / 10],
    );
    // The third row of faces.
    const faces = Array.from({ length: 8 }, (_, i) => 16 + i);
    const laid = await edit(asset, "rectangle", {}, picking(asset, "faces", faces));
    const at = byVertex(laid);
    for (const row of [2, 3]) for (let i = 1; i <= 8; i++) expect(at[row * 9 + i]![1]).toBeCloseTo(at[row * 9]![1], 9);
    const { form, uv } = shellOf(laid);
    expect(flippedIn(form, uv)).toBe(0);
    expect(meanStretch(form, uv)).toBeLessThan(1.05);
  });
});

describe("a shell with four corners", () => {
  it("is a rectangle whatever its faces are, and one that is round has none", () => {
    const { asset } = patch(
      5,
      4,
      (i, j) => [i, j + Math.sin(i) / 5, 0],
      (i, j) => [i / 9, j / 9],
    );
    const { form } = shellOf(asset);
    const border = [0, 1, 2, 3, 4, 5, 11, 17, 23, 29, 28, 27, 26, 25, 24, 18, 12, 6];
    const pointOf = new Map([...form.wedges].map((w, i) => [w, i]));
    const { cornerWedge } = structureOf(shapeAt(asset).mesh, layoutAt(asset));
    const wedgeOf = new Map([...shapeAt(asset).mesh.cornerVertex].map((v, c) => [v, cornerWedge[c]!]));
    const loop = border.map((v) => pointOf.get(wedgeOf.get(v)!)!);
    expect(fourCorners(form, loop)).toEqual([0, 5, 9, 14]);
    const round = Array.from({ length: 8 }, (_, k) => [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4), 0]);
    const fan = {
      positions: Float64Array.from([...round.flat(), 0, 0, 0]),
      triangles: Uint32Array.from(round.flatMap((_, k) => [k, (k + 1) % 8, 8])),
      wedges: Uint32Array.from({ length: 9 }, (_, i) => i),
    };
    expect(fourCorners(fan, [0, 1, 2, 3, 4, 5, 6, 7])).toBeNull();
  });
});

describe("a round shell", () => {
  it("is a rectangle between four points that are picked, and stays where they are not four", async () => {
    const side = 8;
    const { asset } = patch(
      side,
      side,
      (i, j) => onDisc(i / side, j / side),
      (i, j) => [onDisc(i / side, j / side)[0] / 3 + 0.5, onDisc(i / side, j / side)[1] / 3 + 0.5],
    );
    const corners = [0, side, (side + 1) * (side + 1) - 1, (side + 1) * side];
    const laid = byVertex(await edit(asset, "rectangle", {}, picking(asset, "vertices", corners)));
    for (let i = 0; i <= side; i++) {
      expect(laid[i]![1]).toBeCloseTo(laid[0]![1], 9);
      expect(laid[(side + 1) * i]![0]).toBeCloseTo(laid[0]![0], 9);
    }
    await expect(edit(asset, "rectangle", {}, picking(asset, "vertices", [0, side]))).rejects.toThrow(
      "just four points",
    );
  });
});

/** A square drawn round: its border lies on a circle. */
function onDisc(u: number, v: number): readonly [number, number, number] {
  const [x, y] = [2 * u - 1, 2 * v - 1];
  return [x * Math.sqrt(1 - (y * y) / 2), y * Math.sqrt(1 - (x * x) / 2), 0];
}

describe("runs of edges", () => {
  it("go on where two edges meet, and end where three do", () => {
    expect(
      runsOf([
        [0, 1],
        [2, 1],
        [2, 3],
      ]),
    ).toEqual([{ points: [0, 1, 2, 3], isClosed: false }]);
    expect(
      runsOf([
        [0, 1],
        [1, 2],
        [2, 0],
      ])[0]!.isClosed,
    ).toBe(true);
    const lengths = runsOf([
      [0, 1],
      [1, 2],
      [1, 3],
      [3, 4],
    ]).map((r) => r.points.length);
    expect(lengths.sort()).toEqual([2, 2, 3]);
  });

  it("lie straight about their middle, as far apart as is told", () => {
    const coordinate = fc.double({ min: -5, max: 5, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(coordinate, coordinate), { minLength: 2, maxLength: 9 }), (points) => {
        const uv = Float64Array.from(points.flat());
        const lengths = points.slice(1).map((_, i) => 1 + i);
        const laid = straightened(uv, lengths, "horizontal");
        for (let i = 0; i + 1 < points.length; i++) {
          expect(laid[2 * i + 3]).toBeCloseTo(laid[1]!, 9);
          expect(Math.abs(laid[2 * i + 2]! - laid[2 * i]!)).toBeCloseTo(lengths[i]!, 9);
        }
        for (const d of [0, 1]) {
          const mean = (list: Float64Array) =>
            list.reduce((sum, x, i) => sum + (i % 2 === d ? x : 0), 0) / points.length;
          expect(mean(laid)).toBeCloseTo(mean(uv), 9);
        }
        // Laid once more nothing moves.
        const again = laidAlong(laid, lengths, [Math.sign(laid[2]! - laid[0]!), 0]);
        again.forEach((x, i) => {
          expect(x).toBeCloseTo(laid[i]!, 8);
        });
      }),
    );
  });

  it("straighten with the rest following: the run is exact, and nothing flips", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.double({ min: 0, max: 0.35, noNaN: true }),
        fc.integer({ min: 0, max: 6 }),
        async (wave, row) => {
          const { mesh, asset } = patch(
            7,
            6,
            (i, j) => [i, j + wave * Math.sin(2 * i), 0],
            (i, j) => [i / 9, (j + wave * Math.sin(2 * i)) / 9],
          );
          const edges = Array.from({ length: 7 }, (_, i) => edgeBetween(mesh, row * 8 + i, row * 8 + i + 1));
          const laid = await edit(asset, "straighten-edges", {}, picking(asset, "edges", edges));
          const at = byVertex(laid);
          for (let i = 1; i <= 7; i++) expect(at[row * 8 + i]![1]).toBeCloseTo(at[row * 8]![1], 12);
          const { form, uv } = shellOf(laid);
          expect(flippedIn(form, uv)).toBe(0);
        },
      ),
      { numRuns: 12 },
    );
  });
});

describe("other ways to straighten", () => {
  const leaning = () =>
    patch(
      6,
      2,
      (i, j) => [i, j, 0],
      (i, j) => [(i + 0.4 * j) / 10, j / 10],
    );

  it("square an end to its strip, as far from the row before it as in space", async () => {
    const { mesh, asset } = leaning();
    const ragged = await edit(asset, "move-points", { du: 0.05, dv: 0.03 }, picking(asset, "points", [23]));
    const edges = [edgeBetween(mesh, 6, 13), edgeBetween(mesh, 13, 20)];
    const laid = byVertex(await edit(ragged, "square-ends", { rest: "stays" }, picking(ragged, "edges", edges)));
    const across = [laid[20]![0] - laid[6]![0], laid[20]![1] - laid[6]![1]] as const;
    const length = Math.hypot(...across);
    // Two rows of 1 at a density of a tenth.
    expect(length).toBeCloseTo(0.2, 6);
    expect(across[0] / length).toBeLessThan(0.2);
  });

  it("turn a shell until an edge lies on an axis, and stretch nothing", async () => {
    const { mesh, asset } = leaning();
    const turned = await edit(asset, "move", { turn: 33 });
    const laid = await edit(turned, "turn-by-edge", {}, picking(turned, "edges", [edgeBetween(mesh, 0, 1)]));
    const at = byVertex(laid);
    const [du, dv] = [at[1]![0] - at[0]![0], at[1]![1] - at[0]![1]];
    expect(Math.min(Math.abs(du), Math.abs(dv))).toBeCloseTo(0, 9);
    expect(Math.hypot(du, dv)).toBeCloseTo(0.1, 9);
    const again = await edit(laid, "turn-by-edge", {}, picking(laid, "edges", [edgeBetween(mesh, 0, 1)]));
    expect(byVertex(again)[20]![0]).toBeCloseTo(at[20]![0], 9);
  });

  it("align points to the least, the middle or the greatest of them", async () => {
    const { asset } = leaning();
    const pick = picking(asset, "vertices", [0, 1, 2]);
    const bent = await edit(asset, "move-points", { dv: -0.01 }, picking(asset, "points", [0]));
    for (const [at, v] of [
      ["least", -0.01],
      ["middle", -0.005],
      ["greatest", 0],
    ] as const) {
      const laid = byVertex(await edit(bent, "align-points", { at, rest: "stays" }, pick));
      for (const p of [0, 1, 2]) expect(laid[p]![1]).toBeCloseTo(v, 12);
    }
  });

  it("symmetrise a shell whose form mirrors, once and for all", async () => {
    const { asset } = leaning();
    const once = await edit(asset, "symmetrise");
    const at = byVertex(once);
    const middle = (at[3]![0] + at[17]![0]) / 2;
    for (let j = 0; j <= 2; j++)
      for (let i = 0; i <= 6; i++) {
        const [a, b] = [at[j * 7 + i]!, at[j * 7 + 6 - i]!];
        const other = at[(2 - j) * 7 + i]!;
        const acrossI = Math.abs(a[0] - middle + (b[0] - middle)) + Math.abs(a[1] - b[1]);
        const acrossJ = Math.abs(a[0] - middle + (other[0] - middle)) + Math.abs(a[1] - other[1]);
        expect(Math.min(acrossI, acrossJ)).toBeLessThan(1e-9);
      }
    const twice = byVertex(await edit(once, "symmetrise"));
    twice.forEach((p, v) => {
      expect(Math.hypot(p[0] - at[v]![0], p[1] - at[v]![1])).toBeLessThan(1e-9);
    });
  });

  it("straighten all that gain, within the stretch that is allowed, and tell of each", async () => {
    const { asset } = arch(6, 1);
    const { result } = await runEdit(asset, "straighten-all", {}, everything(asset), quiet);
    expect(result.words).toMatch(/Straighten 1 shell: stretch 1\.\d+ to 1\.000/);
    expect(result.notes[0]!.words).toMatch(/^Shell 1 of Part: stretch/);
    const cone = patch(
      6,
      1,
      (i, j) => [i * (1 + 2 * j), j, 0],
      (i, j) => [(i * (1 + 2 * j)) / 30, j / 30],
    ).asset;
    await expect(edit(cone, "straighten-all")).rejects.toThrow("within that stretch");
  });
});
