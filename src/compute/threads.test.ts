import { transferHandlers } from "comlink";
import { afterEach, describe, expect, it, vi } from "vitest";
import { marketCart } from "../../demo/models/market-cart";
import { paperLantern } from "../../demo/models/paper-lantern";
import { checkAsset } from "../core/formats/asset-json";
import { drawnParts, shapesOf } from "../core/layout/asset";
import { deltaBetween, withDelta } from "../core/layout/delta";
import { emptyLayout, structureOf } from "../core/layout/layout";
import { newAsset } from "../core/layout/new-asset";
import { UserError } from "../core/layout/user-error";
import { topologyOf } from "../core/mesh/topology";
import { Stopped } from "../core/operations/operation";
import { edit, laidOutModel } from "../testing/assets";
import { squares } from "../testing/squares";
import { derive, seedDerived, shareAll } from "./derived";
import { describeRead } from "./describe-read";
import { installErrors } from "./error-transfer";
import { share, shareAsset, shareDelta } from "./share";
import { canShare, checkFlag, StopFlag } from "./stop-flag";

// What threads hand to one another: arrays in memory that both see, or copies where that cannot be; errors of their
// kind; the signal to stop.

afterEach(() => vi.unstubAllGlobals());
/** As a page that is not isolated has it. */
const withoutSharing = () => vi.stubGlobal("crossOriginIsolated", false);

describe("arrays that all threads see", () => {
  it("are copied once, and are the same array where they are shared already", () => {
    const a = Float64Array.of(1, 2, 3);
    const shared = share(a);
    expect(shared.buffer).toBeInstanceOf(SharedArrayBuffer);
    expect(shared).toEqual(a);
    expect(share(a)).toBe(shared);
    expect(share(shared)).toBe(shared);
    const both = shareAll({ list: a, name: "x" });
    expect(both.list.buffer).toBeInstanceOf(SharedArrayBuffer);
    expect(shareAll(both)).toBe(both);
  });

  it("hold an asset with all its arrays, which is the same asset", async () => {
    const cart = await edit(
      await laidOutModel(marketCart),
      "merge-parts",
      {},
      {
        set: "s1",
        parts: marketCart().parts.map((p) => p.id),
        picked: marketCart()
          .parts.slice(0, 2)
          .map((p) => p.id),
      },
    ).catch(() => laidOutModel(marketCart));
    const shared = shareAsset(cart);
    checkAsset(shared);
    for (const { mesh, layouts } of drawnParts(shared))
      for (const a of [
        mesh.positions,
        mesh.cornerVertex,
        mesh.origin.face,
        ...[...layouts.values()].flatMap((l) => [l.uv, l.cut, l.mapped, l.pinned]),
      ])
        expect(a.buffer).toBeInstanceOf(SharedArrayBuffer);
    expect(shapesOf(shared).map((s) => s.mesh.positions)).toEqual(shapesOf(cart).map((s) => s.mesh.positions));
    const moved = await edit(cart, "move", { du: 0.5 });
    const delta = shareDelta(deltaBetween(cart, moved));
    expect(shapesOf(withDelta(cart, delta)).map((s) => [...s.layouts])).toEqual(
      shapesOf(moved).map((s) => [...s.layouts]),
    );
  });

  it("stay where they are in a page that is not isolated, and nothing else changes", async () => {
    withoutSharing();
    expect(canShare()).toBe(false);
    const a = Uint32Array.of(1, 2);
    expect(share(a)).toBe(a);
    const lantern = await laidOutModel(paperLantern);
    const out = shareAsset(lantern);
    expect(shapesOf(out)[0]!.mesh.positions).toBe(shapesOf(lantern)[0]!.mesh.positions);
    expect(new StopFlag().shared).toBeNull();
  });
});

describe("what follows from meshes and layouts", () => {
  it("is handed over with them, and is not worked out again where it arrives", async () => {
    const lantern = await laidOutModel(paperLantern);
    const all = new Map(shapesOf(lantern).map((s) => [s.id, { mesh: true, sets: ["s1"] }]));
    const derived = derive(lantern, all);
    // As it arrives in another thread: other objects with the same content.
    const there = structuredClone({ shapes: lantern.shapes, derived });
    const arrived = { ...lantern, shapes: there.shapes };
    seedDerived(arrived, there.derived);
    for (const d of there.derived) {
      const shape = arrived.shapes.get(d.shape)!;
      expect(topologyOf(shape.mesh)).toBe(d.topology);
      expect(structureOf(shape.mesh, shape.layouts.get("s1") ?? emptyLayout(shape.mesh))).toBe(d.layouts[0]!.structure);
    }
    expect(derive(lantern, new Map([["no such shape", { mesh: true, sets: ["s1"] }]]))).toEqual([]);
  });
});

describe("the signal to stop", () => {
  it("is seen in shared memory, told once to those who listen, and no longer to those who left", () => {
    const flag = new StopFlag();
    const heard: string[] = [];
    flag.onRaise(() => heard.push("a"));
    const leave = flag.onRaise(() => heard.push("b"));
    leave();
    expect(() => checkFlag(flag.shared)).not.toThrow();
    flag.raise();
    flag.raise();
    expect(heard).toEqual(["a"]);
    expect(flag.isRaised).toBe(true);
    expect(() => checkFlag(flag.shared)).toThrow(Stopped);
    expect(() => checkFlag(null)).not.toThrow();
  });
});

describe("errors that cross threads", () => {
  it("keep their kind and their words", () => {
    installErrors();
    installErrors();
    const handler = transferHandlers.get("throw")!;
    const across = (error: unknown): Error => {
      const [sent] = handler.serialize({ value: error });
      try {
        handler.deserialize(structuredClone(sent));
      } catch (thrown) {
        return thrown as Error;
      }
      throw new Error("It did not throw.");
    };
    expect(across(new UserError("Pick edges first."))).toBeInstanceOf(UserError);
    expect(across(new UserError("Pick edges first.")).message).toBe("Pick edges first.");
    expect(across(new Stopped("Stopped."))).toBeInstanceOf(Stopped);
    const plain = across(new RangeError("out of range"));
    expect(plain).not.toBeInstanceOf(UserError);
    expect(plain.message).toBe("out of range");
    expect(across("words alone").message).toBe("words alone");
  });
});

describe("what a person is told of a file", () => {
  it("is its size, a unit that makes it the size of a thing, and the layout that came with it", async () => {
    const laid = squares([
      [0, 0, 0.5, 0.5],
      [0.5, 0.5, 0.5, 0.5],
    ]);
    expect(describeRead(laid)).toMatchObject({
      parts: 1,
      faces: 2,
      extent: 4,
      unit: "m",
      layout: { shells: 2 },
      images: 0,
    });
    expect(describeRead(laid).layout!.stretch).toBeCloseTo(1, 9);
    expect(describeRead(marketCart()).layout).toBeNull();
    const scaled = (k: number, format: "obj" | "glb") => {
      const mesh = shapesOf(laid)[0]!.mesh;
      return newAsset({ id: "a", name: "a", source: { name: `a.${format}`, format } }, [
        { id: "p1", name: "A", mesh: { ...mesh, positions: mesh.positions.map((x) => x * k) } },
      ]);
    };
    expect([1, 10, 1000].map((k) => describeRead(scaled(k, "obj")).unit)).toEqual(["m", "cm", "mm"]);
    expect(describeRead(scaled(1000, "glb")).unit).toBe("m");
  });
});
