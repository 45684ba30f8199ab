import fc from "fast-check";
import { beforeEach, describe, expect, it } from "vitest";
import { shapesOf } from "@/core/layout/asset";
import { facesOfShell, shellName, structureOf } from "@/core/layout/layout";
import type { Edge, Shell } from "@/core/mesh/indices";
import { faceCount } from "@/core/mesh/poly-mesh";
import { topologyOf } from "@/core/mesh/topology";
import type { SelectionKind } from "@/core/operations/operation";
import { layoutOf } from "@/core/operations/scope";
import { ElementSet } from "@/core/select/element-set";
import { edit, laidOutModel, picking } from "@/testing/assets";
import { marketCart } from "../../../demo/models/market-cart";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { materialLines, toggleMaterial } from "./materials";
import {
  clearPicked,
  clickItem,
  inView,
  isolate,
  isolatePicked,
  pick,
  pickAll,
  picksAs,
  samePicked,
  select,
  selectParts,
  setHidden,
  setKind,
  stepSelection,
  stillThere,
  toggleHiddenPicked,
} from "./selection";
import { type Bench, countPicked, newBench, scopeNow } from "./store";

let bench: Bench;
const now = () => bench.getState();
const KINDS: readonly SelectionKind[] = ["vertices", "edges", "faces", "shells"];

beforeEach(async () => {
  bench = newBench({ asset: await laidOutModel(paperLantern), set: "s1", kind: "faces" });
});

describe("picking", () => {
  it("replaces, adds and takes away, each a step that leads back and forth", () => {
    const { id } = shapesOf(now().asset!)[0]!;
    pick(bench, id, [1, 2], "replace");
    pick(bench, id, [3], "add");
    pick(bench, id, [1], "remove");
    expect([...now().picked.get(id)!]).toEqual([2, 3]);
    stepSelection(bench, "back");
    expect([...now().picked.get(id)!]).toEqual([1, 2, 3]);
    stepSelection(bench, "back");
    stepSelection(bench, "back");
    expect(countPicked(now().picked)).toBe(0);
    stepSelection(bench, "back");
    for (let k = 0; k < 3; k++) stepSelection(bench, "forth");
    expect([...now().picked.get(id)!]).toEqual([2, 3]);
    clearPicked(bench);
    stepSelection(bench, "back");
    expect([...now().picked.get(id)!]).toEqual([2, 3]);
  });

  it("keeps a hundred selections, and of what they share one", () => {
    const { id } = shapesOf(now().asset!)[0]!;
    for (let k = 0; k < 150; k++) pick(bench, id, [k % 7], k % 2 ? "add" : "replace");
    expect(now().pickedBefore.length).toBe(100);
    const all = ElementSet.all(900_000);
    select(bench, "faces", new Map([[id, all]]));
    select(bench, "faces", new Map([[id, all.without([1, 2])]]));
    let differs = 0;
    now()
      .picked.get(id)!
      .eachChange(now().pickedBefore.at(-1)!.picked.get(id)!, (from, to) => {
        differs += to - from;
      });
    expect(differs).toBe(2048);
  });

  it("takes a loop and a path of edges, and shows no path without an edge to begin from", () => {
    bench.setState({ kind: "edges" });
    const { id, mesh } = shapesOf(now().asset!)[0]!;
    clickItem(bench, id, 0 as Edge, "replace", "path");
    expect([...now().picked.get(id)!]).toEqual([0]);
    clickItem(bench, id, 5 as Edge, "replace", "path");
    const path = [...now().picked.get(id)!];
    expect(path).toContain(0);
    expect(path).toContain(5);
    // What lies between is joined: every end but two is shared.
    const t = topologyOf(mesh);
    const ends = new Map<number, number>();
    for (const e of path)
      for (const v of [t.edgeVertices[2 * e]!, t.edgeVertices[2 * e + 1]!]) ends.set(v, (ends.get(v) ?? 0) + 1);
    expect([...ends.values()].filter((n) => n === 1).length).toBeLessThanOrEqual(2);
    clickItem(bench, id, 0 as Edge, "replace", "loop");
    expect(now().picked.get(id)!.has(0)).toBe(true);
  });

  it("leads from kind to kind by the faces that are touched", () => {
    const { asset } = now();
    const { id, mesh } = shapesOf(asset!)[0]!;
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), fc.nat(mesh.faceStart.length - 2), (kind, face) => {
        const items = picksAs(asset!, "s1", id, ElementSet.of(faceCount(mesh), [face]), "faces", kind);
        const back = picksAs(asset!, "s1", id, items, kind, "faces");
        expect(back.has(face)).toBe(true);
        if (kind === "shells") {
          const s = structureOf(mesh, layoutOf(shapesOf(asset!)[0]!, "s1"));
          expect([...back]).toEqual([...facesOfShell(s, s.faceShell[face]!)]);
        }
      }),
    );
    pick(bench, id, [0], "replace");
    setKind(bench, "edges");
    expect(now().picked.get(id)!.size).toBe(mesh.faceStart[1]! - mesh.faceStart[0]!);
    setKind(bench, "vertices");
    setKind(bench, "shells");
    expect(now().kind).toBe("shells");
  });

  it("lets go of shells that are gone and of shapes whose mesh has changed, and of nothing else", async () => {
    const { asset } = now();
    const shape = shapesOf(asset!)[0]!;
    const s = structureOf(shape.mesh, layoutOf(shape, "s1"));
    const names = ElementSet.of(faceCount(shape.mesh), [
      shellName(s, 0 as Shell),
      shellName(s, (s.shellCount - 1) as Shell),
    ]);
    const kept = {
      kind: "shells" as const,
      picked: new Map([[shape.id, names]]),
      meshes: new Map([[shape.id, shape.mesh]]),
    };
    expect(samePicked(stillThere(asset!, "s1", kept), kept.picked)).toBe(true);
    const moved = await edit(asset!, "move", { du: 0.5 }, picking(asset!, "shells", [shellName(s, 0 as Shell)]));
    expect(samePicked(stillThere(moved, "s1", kept), kept.picked)).toBe(true);
    const bare = await edit(asset!, "clear-set");
    const left = stillThere(bare, "s1", kept).get(shape.id);
    for (const name of left ?? []) {
      const own = ElementSet.of(faceCount(shape.mesh), [name]);
      expect(picksAs(bare, "s1", shape.id, own, "shells", "faces").size).toBeGreaterThan(0);
    }
    const turned = await edit(asset!, "apply-transform").catch(() => asset!);
    const same = turned.shapes.get(shape.id)!.mesh === shape.mesh;
    expect(stillThere(turned, "s1", kept).has(shape.id)).toBe(same);
    expect(stillThere(asset!, "s1", { ...kept, meshes: new Map() }).size).toBe(0);
  });
});

describe("isolating faces and shells", () => {
  it("shows them alone, picks and acts on nothing else, and brings the rest back", () => {
    const asset = now().asset!;
    const [shape] = shapesOf(asset);
    const faces = faceCount(shape!.mesh);
    setKind(bench, "faces");
    pick(bench, shape!.id, [0, 3, 5], "replace");
    isolatePicked(bench);
    const { alone, hidden } = bench.getState();
    expect([...alone!.get(shape!.id)!]).toEqual([0, 3, 5]);
    expect(hidden.size).toBe(asset.parts.filter((p) => p.shape !== shape!.id).length);
    pickAll(bench);
    expect([...bench.getState().picked.get(shape!.id)!]).toEqual([0, 3, 5]);
    clearPicked(bench);
    expect(scopeNow(now(), { acts: "shells" } as Parameters<typeof scopeNow>[1]).selection).toMatchObject({
      kind: "faces",
    });
    isolatePicked(bench);
    expect(bench.getState()).toMatchObject({ alone: null, hidden: new Set() });
    pickAll(bench);
    expect(bench.getState().picked.get(shape!.id)!.size).toBe(faces);
    expect(inView(bench.getState(), shape!.id, ElementSet.all(faces)).size).toBe(faces);
  });
});

describe("hiding by material", () => {
  it("leaves out the faces of a material everywhere, and shows them again", () => {
    const cart = marketCart();
    bench.setState({ asset: cart, kind: "faces", picked: new Map() });
    const lines = materialLines(cart);
    const total = shapesOf(cart).reduce((n, s) => n + faceCount(s.mesh), 0);
    expect(lines.reduce((n, l) => n + l.faces, 0)).toBe(total);
    const [first, second] = lines;
    toggleMaterial(bench, first!.name);
    const shown = () => [...now().alone!.values()].reduce((n, s) => n + s.size, 0);
    expect(shown()).toBe(total - first!.faces);
    toggleMaterial(bench, second!.name);
    expect(shown()).toBe(total - first!.faces - second!.faces);
    pickAll(bench);
    expect(countPicked(now().picked)).toBe(shown());
    clearPicked(bench);
    const acts = { acts: "shells" } as Parameters<typeof scopeNow>[1];
    const meant = [...scopeNow(now(), acts).selection!.items.values()];
    expect(meant.reduce((n, items) => n + items.length, 0)).toBe(shown());
    expect(meant.every((items) => items.length > 0)).toBe(true);
    for (const { name } of lines.slice(2)) toggleMaterial(bench, name);
    // With everything hidden nothing is meant, and not everything.
    expect(scopeNow(now(), acts)).toEqual({ set: now().set, parts: [] });
    for (const { name } of lines) toggleMaterial(bench, name);
    expect(now().alone).toBeNull();
    toggleMaterial(bench, first!.name);
    // The key that brings back what was isolated brings materials back as well.
    isolatePicked(bench);
    expect(now()).toMatchObject({ alone: null, hiddenMaterials: new Set() });
  });
});

describe("hiding and isolating parts", () => {
  beforeEach(() => bench.setState({ asset: marketCart() }));
  const ids = () => now().asset!.parts.map((p) => p.id);

  it("isolates one, then another, and brings back what was hidden before either", () => {
    const [a, b, c] = ids();
    setHidden(bench, [c!], true);
    isolate(bench, new Set([a!]));
    expect(now().hidden.has(b!)).toBe(true);
    isolate(bench, new Set([b!]));
    expect(now().hidden.has(a!)).toBe(true);
    expect(now().hidden.has(b!)).toBe(false);
    isolate(bench, new Set([b!]));
    expect([...now().hidden]).toEqual([c]);
  });

  it("hides what is picked, lets it go, and shows all when nothing is picked", () => {
    const [a] = ids();
    selectParts(bench, new Set([a!]));
    toggleHiddenPicked(bench);
    expect([...now().hidden]).toContain(a);
    expect(countPicked(now().picked)).toBe(0);
    toggleHiddenPicked(bench);
    expect(now().hidden.size).toBe(0);
  });

  it("picks all that is visible, and an operation means what is visible when nothing is picked", () => {
    const [a, ...others] = ids();
    setHidden(bench, [a!], true);
    const scope = scopeNow(now(), { acts: "shells" } as Parameters<typeof scopeNow>[1]);
    expect(scope.parts).toEqual(others);
    expect(scope.selection).toBeUndefined();
    pickAll(bench);
    const alone = shapesOf(now().asset!).find((s) => s.parts.every((p) => p.id === a));
    if (alone) expect(now().picked.has(alone.id)).toBe(false);
    expect(countPicked(now().picked)).toBeGreaterThan(0);
  });
});
