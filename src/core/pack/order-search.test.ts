import { describe, expect, it } from "vitest";
import { Stopped } from "../layout/stopped";
import { areaOf, type FoundLayout, searchOrder } from "./order-search";
import { packItems, packReached } from "./pack-items";
import type { Item } from "./raster";

const box = (w: number, h: number): Item => ({
  triangles: Float64Array.of(0, 0, w, 0, w, h, 0, 0, w, h, 0, h),
  outline: Float64Array.of(0, 0, w, 0, w, 0, w, h, w, h, 0, h, 0, h, 0, 0),
});

/** Boxes that fill a square exactly: it is cut into columns, and each of these into rows. */
const cutSquare = (): Item[] => {
  const columns = [0.37, 0.2, 0.43];
  const rows = [
    [0.5, 0.3, 0.2],
    [0.25, 0.75],
    [0.1, 0.33, 0.57],
  ];
  return columns.flatMap((w, i) => rows[i]!.map((h) => box(w, h)));
};

const plain = { padding: 0, margin: 0, mayTurn: true, effort: 0.4 };

describe("the search for an order", () => {
  it("comes to the same for the same shells, and is told of larger ones only", () => {
    const items = Array.from({ length: 14 }, (_, i) => box(0.1 + 0.07 * ((i * 5) % 7), 0.1 + 0.05 * ((i * 3) % 11)));
    const search = () => {
      const told: FoundLayout[] = [];
      searchOrder(
        items,
        plain,
        () => {},
        (found) => told.push(found),
      );
      return told;
    };
    const [one, other] = [search(), search()];
    expect(other).toEqual(one);
    const scales = one.map((found) => found.scale);
    expect(scales).toEqual([...scales].sort((a, b) => a - b));
    expect(areaOf(items) * scales.at(-1)! ** 2).toBeGreaterThan(0.86);
  });

  it("lays boxes that fill a square so that hardly anything is left", () => {
    const items = cutSquare();
    const options = {
      resolution: 4096,
      padding: 0,
      margin: 0,
      turns: "quarter",
      keepScale: false,
      effort: 2.5,
    } as const;
    const { scale } = packItems(items, options)[0]!;
    expect(areaOf(items) * scale ** 2).toBeGreaterThan(0.9);
  });

  it("takes nothing longer than the tile, however little it covers", () => {
    const needle = box(5, 1e-9);
    let scale = 0;
    const take = (found: FoundLayout) => {
      scale = Math.max(scale, found.scale);
    };
    searchOrder([needle], plain, () => {}, take);
    expect(5 * scale).toBeLessThanOrEqual(1);
    expect(5 * scale).toBeGreaterThan(0.95);
  });

  it("keeps what it had found when it is stopped, or ends with nothing", () => {
    const items = cutSquare();
    const options = { resolution: 1024, padding: 2, margin: 2, turns: "quarter", keepScale: false } as const;
    const stoppedAt = (share: number) =>
      packReached(items, options, (done) => {
        if (done >= share) throw new Stopped("Stopped.");
      });
    const early = stoppedAt(0.5);
    expect(early.stopped).toBe(true);
    expect(early.placements).toHaveLength(items.length);
    expect(areaOf(items) * early.placements[0]!.scale ** 2).toBeGreaterThan(0.6);
    expect(() => stoppedAt(0)).toThrow(Stopped);
  });
});
