import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assemble, box, lathe } from "../../demo/kit";
import { figuresOfAsset } from "../core/check/figures";
import { measure } from "../core/check/measure";
import { stretchOfShape } from "../core/check/triangle-stretch";
import { type Asset, shapesOf } from "../core/layout/asset";
import { shellName, structureOf } from "../core/layout/layout";
import { UserError } from "../core/layout/user-error";
import type { Shell } from "../core/mesh/indices";
import { faceCount } from "../core/mesh/poly-mesh";
import { topologyOf } from "../core/mesh/topology";
import { Stopped } from "../core/operations/operation";
import { layoutOf } from "../core/operations/scope";
import { edit, laidOut, picking, pickingParts } from "../testing/assets";
import { Measurer } from "./measurer";

// Figures kept from edit to edit are those that measuring anew would tell, whatever the edits were.

const stall = (): Promise<Asset> =>
  laidOut(
    assemble(
      "Stall",
      "cm",
      [],
      [
        { name: "Box", shape: box([2, 1, 1], [2, 2, 2]) },
        {
          name: "Pot",
          shape: lathe(
            [
              [1, 0],
              [1.3, 1],
              [0.7, 2],
            ],
            8,
          ),
        },
      ],
    ),
  );

interface Step {
  readonly id: "move" | "cut" | "join" | "level" | "unmap" | "unfold" | "move-part" | "take-out" | "set-resolution";
  readonly at: number;
  readonly amount: number;
}
const step: fc.Arbitrary<Step> = fc.record({
  id: fc.constantFrom("move", "move", "cut", "join", "level", "unmap", "unfold", "move-part", "set-resolution"),
  at: fc.nat(1000),
  amount: fc.integer({ min: 1, max: 7 }),
});

/** The same to the last digits: areas of pairs may be summed in another order. */
function alike(a: unknown, b: unknown, words: string): void {
  if (typeof a === "number" && typeof b === "number" && Number.isFinite(b))
    expect(Math.abs(a - b), words).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(b)));
  else if (a && b && typeof a === "object" && typeof b === "object") {
    expect(Object.keys(a), words).toEqual(Object.keys(b));
    for (const key of Object.keys(b)) alike(a[key as never], b[key as never], `${words} ${key}`);
  } else expect(a, words).toBe(b);
}

/** The asset after a step; the same where it is refused. */
async function stepped(asset: Asset, { id, at, amount }: Step): Promise<Asset> {
  const shapes = shapesOf(asset);
  const shape = shapes[at % shapes.length]!;
  const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
  const shells = picking(asset, "shells", [shellName(s, (at % s.shellCount) as Shell)], shape.id);
  const edges = picking(asset, "edges", [at % topologyOf(shape.mesh).edgeCount], shape.id);
  const act = (): Promise<Asset> => {
    switch (id) {
      case "move":
        return edit(asset, "move", { du: amount / 10, turn: 15 * amount, scale: 1 + amount / 20 }, shells);
      case "cut":
      case "join":
        return edit(asset, id, {}, edges);
      case "level":
        return edit(asset, "level", { density: amount }, shells);
      case "unmap":
        return edit(asset, "unmap", {}, picking(asset, "faces", [at % faceCount(shape.mesh)], shape.id));
      case "unfold":
        return edit(asset, "unfold", { passes: 1, skip: true }, shells);
      case "move-part":
        return edit(asset, "move-part", { scale: 1 + amount / 10 }, pickingParts(asset, [shape.parts[0]!.id]));
      case "set-resolution":
        return edit(asset, "set-resolution", { resolution: 256 * amount });
      default:
        return edit(asset, "take-out", {}, pickingParts(asset, [shape.parts[0]!.id]));
    }
  };
  return act().catch((error: Error) => {
    if (error instanceof UserError) return asset;
    throw error;
  });
}

describe("figures behind the edits", () => {
  it("are what measuring from nothing tells, after any edits in any order", async () => {
    const first = await stall();
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 2, maxLength: 5 }), async (steps) => {
        const measurer = new Measurer(null);
        let asset = first;
        await measurer.measure(asset, "s1", "area");
        for (const s of steps) {
          asset = await stepped(asset, s);
          const { measures, stretch } = await measurer.measure(asset, "s1", "area");
          alike(measures, measure(asset), s.id);
          const figures = figuresOfAsset(asset, "s1");
          for (const shape of shapesOf(asset))
            expect(stretch.get(shape.id), s.id).toEqual(stretchOfShape(shape, "s1", "area", figures.get(shape.id)!));
        }
      }),
      { numRuns: 8 },
    );
  }, 120_000);

  it("are known again only for the very state that was measured", async () => {
    const measurer = new Measurer(null);
    const asset = await stall();
    expect(measurer.known(asset, "s1")).toBeNull();
    const { measures } = await measurer.measure(asset, "s1", "area");
    expect(measurer.known(asset, "s1")).toBe(measures);
    // Names and limits change no figure; tiles, parts and points do.
    expect(measurer.known({ ...asset, name: "Other", rules: { ...asset.rules, padding: 4 } }, "s1")).toBe(measures);
    expect(measurer.known(await edit(asset, "set-resolution", { resolution: 512 }), "s1")).toBeNull();
    expect(measurer.known(await edit(asset, "move", { du: 1 }), "s1")).toBeNull();
    expect(measurer.known(asset, "s2")).toBeNull();
  });

  it("of a state that is passed through are told where that is quick, and not while another is measured", async () => {
    const measurer = new Measurer(null);
    const asset = await stall();
    await measurer.measure(asset, "s1", "area");
    const moved = await edit(asset, "move", { du: 0.25 });
    expect((await measurer.measureQuickly(moved, "s1", "area"))!.measures).toEqual(measure(moved));
    const long = measurer.measure(asset, "s1", "area");
    expect(await measurer.measureQuickly(moved, "s1", "area")).toBeNull();
    await long;
    // The latest of two wins.
    const overtaken = measurer.measure(asset, "s1", "area").catch((e: Error) => e);
    await measurer.measure(moved, "s1", "area");
    expect(await overtaken).toBeInstanceOf(Stopped);
  });

  it("go with shapes and sets that are gone, and are worked out again when these come back", async () => {
    const measurer = new Measurer(null);
    const asset = await stall();
    const two = await edit(asset, "duplicate-set");
    const second = two.sets[1]!.id;
    const before = await measurer.measure(two, second, "angle");
    measurer.prune(asset);
    expect(measurer.known(two, second)).toBeNull();
    expect((await measurer.measure(two, second, "angle")).measures).toEqual(before.measures);
    const one = await edit(two, "take-out", {}, pickingParts(two, [two.parts[0]!.id]));
    measurer.prune(one);
    expect((await measurer.measure(one, "s1", "area")).measures).toEqual(measure(one));
  });
});
