import { describe, expect, it } from "vitest";
import { squares } from "../../testing/squares";
import { readObj } from "../formats/obj-read";
import { type Asset, shapesOf } from "../layout/asset";
import { coverageOf } from "./coverage";
import { figuresOfAsset } from "./figures";
import { crossesItself, leastGap } from "./gaps";
import { measure } from "./measure";
import { stretchOfShape } from "./triangle-stretch";

const read = (lines: string[]) => readObj(new TextEncoder().encode(lines.join("\n")), { name: "t.obj" });

/** A square of side 2 with given texture points at its corners. */
const square = (uv: readonly (readonly [number, number])[]) => [
  "v 0 0 0",
  "v 2 0 0",
  "v 2 2 0",
  "v 0 2 0",
  ...uv.map(([u, v]) => `vt ${u} ${v}`),
  "f 1/1 2/2 3/3 4/4",
];

const UPRIGHT = [
  [0.25, 0.25],
  [0.75, 0.25],
  [0.75, 0.75],
  [0.25, 0.75],
] as const;

describe("measuring, against cases worked out by hand", () => {
  it("finds nothing wrong with a square laid out as it is", () => {
    const m = measure(read(square(UPRIGHT)), 1000);
    expect(m).toMatchObject({
      shells: 1,
      flippedTriangles: 0,
      mirroredShells: 0,
      overlapShare: 0,
      outOfBoundsTriangles: 0,
      shellGapPx: null,
      stackedShells: 0,
      bounds: { u0: 0.25, v0: 0.25, u1: 0.75, v1: 0.75 },
    });
    expect(m.symmetricDirichlet).toBeCloseTo(1, 12);
    expect(m.quasiConformalMean).toBeCloseTo(1, 12);
    expect(m.stretchL2).toBeCloseTo(1, 12);
    expect(m.texelDensityMean).toBeCloseTo(250, 9); // half a tile of 1000 px over a length of 2
    expect(m.coverage).toBeCloseTo(0.25, 6);
    expect(m.borderGapPx).toBeCloseTo(250, 9);
    expect(m.openBorderLength).toBeCloseTo(4, 12); // 8 round a square of area 4
    expect(m.seamLength).toBe(0);
  });

  it("tells how far a shell is turned from upright, and its tile; one that lies level by what is away; no tile outside", () => {
    const turned = (uv: readonly (readonly [number, number])[]) => measure(read(square(uv))).perShell[0]!;
    const [a, b, c, d] = UPRIGHT;
    expect(turned([a, b, c, d]).turn).toBeCloseTo(0, 9);
    // Each corner in the place of the next: a quarter counterclockwise.
    expect(turned([b, c, d, a]).turn).toBeCloseTo(90, 9);
    expect(Math.abs(turned([c, d, a, b]).turn!)).toBeCloseTo(180, 9);
    expect(turned([d, a, b, c]).turn).toBeCloseTo(-90, 9);
    const tile = (u: number, v: number) => turned(UPRIGHT.map(([x, y]) => [x + u, y + v] as const)).tile;
    expect([tile(0, 0), tile(2, 0), tile(1, 3), tile(-1, 0), tile(10, 0)]).toEqual([1001, 1003, 1032, null, null]);
    const asset = read(square(UPRIGHT));
    // It faces who looks; where z is up, it is the top.
    expect(measure(asset).perShell[0]!.side).toBe("front");
    expect(measure({ ...asset, up: "z" }).perShell[0]!.side).toBe("top");
    // Level: what is away from who looks is up.
    expect(measure({ ...asset, up: "z" }).perShell[0]!.turn).toBeCloseTo(0, 12);
  });

  it("gives a square pulled to twice its width the energy (2 + 1/2) / 2", () => {
    const m = measure(
      read(
        square([
          [0, 0],
          [1, 0],
          [1, 0.5],
          [0, 0.5],
        ]),
      ),
    );
    expect(m.symmetricDirichlet).toBeCloseTo(1.25, 12);
    expect(m.quasiConformalMean).toBeCloseTo(2, 12);
    expect(m.areaRatioMean).toBeCloseTo(1, 12);
    expect(m.stretchL2).toBeCloseTo(Math.sqrt(1.25), 12);
    expect(m.stretchLinf).toBeCloseTo(Math.SQRT2, 12);
  });

  it("tells a mirrored shell from a flipped triangle", () => {
    const mirrored = measure(
      read(
        square([
          [0.75, 0.25],
          [0.25, 0.25],
          [0.25, 0.75],
          [0.75, 0.75],
        ]),
      ),
    );
    expect(mirrored).toMatchObject({ mirroredShells: 1, flippedTriangles: 0 });
    const folded = measure(
      read([
        "v 0 0 0",
        "v 1 0 0",
        "v 1 1 0",
        "v 0 1 0",
        "v 2 0 0",
        "v 2 1 0",
        "vt 0 0",
        "vt 0.5 0",
        "vt 0.5 0.5",
        "vt 0 0.5",
        "vt 0.25 0",
        "f 1/1 2/2 3/3 4/4",
        "f 2/2 5/5 3/3",
      ]),
    );
    expect(folded).toMatchObject({ shells: 1, mirroredShells: 0, flippedTriangles: 1 });
    expect(folded.overlapShare!).toBeGreaterThan(0);
  });

  it("counts seams and gaps between shells, and shells that lie on one another as stacked", () => {
    const two = (u: number) => [
      "v 0 0 0",
      "v 1 0 0",
      "v 1 1 0",
      "v 0 1 0",
      "v 2 0 0",
      "v 2 1 0",
      ...["0 0", "0.2 0", "0.2 0.2", "0 0.2"].map((x) => `vt ${x}`),
      ...[
        [u, 0],
        [u + 0.2, 0],
        [u + 0.2, 0.2],
        [u, 0.2],
      ].map(([x, y]) => `vt ${x} ${y}`),
      "f 1/1 2/2 3/3 4/4",
      "f 2/5 5/6 6/7 3/8",
    ];
    const apart = measure(read(two(0.3)), 1000);
    expect(apart).toMatchObject({ shells: 2, stackedShells: 0, overlapShare: 0 });
    expect(apart.shellGapPx).toBeCloseTo(100, 9);
    expect(apart.seamLength).toBeCloseTo(1 / Math.SQRT2, 12);
    const stacked = measure(read(two(0)), 1000);
    expect(stacked).toMatchObject({ shells: 2, stackedShells: 1, overlapShareUnstacked: 0, shellGapPx: null });
    expect(stacked.overlapShare).toBeCloseTo(1, 6);
  });

  it("leaves out faces without coordinates and triangles without area", () => {
    const m = measure(read([...square(UPRIGHT), "v 5 0 0", "f 1/1 2/2 5/3", "f 1 2 3"]));
    expect(m.cornersWithoutUv).toBe(3);
    expect(m.degenerateTriangles3d).toBe(1);
    expect(m.symmetricDirichlet).toBeGreaterThanOrEqual(1);
  });

  it("finds what is out of its tile", () => {
    const m = measure(
      read(
        square([
          [0.75, 0.25],
          [1.25, 0.25],
          [1.25, 0.75],
          [0.75, 0.75],
        ]),
      ),
    );
    expect(m).toMatchObject({ outOfBoundsTriangles: 2, tiles: 2 });
    expect(m.borderGapPx!).toBeLessThan(0);
  });

  it("measures nothing where nothing is mapped", () => {
    expect(measure(read(["v 0 0 0", "v 1 0 0", "v 0 1 0", "f 1 2 3"]))).toMatchObject({
      shells: 0,
      allShells: 1,
      cornersWithoutUv: 3,
      perShell: [],
    });
  });

  it("tells stretch by triangle, against the mean of the shell", () => {
    const values = (asset: Asset) =>
      stretchOfShape(shapesOf(asset)[0]!, "s1", "area", figuresOfAsset(asset, "s1").get("p1")!);
    const even = values(read(square(UPRIGHT)));
    expect(Array.from(even)).toEqual([expect.closeTo(1), expect.closeTo(1)]);
    const bare = values(read(["v 0 0 0", "v 1 0 0", "v 0 1 0", "f 1 2 3"]));
    expect(bare[0]).toBeNaN();
  });
});

describe("areas and gaps", () => {
  it("counts a sample on a common edge once", () => {
    const halves = Float64Array.from([0, 0, 1, 0, 1, 1, 0, 0, 1, 1, 0, 1]);
    expect(coverageOf(halves)).toMatchObject({ tiles: 1, coverage: 1, overlapShare: 0 });
  });

  it("takes many faces that each fill the whole tile, as tiling textures have them, in one look at each", () => {
    const n = 1024;
    const copies = measure(squares(Array.from({ length: n }, () => [0, 0, 1, 1] as const)));
    expect(copies).toMatchObject({ shells: n, stackedShells: n - 1, overlapShareUnstacked: 0, coverage: 1 });
    const apart = measure(squares(Array.from({ length: n }, (_, i) => [0, 0, 1 - i / 5000, 1] as const)));
    expect(apart.overlapShare!).toBeGreaterThan(0.99);
    expect(apart.coverage!).toBeCloseTo(1, 6);
  });

  it("samples a layout that is far too wide in one window", () => {
    expect(coverageOf(Float64Array.from([0, 0, 200, 0, 200, 200])).tiles).toBeNull();
  });

  it("finds the least gap, however far it looks first", () => {
    const ring = (x: number) => [x, 0, x + 1, 0, x + 1, 0, x + 1, 1, x + 1, 1, x, 1, x, 1, x, 0];
    const outline = Float64Array.from([...ring(0), ...ring(1.37), ...ring(5)]);
    const owner = Uint32Array.from([0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2]);
    for (const radius of [1e-4, 0.01, 3]) expect(leastGap(outline, owner, radius)).toBeCloseTo(0.37, 12);
    expect(leastGap(outline.subarray(0, 16), owner.subarray(0, 4), 0.1)).toBeNull();
  });

  it("sees a border that crosses itself, and none that only touches", () => {
    const loop = (p: readonly (readonly [number, number])[]) =>
      Float64Array.from(p.flatMap((a, i) => [...a, ...p[(i + 1) % p.length]!]));
    expect(
      crossesItself(
        loop([
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ]),
      ),
    ).toBe(false);
    expect(
      crossesItself(
        loop([
          [0, 0],
          [1, 1],
          [1, 0],
          [0, 1],
        ]),
      ),
    ).toBe(true);
    expect(
      crossesItself(
        loop([
          [0, 0],
          [2, 0],
          [1, 1],
          [2, 2],
          [0, 2],
          [1, 1],
        ]),
      ),
    ).toBe(false);
  });
});
