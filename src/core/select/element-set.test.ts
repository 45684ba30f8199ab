import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ElementSet } from "./element-set";

const UNIVERSE = 10_000;
const items = fc.uniqueArray(fc.nat(UNIVERSE - 1), { maxLength: 400 });

/** Stretches that differ, as pairs. */
const changes = (a: ElementSet, b: ElementSet): Array<[number, number]> => {
  const out: Array<[number, number]> = [];
  a.eachChange(b, (from, to) => out.push([from, to]));
  return out;
};

describe("a set of elements", () => {
  it("does what a Set does", () => {
    fc.assert(
      fc.property(items, items, (a, b) => {
        const [one, two] = [ElementSet.of(UNIVERSE, a), ElementSet.of(UNIVERSE, b)];
        const sorted = (s: Iterable<number>) => [...new Set(s)].sort((x, y) => x - y);
        expect([...one]).toEqual(sorted(a));
        expect([...one.with(b)]).toEqual(sorted([...a, ...b]));
        expect([...one.union(two)]).toEqual(sorted([...a, ...b]));
        const rest = sorted(a.filter((i) => !b.includes(i)));
        expect([...one.without(b)]).toEqual(rest);
        expect([...one.minus(two)]).toEqual(rest);
        for (const s of [one, one.with(b), one.union(two), one.without(b), one.minus(two)])
          expect(s.size).toBe(s.items().length);
        expect(one.with(b).same(one.union(two))).toBe(true);
        expect(one.same(two)).toBe(sorted(a).join() === sorted(b).join());
        for (const i of [...a, ...b]) expect(one.has(i)).toBe(a.includes(i));
        expect([...one]).toEqual(sorted(a)); // nothing of all that has changed it
      }),
    );
  });

  it("tells where two differ, and nothing of where they share what they hold", () => {
    fc.assert(
      fc.property(items, items, (a, b) => {
        const one = ElementSet.of(UNIVERSE, a);
        const two = one.with(b);
        const told = changes(two, one);
        for (const i of b) if (!a.includes(i)) expect(told.some(([from, to]) => from <= i && i < to)).toBe(true);
        if (b.every((i) => a.includes(i))) expect(told).toEqual([]);
      }),
    );
    const all = ElementSet.all(1_000_000);
    expect(changes(all.without([70_000]), all)).toEqual([[69_632, 71_680]]);
    expect(changes(all.without([0, 3000, 999_999]), all)).toEqual([
      [0, 4096],
      [999_424, 1_000_000],
    ]);
  });

  it("is all of its elements, whatever their number", () => {
    for (const n of [0, 1, 31, 32, 33, 2047, 2048, 2049, 5000]) {
      const all = ElementSet.all(n);
      expect([all.size, ...all]).toEqual([n, ...Array.from({ length: n }, (_, i) => i)]);
      expect(ElementSet.of(n, all).same(all)).toBe(true);
      expect(all.minus(all).same(ElementSet.none(n))).toBe(true);
      expect(ElementSet.flagged(new Uint8Array(n).fill(1)).same(all)).toBe(true);
    }
  });

  it("stays itself where nothing changes, and is alike when a change is taken back", () => {
    const all = ElementSet.all(1_000_000);
    expect(all.with([5])).toBe(all);
    expect(all.without([5]).with([5]).same(all)).toBe(true);
  });

  it("refuses what is not among its elements", () => {
    expect(() => ElementSet.of(10, [10])).toThrow("There is no element 10 of 10.");
    expect(() => ElementSet.of(10, [-1])).toThrow(RangeError);
    expect(() => ElementSet.none(3).union(ElementSet.none(4))).toThrow("different elements");
  });
});
