import { describe, expect, it } from "vitest";
import { cornerOfTile, readTiles, tileAt, withMore } from "./tile-list";

describe("a list of tiles", () => {
  it("is read from numbers, ranges and an open end, each tile once", () => {
    expect(readTiles("1001")).toEqual({ tiles: [1001], more: false });
    expect(readTiles("1001-1003, 1011 1002")).toEqual({ tiles: [1001, 1002, 1003, 1011], more: false });
    const open = readTiles("1399+");
    expect(withMore(open)).toEqual([1399, 1400]);
  });
  it("is refused in a sentence where it is none", () => {
    for (const bad of ["", "12", "1005-1001", "1000", "abc", "1001-", "9999"])
      expect(() => readTiles(bad)).toThrow(/1001/);
  });
  it("tells where a tile lies, and which lies where", () => {
    for (const tile of [1001, 1010, 1011, 1234]) {
      const [u, v] = cornerOfTile(tile);
      expect(tileAt(u + 0.5, v + 0.5)).toBe(tile);
    }
    expect([tileAt(-0.5, 0), tileAt(10.5, 0), tileAt(0, -1)]).toEqual([null, null, null]);
  });
});
