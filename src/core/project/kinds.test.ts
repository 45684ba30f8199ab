import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { makeBits } from "../layout/bits";
import { meshFromPolygons } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import { iota } from "../numeric/iota";
import { formOf } from "./form";
import { frameAbout, type Vector } from "./frame";
import { PLAIN, type Projection, type ProjectionOptions, projected } from "./kinds";
import { projectedLayout } from "./projected-layout";
import { stretchOf, suggestions } from "./suggest";

/** A prism of n sides about the z axis, in rows, with its ends. */
function prism(sides: number, radius: number, heights: readonly number[]) {
  const points: number[] = [];
  for (const z of heights)
    for (let k = 0; k < sides; k++) {
      const angle = (2 * Math.PI * k) / sides;
      points.push(radius * Math.cos(angle), radius * Math.sin(angle), z);
    }
  const faces: number[][] = [];
  for (let row = 0; row + 1 < heights.length; row++)
    for (let k = 0; k < sides; k++) {
      const [a, b] = [row * sides + k, row * sides + ((k + 1) % sides)];
      faces.push([a, b, b + sides, a + sides]);
    }
  const top = (heights.length - 1) * sides;
  faces.push(Array.from({ length: sides }, (_, k) => top + k));
  faces.push(Array.from({ length: sides }, (_, k) => sides - 1 - k));
  return meshFromPolygons(Float64Array.from(points), faces);
}

/** A sphere about the origin in rings of quads, with poles on the z axis. */
function sphere(rings: number, columns: number, radius: number) {
  const points = [0, 0, -radius];
  for (let i = 1; i < rings; i++)
    for (let k = 0; k < columns; k++) {
      const [lat, long] = [Math.PI * (i / rings - 0.5), (2 * Math.PI * k) / columns];
      points.push(
        radius * Math.cos(lat) * Math.cos(long),
        radius * Math.cos(lat) * Math.sin(long),
        radius * Math.sin(lat),
      );
    }
  points.push(0, 0, radius);
  const at = (i: number, k: number) => 1 + (i - 1) * columns + (k % columns);
  const faces: number[][] = [];
  for (let k = 0; k < columns; k++) {
    faces.push([0, at(1, k + 1), at(1, k)]);
    for (let i = 1; i + 1 < rings; i++) faces.push([at(i, k), at(i, k + 1), at(i + 1, k + 1), at(i + 1, k)]);
    faces.push([at(rings - 1, k), at(rings - 1, k + 1), points.length / 3 - 1]);
  }
  return meshFromPolygons(Float64Array.from(points), faces);
}

function project(
  mesh: ReturnType<typeof prism>,
  kind: Projection,
  options: Partial<ProjectionOptions> = {},
  axis: Vector = [0, 0, 1],
) {
  const none = makeBits(topologyOf(mesh).edgeCount);
  const faces = iota(mesh.faceStart.length - 1);
  const form = formOf(mesh, mesh.positions, faces, none, frameAbout(axis, [0, 0, 1], [0, 0, 0]));
  const { uv } = projected(form, kind, { ...PLAIN, ...options });
  const bare = {
    cut: none,
    mapped: makeBits(faces.length),
    uv: new Float64Array(2 * mesh.positions.length),
    pinned: makeBits(1),
  };
  return { uv, faces, form, laid: () => projectedLayout(mesh, bare, uv, none) };
}

const span = (uv: ArrayLike<number>, d: number): number => {
  const own = Array.from(uv).filter((x, i) => i % 2 === d && !Number.isNaN(x));
  return Math.max(...own) - Math.min(...own);
};

describe("a tube of n sides", () => {
  it("comes out n sides wide and as high as it is, whole, with ends whose sides are as long", () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 40 }), fc.double({ min: 0.01, max: 50, noNaN: true }), (sides, radius) => {
        const mesh = prism(sides, radius, [0, 1, 4]);
        const { uv } = project(mesh, "cylinder");
        const side = 2 * radius * Math.sin(Math.PI / sides);
        const walls = uv.subarray(0, 2 * 4 * 2 * sides);
        expect(span(walls, 0)).toBeCloseTo(sides * side, 9 - Math.ceil(Math.log10(1 + radius)));
        expect(span(walls, 1)).toBeCloseTo(4, 9);
        expect(stretchOf(mesh, uv).stretch).toBeCloseTo(1, 6);
        // Each end is as it is in space.
        const ends = uv.subarray(2 * 4 * 2 * sides);
        for (let k = 0; k + 1 < sides; k++)
          expect(Math.hypot(ends[2 * k + 2]! - ends[2 * k]!, ends[2 * k + 3]! - ends[2 * k + 1]!) / side).toBeCloseTo(
            1,
            6,
          );
      }),
      { numRuns: 30 },
    );
  });

  it("is three shells, opened along one straight line", () => {
    const mesh = prism(12, 1, [0, 1, 2, 3]);
    const none = makeBits(topologyOf(mesh).edgeCount);
    const bare = { cut: none, mapped: makeBits(38), uv: new Float64Array(2 * 48), pinned: makeBits(48) };
    for (const wrap of [0, 1, -3, 7]) {
      const { uv } = project(mesh, "cylinder", { wrap });
      const { shells, layout } = projectedLayout(mesh, bare, uv, none);
      expect(shells.length).toBe(3);
      // Two rings of 12 about the ends, and 3 edges along the wrap.
      expect(layout.cut.reduce((n, byte) => n + byte.toString(2).replaceAll("0", "").length, 0)).toBe(27);
    }
  });
});

describe("a pipe that is open along its length", () => {
  it("is unrolled whole, wherever it is open and whatever angle is asked for", () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 40 }), fc.double({ min: -3, max: 3, noNaN: true }), (gap, wrap) => {
        const sides = 48;
        const whole = prism(sides, 2, [0, 1, 2]);
        // Without its ends, and without some of its sides.
        const faces = iota(2 * sides).filter((f) => f % sides >= gap);
        const none = makeBits(topologyOf(whole).edgeCount);
        const form = formOf(whole, whole.positions, faces, none, frameAbout([0, 0, 1], [0, 0, 1], [0, 0, 0]));
        const { uv } = projected(form, "cylinder", { ...PLAIN, wrap });
        expect(span(uv, 0)).toBeCloseTo((sides - gap) * 2 * 2 * Math.sin(Math.PI / sides), 6);
      }),
      { numRuns: 30 },
    );
  });
});

describe("a sphere", () => {
  const mesh = sphere(8, 16, 3);

  it("has its longitude and latitude as coordinates, and nothing runs across the wrap", () => {
    const { uv } = project(mesh, "sphere");
    for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
      let [low, high] = [Infinity, -Infinity];
      for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
        const v = 3 * mesh.cornerVertex[c]!;
        const [x, y, z] = [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
        expect(uv[2 * c + 1]).toBeCloseTo(3 * Math.asin(z / 3), 6);
        if (Math.abs(z) < 2.999) expect(Math.cos(uv[2 * c]! / 3)).toBeCloseTo(x / Math.hypot(x, y), 6);
        low = Math.min(low, uv[2 * c]!);
        high = Math.max(high, uv[2 * c]!);
      }
      expect(high - low).toBeLessThan((3 * 2.01 * Math.PI) / 16);
    }
  });

  it("has no pinch where its caps are parted off as discs", () => {
    const { uv } = project(mesh, "capped sphere");
    expect(stretchOf(mesh, uv).stretch).toBeLessThan(1.1);
    const { uv: whole } = project(mesh, "sphere");
    expect(stretchOf(mesh, whole).stretch).toBeGreaterThan(1.2);
  });

  it("seen from its pole has every ring at its length from there", () => {
    const { uv } = project(mesh, "disc");
    const step = 2 * 3 * Math.sin(Math.PI / 16);
    for (let c = 0; c < mesh.cornerVertex.length; c++) {
      const z = mesh.positions[3 * mesh.cornerVertex[c]! + 2]!;
      const ring = Math.round((8 * (Math.PI / 2 - Math.asin(z / 3))) / Math.PI);
      expect(Math.hypot(uv[2 * c]!, uv[2 * c + 1]!)).toBeCloseTo(ring * step, 6);
    }
  });
});

describe("a box", () => {
  const box = prism(4, Math.SQRT2, [0, 1, 2]);

  it("is six rectangles in their true size, none mirrored", () => {
    const { uv } = project(box, "box", {}, [1, 1, 0]);
    expect(stretchOf(box, uv).stretch).toBeCloseTo(1, 9);
    const parts = project(box, "box", {}, [1, 1, 0]);
    expect(parts.form.faces.length).toBe(10);
  });

  it("is what is suggested for it, along its own sides", () => {
    const asked = { up: [0, 0, 1] as const, centre: [0, 0, 1] as const, options: PLAIN, axes: null };
    const [first] = suggestions(box, { ...asked, kinds: ["flat", "box", "sphere", "disc"] });
    expect(first!.kind).toBe("box");
    expect(first!.pieces).toBe(6);
  });
});

describe("a projection", () => {
  it("of a moved and turned form with its axis is the same", () => {
    const coordinate = fc.double({ min: -5, max: 5, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(coordinate, coordinate, coordinate),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (by, turn) => {
          const mesh = sphere(6, 9, 2);
          const [c, s] = [Math.cos(turn), Math.sin(turn)];
          // Turned about x: the axis goes along.
          const moved = mesh.positions.slice();
          for (let i = 0; i < moved.length; i += 3) {
            const [x, y, z] = [moved[i]!, moved[i + 1]!, moved[i + 2]!];
            moved.set([x + by[0], c * y - s * z + by[1], s * y + c * z + by[2]], i);
          }
          const none = makeBits(topologyOf(mesh).edgeCount);
          const faces = iota(mesh.faceStart.length - 1);
          const frame = {
            centre: [0, 0, 0] as const,
            x: [1, 0, 0] as const,
            y: [0, 1, 0] as const,
            z: [0, 0, 1] as const,
          };
          const led = { centre: by, x: [1, 0, 0] as const, y: [0, c, s] as const, z: [0, -s, c] as const };
          const tried = { ...PLAIN, caps: false, capsFrom: 0.7, wrap: 0.1 };
          for (const kind of ["flat", "cylinder", "capped sphere", "disc"] as const) {
            const a = projected(formOf(mesh, mesh.positions, faces, none, frame), kind, tried).uv;
            const b = projected(formOf(mesh, moved, faces, none, led), kind, tried).uv;
            a.forEach((x, i) => {
              expect(Math.abs(b[i]! - x), `${kind} ${i} ${x} ${b[i]}`).toBeLessThan(1e-6);
            });
          }
        },
      ),
      { numRuns: 20 },
    );
  });
});
