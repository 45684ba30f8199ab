import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { WAYS } from "../layout/ways";
import { signedArea } from "./area";
import { liveUnfold, unfoldGuided } from "./guided-unfold";
import type { ShellMesh } from "./shell-mesh";
import { unfoldShell } from "./unfold-shell";

const SIDE = 12;

/** A buckled sheet, as it lies after it was unfolded. */
function sheet(lift: (x: number, y: number) => number): { shell: ShellMesh; uv: Float64Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let j = 0; j <= SIDE; j++)
    for (let i = 0; i <= SIDE; i++) positions.push(i / SIDE, j / SIDE, lift(i / SIDE, j / SIDE));
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const a = j * (SIDE + 1) + i;
      triangles.push(a, a + 1, a + SIDE + 2, a, a + SIDE + 2, a + SIDE + 1);
    }
  const shell: ShellMesh = {
    wedges: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
    triangles: Uint32Array.from(triangles),
    positions: Float64Array.from(positions),
  };
  const result = unfoldShell(shell, { passes: 20 });
  if (!result.ok) throw new Error(result.reason);
  return { shell, uv: result.uv.map((x, i) => 0.3 * x + (i % 2 ? 0.4 : 0.1)) };
}

const buckled = () => sheet((x, y) => 0.2 * Math.sin(6 * x) * Math.cos(5 * y));
const at = (i: number, j: number) => j * (SIDE + 1) + i;
const flips = ({ triangles }: ShellMesh, uv: Float64Array): number => {
  let count = 0;
  for (let t = 0; t < triangles.length; t += 3) if (!(signedArea(uv, triangles, t) > 0)) count++;
  return count;
};
const held = (...points: number[]) => {
  const out = new Uint8Array((SIDE + 1) ** 2);
  for (const p of points) out[p] = 1;
  return out;
};

describe("unfolding that keeps to something", () => {
  it("leaves pinned points where they are to the last bit, and lessens the stretch about them", () => {
    const { shell, uv } = buckled();
    // One corner has been drawn out by hand.
    const drawn = uv.slice();
    drawn[2 * at(SIDE, SIDE)]! += 0.012;
    const pins = held(at(0, 0), at(SIDE, SIDE), at(0, SIDE), at(5, 5));
    const result = unfoldGuided(shell, drawn, { held: pins }, { passes: 20 });
    if (!result.ok) throw new Error(result.reason);
    for (let v = 0; v < pins.length; v++)
      if (pins[v]) expect([result.uv[2 * v], result.uv[2 * v + 1]]).toEqual([drawn[2 * v], drawn[2 * v + 1]]);
    expect(flips(shell, result.uv)).toBe(0);
    expect(result.uv[2 * at(SIDE - 1, SIDE)]).not.toBe(drawn[2 * at(SIDE - 1, SIDE)]);
  });

  it("moves along one axis only", () => {
    const { shell, uv } = buckled();
    const squeezed = uv.map((x, i) => (i % 2 ? x : 0.6 * x + 0.008 * Math.sin(40 * x)));
    for (const way of WAYS) {
      const result = unfoldGuided(shell, squeezed, { way }, { passes: 20 });
      if (!result.ok) throw new Error(result.reason);
      const stays = (d: number) => result.uv.every((x, i) => i % 2 !== d || x === squeezed[i]);
      expect([stays(0), stays(1)]).toEqual([way === "v", way === "u"]);
      expect(flips(shell, result.uv)).toBe(0);
    }
  });

  it("brings points exactly to where they are drawn, or says that they cannot be there", () => {
    const { shell, uv } = buckled();
    const points = Uint32Array.of(at(0, SIDE), at(SIDE, SIDE));
    const places = Float64Array.from(points).length
      ? Float64Array.of(
          uv[2 * points[0]!]! - 0.02,
          uv[2 * points[0]! + 1]! + 0.04,
          uv[2 * points[1]!]! + 0.02,
          uv[2 * points[1]! + 1]! + 0.04,
        )
      : new Float64Array(0);
    const result = unfoldGuided(
      shell,
      uv,
      { pulled: { points, places }, held: held(at(0, 0), at(SIDE, 0)) },
      { passes: 30 },
    );
    if (!result.ok) throw new Error(result.reason);
    points.forEach((p, i) => {
      expect(result.uv[2 * p]).toBeCloseTo(places[2 * i]!, 12);
      expect(result.uv[2 * p + 1]).toBeCloseTo(places[2 * i + 1]!, 12);
    });
    expect(flips(shell, result.uv)).toBe(0);
    // A neighbour of a held point cannot be drawn through to the other side of it.
    const through = { points: Uint32Array.of(at(1, 0)), places: Float64Array.of(uv[2 * at(0, 0)]! - 0.05, uv[1]!) };
    const pins = held(...Array.from({ length: (SIDE + 1) ** 2 }, (_, v) => v).filter((v) => v !== at(1, 0)));
    expect(unfoldGuided(shell, uv, { pulled: through, held: pins }, { passes: 10 })).toMatchObject({
      ok: false,
      reason: expect.stringContaining("a face would flip"),
    });
  });

  it("untangles a shell and keeps its pins, and refuses a direction for one that is tangled", () => {
    const { shell, uv } = buckled();
    const tangled = uv.map((x, i) => (i === 2 * at(6, 6) ? x + 0.2 : x));
    expect(flips(shell, tangled)).toBeGreaterThan(0);
    const pins = held(at(0, 0), at(SIDE, SIDE), at(0, SIDE));
    const result = unfoldGuided(shell, tangled, { held: pins }, { passes: 20 });
    if (!result.ok) throw new Error(result.reason);
    expect(flips(shell, result.uv)).toBe(0);
    for (const v of [at(0, 0), at(SIDE, SIDE), at(0, SIDE)])
      expect([result.uv[2 * v], result.uv[2 * v + 1]]).toEqual([tangled[2 * v], tangled[2 * v + 1]]);
    expect(unfoldGuided(shell, tangled, { way: "u" }, { passes: 5 })).toMatchObject({ ok: false });
  });

  it("keeps the handedness of a mirrored layout", () => {
    const { shell, uv } = buckled();
    const mirrored = uv.map((x, i) => (i % 2 ? x : 1 - x));
    const result = unfoldGuided(shell, mirrored, { held: held(at(0, 0)) }, { passes: 10 });
    if (!result.ok) throw new Error(result.reason);
    expect(
      flips(
        shell,
        result.uv.map((x, i) => (i % 2 ? x : -x)),
      ),
    ).toBe(0);
  });
});

describe("unfolding under the pointer", () => {
  it("follows a pulled point and never flips a face on the way, wherever it is drawn", () => {
    const { shell, uv } = buckled();
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })), {
          minLength: 1,
          maxLength: 5,
        }),
        (way) => {
          const p = at(SIDE, SIDE);
          const pulled = { points: Uint32Array.of(p), places: Float64Array.of(uv[2 * p]!, uv[2 * p + 1]!) };
          const pins = held(at(0, 0), at(SIDE, 0), at(0, SIDE));
          const live = liveUnfold(shell, uv, { pulled, held: pins });
          for (const [u, v] of way) {
            live.follow(Float64Array.of(uv[2 * p]! + 0.1 * u, uv[2 * p + 1]! + 0.1 * v), 8);
            const now = live.uv(uv, pins);
            expect(flips(shell, now)).toBe(0);
            expect([now[0], now[1]]).toEqual([uv[0], uv[1]]);
          }
        },
      ),
      { numRuns: 15 },
    );
  });

  it("comes to where it is drawn when that can be", () => {
    const { shell, uv } = buckled();
    const p = at(SIDE, SIDE);
    const place = Float64Array.of(uv[2 * p]! + 0.02, uv[2 * p + 1]! + 0.03);
    const live = liveUnfold(shell, uv, {
      pulled: { points: Uint32Array.of(p), places: place },
      held: held(at(0, 0), at(SIDE, 0), at(0, SIDE)),
    });
    for (let k = 0; k < 10; k++) live.follow(place, 10);
    const now = live.uv(uv);
    expect(Math.hypot(now[2 * p]! - place[0]!, now[2 * p + 1]! - place[1]!)).toBeLessThan(1e-3);
    expect(live.arrive()).toBe(true);
    expect(live.uv(uv)[2 * p]).toBeCloseTo(place[0]!, 12);
  });
});
