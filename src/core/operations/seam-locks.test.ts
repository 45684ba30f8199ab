import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { assemble, box, lathe } from "../../../demo/kit";
import { edit, layoutAt, picking, pickingParts, quiet, shapeAt } from "../../testing/assets";
import { type Asset, shapesOf } from "../layout/asset";
import { countBits, getBit, placesOfBits } from "../layout/bits";
import { lockedEdges } from "../layout/seam-locks";
import { UserError } from "../layout/user-error";
import type { Edge } from "../mesh/indices";
import { edgeFaceCount, topologyOf } from "../mesh/topology";
import { transformPoints } from "../mesh/transform";
import { runEdit, runSelect } from "./run";
import { everything, layoutOf } from "./scope";

const stall = (): Asset =>
  assemble(
    "Stall",
    "cm",
    [],
    [
      { name: "Box", shape: box([2, 1, 1], [2, 1, 1]) },
      {
        name: "Pot",
        shape: lathe(
          [
            [1, 0],
            [1.2, 1],
            [0.8, 2],
          ],
          6,
        ),
      },
    ],
  );

const seamsOf = (asset: Asset, i = 0) => placesOfBits(layoutAt(asset, i).cut);

/** Both parts creased, and all their seams locked. */
async function locked(): Promise<Asset> {
  let asset = await edit(stall(), "creased");
  for (const i of [0, 1])
    asset = await edit(
      asset,
      "lock-seams",
      { reason: "signed off" },
      picking(asset, "edges", seamsOf(asset, i), shapeAt(asset, i).id),
    );
  return asset;
}

/** Where locked edges lie in the world, each once. */
function places(asset: Asset): string[] {
  const out = new Set<string>();
  for (const shape of shapesOf(asset)) {
    const bits = lockedEdges(asset, "s1", shape);
    if (!bits) continue;
    const { edgeVertices } = topologyOf(shape.mesh);
    for (const { transform } of shape.parts) {
      const world = transformPoints(transform, shape.mesh.positions);
      const at = (v: number) => [0, 1, 2].map((k) => Math.round(1000 * world[3 * v + k]!) + 0).join();
      for (const e of placesOfBits(bits))
        out.add([at(edgeVertices[2 * e]!), at(edgeVertices[2 * e + 1]!)].sort().join(" "));
    }
  }
  return [...out].sort();
}

/** Locked edges between two faces that are no seams. */
function joined(asset: Asset): number {
  let sum = 0;
  for (const shape of shapesOf(asset)) {
    const bits = lockedEdges(asset, "s1", shape);
    const t = topologyOf(shape.mesh);
    const { cut } = layoutOf(shape, "s1");
    for (const e of bits ? placesOfBits(bits) : []) if (edgeFaceCount(t, e as Edge) === 2 && !getBit(cut, e)) sum++;
  }
  return sum;
}

describe("locked seams", () => {
  it("are picked by their reason, and told when somebody would join them", async () => {
    const asset = await locked();
    const { selection } = await runSelect(asset, "pick-locked", { reason: "signed off" }, everything(asset), quiet);
    expect(selection.items.get(shapeAt(asset).id)).toEqual(seamsOf(asset));
    await expect(edit(asset, "join", {}, picking(asset, "edges", seamsOf(asset)))).rejects.toThrow(
      "These seams are locked (signed off); unlock them first.",
    );
    await expect(edit(asset, "lock-seams", { reason: "  " }, picking(asset, "edges", seamsOf(asset)))).rejects.toThrow(
      "Give a reason",
    );
    await expect(runSelect(asset, "pick-locked", { reason: "else" }, everything(asset), quiet)).rejects.toThrow(
      "No seam in view is locked for “else”.",
    );
  });

  it("part from those that are joined beside them, with a note", async () => {
    const creased = await edit(stall(), "creased");
    const [first, ...rest] = seamsOf(creased);
    const asset = await edit(creased, "lock-seams", {}, picking(creased, "edges", [first!]));
    const { asset: after, result } = await runEdit(
      asset,
      "join",
      {},
      picking(asset, "edges", [first!, rest[0]!]),
      quiet,
    );
    expect(result.notes.map((n) => n.words)).toEqual(["1 locked seam edge stayed cut (locked by hand)."]);
    expect([...seamsOf(after)]).toEqual([first, ...rest.slice(1)]);
  });

  it("can be joined once they are unlocked, and stay seams until then", async () => {
    const asset = await locked();
    const freed = await edit(asset, "unlock-seams", {}, picking(asset, "edges", seamsOf(asset).slice(0, 3)));
    expect(seamsOf(freed)).toEqual(seamsOf(asset));
    expect(countBits(lockedEdges(freed, "s1", shapeAt(freed))!)).toBe(seamsOf(asset).length - 3);
    const open = await edit(freed, "join", {}, picking(freed, "edges", seamsOf(freed).slice(0, 1)));
    expect(seamsOf(open)).toHaveLength(seamsOf(asset).length - 1);
  });

  it("stay through a draft, Assemble and a cleared set, which leave the rest", async () => {
    const creased = await edit(stall(), "creased");
    const rim = seamsOf(creased, 1).slice(0, 4);
    const pot = shapeAt(creased, 1).id;
    const asset = await edit(creased, "lock-seams", {}, picking(creased, "edges", rim, pot));
    const holds = (now: Asset) => rim.every((e) => getBit(layoutAt(now, 1).cut, e));
    const drafted = await edit(asset, "draft");
    expect(holds(drafted)).toBe(true);
    const laid = await edit(asset, "unfold");
    expect(holds(await edit(laid, "assemble", { limit: 1.5 }))).toBe(true);
    const cleared = await edit(laid, "clear-set");
    expect([...seamsOf(cleared, 1)]).toEqual([...rim]);
  });

  it("come back with the faces on their other side", async () => {
    const asset = await locked();
    const split = await edit(asset, "split-off", { name: "Lid" }, picking(asset, "faces", [0]));
    expect(places(split)).toEqual(places(asset));
    const whole = await edit(split, "unite", {}, pickingParts(split, [split.parts.find((p) => p.name === "Lid")!.id]));
    expect(lockedEdges(whole, "s1", shapeAt(whole))).toEqual(lockedEdges(asset, "s1", shapeAt(asset)));
  });

  it("survive whatever is done, in whatever order", async () => {
    const start = await locked();
    const held = places(start);
    const all = (asset: Asset) => everything(asset);
    const step = (id: string, options: object, scope: (asset: Asset, n: number) => ReturnType<typeof everything>) =>
      fc.record({ id: fc.constant(id), options: fc.constant(options), scope: fc.constant(scope), n: fc.nat(1000) });
    const some = (asset: Asset, n: number) => pickingParts(asset, [asset.parts[n % asset.parts.length]!.id]);
    const edges = (asset: Asset, n: number) => {
      const { id, mesh } = shapeAt(asset, n % shapesOf(asset).length);
      const { edgeCount } = topologyOf(mesh);
      return picking(asset, "edges", new Set([n % edgeCount, (3 * n) % edgeCount, (7 * n) % edgeCount]), id);
    };
    const faces = (asset: Asset, n: number) => {
      const { id, mesh } = shapeAt(asset, n % shapesOf(asset).length);
      return picking(asset, "faces", [n % (mesh.faceStart.length - 1)], id);
    };
    const steps = fc.oneof(
      step("join", {}, edges),
      step("cut", {}, edges),
      step("creased", { angle: 20 }, all),
      step("unfold", { passes: 1, skip: true }, all),
      step("assemble", { limit: 2 }, all),
      step("straighten-seams", { limit: 2 }, all),
      step("clear-set", {}, all),
      step("unmap", {}, faces),
      step("merge-parts", {}, all),
      step("separate-parts", {}, some),
      step("split-off", {}, faces),
      step("unite", {}, some),
      step("cut-polygons", {}, all),
      step("apply-transform", {}, some),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(steps, { minLength: 3, maxLength: 8 }), async (list) => {
        let asset = start;
        for (const { id, options, scope, n } of list) {
          try {
            asset = await edit(asset, id, options, scope(asset, n));
          } catch (error) {
            if (!(error instanceof UserError)) throw error;
          }
          expect(places(asset), id).toEqual(held);
          expect(joined(asset), id).toBe(0);
        }
      }),
      { numRuns: 30 },
    );
  }, 120_000);
});
