import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evenedOut } from "./even-out";

const AREAS = [5, 4, 3, 2, 1, 1];

describe("evening out what lies on two pages", () => {
  it("moves the one shell, or exchanges the two, that leave both with as much for their room", () => {
    // 9 beside 5 on alike pages: 2 are too many.
    expect(evenedOut({ members: [0, 1], holds: 8 }, { members: [2, 3], holds: 8 }, AREAS)).toEqual([
      [1, 2],
      [3, 0],
    ]);
    // 10 beside nothing, where there is three times the room: 7.5 are to go.
    expect(evenedOut({ members: [0, 1, 4], holds: 4 }, { members: [], holds: 12 }, AREAS)).toEqual([[1, 4], [0]]);
  });

  it("leaves what nothing makes better, and a page its last shell", () => {
    expect(evenedOut({ members: [2, 3], holds: 8 }, { members: [0], holds: 8 }, AREAS)).toBeNull();
    expect(evenedOut({ members: [4], holds: 1 }, { members: [], holds: 9 }, AREAS)).toBeNull();
    expect(evenedOut({ members: [4, 5], holds: 2 }, { members: [], holds: 2 }, AREAS, 2)).toBeNull();
  });

  it("keeps every shell, and never leaves the second page fuller than the first was", () => {
    const area = fc.double({ min: 0.1, max: 3, noNaN: true });
    const holds = fc.double({ min: 0.5, max: 9, noNaN: true });
    fc.assert(
      fc.property(fc.array(area, { minLength: 2, maxLength: 20 }), fc.nat(20), holds, holds, (areas, at, a, b) => {
        const all = areas.map((_, i) => i);
        const split = Math.min(at, all.length);
        const fullness = (members: readonly number[], room: number) =>
          members.reduce((sum, i) => sum + areas[i]!, 0) / room;
        const [from, to] = [all.slice(0, split), all.slice(split)];
        const after = evenedOut({ members: from, holds: a }, { members: to, holds: b }, areas);
        if (!after) return;
        expect([...after[0], ...after[1]].sort((x, y) => x - y)).toEqual(all);
        expect(after[0].length).toBeGreaterThan(0);
        const before = fullness(from, a);
        expect(fullness(after[0], a)).toBeLessThan(before);
        expect(fullness(after[1], b)).toBeLessThan(before * (1 + 1e-9));
      }),
    );
  });
});
