import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { edit, laidOutModel, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { measure } from "../check/measure";
import type { Asset } from "../layout/asset";
import { structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import { dabsOf, dabWords, MOST_DABS } from "../layout/stroke";
import { parseOptions, relaxStroke } from "./registry";
import { runEdit } from "./run";
import { everything } from "./scope";
import { beginSession } from "./sessions";

describe("a stroke in words", () => {
  it("is read back as it was written", () => {
    const Place = fc.double({ min: -20, max: 20, noNaN: true });
    const Dab = fc.record({ u: Place, v: Place, radius: fc.double({ min: 1e-9, max: 50, noNaN: true }) });
    fc.assert(
      fc.property(fc.array(Dab, { minLength: 1, maxLength: 9 }), fc.nat({ max: 8 }), (dabs, from) => {
        const read = dabsOf(dabs.map(dabWords).join(", "), from);
        expect(read).toHaveLength(Math.max(0, dabs.length - from));
        read.forEach((dab, i) => {
          const written = dabs[from + i]!;
          expect(dab.u).toBeCloseTo(written.u, 6);
          expect(dab.v).toBeCloseTo(written.v, 6);
          expect(dab.radius / written.radius).toBeCloseTo(1, 3);
        });
      }),
    );
  });

  it("is refused in one sentence where it is none", () => {
    for (const bad of ["here", "0.5 0.5", "0.5 0.5 0", "0.5 0.5 -1", "0.5 0.5 0.1,", "1 2 3 4", "NaN 0 1", "0x1 0 1"])
      expect(() => dabsOf(bad), bad).toThrow("Write each dab as u, v and a radius");
    expect(() => dabsOf("")).toThrow("Draw over the sheet");
    expect(() =>
      dabsOf(
        Array(MOST_DABS + 1)
          .fill("0 0 1")
          .join(),
      ),
    ).toThrow("at most");
  });
});

describe("the relax brush", () => {
  let asset: Asset;
  /** The middle of the first shape's first point, drawn away. */
  let bent: Asset;
  let stroke: string;
  beforeAll(async () => {
    asset = await laidOutModel(pepperMill);
    const s = structureOf(shapeAt(asset).mesh, layoutAt(asset));
    const point = pointNames(s)[Math.floor(s.wedgeCount / 2)]!;
    const w = s.cornerWedge[point]!;
    bent = await edit(asset, "move-points", { du: 0.004, dv: 0.003 }, picking(asset, "points", [point]));
    const [u, v] = [layoutAt(bent).uv[2 * w]!, layoutAt(bent).uv[2 * w + 1]!];
    stroke = [-0.01, 0, 0.01, 0.005].map((d) => dabWords({ u: u + d, v, radius: 0.05 })).join(", ");
  });

  it("lessens stretch where it passes, and leaves what is not under it to the last bit", async () => {
    const after = await edit(bent, "relax-stroke", { stroke, strength: 1 });
    expect(measure(after).flippedTriangles).toBeLessThanOrEqual(measure(bent).flippedTriangles!);
    const [before, now] = [layoutAt(bent).uv, layoutAt(after).uv];
    const moved = [...now.keys()].filter((i) => now[i] !== before[i]);
    expect(moved.length).toBeGreaterThan(0);
    expect(moved.length).toBeLessThan(now.length / 2);
    expect(layoutAt(after).cut).toEqual(layoutAt(bent).cut);
  });

  it("comes to the same under the pointer, dab by dab, as in one go", async () => {
    const options = parseOptions(relaxStroke, { stroke, way: "smooth" }) as { stroke: string };
    const live = await beginSession(bent, "relax-stroke", everything(bent));
    const dabs = stroke.split(", ");
    dabs.forEach((_, k) => {
      live.preview({ ...options, stroke: dabs.slice(0, k + 1).join(", ") });
    });
    const { asset: drawn, words } = live.commit(options);
    const { asset: whole, result } = await runEdit(bent, "relax-stroke", options, everything(bent), quiet);
    expect(layoutAt(drawn).uv).toEqual(layoutAt(whole).uv);
    expect(words).toBe(result.words);
  });

  it("keeps to what is picked and not pinned, and says where nothing lies under it", async () => {
    const s = structureOf(shapeAt(bent).mesh, layoutAt(bent));
    const point = pointNames(s)[Math.floor(s.wedgeCount / 2)]!;
    const scope = picking(bent, "points", [point]);
    const after = await edit(bent, "relax-stroke", { stroke }, scope);
    const moved = [...layoutAt(after).uv.keys()].filter((i) => layoutAt(after).uv[i] !== layoutAt(bent).uv[i]);
    expect(new Set(moved.map((i) => i >> 1))).toEqual(new Set([s.cornerWedge[point]!]));
    const pinned = await edit(bent, "pin", {}, scope);
    await expect(edit(pinned, "relax-stroke", { stroke }, scope)).rejects.toThrow("under the brush");
    await expect(edit(bent, "relax-stroke", { stroke: "90 90 0.1" })).rejects.toThrow("under the brush");
    const empty = await beginSession(bent, "relax-stroke", everything(bent));
    expect(empty.preview({ stroke: "90 90 0.1", strength: 1, way: "even" }).layouts).toEqual([]);
    expect(() => empty.commit({ stroke: "90 90 0.1", strength: 1, way: "even" })).toThrow("under the brush");
  });
});

describe("smoothing borders", () => {
  it("makes the border of a shell shorter where a point of it stands out, and keeps pinned points", async () => {
    const asset = await laidOutModel(pepperMill);
    const after = await edit(asset, "smooth-borders", { size: 0.05 });
    expect(measure(after).flippedTriangles).toBeLessThanOrEqual(measure(asset).flippedTriangles!);
    expect(layoutAt(after).uv).not.toEqual(layoutAt(asset).uv);
    const all = Array.from({ length: structureOf(shapeAt(asset).mesh, layoutAt(asset)).shellCount }, (_, k) => k);
    expect(all.length).toBeGreaterThan(0);
    const bare = pepperMill();
    await expect(edit(bare, "smooth-borders")).rejects.toThrow("unfold it");
    await expect(edit(asset, "smooth-borders", { size: 0 })).rejects.toThrow("at least");
  });
});
