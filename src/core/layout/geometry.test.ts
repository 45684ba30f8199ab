import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { clearBit, countBits, fullBits, getBit, makeBits, sameBits, setBit } from "./bits";
import { bestFit, turned, uprightAngle } from "./orient";
import { parkBeside } from "./park";
import { DEFAULT_TILES, resolutionAt, type Tiles, unevenness } from "./tiles";
import { tint, toHex } from "./tints";

const coordinate = fc.double({ min: -10, max: 10, noNaN: true });
const points = (least: number) =>
  fc
    .array(fc.tuple(coordinate, coordinate), { minLength: least, maxLength: 20 })
    .map((p) => Float64Array.from(p.flat()));
const boxOf = (uv: Float64Array) => {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    u0 = Math.min(u0, uv[i]!);
    u1 = Math.max(u1, uv[i]!);
    v0 = Math.min(v0, uv[i + 1]!);
    v1 = Math.max(v1, uv[i + 1]!);
  }
  return { u0, v0, u1, v1, w: u1 - u0, h: v1 - v0 };
};

describe("bits", () => {
  it("are what a list of yes and no would be", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 70 }), fc.array(fc.nat(69)), (list, flips) => {
        const bits = makeBits(list.length);
        const plain = [...list];
        list.forEach((on, i) => {
          if (on) setBit(bits, i);
        });
        for (const at of flips) {
          if (at >= list.length) continue;
          if (plain[at]) clearBit(bits, at);
          else setBit(bits, at);
          plain[at] = !plain[at];
        }
        expect(plain.map((_, i) => getBit(bits, i))).toEqual(plain);
        expect(countBits(bits)).toBe(plain.filter(Boolean).length);
        expect(sameBits(bits, bits.slice())).toBe(true);
      }),
    );
  });

  it("that are all set are as many as were asked for, with nothing in the spare ones", () => {
    for (let n = 0; n < 40; n++) {
      const bits = fullBits(n);
      expect(countBits(bits)).toBe(n);
      expect(bits).toHaveLength(Math.ceil(n / 8));
    }
    expect(sameBits(fullBits(8), fullBits(9))).toBe(false);
    expect(sameBits(fullBits(9), Uint8Array.of(255, 3))).toBe(false);
  });
});

describe("turning and fitting", () => {
  it("finds the motion that was made, whatever it was", () => {
    fc.assert(
      fc.property(
        points(3),
        fc.double({ min: -3.1, max: 3.1, noNaN: true }),
        fc.double({ min: 0.1, max: 5, noNaN: true }),
        coordinate,
        coordinate,
        (uv, angle, scale, du, dv) => {
          fc.pre(boxOf(uv).w + boxOf(uv).h > 0.1);
          const to = turned(uv, angle).map((x, i) => x * scale + (i % 2 ? dv : du));
          const fit = bestFit(uv, to);
          expect(fit.scale).toBeCloseTo(scale, 6);
          const made = turned(uv, fit.angle).map((x, i) => x * fit.scale + (i % 2 ? fit.dv : fit.du));
          made.forEach((x, i) => {
            expect(x).toBeCloseTo(to[i]!, 6);
          });
        },
      ),
    );
  });

  it("moves alone where all points are one, and keeps distances when it turns", () => {
    expect(bestFit(Float64Array.of(1, 1, 1, 1), Float64Array.of(3, 4, 3, 4))).toMatchObject({ scale: 1, du: 2, dv: 3 });
    fc.assert(
      fc.property(points(2), fc.double({ min: -7, max: 7, noNaN: true }), (uv, angle) => {
        const out = turned(uv, angle);
        const distance = (p: Float64Array) => Math.hypot(p[0]! - p[2]!, p[1]! - p[3]!);
        expect(distance(out)).toBeCloseTo(distance(uv), 9);
      }),
    );
  });

  it("stands a long strip upright, its upper end up, however it lay", () => {
    const strip = Float64Array.of(0, 0, 0.2, 0, 0.2, 3, 0, 3);
    const triangles = Uint32Array.of(0, 1, 2, 0, 2, 3);
    fc.assert(
      fc.property(fc.double({ min: -3.1, max: 3.1, noNaN: true }), fc.boolean(), (lay, down) => {
        const uv = turned(strip, lay);
        // The form's height of each point: the strip's own length, up or down.
        const height = (p: number) => (down ? -strip[2 * p + 1]! : strip[2 * p + 1]!);
        const stood = turned(uv, uprightAngle(uv, triangles, height));
        const box = boxOf(stood);
        expect([box.w, box.h].sort((a, b) => a - b)[0]).toBeCloseTo(0.2, 6);
        expect(box.h).toBeCloseTo(3, 6);
        const [low, high] = down ? [2, 0] : [0, 2];
        expect(stood[2 * high + 1]!).toBeGreaterThan(stood[2 * low + 1]!);
      }),
    );
  });
});

describe("shells laid aside", () => {
  const side = fc.double({ min: 0.1, max: 5, noNaN: true });
  const shell = fc
    .tuple(coordinate, coordinate, side, side)
    .map(([u, v, w, h]) => Float64Array.of(u, v, u + w, v, u + w, v + h, u + w / 3, v + h / 2));
  const shells = fc.array(shell, { minLength: 1, maxLength: 8 });
  const apart = (a: ReturnType<typeof boxOf>, b: ReturnType<typeof boxOf>) =>
    Math.max(a.u0 - b.u1, b.u0 - a.u1, a.v0 - b.v1, b.v0 - a.v1);

  it("lie apart from one another, in the first tile when nothing is there, each in its own shape", () => {
    fc.assert(
      fc.property(shells, (list) => {
        const laid = parkBeside(list, null, null);
        const boxes = laid.map(boxOf);
        for (const b of boxes) {
          expect(b.u0).toBeGreaterThanOrEqual(0);
          expect(b.v0).toBeGreaterThanOrEqual(0);
          expect(b.u1).toBeLessThanOrEqual(1 + 1e-9);
          expect(b.v1).toBeLessThanOrEqual(1 + 1e-9);
        }
        boxes.forEach((a, i) => {
          for (const b of boxes.slice(i + 1)) expect(apart(a, b)).toBeGreaterThan(0.019);
        });
        // All by one scale.
        const scales = boxes.map((b, i) => b.w / boxOf(list[i]!).w);
        for (const s of scales) expect(s / scales[0]!).toBeCloseTo(1, 6);
      }),
    );
  });

  it("lie beside what is there, at its density", () => {
    fc.assert(
      fc.property(
        shells,
        fc.double({ min: 0.01, max: 2, noNaN: true }),
        fc.double({ min: 1, max: 9, noNaN: true }),
        (list, density, u1) => {
          const laid = parkBeside(list, density, { u1, v0: -1 });
          laid.forEach((uv, i) => {
            const [box, was] = [boxOf(uv), boxOf(list[i]!)];
            expect(box.u0).toBeGreaterThan(u1);
            expect(box.v0).toBeGreaterThanOrEqual(-1);
            expect(box.w).toBeCloseTo(was.w * density, 6);
            expect(box.h).toBeCloseTo(was.h * density, 6);
          });
        },
      ),
    );
  });
});

describe("tiles", () => {
  const tiles: Tiles = { resolution: 2048, own: { 1002: 512, 1011: 4096 } };
  it("have the resolution of all, or their own by their number", () => {
    expect(resolutionAt(tiles, 0.5, 0.5)).toBe(2048);
    expect(resolutionAt(tiles, 1.5, 0.5)).toBe(512);
    expect(resolutionAt(tiles, 0.5, 1.5)).toBe(4096);
    // Beyond the numbers there are: to the left, below, and past the tenth column.
    for (const [u, v] of [
      [-0.5, 0.5],
      [0.5, -0.5],
      [11.5, 0.5],
    ] as const)
      expect(resolutionAt(tiles, u, v)).toBe(2048);
    expect(unevenness(tiles)).toBe(8);
    expect(unevenness(DEFAULT_TILES)).toBe(1);
  });
});

describe("tints", () => {
  it("tell neighbours apart and are the same each time", () => {
    for (let k = 0; k < 60; k++) {
      const [a, b] = [tint(k), tint(k + 1)];
      expect(tint(k)).toEqual(a);
      for (const x of a) {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(x).toBeLessThanOrEqual(1);
      }
      expect(Math.hypot(...a.map((x, d) => x - b[d]!))).toBeGreaterThan(0.05);
      expect(toHex(a)).toMatch(/^#[0-9a-f]{6}$/);
    }
  });
});
