import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rasterise, rasteriseMiddles } from "./raster";

const square = (side: number) => ({
  triangles: Float64Array.from([0, 0, side, 0, side, side, 0, 0, side, side, 0, side]),
  outline: Float64Array.from([0, 0, side, 0, side, 0, side, side, side, side, 0, side, 0, side, 0, 0]),
});

/** How far a segment is from the cell whose low corner is (x, y), by the golden section: the distance is convex along it. */
function boxToSegment(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const at = (t: number) => {
    const [px, py] = [ax + t * (bx - ax), ay + t * (by - ay)];
    return Math.hypot(Math.max(0, x - px, px - x - 1), Math.max(0, y - py, py - y - 1));
  };
  let [low, high] = [0, 1];
  for (let k = 0; k < 60; k++) {
    const [one, other] = [low + 0.382 * (high - low), high - 0.382 * (high - low)];
    if (at(one) < at(other)) high = other;
    else low = one;
  }
  return at((low + high) / 2);
}

describe("rasterise", () => {
  it("marks every cell a square touches, and the cells within the padding", () => {
    const mask = rasterise(square(2.5), 1, 1);
    const count = (cells: Uint8Array) => cells.reduce((a, b) => a + b, 0);
    expect([mask.w, mask.h, mask.pad]).toEqual([7, 7, 2]);
    expect(count(mask.body)).toBe(16); // 3 cells and the touched one on the low side, each way
    expect(count(mask.grown)).toBeGreaterThanOrEqual(25);
    expect(mask.grown[0]).toBe(0);
  });

  it("marks by the border what all triangles mark", () => {
    const radius = fc.double({ min: 0.3, max: 2, noNaN: true });
    fc.assert(
      fc.property(fc.array(radius, { minLength: 3, maxLength: 14 }), fc.boolean(), (radii, ring) => {
        const at = (k: number, scale: number): [number, number] => {
          const n = k % radii.length;
          const angle = (2 * Math.PI * n) / radii.length;
          return [scale * radii[n]! * Math.cos(angle), scale * radii[n]! * Math.sin(angle)];
        };
        const triangles: number[] = [];
        const outline: number[] = [];
        radii.forEach((_, k) => {
          const [a, b, c, d] = [at(k, 1), at(k + 1, 1), at(k, 0.4), at(k + 1, 0.4)];
          outline.push(...a, ...b);
          if (ring) outline.push(...d, ...c);
          if (ring) triangles.push(...c, ...a, ...b, ...c, ...b, ...d);
          else triangles.push(0, 0, ...a, ...b);
        });
        const first = triangles.slice(0, 6);
        // One triangle turned over, where it changes nothing: then all are looked at.
        const turned = [...first.slice(2, 4), ...first.slice(0, 2), ...first.slice(4, 6)];
        const item = (list: number[]) => ({ triangles: Float64Array.from(list), outline: Float64Array.from(outline) });
        const [own, all] = [rasterise(item(triangles), 7.3, 1.5), rasterise(item([...triangles, ...turned]), 7.3, 1.5)];
        expect(own.body).toEqual(all.body);
        expect(own.grown).toEqual(all.grown);
      }),
    );
  });

  it("marks the cells within the padding of an edge, and no others", () => {
    const place = fc.double({ min: 0, max: 9, noNaN: true });
    fc.assert(
      fc.property(place, place, fc.double({ min: 0, max: 4, noNaN: true }), (a, b, padding) => {
        // An edge from the corner of its frame to the other, one way or the other, and one that lies along a row.
        for (const [u, v] of [
          [a, b],
          [-a, b],
          [a, 0],
        ] as const) {
          const item = { triangles: Float64Array.of(0, 0, u, v, u, v), outline: Float64Array.of(0, 0, u, v) };
          const { w, h, pad, grown } = rasterise(item, 1, padding);
          const [fromX, fromY] = [pad - Math.min(0, u), pad];
          for (let y = 0; y < h; y++)
            for (let x = 0; x < w; x++) {
              const far = boxToSegment(x, y, fromX, fromY, fromX + u, fromY + v);
              if (Math.abs(far - padding) > 1e-6)
                expect([x, y, grown[y * w + x]]).toEqual([x, y, far < padding ? 1 : 0]);
            }
        }
      }),
    );
  });

  it("marks by their middles the cells of a shell grown by some reach", () => {
    const place = fc.double({ min: 0, max: 9, noNaN: true });
    fc.assert(
      fc.property(place, place, place, fc.double({ min: 0.1, max: 4, noNaN: true }), (a, b, c, reach) => {
        const corners = [0, 0, 9, a, b, 9.5 + c] as const;
        const item = {
          triangles: Float64Array.from(corners),
          outline: Float64Array.of(0, 0, 9, a, 9, a, b, 9.5 + c, b, 9.5 + c, 0, 0),
        };
        const { w, h, pad, grown, body } = rasteriseMiddles(item, 1, reach);
        expect(body).toBe(grown);
        for (let y = 0; y < h; y++)
          for (let x = 0; x < w; x++) {
            const [u, v] = [x + 0.5 - pad, y + 0.5 - pad];
            const far = Math.min(
              ...[0, 4, 8].map((i) => {
                const [p, q, r, s] = item.outline.subarray(i, i + 4) as unknown as [number, number, number, number];
                const t = ((u - p) * (r - p) + (v - q) * (s - q)) / ((r - p) ** 2 + (s - q) ** 2);
                const k = Math.max(0, Math.min(1, t));
                return Math.hypot(u - p - k * (r - p), v - q - k * (s - q));
              }),
            );
            const inside = [0, 4, 8].every((i) => {
              const [p, q, r, s] = item.outline.subarray(i, i + 4) as unknown as [number, number, number, number];
              return (r - p) * (v - q) - (s - q) * (u - p) > 0;
            });
            if (Math.abs(far - reach) > 1e-6 && far > 1e-6)
              expect([x, y, grown[y * w + x]]).toEqual([x, y, inside || far < reach ? 1 : 0]);
          }
      }),
    );
  });
});
