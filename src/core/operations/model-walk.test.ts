import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { assemble, bar, box, lathe } from "../../../demo/kit";
import { quiet } from "../../testing/assets";
import { decodeAsset, encodeAsset } from "../formats/asset-bundle";
import { checkAsset } from "../formats/asset-json";
import { decodeDelta, encodeDelta } from "../formats/delta-bundle";
import { type Asset, fileKey, shapesOf } from "../layout/asset";
import { deltaBetween, withDelta } from "../layout/delta";
import { emptyLayout, type Layout, shellName, shellNamed, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import { UserError } from "../layout/user-error";
import type { Shell } from "../mesh/indices";
import { faceCount } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import type { Scope, SelectionKind } from "./operation";
import { runEdit } from "./run";
import { everything, layoutOf } from "./scope";

// Walks through the model: edits of every kind in any order, on a stall of a few parts. Whatever was done, the asset fits
// together, differences lead there and back, bundles bring it through, and shells keep their names.

const stall = (): Asset => {
  const asset = assemble(
    "Stall",
    "cm",
    [
      { name: "Wood", color: [0.5, 0.3, 0.2] },
      { name: "Cloth", color: [0.7, 0.1, 0.1] },
    ],
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
      { name: "Board", shape: box([3, 0.2, 1], [3, 1, 1]) },
    ],
  );
  return { ...asset, id: "stall" };
};

/** A step: an edit, what of it is picked (by chance numbers), and its options. */
interface Step {
  readonly id: string;
  readonly kind: SelectionKind | "parts" | "all";
  readonly picks: readonly number[];
  readonly options: Record<string, unknown>;
}

const number = fc.nat(10_000);
const pickAny = fc.array(number, { minLength: 1, maxLength: 4 });
const step = (
  id: string,
  kinds: ReadonlyArray<Step["kind"]>,
  options: fc.Arbitrary<Record<string, unknown>> = fc.constant({}),
): fc.Arbitrary<Step> => fc.record({ id: fc.constant(id), kind: fc.constantFrom(...kinds), picks: pickAny, options });

const steps = fc.oneof(
  step("cut", ["edges"]),
  step("cut", ["edges"]),
  step("join", ["edges"]),
  step("lock-seams", ["edges"], fc.constantFrom({}, { reason: "rim" })),
  step("unlock-seams", ["edges"]),
  step("creased", ["all", "parts"], fc.record({ angle: fc.integer({ min: 20, max: 90 }) })),
  step("open-up", ["shells", "all"]),
  step("unfold", ["all", "shells"], fc.constant({ passes: 1, skip: true })),
  step("move", ["shells", "all"], fc.record({ du: fc.integer({ min: -2, max: 2 }), turn: fc.constantFrom(0, 90, 30) })),
  step("move-points", ["points"], fc.record({ du: fc.constantFrom(0.1, -0.3), radius: fc.constantFrom(0, 0.2) })),
  step("level", ["all", "shells"]),
  step("pin", ["vertices", "points", "faces"]),
  step("unpin", ["vertices", "all"]),
  step("unmap", ["faces", "shells"]),
  step("clear-set", ["all"]),
  step("add-set", ["all"], fc.constant({ name: "More" })),
  step("duplicate-set", ["all"]),
  step("set-aside", ["all"]),
  step("rename-part", ["parts"], fc.constant({ name: "Renamed" })),
  step("group-parts", ["parts"], fc.constant({ name: "A / B" })),
  step("merge-parts", ["parts"]),
  step("separate-parts", ["parts"]),
  step("split-off", ["faces"]),
  step("unite", ["parts"]),
  step("take-out", ["parts"]),
  step("cut-polygons", ["all", "parts"]),
  step("move-part", ["parts"], fc.constant({ x: 1, turnZ: 15 })),
  step("apply-transform", ["parts"]),
  step("lock-parts", ["parts"], fc.constant({ why: "signed off" })),
  step("unlock-parts", ["parts"]),
  step("set-resolution", ["all"], fc.constantFrom({ resolution: 512 }, { resolution: 1024, tile: 1002 })),
  step("set-rules", ["all"], fc.constantFrom({ padding: 4 }, { stretch: 1.1 })),
  step("accept-findings", ["shells"], fc.constantFrom({ kind: "stretch" }, { kind: "mirrored" }, { kind: "overlap" })),
);

/** The scope a step means on an asset; null where it cannot be picked there. */
function scopeOf(asset: Asset, { kind, picks }: Step): Scope | null {
  const set = asset.sets[picks[0]! % asset.sets.length]!.id;
  const all = everything(asset, set);
  if (kind === "all") return all;
  if (kind === "parts")
    return { ...all, picked: [...new Set(picks.map((p) => asset.parts[p % asset.parts.length]!.id))] };
  const shapes = shapesOf(asset);
  const shape = shapes[picks[0]! % shapes.length]!;
  const s = structureOf(shape.mesh, layoutOf(shape, set));
  const counts: Record<SelectionKind, number> = {
    vertices: shape.mesh.positions.length / 3,
    edges: topologyOf(shape.mesh).edgeCount,
    faces: faceCount(shape.mesh),
    shells: s.shellCount,
    points: s.wedgeCount,
  };
  if (!counts[kind]) return null;
  const items = [...new Set(picks.map((p) => p % counts[kind]))].sort((a, b) => a - b);
  const nameOf = { shells: (k: number): number => shellName(s, k as Shell), points: (k: number) => pointNames(s)[k]! };
  const names = kind === "shells" || kind === "points" ? items.map(nameOf[kind]) : items;
  return { ...all, selection: { kind, items: new Map([[shape.id, Uint32Array.from(names)]]) } };
}

/** Everything of an asset by value: in which order maps were filled, and which arrays are one, is of no concern. */
function plain(value: unknown): unknown {
  if (ArrayBuffer.isView(value)) {
    const bytes = new Uint8Array(value.buffer as ArrayBuffer, value.byteOffset, value.byteLength);
    return `${value.constructor.name} ${fileKey(bytes)}`;
  }
  if (value instanceof Map) return plain(Object.fromEntries(value));
  if (Array.isArray(value)) return value.map(plain);
  if (!value || typeof value !== "object") return value;
  const entries = Object.entries(value).filter(([, v]) => v !== undefined);
  return entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([k, v]) => [k, plain(v)]);
}
const print = (asset: Asset): string => JSON.stringify(plain(asset));

/** A structure worked out from nothing, for the same bits. */
const fresh = (asset: Asset, { cut, mapped }: Layout, shape: string) => {
  const mesh = { ...asset.shapes.get(shape)!.mesh };
  return structureOf(mesh, { cut: cut.slice(), mapped: mapped.slice() });
};

async function walk(list: readonly Step[]): Promise<Array<{ before: Asset; after: Asset; step: Step }>> {
  const out: Array<{ before: Asset; after: Asset; step: Step }> = [];
  let asset = stall();
  for (const s of list) {
    const scope = scopeOf(asset, s);
    if (!scope) continue;
    try {
      const { asset: after } = await runEdit(asset, s.id, s.options, scope, quiet);
      out.push({ before: asset, after, step: s });
      asset = after;
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
    }
  }
  return out;
}

const walks = fc.array(steps, { minLength: 4, maxLength: 14 });

describe("the model, whatever is done to it in whatever order", () => {
  it("fits together after every step, and differences lead there and back", async () => {
    await fc.assert(
      fc.asyncProperty(walks, async (list) => {
        for (const { before, after, step: s } of await walk(list)) {
          checkAsset(after);
          const there = withDelta(before, deltaBetween(before, after));
          expect(print(there), s.id).toBe(print(after));
          const back = withDelta(after, deltaBetween(after, before));
          expect(print(back), `${s.id}, taken back`).toBe(print(before));
        }
      }),
      { numRuns: 18 },
    );
  }, 120_000);

  it("comes through bundles: whole, and as what differs from the state before", async () => {
    const beside = z.object({ words: z.string() });
    await fc.assert(
      fc.asyncProperty(walks, async (list) => {
        const way = await walk(list);
        const last = way.at(-1);
        if (!last) return;
        expect(print(decodeAsset(encodeAsset(last.after)))).toBe(print(last.after));
        let asset = way[0]!.before;
        for (const { before, after } of way) {
          const bytes = encodeDelta(deltaBetween(before, after), { words: "step" }, {}, before);
          const read = decodeDelta(bytes, beside);
          const state = asset;
          asset = withDelta(
            state,
            read.delta(({ shape, set }) => state.shapes.get(shape)!.layouts.get(set)!),
          );
        }
        expect(print(asset)).toBe(print(last.after));
      }),
      { numRuns: 18 },
    );
  }, 120_000);

  it("derives wedges and shells step by step as it would from nothing, and shells keep their names", async () => {
    await fc.assert(
      fc.asyncProperty(walks, async (list) => {
        for (const { before, after } of await walk(list))
          for (const shape of after.shapes.values()) {
            const was = before.shapes.get(shape.id);
            for (const [set, layout] of shape.layouts) {
              const s = structureOf(shape.mesh, layout);
              const again = fresh(after, layout, shape.id);
              expect(s.cornerWedge).toEqual(again.cornerWedge);
              expect(s.faceShell).toEqual(again.faceShell);
              expect([...s.shellFaces]).toEqual([...again.shellFaces]);
              for (let k = 0 as Shell; k < s.shellCount; k++) expect(shellNamed(s, shellName(s, k))).toBe(k);
              // A shell whose faces are the same as before goes by the same name.
              const old = was?.mesh === shape.mesh ? was.layouts.get(set) : undefined;
              if (!old) continue;
              const o = structureOf(shape.mesh, old);
              const faces = (t: typeof s, k: Shell) =>
                [...t.shellFaces.subarray(t.shellStart[k]!, t.shellStart[k + 1]!)].join();
              const names = new Map(
                Array.from({ length: o.shellCount }, (_, k) => [faces(o, k as Shell), shellName(o, k as Shell)]),
              );
              for (let k = 0 as Shell; k < s.shellCount; k++) {
                const name = names.get(faces(s, k));
                if (name !== undefined) expect(shellName(s, k)).toBe(name);
              }
            }
          }
      }),
      { numRuns: 18 },
    );
  }, 120_000);

  it("holds what is locked and what is pinned, whoever comes", async () => {
    await fc.assert(
      fc.asyncProperty(walks, async (list) => {
        for (const { before, after, step: s } of await walk(list)) {
          if (
            ["unlock-parts", "take-out", "unpin", "merge-parts", "separate-parts", "unite", "split-off"].includes(s.id)
          )
            continue;
          for (const part of before.parts) {
            if (part.locked === undefined) continue;
            const now = after.shapes.get(part.shape);
            const sets = after.sets.filter((x) => before.sets.some((y) => y.id === x.id));
            for (const { id } of sets)
              expect(now?.layouts.get(id) ?? emptyLayout(now!.mesh), `${s.id} changed a locked part`).toEqual(
                layoutOf(before.shapes.get(part.shape)!, id),
              );
          }
        }
      }),
      { numRuns: 18 },
    );
  }, 120_000);
});

describe("a bar of the stall", () => {
  it("walks as well on a mesh that closes on itself in one direction", async () => {
    const asset = assemble(
      "Bar",
      "cm",
      [],
      [
        {
          name: "Bar",
          shape: bar(
            [
              [0, 0, 0],
              [1, 0, 0],
              [2, 0.5, 0],
            ],
            0.2,
            5,
          ),
        },
      ],
    );
    const creased = (await runEdit(asset, "creased", { angle: 40 }, everything(asset), quiet)).asset;
    checkAsset(creased);
    expect(print(withDelta(asset, deltaBetween(asset, creased)))).toBe(print(creased));
  });
});
