import { afterEach, describe, expect, it } from "vitest";
import { lathe } from "../../../demo/kit";
import { Derived, derivedBytes, setDerivedBudget } from "./derived";
import { meshFromPolygons, type PolyMesh } from "./poly-mesh";
import { topologyOf } from "./topology";
import { trianglesOf } from "./triangulate";

const usual = setDerivedBudget(0);
setDerivedBudget(usual);
afterEach(() => void setDerivedBudget(usual));

const drum = (): PolyMesh => {
  const s = lathe(
    [
      [1, 0],
      [1, 1],
      [0.5, 2],
    ],
    64,
  );
  return meshFromPolygons(s.points.flat(), s.faces);
};
const sum = () => [...derivedBytes().values()].reduce((a, b) => a + b, 0);

describe("derived values", () => {
  it("are kept, and counted by name", () => {
    const before = derivedBytes().get("topology") ?? 0;
    const mesh = drum();
    const t = topologyOf(mesh);
    expect(topologyOf(mesh)).toBe(t);
    const bytes = Object.values(t).reduce((n, a) => n + (ArrayBuffer.isView(a) ? a.byteLength : 0), 0);
    expect(derivedBytes().get("topology")! - before).toBe(bytes);
  });

  it("are dropped beyond the budget, the longest unused first, and worked out the same again", () => {
    const meshes = Array.from({ length: 8 }, drum);
    const first = meshes.map(topologyOf);
    const all = derivedBytes().get("topology")!;
    topologyOf(meshes[0]!);
    setDerivedBudget(Math.floor(all / 2));
    expect(sum()).toBeLessThanOrEqual(all / 2);
    // What was asked for last is still there; what was not is another object with the same in it.
    expect(topologyOf(meshes[0]!)).toBe(first[0]);
    setDerivedBudget(usual);
    meshes.forEach((mesh, i) => {
      expect(topologyOf(mesh)).toEqual(first[i]);
    });
    expect(meshes.filter((mesh, i) => topologyOf(mesh) !== first[i]).length).toBeGreaterThan(2);
  });

  it("keep the newest however little the budget is, so that work always goes on", () => {
    setDerivedBudget(1);
    const mesh = drum();
    const t = topologyOf(mesh);
    expect(topologyOf(mesh)).toBe(t);
    expect(trianglesOf(mesh)).toBe(trianglesOf(mesh));
    expect(topologyOf(mesh)).toEqual(t);
  });

  it("count what replaces another, and not what it has replaced", () => {
    const kind = new Derived<object, Float64Array>("numbers of a test");
    const key = {};
    for (let k = 0; k < 100; k++) kind.set(key, new Float64Array(1000));
    expect(derivedBytes().get("numbers of a test")).toBe(8000);
    expect(kind.get(key)).toHaveLength(1000);
  });
});
