import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { INDEX, NUMBER, ROW, TexelTable, UV } from "./texel-table";

/** Texels that would be sent with the next drawing, as pairs; "all" when the table goes whole. */
function sent(table: TexelTable<Float32Array | Uint32Array | Uint8Array>): "all" | Array<[number, number]> {
  const { updateRanges } = table.texture;
  return updateRanges.length ? updateRanges.map((r) => [r.start / 4, (r.start + r.count) / 4]) : "all";
}

/** As the renderer does after it has sent a table. */
function drawn(table: TexelTable<Float32Array | Uint32Array | Uint8Array>): void {
  table.texture.clearUpdateRanges();
  (table.texture.onUpdate as () => void)();
}

describe("a table of texels", () => {
  it("goes whole at first, and then the rows of what was written", () => {
    const table = new TexelTable(UV, 3 * ROW);
    table.touch(5, 6);
    expect(sent(table)).toBe("all");
    drawn(table);
    table.touch(5, 9);
    table.touch(ROW - 1, ROW + 2);
    expect(sent(table)).toEqual([
      [5, 9],
      [ROW - 1, ROW],
      [ROW, ROW + 2],
    ]);
    drawn(table);
    table.touchAll();
    table.touch(1, 2);
    expect(sent(table)).toBe("all");
  });

  it("goes whole when very many rows have changed", () => {
    const table = new TexelTable(INDEX, 100 * ROW);
    drawn(table);
    for (let row = 0; row < 100; row++) table.touch(row * ROW, row * ROW + 1);
    expect(sent(table)).toBe("all");
  });

  it("sends every number that differs, and no row in which none does", () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(4 * ROW - 1), { maxLength: 6 }), fc.nat(ROW), (wanted, from) => {
        const table = new TexelTable(NUMBER, 5 * ROW);
        drawn(table);
        const values = Float64Array.from({ length: 4 * ROW }, (_, i) => (wanted.includes(i) ? 7 : 0));
        table.write(values, from);
        const places = wanted.map((i) => i + from);
        expect([...table.data].every((x, i) => x === (values[i - from] ?? 0))).toBe(true);
        const ranges = places.length ? (sent(table) as Array<[number, number]>) : [];
        for (const i of places) expect(ranges.some(([from, to]) => from <= i && i < to)).toBe(true);
        for (const [from, to] of ranges) {
          expect(places).toContain(from);
          expect(Math.floor(from / ROW)).toBe(Math.floor((to - 1) / ROW));
        }
      }),
    );
    const points = new TexelTable(UV, 4);
    points.write(Float64Array.of(0.1, 0.2));
    drawn(points);
    const { version } = points.texture;
    points.write(Float64Array.of(0.1, 0.2));
    expect(points.texture.version).toBe(version);
  });
});
