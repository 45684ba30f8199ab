import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { coverageOf } from "../check/coverage";
import { leastGap } from "../check/gaps";
import { applyPlacement, type PackOptions, packItems } from "./pack-items";
import type { Item } from "./raster";

/** A convex shell: points on an ellipse, as a fan. */
function oval(w: number, h: number, corners: number): Item {
  const p = Array.from(
    { length: corners },
    (_, i) => [w * Math.cos((2 * Math.PI * i) / corners), h * Math.sin((2 * Math.PI * i) / corners)] as const,
  );
  const triangles: number[] = [];
  for (let i = 1; i + 1 < corners; i++) triangles.push(...p[0]!, ...p[i]!, ...p[i + 1]!);
  const outline = p.flatMap((a, i) => [...a, ...p[(i + 1) % corners]!]);
  return { triangles: Float64Array.from(triangles), outline: Float64Array.from(outline) };
}

const options: PackOptions = { resolution: 1024, padding: 8, margin: 8, turns: "quarter", keepScale: false };

function check(items: readonly Item[], o: PackOptions) {
  const placed = packItems(items, o);
  const move = (list: Float64Array, i: number) => {
    const out = new Float64Array(list.length);
    for (let k = 0; k < list.length; k += 2) out.set(applyPlacement(placed[i]!, list[k]!, list[k + 1]!), k);
    return out;
  };
  const outline = Float64Array.from(items.flatMap((item, i) => Array.from(move(item.outline, i))));
  const owner = Uint32Array.from(items.flatMap((item, i) => Array.from({ length: item.outline.length / 4 }, () => i)));
  const gap = leastGap(outline, owner, 1 / o.resolution);
  if (gap !== null) expect(gap * o.resolution).toBeGreaterThanOrEqual(o.padding);
  for (const x of outline) {
    expect(x * o.resolution).toBeGreaterThanOrEqual(o.margin - 1e-6);
    expect(x * o.resolution).toBeLessThanOrEqual(o.resolution - o.margin + 1e-6);
  }
  return {
    placed,
    cover: coverageOf(Float64Array.from(items.flatMap((item, i) => Array.from(move(item.triangles, i))))),
  };
}

describe("packing", () => {
  it("keeps every gap, whatever the shells", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.double({ min: 0.05, max: 1, noNaN: true }),
            fc.double({ min: 0.05, max: 1, noNaN: true }),
            fc.integer({ min: 3, max: 9 }),
          ),
          { minLength: 1, maxLength: 12 },
        ),
        fc.constantFrom(0, 3, 8, 20),
        fc.constantFrom("none" as const, "quarter" as const),
        (list, padding, turns) => {
          const { cover } = check(
            list.map(([w, h, n]) => oval(w, h, n)),
            { ...options, padding, margin: padding, turns },
          );
          expect(cover.overlapShare).toBe(0);
        },
      ),
      { numRuns: 8 },
    );
  });

  it("fills most of the tile with squares that fit it", () => {
    const square: Item = {
      triangles: Float64Array.from([0, 0, 1, 0, 1, 1, 0, 0, 1, 1, 0, 1]),
      outline: Float64Array.from([0, 0, 1, 0, 1, 0, 1, 1, 1, 1, 0, 1, 0, 1, 0, 0]),
    };
    expect(check(Array(9).fill(square), { ...options, padding: 2, margin: 2 }).cover.coverage!).toBeGreaterThan(0.93);
  });

  it("puts small shells into the hollow of a large one", () => {
    // A frame, 1 outside and 0.8 inside: squares of 0.3 fit inside it and nowhere else at this size.
    const box = (u0: number, v0: number, u1: number, v1: number) => [u0, v0, u1, v0, u1, v1, u0, v0, u1, v1, u0, v1];
    const ring = (a: number, b: number) => [a, a, b, a, b, a, b, b, b, b, a, b, a, b, a, a];
    const frame: Item = {
      triangles: Float64Array.from([
        ...box(0, 0, 1, 0.1),
        ...box(0, 0.9, 1, 1),
        ...box(0, 0.1, 0.1, 0.9),
        ...box(0.9, 0.1, 1, 0.9),
      ]),
      outline: Float64Array.from([...ring(0, 1), ...ring(0.1, 0.9)]),
    };
    const small: Item = { triangles: Float64Array.from(box(0, 0, 0.3, 0.3)), outline: Float64Array.from(ring(0, 0.3)) };
    const { placed } = check([frame, small, small, small, small], { ...options, padding: 2, margin: 2 });
    expect(placed[0]!.scale).toBeGreaterThan(0.95);
  });

  it("keeps clear of what stays, wherever that lies, and says so where nothing is left", () => {
    const at = (item: Item, u: number, v: number): Item => ({
      triangles: item.triangles.map((x, i) => x + (i % 2 ? v : u)),
      outline: item.outline.map((x, i) => x + (i % 2 ? v : u)),
    });
    const place = fc.double({ min: -0.2, max: 1.2, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 1, maxLength: 4 }), (places) => {
        const obstacles = places.map(([u, v], k) => at(oval(0.08 + 0.05 * k, 0.12, 7), u, v));
        const items = Array.from({ length: 6 }, (_, i) => oval(0.1 + 0.02 * i, 0.2, 5 + i));
        const { placed } = check(items, { ...options, obstacles, effort: 0.2 });
        const moved = items.map(({ outline }, i) => {
          const out = new Float64Array(outline.length);
          for (let k = 0; k < out.length; k += 2) out.set(applyPlacement(placed[i]!, outline[k]!, outline[k + 1]!), k);
          return out;
        });
        const all = [...moved, ...obstacles.map((o) => o.outline)];
        const owner = Uint32Array.from(
          all.flatMap((o, i) => Array.from({ length: o.length / 4 }, () => Math.min(i, moved.length))),
        );
        const gap = leastGap(Float64Array.from(all.flatMap((o) => [...o])), owner, 1 / options.resolution);
        if (gap !== null) expect(gap * options.resolution).toBeGreaterThanOrEqual(options.padding);
      }),
      { numRuns: 12 },
    );
    const whole = oval(3, 3, 8);
    expect(() => packItems([oval(0.1, 0.1, 5)], { ...options, obstacles: [whole] })).toThrow(/There is no room for 1/);
  });

  it("offers a scale at which shells of kept sizes do fit", () => {
    const items = Array.from({ length: 9 }, (_, i) => oval(0.15 + 0.03 * i, 0.3 - 0.02 * i, 5 + i));
    const keep = { ...options, keepScale: true };
    let offered = 0;
    try {
      packItems(items, keep);
    } catch (error) {
      offered = Number(/scaled by ([\d.]+) they would/.exec((error as Error).message)![1]);
    }
    expect(offered).toBeGreaterThan(0.3);
    const scaled = items.map(({ triangles, outline }) => ({
      triangles: triangles.map((x) => x * offered),
      outline: outline.map((x) => x * offered),
    }));
    const { placed, cover } = check(scaled, keep);
    expect(placed.every((p) => p.scale === 1)).toBe(true);
    expect(cover.overlapShare).toBe(0);
  });

  it("says so when nothing can fit", () => {
    expect(() =>
      packItems(Array(40).fill(oval(1, 1, 4)), { ...options, resolution: 64, padding: 32, margin: 0 }),
    ).toThrow(/cannot fit one tile of 64 px/);
  });
});
