import fc from "fast-check";
import { beforeEach, describe, expect, it } from "vitest";
import { shapesOf } from "@/core/layout/asset";
import { HeadlessPane } from "@/testing/headless-pane";
import { squares } from "@/testing/squares";
import { pickWholeParts, setKind } from "../session/selection";
import { type Bench, newBench } from "../session/store";
import { boxTool } from "./box-tool";
import { lassoTool } from "./lasso-tool";
import { plotTool } from "./plot-tool";
import { boxRegion, discRegion, lassoRegion } from "./region";
import { threadTool } from "./thread-tool";
import type { Tool } from "./tool";
import { TOOLS } from "./tools";

// Every tool over Sheet without a browser: four squares in a tile of 400 pixels.
const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.6, 0.1, 0.2, 0.2],
  [0.1, 0.6, 0.2, 0.2],
  [0.6, 0.6, 0.2, 0.2],
]);
const id = shapesOf(asset)[0]!.id;
let bench: Bench;
let pane: HeadlessPane;

const picked = () => [...(bench.getState().picked.get(id) ?? [])];
const take = (tool: Tool) => bench.setState({ tool: tool.id });

beforeEach(() => {
  bench = newBench({ asset, set: "s1", kind: "shells" });
  pane = new HeadlessPane(bench, 400);
});

describe("in every state of the panes", () => {
  it("a click picks, with Shift adds, with Ctrl takes away, and beside everything lets go", () => {
    // The thread tool takes plain clicks for itself; it has a test of its own.
    for (const tool of TOOLS.filter((t) => t !== threadTool)) {
      take(tool);
      pane.click(0.2, 0.2);
      expect(picked(), tool.id).toEqual([0]);
      pane.click(0.7, 0.2, { shift: true });
      expect(picked()).toEqual([0, 1]);
      pane.click(0.2, 0.2, { ctrl: true });
      expect(picked()).toEqual([1]);
      pane.click(0.45, 0.45, { shift: true });
      expect(picked()).toEqual([1]);
      pane.click(0.45, 0.45);
      expect(picked()).toEqual([]);
    }
  });

  it("the resting pointer lights up what lies under it, and lets it go when it leaves", () => {
    pane.moveTo(0.7, 0.7);
    expect(bench.getState().hover).toMatchObject({ shape: id, item: 3 });
    pane.gestures.leave();
    expect(bench.getState().hover).toBeNull();
  });

  it("a press that trembles is a click", () => {
    pane.drag([
      [0.2, 0.2],
      [0.203, 0.203],
    ]);
    expect(picked()).toEqual([0]);
  });

  it("Escape takes a drag back, and what the button does then means nothing", () => {
    pane.click(0.2, 0.2);
    for (const tool of [boxTool, lassoTool]) {
      take(tool);
      pane.press(0.05, 0.05);
      pane.moveTo(0.9, 0.9);
      expect(bench.getState().overlay).not.toBeNull();
      expect(pane.gestures.cancel()).toBe(true);
      expect(bench.getState().overlay).toBeNull();
      pane.release(0.9, 0.9);
      expect(picked()).toEqual([0]);
    }
    expect(pane.gestures.cancel()).toBe(false);
  });

  it("has a name, a key of its own and a sentence that says what a drag does", () => {
    expect(new Set(TOOLS.map((t) => t.key)).size).toBe(TOOLS.length);
    for (const t of TOOLS) expect(t.about).toMatch(/(drag|click).*\.$/);
  });
});

describe("a box", () => {
  it("picks what is seen in it, and edges only whole", () => {
    pane.drag([
      [0.05, 0.05],
      [0.85, 0.35],
    ]);
    expect(picked()).toEqual([0, 1]);
    bench.setState({ kind: "edges" });
    pane.drag([
      [0.05, 0.05],
      [0.2, 0.35],
    ]);
    expect(picked()).toHaveLength(1);
  });

  it("picks through by more than half of a face", () => {
    bench.setState({ through: true });
    bench.setState({ kind: "faces" });
    pane.drag([
      [0.05, 0.05],
      [0.85, 0.19],
    ]);
    expect(picked()).toEqual([]);
    pane.drag([
      [0.05, 0.05],
      [0.85, 0.24],
    ]);
    expect(picked()).toEqual([0, 1]);
    pane.drag([
      [0.05, 0.05],
      [0.85, 0.35],
    ]);
    expect(picked()).toEqual([0, 1]);
  });
});

describe("a lasso", () => {
  it("picks what its line runs around", () => {
    take(lassoTool);
    pane.drag([
      [0.05, 0.05],
      [0.35, 0.05],
      [0.35, 0.95],
      [0.05, 0.95],
    ]);
    expect(picked()).toEqual([0, 2]);
  });

  it("is inside where a point lies in the polygon", () => {
    const inPolygon = (line: ReadonlyArray<readonly [number, number]>, x: number, y: number) => {
      let odd = false;
      for (let i = 0, j = line.length - 1; i < line.length; j = i++) {
        const [ax, ay] = line[i]!;
        const [bx, by] = line[j]!;
        if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
      }
      return odd;
    };
    const point = fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 60 }));
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 8 }), fc.nat(59), fc.nat(59), (line, x, y) => {
        // Moved a little off the pixels' middles, so that no point lies on the line.
        const moved = line.map(([a, b]) => [a + 0.01, b + 0.013] as const);
        expect(lassoRegion(moved).has(x + 0.5, y + 0.5)).toBe(inPolygon(moved, x + 0.5, y + 0.5));
      }),
      { numRuns: 200 },
    );
    const square = lassoRegion([
      [2, 2],
      [12, 2],
      [12, 12],
      [2, 12],
    ]);
    expect([square.has(7, 7), square.has(2.5, 11.5), square.has(1, 7), square.has(13, 7)]).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });

  it("and boxes and discs hold what lies in them", () => {
    expect([boxRegion(9, 9, 1, 1).has(5, 5), boxRegion(9, 9, 1, 1).has(0, 5)]).toEqual([true, false]);
    expect([discRegion(5, 5, 3).has(7, 7), discRegion(5, 5, 3).has(8, 7)]).toEqual([true, false]);
  });
});

describe("whole parts", () => {
  it("are picked by a click or a drag on any of their faces, and are no more once another kind is picked", () => {
    const [part] = asset.parts;
    pickWholeParts(bench);
    pane.click(0.7, 0.7);
    expect([...bench.getState().rows]).toEqual([part!.id]);
    expect(picked()).toEqual([0, 1, 2, 3]);
    pane.click(0.7, 0.7, { ctrl: true });
    expect(bench.getState().rows.size).toBe(0);
    pane.drag([
      [0.05, 0.05],
      [0.35, 0.35],
    ]);
    expect([...bench.getState().rows]).toEqual([part!.id]);
    setKind(bench, "faces");
    expect(bench.getState().wholeParts).toBe(false);
    pane.click(0.7, 0.7);
    expect(picked()).toEqual([3]);
  });
});

describe("the thread tool", () => {
  it("lays a thread to the nearest vertex by clicks, keeps it by a double click, and lets Shift and drags pick", () => {
    take(threadTool);
    pane.click(0.12, 0.12);
    pane.click(0.28, 0.11);
    expect(pane.threads).toEqual([
      ["lay", { shape: id, vertex: 0 }],
      ["lay", { shape: id, vertex: 1 }],
    ]);
    pane.click(0.5, 0.5);
    expect(pane.threads).toHaveLength(2);
    pane.click(0.7, 0.7, { shift: true });
    expect(picked()).toEqual([3]);
    pane.click(0.5, 0.5);
    expect(picked()).toEqual([3]);
    pane.gestures.doubleClick({ x: 0, y: 0, shift: false, ctrl: false, alt: false });
    expect(pane.threads.at(-1)).toEqual(["keep"]);
    pane.drag([
      [0.05, 0.05],
      [0.4, 0.4],
    ]);
    expect(picked()).toEqual([0]);
  });

  it("points at the vertex under the resting pointer, and at none when it leaves", () => {
    take(threadTool);
    pane.moveTo(0.12, 0.28);
    expect(pane.threads).toEqual([["point", { shape: id, vertex: 3 }]]);
    pane.gestures.leave();
    expect(pane.threads.at(-1)).toEqual(["point", null]);
  });
});

describe("the plot tool", () => {
  const last = () => pane.plots.at(-1)!;
  it("draws a plot snapped to eighths of the tile, from whatever corner", () => {
    take(plotTool);
    pane.drag([
      [0.52, 0.49],
      [0.99, 0.02],
    ]);
    expect(last()).toEqual({ u0: 0.5, v0: 0.5, u1: 1, v1: 0 });
    expect(picked()).toEqual([]);
  });

  it("draws freely with Ctrl, or within one eighth, and nothing for a press that trembles", () => {
    take(plotTool);
    pane.drag(
      [
        [0.2, 0.2],
        [0.41, 0.62],
      ],
      { ctrl: true },
    );
    expect(last().u1).toBeCloseTo(0.41, 9);
    pane.drag([
      [0.26, 0.26],
      [0.3, 0.3],
    ]);
    expect([last().u0, last().u1]).toEqual([expect.closeTo(0.26, 9), expect.closeTo(0.3, 9)]);
    const count = pane.plots.length;
    pane.drag([
      [0.5, 0.5],
      [0.512, 0.5],
    ]);
    expect(pane.plots).toHaveLength(count);
  });
});
