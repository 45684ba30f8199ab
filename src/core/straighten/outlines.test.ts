import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assetOf, edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { byVertex, edgeBetween, type Place, patch, shellOf } from "../../testing/patches";
import { layoutFromCorners, structureOf } from "../layout/layout";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { runEdit } from "../operations/run";
import { everything } from "../operations/scope";
import { matchedSides } from "./matched-sides";
import { flippedIn } from "./mean-stretch";
import { mirroredAbout } from "./mirror-about";
import { regularBorder } from "./regular-outline";

const far = ([a, b]: Place, [c, d]: Place): number => Math.hypot(a - c, b - d);
const pairs = (uv: Float64Array): Place[] =>
  Array.from({ length: uv.length / 2 }, (_, i) => [uv[2 * i]!, uv[2 * i + 1]!] as const);
const lengthsOf = (uv: Float64Array): number[] =>
  pairs(uv)
    .slice(1)
    .map((p, i) => far(p, pairs(uv)[i]!));

describe("opposite sides", () => {
  it("come to be as long as the mean of both, edge by edge, whichever way they run", () => {
    const a = { uv: Float64Array.of(0, 0, 1, 0, 3, 0), lengths: [1, 2] };
    const b = { uv: Float64Array.of(3, 1, 2, 1, 0, 1), lengths: [4, 3] };
    const [x, y] = matchedSides(a, b);
    // The first edge of a lies across from the last of b.
    expect(lengthsOf(x)).toEqual([2, 3]);
    lengthsOf(y).forEach((length, i) => {
      expect(length).toBeCloseTo([3, 2][i]!, 12);
    });
    expect(x.filter((_, i) => i % 2 === 0).reduce((s, u) => s + u, 0) / 3).toBeCloseTo(4 / 3, 12);
  });

  it("with other numbers of edges are as long as each other as a whole, and keep their ways", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.1, max: 3, noNaN: true }), { minLength: 1, maxLength: 6 }),
        fc.array(fc.double({ min: 0.1, max: 3, noNaN: true }), { minLength: 7, maxLength: 9 }),
        (one, two) => {
          const side = (lengths: number[], v: number) => {
            const places = lengths.map((_, i) => lengths.slice(0, i + 1).reduce((s, l) => s + l, 0));
            return { uv: Float64Array.from([0, ...places].flatMap((u) => [u, v])), lengths };
          };
          const [x, y] = matchedSides(side(one, 0), side(two, 1));
          const total = (uv: Float64Array) => lengthsOf(uv).reduce((s, l) => s + l, 0);
          expect(total(x)).toBeCloseTo(total(y), 9);
          for (const [, v] of pairs(y)) expect(v).toBe(1);
        },
      ),
      { numRuns: 30 },
    );
  });

  it("of a wedge match after one press, the rest following, nothing flipped", async () => {
    const { mesh, asset } = patch(
      4,
      2,
      (i, j) => [i * (1 + 0.2 * j), j, 0],
      (i, j) => [(i * (1 + 0.2 * j)) / 10, j / 10],
    );
    const row = (j: number) => Array.from({ length: 4 }, (_, i) => edgeBetween(mesh, j * 5 + i, j * 5 + i + 1));
    const laid = await edit(asset, "match-sides", {}, picking(asset, "edges", [...row(0), ...row(2)]));
    const at = byVertex(laid);
    for (let i = 0; i < 4; i++) {
      expect(far(at[i]!, at[i + 1]!)).toBeCloseTo(0.12, 9);
      expect(far(at[10 + i]!, at[11 + i]!)).toBeCloseTo(0.12, 9);
    }
    const { form, uv } = shellOf(laid);
    expect(flippedIn(form, uv)).toBe(0);
    await expect(edit(asset, "match-sides", {}, picking(asset, "edges", row(0)))).rejects.toThrow("two runs");
  });
});

describe("the last row", () => {
  it("becomes as deep as in space while its end keeps its form", async () => {
    const { mesh, asset } = patch(
      3,
      2,
      (i, j) => [i, j, 0],
      (i, j) => [(i * (i === 3 ? 1.3 : 1)) / 10, j / 10 + (i === 3 ? 0.02 * j : 0)],
    );
    const end = [edgeBetween(mesh, 3, 7), edgeBetween(mesh, 7, 11)];
    const laid = byVertex(
      await edit(asset, "square-ends", { ends: "as they run", rest: "stays" }, picking(asset, "edges", end)),
    );
    const density = Math.sqrt(shellDensity(asset));
    for (const j of [0, 1, 2]) expect(far(laid[4 * j + 3]!, laid[4 * j + 2]!)).toBeCloseTo(density, 9);
    expect(laid[11]![1] - laid[3]![1]).toBeGreaterThan(0.2);
  });
});

/** Area on the sheet by area in space. */
function shellDensity(asset: Parameters<typeof shellOf>[0]): number {
  const { form, uv } = shellOf(asset);
  const area = (p: ArrayLike<number>, size: number) => {
    let sum = 0;
    for (let t = 0; t < form.triangles.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => size * form.triangles[t + k]!) as [number, number, number];
      sum += (p[b]! - p[a]!) * (p[c + 1]! - p[a + 1]!) - (p[c]! - p[a]!) * (p[b + 1]! - p[a + 1]!);
    }
    return sum / 2;
  };
  return area(uv, 2) / area(form.positions, 3);
}

describe("regular outlines", () => {
  const square = Float64Array.of(0, 0.01, 0.5, -0.01, 1, 0, 1.01, 0.5, 1, 1, 0.5, 1.02, 0, 0.99, -0.01, 0.5);
  const ones = (n: number) => new Float64Array(n).fill(1);

  it("make nearly straight sides straight, level and upright", () => {
    const out = pairs(regularBorder({ uv: square, lengths: ones(8) }, 0.05)!);
    for (const k of [0, 1, 2]) expect(out[k]![1]).toBeCloseTo(0.005, 12);
    for (const k of [2, 3, 4]) expect(out[k]![0]).toBeCloseTo(1, 12);
    expect(out[1]![0]).toBeCloseTo((out[0]![0] + out[2]![0]) / 2, 12);
    // What is regular stays as it is.
    const again = regularBorder({ uv: Float64Array.from(out.flat()), lengths: ones(8) }, 0.05)!;
    pairs(again).forEach((p, i) => {
      expect(far(p, out[i]!)).toBeLessThan(1e-12);
    });
  });

  it("make nearly round borders round, about their own middle and as they are turned", () => {
    const n = 24;
    const ragged = Float64Array.from({ length: 2 * n }, (_, i) => {
      const [k, turn] = [i >> 1, (2 * Math.PI * (i >> 1)) / n + 0.3];
      return (i % 2 ? 4 : 3) + (1 + (k % 2 ? 0.02 : -0.02)) * (i % 2 ? Math.sin(turn) : Math.cos(turn));
    });
    const out = pairs(regularBorder({ uv: ragged, lengths: ones(n) }, 0.05)!);
    out.forEach((p, k) => {
      const turn = (2 * Math.PI * k) / n + 0.3;
      expect(far(p, [3 + Math.cos(turn), 4 + Math.sin(turn)])).toBeLessThan(1e-9);
    });
    expect(regularBorder({ uv: ragged, lengths: ones(n) }, 0.005)).toBeNull();
  });

  it("make a side that is nearly an arc one, and leave what is neither", () => {
    // Half a disc: a straight side, and an arc of 16 edges.
    const arc = Array.from({ length: 17 }, (_, k): Place => {
      const [turn, r] = [(Math.PI * k) / 16, k % 16 && k % 2 ? 1.01 : 1];
      return [r * Math.cos(turn), r * Math.sin(turn)];
    });
    const uv = Float64Array.from(arc.flat());
    const lengths = ones(17).fill(2, 16);
    const out = pairs(regularBorder({ uv, lengths }, 0.05)!);
    for (const [u, v] of out) expect(Math.hypot(u, v)).toBeCloseTo(1, 9);
    const zigzag = arc.map(([u, v], k): Place => [u * (k % 4 === 2 ? 0.6 : 1), v * (k % 4 === 2 ? 0.6 : 1)]);
    const kept = regularBorder({ uv: Float64Array.from(zigzag.flat()), lengths }, 0.05);
    if (kept) for (const [k, p] of pairs(kept).entries()) expect(far(p, zigzag[k]!)).toBeLessThan(0.1);
  });

  it("of a shell take the inner points with them and flip nothing", async () => {
    const { asset } = patch(
      6,
      6,
      (i, j) => [i, j, 0],
      (i, j) => [(i + 0.1 * Math.sin(2 * j)) / 10, (j + 0.1 * Math.sin(3 * i)) / 10],
    );
    const laid = await edit(asset, "regular-outline");
    const at = byVertex(laid);
    for (let i = 0; i <= 6; i++) expect(at[i]![1]).toBeCloseTo(at[0]![1], 12);
    const { form, uv } = shellOf(laid);
    expect(flippedIn(form, uv)).toBe(0);
  });
});

describe("symmetry about picked edges", () => {
  it("pairs points by what lies beside what, and refuses sides that differ", () => {
    const faces = [
      [0, 1, 4, 3],
      [1, 2, 5, 4],
    ];
    expect([...mirroredAbout(faces, 6, [1, 4])!]).toEqual([2, 1, 0, 5, 4, 3]);
    expect(
      mirroredAbout(
        [
          [0, 1, 4, 3],
          [1, 2, 4],
        ],
        5,
        [1, 4],
      ),
    ).toBeNull();
    expect(mirroredAbout(faces, 6, [0, 1])).toBeNull();
  });

  it("lays a form that does not mirror in space so that it mirrors on the sheet", async () => {
    const lopsided = patch(
      4,
      3,
      (i, j) => [i + (i > 2 ? 0.5 : 0), j, 0],
      (i, j) => [(i + (i > 2 ? 0.5 : 0)) / 10, j / 10],
    );
    const { mesh, asset } = lopsided;
    await expect(edit(asset, "symmetrise", {}, picking(asset, "shells", [0]))).resolves.toBeTruthy();
    const axis = [0, 1, 2].map((j) => edgeBetween(mesh, 5 * j + 2, 5 * j + 7));
    const at = byVertex(await edit(asset, "symmetrise", {}, picking(asset, "edges", axis)));
    for (let j = 0; j <= 3; j++)
      for (let i = 0; i <= 4; i++) {
        const [a, b, m] = [at[5 * j + i]!, at[5 * j + 4 - i]!, at[2]!];
        expect(a[0] + b[0]).toBeCloseTo(2 * m[0], 9);
        expect(a[1]).toBeCloseTo(b[1], 9);
      }
    const wrong = [edgeBetween(mesh, 1, 6)];
    await expect(edit(asset, "symmetrise", {}, picking(asset, "edges", wrong))).rejects.toThrow("both sides");
  });
});

describe("rings of quads", () => {
  it("are opened along a column and laid as rectangles", async () => {
    const [about, rows] = [8, 2];
    const points: number[] = [];
    for (let j = 0; j <= rows; j++)
      for (let i = 0; i < about; i++) {
        const turn = (2 * Math.PI * i) / about;
        points.push(Math.cos(turn), Math.sin(turn), j);
      }
    const at = (i: number, j: number) => j * about + (i % about);
    const faces = Array.from({ length: about * rows }, (_, f) => {
      const [i, j] = [f % about, Math.floor(f / about)];
      return [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)];
    });
    const mesh = meshFromPolygons(Float64Array.from(points), faces);
    const uv = Float64Array.from(
      [...mesh.cornerVertex].flatMap((v) => {
        const [turn, r] = [(2 * Math.PI * (v % about)) / about, 0.4 - 0.1 * Math.floor(v / about)];
        return [0.5 + r * Math.cos(turn), 0.5 + r * Math.sin(turn)];
      }),
    );
    const asset = assetOf(mesh, layoutFromCorners(mesh, uv));
    const { asset: laid, result } = await runEdit(asset, "rectangle", {}, everything(asset), quiet);
    expect(result.notes.map((n) => n.words)).toEqual(["Opened 1 ring of quads along a column."]);
    const layout = layoutAt(laid);
    expect(structureOf(shapeAt(laid).mesh, layout).wedgeCount).toBe((about + 1) * (rows + 1));
    const span = (d: number) => {
      const all = [...layout.uv].filter((_, i) => i % 2 === d);
      return Math.max(...all) - Math.min(...all);
    };
    const [wide, high] = [span(0), span(1)].sort((a, b) => b - a) as [number, number];
    expect(wide / high).toBeCloseTo((about * 2 * Math.sin(Math.PI / about)) / rows, 9);
  });
});
