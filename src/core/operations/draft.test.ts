import { describe, expect, it } from "vitest";
import { brassBalance } from "../../../demo/models/brass-balance";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { edit, picking, quiet } from "../../testing/assets";
import { findings } from "../check/findings";
import { measure } from "../check/measure";
import { type Asset, shapesOf } from "../layout/asset";
import { getBit } from "../layout/bits";
import { shellNamed, structureOf } from "../layout/layout";
import { uprightAngle } from "../layout/orient";
import type { Shell } from "../mesh/indices";
import { topologyOf } from "../mesh/topology";
import { worldPositions } from "../mesh/transform";
import { upAxisOf } from "../seams/visibility";
import { shellMesh } from "../unfold/shell-mesh";
import { mendOfFinding } from "./registry";
import { runEdit } from "./run";
import { everything, layoutOf } from "./scope";

/** How far each shell that has a height is turned from standing upright, in radians: one that lies has no upper end. */
function leaning(asset: Asset): number[] {
  const up = upAxisOf(asset);
  return shapesOf(asset).flatMap((shape) => {
    const layout = layoutOf(shape, "s1");
    const world = worldPositions(shape.mesh, shape.metric);
    return Array.from({ length: structureOf(shape.mesh, layout).shellCount }, (_, k) => k as Shell).flatMap((k) => {
      const form = shellMesh(shape.mesh, world, layout, k);
      const extent = [0, 1, 2].map((d) => {
        const values = [...form.wedges.keys()].map((p) => form.positions[3 * p + d]!);
        return Math.max(...values) - Math.min(...values);
      });
      if (extent[up]! < 0.5 * Math.max(...extent)) return [];
      const uv = Float64Array.from([...form.wedges].flatMap((w) => [layout.uv[2 * w]!, layout.uv[2 * w + 1]!]));
      return Math.abs(uprightAngle(uv, form.triangles, (p) => form.positions[3 * p + up]!));
    });
  });
}

/** By how much each shell of one layout is turned in another, in radians: by the direction of its longest side. */
function turnsBetween(from: Asset, to: Asset): number[] {
  const others = shapesOf(to);
  return shapesOf(from).flatMap((shape, n) => {
    const [layout, other] = [layoutOf(shape, "s1"), layoutOf(others[n]!, "s1")];
    const world = worldPositions(shape.mesh, shape.metric);
    return Array.from({ length: structureOf(shape.mesh, layout).shellCount }, (_, k) => k as Shell).map((k) => {
      const { triangles, wedges } = shellMesh(shape.mesh, world, layout, k);
      const sides = [...triangles].map(
        (p, i) => [wedges[p]!, wedges[triangles[i % 3 === 2 ? i - 2 : i + 1]!]!] as const,
      );
      const across = (uv: ArrayLike<number>, [a, b]: readonly [number, number]) =>
        [uv[2 * b]! - uv[2 * a]!, uv[2 * b + 1]! - uv[2 * a + 1]!] as const;
      const long = (side: readonly [number, number]) => Math.hypot(...across(layout.uv, side));
      const longest = sides.reduce((best, side) => (long(side) > long(best) ? side : best));
      const [[x, y], [s, t]] = [across(layout.uv, longest), across(other.uv, longest)];
      return Math.atan2(x * t - y * s, x * s + y * t);
    });
  });
}

describe("Draft", () => {
  let drafted: Promise<Asset> | null = null;
  const lantern = (): Promise<Asset> => {
    drafted ??= edit(paperLantern(), "draft");
    return drafted;
  };

  it("leaves shells standing upright, unless they may be turned by quarters to fill the tile", async () => {
    expect(Math.max(...leaning(await edit(pepperMill(), "draft")))).toBeLessThan(1e-6);
    const stands = await edit(brassBalance(), "draft");
    const turned = await edit(brassBalance(), "draft", { turns: "quarters" });
    // By quarters and by nothing between: also the discs of the balance, which have no upper end.
    const quarters = turnsBetween(stands, turned).map((turn) => turn / (Math.PI / 2));
    for (const q of quarters) expect(Math.abs(q - Math.round(q))).toBeLessThan(1e-6);
    expect(quarters.some((q) => Math.round(q) % 4 !== 0)).toBe(true);
  });

  it("parts shells that are long for the tile along straight lines where the sheet is to be full", async () => {
    const [few, full] = [await lantern(), await edit(paperLantern(), "draft", { fill: "full sheet" })];
    expect(measure(full).coverage!).toBeGreaterThan(measure(few).coverage! + 0.05);
    const shade = (asset: Asset) => shapesOf(asset).find((s) => s.name === "Shade")!;
    const shells = (asset: Asset) => structureOf(shade(asset).mesh, layoutOf(shade(asset), "s1"));
    expect(shells(few).shellCount).toBe(1);
    expect(shells(full).shellCount).toBe(2);
    // Both halves have as many faces, as a line along a meridian parts them.
    expect(shells(full).shellStart[1]).toBe(shade(full).mesh.faceStart.length >> 1);
  });

  it("stretches no more on average than is asked for, for more seam", async () => {
    const [free, held] = [await lantern(), await edit(paperLantern(), "draft", { mean: 1.012 })];
    expect(measure(free).symmetricDirichlet!).toBeGreaterThan(1.02);
    expect(measure(held).symmetricDirichlet!).toBeLessThan(1.0121);
    const { result } = await runEdit(paperLantern(), "draft", { mean: 1 }, everything(paperLantern()), quiet);
    expect(result.notes.map((n) => n.words)).toEqual([expect.stringMatching(/^The mean stretch came to 1\.0\d+: no/)]);
    expect(measure(held).seamWorldLength!).toBeGreaterThan(measure(free).seamWorldLength!);
  });
});

describe("Unfold, offered for faces without coordinates", () => {
  it("acts on these alone: what is laid already stays where it lies", async () => {
    const laid = await edit(pepperMill(), "draft");
    const shape = shapesOf(laid)[0]!;
    const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
    const bare = await edit(laid, "unmap", {}, picking(laid, "shells", [s.shellFaces[0]!], shape.id));
    const [finding] = findings(bare, "s1").filter((f) => f.kind === "unmapped");
    expect(mendOfFinding(finding!.kind)?.id).toBe("unfold");
    const names = finding!.shells.filter((x) => x.shape === shape.id).map((x) => x.face);
    const mended = await edit(bare, "unfold", { skip: true }, picking(bare, "shells", names, shape.id));
    const [was, now] = [bare, mended].map((a) => shapesOf(a)[0]!);
    const [before, after] = [layoutOf(was!, "s1"), layoutOf(now!, "s1")];
    expect(
      shapesOf(mended)
        .slice(1)
        .map((x) => layoutOf(x, "s1")),
    ).toEqual(
      shapesOf(bare)
        .slice(1)
        .map((x) => layoutOf(x, "s1")),
    );
    const [old, fresh] = [structureOf(was!.mesh, before), structureOf(now!.mesh, after)];
    for (const name of names) expect(shellNamed(fresh, name)).not.toBeNull();
    const { cornerFace } = topologyOf(was!.mesh);
    let kept = 0;
    for (let c = 0; c < old.cornerWedge.length; c++) {
      const [v, w] = [2 * old.cornerWedge[c]!, 2 * fresh.cornerWedge[c]!];
      if (!getBit(before.mapped, cornerFace[c]!)) continue;
      expect([after.uv[w], after.uv[w + 1]]).toEqual([before.uv[v], before.uv[v + 1]]);
      kept++;
    }
    expect(kept).toBeGreaterThan(0);
    expect(getBit(after.mapped, s.shellFaces[0]!)).toBe(true);
  });
});
