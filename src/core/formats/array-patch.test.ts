import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bytesOf, patchBetween, patched } from "./array-patch";

const numbers = fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 300 });
const change = fc.record({
  at: fc.nat(300),
  takenOut: fc.nat(4),
  putIn: fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 5 }),
});

describe("a patch of an array", () => {
  it("makes the new array of the old one, whatever was changed, put in or taken out", () => {
    fc.assert(
      fc.property(numbers, fc.array(change, { maxLength: 4 }), fc.boolean(), (list, changes, wide) => {
        const next = [...list];
        for (const c of changes) next.splice(Math.min(c.at, next.length), c.takenOut, ...c.putIn);
        const make = (l: readonly number[]) => (wide ? Float64Array.from(l, (x) => x / 7) : Uint8Array.from(l));
        const [before, after] = [make(list), make(next)];
        const patch = patchBetween(before, after);
        if (patch) expect(patched(before, patch)).toEqual(bytesOf(after));
      }),
      { numRuns: 2000 },
    );
  });

  it("is short for a long array with two points put in and one moved", () => {
    const before = Float64Array.from({ length: 200_000 }, (_, i) => Math.sin(i));
    const list = Array.from(before);
    list.splice(1001, 0, 0.5, 0.25);
    list.splice(90_001, 0, 0.75, 0.125);
    list[150_000] = 9;
    const patch = patchBetween(before, Float64Array.from(list))!;
    expect(patch.runs.byteLength + patch.fresh.length).toBeLessThan(200);
    expect(new Float64Array(patched(before, patch).buffer)).toEqual(Float64Array.from(list));
    const other = Float64Array.from({ length: 1000 }, (_, i) => Math.cos(i));
    expect(patchBetween(before.subarray(0, 1000), other)).toBeNull();
  });

  it("is refused where it does not fit, and never makes more than it was given", () => {
    const before = new Uint8Array(64);
    const words = "does not fit the state";
    const { sum } = patchBetween(before, before)!;
    const runs = (...r: number[]) => ({ runs: Uint32Array.from(r), fresh: new Uint8Array(0), sum });
    expect(() => patched(before, runs(1, 0, 65, 0))).toThrow(words);
    expect(() => patched(before, runs(1, 0, 40, 0, 0, 40, 0))).toThrow(words);
    expect(() => patched(before, runs(1, 0, 10, 5))).toThrow(words);
    expect(() => patched(before, runs(3, 0, 1, 0))).toThrow(words);
    expect(() => patched(before, runs(8, 0, 0xffffffff, 0))).toThrow(words);
    expect(() => patched(before, runs(1, 0))).toThrow(words);
    expect(patched(before, runs(1, 0, 64, 0))).toEqual(before);
    // Made of another array than it was meant for.
    expect(() => patched(before.slice().fill(1), runs(1, 0, 64, 0))).toThrow(words);
  });
});
