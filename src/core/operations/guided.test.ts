import { beforeAll, describe, expect, it } from "vitest";
import { assemble } from "../../../demo/kit";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { edit, layoutAt, picking, quiet, shapeAt } from "../../testing/assets";
import { figuresOfAsset } from "../check/figures";
import { measure } from "../check/measure";
import { stretchOfShape } from "../check/triangle-stretch";
import { type Asset, shapesOf } from "../layout/asset";
import { getBit } from "../layout/bits";
import { facesOfShell, shellName, shellNamed, structureOf } from "../layout/layout";
import { pointNames } from "../layout/point-names";
import { trianglesOf } from "../mesh/triangulate";
import { converted } from "../select/convert";
import { elementCount, flagsAt, placesOf } from "../select/grow";
import { runEdit } from "./run";
import { everything } from "./scope";
import { beginSession } from "./sessions";

// Unfolding that keeps to pins, to one direction, or to what is picked; and points that are pulled, with their shells after them.

let asset: Asset;
let face: number;
beforeAll(async () => {
  asset = await edit(await edit(await edit(paperLantern(), "creased", { angle: 60 }), "open-up"), "unfold");
  const s = structureOf(shapeAt(asset).mesh, layoutAt(asset));
  // The largest shell of the shade.
  const sizes = Array.from({ length: s.shellCount }, (_, k) => facesOfShell(s, k as never).length);
  face = facesOfShell(s, sizes.indexOf(Math.max(...sizes)) as never)[0]!;
});
const shellPoints = (a: Asset): number[] => {
  const { mesh } = shapeAt(a);
  const flags = flagsAt(Uint32Array.of(face), elementCount(mesh, "shells"));
  return [...placesOf(converted(mesh, layoutAt(a), "shells", flags, "points", "touching"))];
};
const wedgeOf = (a: Asset, point: number): number => structureOf(shapeAt(a).mesh, layoutAt(a)).cornerWedge[point]!;
const place = (a: Asset, point: number): [number, number] => {
  const w = wedgeOf(a, point);
  return [layoutAt(a).uv[2 * w]!, layoutAt(a).uv[2 * w + 1]!];
};
const flipped = (a: Asset): number => measure(a).flippedTriangles ?? 0;

describe("pinned points", () => {
  it("stay to the last bit however many there are, and the rest is unfolded about them", async () => {
    const points = shellPoints(asset);
    const pins = [
      points[0]!,
      points[Math.floor(points.length / 3)]!,
      points[Math.floor(points.length / 2)]!,
      points.at(-1)!,
    ];
    const moved = await edit(
      asset,
      "move-points",
      { du: 0.004, dv: 0.003, radius: 0.05 },
      picking(asset, "points", [pins[1]!]),
    );
    const pinned = await edit(moved, "pin", {}, picking(moved, "points", pins));
    const after = await edit(pinned, "unfold", {}, picking(pinned, "shells", [face]));
    for (const p of pins) expect(place(after, p)).toEqual(place(pinned, p));
    expect(flipped(after)).toBe(0);
    expect(points.some((p) => place(after, p)[0] !== place(pinned, p)[0])).toBe(true);
    const all = await edit(pinned, "pin", {}, picking(pinned, "shells", [face]));
    await expect(edit(all, "unfold", {}, picking(all, "shells", [face]))).rejects.toThrow("pinned whole");
  });

  it("hold a shell whole: the others are unfolded about it, and it is told of where it was picked", async () => {
    const frozen = await edit(asset, "pin", {}, picking(asset, "shells", [face]));
    const items = shapesOf(frozen).map((shape) => {
      const s = structureOf(shape.mesh, shape.layouts.get(frozen.sets[0]!.id)!);
      return [shape.id, Uint32Array.from({ length: s.shellCount }, (_, k) => shellName(s, k as never))] as const;
    });
    const all = { ...everything(frozen), selection: { kind: "shells" as const, items: new Map(items) } };
    const picked = await runEdit(frozen, "unfold", { skip: true }, all, quiet);
    expect(picked.result.notes.map((n) => n.words)).toContain("1 shell is pinned whole, and stays.");
    const whole = await runEdit(frozen, "unfold", { skip: true }, everything(frozen), quiet);
    expect(whole.result.notes).toEqual([]);
    for (const { asset: after } of [picked, whole])
      for (const p of shellPoints(asset)) expect(place(after, p)).toEqual(place(frozen, p));
  });
});

describe("pins that are pulled", () => {
  it("come exactly to where they are drawn and are pinned there; the others stay", async () => {
    const points = shellPoints(asset);
    const [pin, other] = [points[0]!, points.at(-1)!];
    const pinned = await edit(asset, "pin", {}, picking(asset, "points", [pin, other]));
    const [u, v] = place(pinned, pin);
    const after = await edit(pinned, "pull-points", { du: -0.01, dv: 0.012 }, picking(pinned, "points", [pin]));
    expect(place(after, pin)[0]).toBeCloseTo(u - 0.01, 12);
    expect(place(after, pin)[1]).toBeCloseTo(v + 0.012, 12);
    expect(place(after, other)).toEqual(place(pinned, other));
    for (const p of [pin, other]) expect(getBit(layoutAt(after).pinned, wedgeOf(after, p))).toBe(true);
    expect(flipped(after)).toBe(0);
  });
});

describe("the form of shells", () => {
  it("says whether areas or angles come first, and each step tells what it gave", async () => {
    const scope = picking(asset, "shells", [face]);
    const gave = async (form: string): Promise<number[]> => {
      const { result, asset: after } = await runEdit(asset, "unfold", { form, passes: 60 }, scope, quiet);
      expect(flipped(after)).toBe(0);
      expect(result.words).toMatch(/^Unfold 1 shell: angles off by [\d.]+°, areas by [\d.]+ %$/);
      return result.words.match(/[\d.]+(?=°| %)/g)!.map(Number);
    };
    const [hard, rounded] = [await gave("hard-edged"), await gave("rounded")];
    expect(rounded[0]).toBeLessThan(hard[0]!);
    expect(hard[1]).toBeLessThan(rounded[1]!);
    const [plain] = await gave("any");
    expect(plain).toBeGreaterThanOrEqual(rounded[0]!);
  });
});

describe("picked faces that weigh more", () => {
  it("take less of the stretch of their shell", async () => {
    const { mesh } = shapeAt(asset);
    const faces = [
      ...facesOfShell(structureOf(mesh, layoutAt(asset)), shellNamed(structureOf(mesh, layoutAt(asset)), face)!),
    ];
    const some = faces.slice(0, faces.length >> 2);
    const scope = picking(asset, "faces", some);
    const stretchOf = (a: Asset): number => {
      const { set } = everything(a);
      const { faceStart } = trianglesOf(mesh);
      const values = stretchOfShape(shapeAt(a), set, "both", figuresOfAsset(a, set).get(shapeAt(a).id)!);
      return some.reduce((sum, f) => sum + Math.abs(Math.log(values[faceStart[f]!]!)), 0);
    };
    const alike = await edit(asset, "unfold", { passes: 60 }, scope);
    const heavy = await edit(asset, "unfold", { passes: 60, weight: 50 }, scope);
    expect(flipped(heavy)).toBe(0);
    expect(stretchOf(heavy)).toBeLessThan(stretchOf(alike));
    await expect(edit(asset, "unfold", { weight: 2 }, picking(asset, "shells", [face]))).rejects.toThrow("Pick faces");
    await expect(edit(asset, "unfold", { weight: 0 }, scope)).rejects.toThrow();
  });
});

describe("unfolding in part", () => {
  it("goes along one axis alone", async () => {
    const squeezed = await edit(asset, "move-points", { scale: 0.8 }, picking(asset, "points", shellPoints(asset)));
    const after = await edit(squeezed, "unfold", { along: "u" }, picking(squeezed, "shells", [face]));
    for (const p of shellPoints(asset)) expect(place(after, p)[1]).toBe(place(squeezed, p)[1]);
    const bare = await edit(paperLantern(), "creased", { angle: 60 });
    await expect(edit(bare, "unfold", { along: "u", skip: true })).rejects.toThrow("has no coordinates yet");
  });

  it("moves only what is picked, or all but that", async () => {
    const points = shellPoints(asset);
    const { mesh } = shapeAt(asset);
    const s = structureOf(mesh, layoutAt(asset));
    const faces = [...facesOfShell(s, shellNamed(s, face)!)];
    const some = faces.slice(0, Math.floor(faces.length / 2));
    const flags = flagsAt(Uint32Array.from(some), elementCount(mesh, "faces"));
    const inner = new Set(placesOf(converted(mesh, layoutAt(asset), "faces", flags, "points", "contained")));
    const touched = new Set(placesOf(converted(mesh, layoutAt(asset), "faces", flags, "points", "touching")));
    const bent = await edit(
      asset,
      "move-points",
      { turn: 0.5 },
      picking(
        asset,
        "points",
        points.filter((_, k) => k % 7 === 0),
      ),
    );
    const moves = (a: Asset, p: number) => place(a, p).some((x, d) => x !== place(bent, p)[d]);
    const own = await edit(bent, "unfold", { what: "picked" }, picking(bent, "faces", some));
    expect(points.filter((p) => moves(own, p)).every((p) => inner.has(p))).toBe(true);
    const rest = await edit(bent, "unfold", { what: "rest" }, picking(bent, "faces", some));
    expect(points.filter((p) => moves(rest, p)).every((p) => !touched.has(p))).toBe(true);
    expect([own, rest].some((a) => points.some((p) => moves(a, p)))).toBe(true);
    await expect(edit(bent, "unfold", { what: "picked" }, picking(bent, "shells", [face]))).rejects.toThrow(
      "Pick faces, edges",
    );
  });
});

describe("pulling points", () => {
  it("brings them where they are drawn, with their shell after them and pins in place", async () => {
    const points = shellPoints(asset);
    const [pin, point] = [points[0]!, points.at(-1)!];
    const pinned = await edit(asset, "pin", {}, picking(asset, "points", [pin]));
    const [u, v] = place(pinned, point);
    const after = await edit(pinned, "pull-points", { du: 0.02, dv: -0.01 }, picking(pinned, "points", [point]));
    expect(place(after, point)[0]).toBeCloseTo(u + 0.02, 9);
    expect(place(after, point)[1]).toBeCloseTo(v - 0.01, 9);
    expect(place(after, pin)).toEqual(place(pinned, pin));
    expect(flipped(after)).toBe(0);
    expect(getBit(layoutAt(after).pinned, wedgeOf(after, pin))).toBe(true);
  });

  it("comes as near as it can, and says so", async () => {
    const points = shellPoints(asset);
    const rest = points.slice(0, -1);
    const pinned = await edit(asset, "pin", {}, picking(asset, "points", rest));
    const scope = picking(pinned, "points", [points.at(-1)!]);
    const { asset: after, result } = await runEdit(pinned, "pull-points", { du: 3 }, scope, quiet);
    expect(result.notes[0]!.words).toContain("as near as they come");
    expect(flipped(after)).toBe(0);
    const whole = await edit(pinned, "pin", {}, picking(pinned, "shells", [face]));
    await expect(edit(whole, "pull-points", { du: 1 }, picking(whole, "points", [rest[0]!]))).rejects.toThrow(
      "pinned whole",
    );
    await expect(edit(pinned, "pull-points", { du: 1 }, picking(pinned, "faces", [0]))).rejects.toThrow(
      "Pick UV points first.",
    );
  });

  it("follows the pointer without a flip, and changes nothing before it is let go", async () => {
    const point = shellPoints(asset).at(-1)!;
    const names = pointNames(structureOf(shapeAt(asset).mesh, layoutAt(asset)));
    expect(names[wedgeOf(asset, point)]).toBe(point);
    const session = await beginSession(asset, "pull-points", picking(asset, "points", [point]));
    const before = place(asset, point);
    for (const du of [0.01, 0.05, -0.03]) {
      const { layouts } = session.preview({ du, dv: 0 });
      const shapes = new Map(
        [...asset.shapes].map(([id, shape]) => [
          id,
          id === layouts[0]!.shape ? { ...shape, layouts: new Map([["s1", layouts[0]!.layout!]]) } : shape,
        ]),
      );
      expect(flipped({ ...asset, shapes })).toBe(0);
    }
    expect(place(asset, point)).toEqual(before);
    await expect(beginSession(asset, "pull-points", picking(asset, "faces", [0]))).rejects.toThrow(
      "Pick UV points first.",
    );
  });
});

describe("relaxing", () => {
  it("lessens the stretch, more with more strength and passes, and leaves what is not picked", async () => {
    const points = shellPoints(asset);
    const bent = await edit(
      asset,
      "move-points",
      { du: 0.006 },
      picking(
        asset,
        "points",
        points.filter((_, k) => k % 5 === 0),
      ),
    );
    const shell = picking(bent, "shells", [face]);
    const stretch = (a: Asset) => measure(a).symmetricDirichlet!;
    const little = await edit(bent, "relax", { strength: 0.2, passes: 2 }, shell);
    const more = await edit(bent, "relax", { strength: 1, passes: 20 }, shell);
    expect(stretch(little)).toBeLessThan(stretch(bent));
    expect(stretch(more)).toBeLessThan(stretch(little));
    expect([flipped(little), flipped(more)]).toEqual([0, 0]);
    const some = points.slice(0, 40);
    const part = await edit(bent, "relax", {}, picking(bent, "points", some));
    const moved = points.filter((p) => place(part, p).some((x, d) => x !== place(bent, p)[d]));
    expect(moved.length).toBeGreaterThan(0);
    expect(moved.every((p) => some.includes(p))).toBe(true);
  });

  it("undoes a tangle, keeps pins, and never shrinks a shell to nothing", async () => {
    const points = shellPoints(asset);
    const { mesh } = shapeAt(asset);
    const flags = flagsAt(Uint32Array.of(face), elementCount(mesh, "shells"));
    const inner = [...placesOf(converted(mesh, layoutAt(asset), "shells", flags, "points", "touching"))].slice(60, 64);
    const tangled = await edit(asset, "move-points", { du: 0.05, dv: 0.04 }, picking(asset, "points", inner));
    expect(flipped(tangled)).toBeGreaterThan(0);
    const pinned = await edit(tangled, "pin", {}, picking(tangled, "points", [points[0]!]));
    const after = await edit(pinned, "relax", { strength: 1, passes: 300 }, picking(pinned, "shells", [face]));
    expect(flipped(after)).toBe(0);
    expect(place(after, points[0]!)).toEqual(place(pinned, points[0]!));
    expect(measure(after).symmetricDirichlet!).toBeLessThan(1.2 * measure(asset).symmetricDirichlet!);
    const bare = await edit(paperLantern(), "creased", { angle: 60 });
    await expect(edit(bare, "relax")).rejects.toThrow("Nothing here has coordinates");
  });
});

describe("one colour spot", () => {
  it("is smaller than a texel, where the shell was, and only on request", async () => {
    const spot = await edit(asset, "one-spot", { texels: 0.5 }, picking(asset, "shells", [face]));
    const points = shellPoints(asset);
    for (const d of [0, 1]) {
      const [before, after] = [asset, spot].map((a) => points.map((p) => place(a, p)[d]!));
      expect(Math.max(...after!) - Math.min(...after!)).toBeLessThanOrEqual(0.5 / 2048 + 1e-12);
      expect(Math.max(...after!) + Math.min(...after!)).toBeCloseTo(Math.max(...before!) + Math.min(...before!), 9);
    }
    await expect(edit(asset, "one-spot")).rejects.toThrow("Pick the shells");
    await expect(edit(spot, "one-spot", {}, picking(spot, "shells", [face]))).rejects.toThrow("as small already");
  });
});

describe("a shell that is stretched only to keep beside itself", () => {
  it("is told with the cut that eases it, which lies flat then", async () => {
    const [long, wide, turns] = [120, 8, 3.6];
    const points: Array<[number, number, number]> = [];
    const faces: number[][] = [];
    for (let j = 0; j <= wide; j++)
      for (let i = 0; i <= long; i++) {
        const [a, r] = [(2 * Math.PI * turns * i) / long, 1 + (1.2 * j) / wide];
        points.push([r * Math.cos(a), 0.12 * a, r * Math.sin(a)]);
      }
    for (let j = 0; j < wide; j++)
      for (let i = 0; i < long; i++) {
        const a = j * (long + 1) + i;
        faces.push([a, a + 1, a + long + 2, a + long + 1]);
      }
    const ramp = assemble("Ramp", "cm", [], [{ name: "Ramp", shape: { points, faces, material: faces.map(() => 0) } }]);
    const { asset: flat, result } = await runEdit(ramp, "unfold", {}, everything(ramp), quiet);
    expect(result.notes).toHaveLength(1);
    expect(result.notes[0]).toMatchObject({
      offer: "cut",
      words: expect.stringContaining("only to keep beside itself"),
    });
    const { edges } = result.notes[0]!.edges!;
    const parted = await edit(flat, "cut", {}, picking(flat, "edges", [...edges]));
    expect(structureOf(shapeAt(parted).mesh, layoutAt(parted)).shellCount).toBe(2);
    const eased = await edit(parted, "unfold");
    expect(measure(eased).symmetricDirichlet!).toBeLessThan(measure(flat).symmetricDirichlet!);
    expect(flipped(eased)).toBe(0);
  });
});
