import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { shapesOf } from "@/core/layout/asset";
import { dabsOf } from "@/core/layout/stroke";
import { HeadlessPane } from "@/testing/headless-pane";
import { squares } from "@/testing/squares";
import { setKind, stepSelection } from "../session/selection";
import { type Bench, countPicked, newBench } from "../session/store";
import { boxTool } from "./box-tool";
import { brushTool } from "./brush-tool";
import { relaxTool } from "./relax-tool";
import { benchOver } from "./stage-bench";
import type { Tool } from "./tool";
import { motionOf, moveTool, pullTool, scaleTool, turnTool } from "./transform-tools";

// Tools that do more than pick, and brushes, over Sheet without a browser: four squares in a tile of 400 pixels.
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

describe("a brush", () => {
  it("picks what it passes over, without gaps where it is quick, and adds with Shift", () => {
    take(brushTool);
    pane.drag([
      [0.2, 0.2],
      [0.2, 0.7],
    ]);
    expect(picked()).toEqual([0, 2]);
    pane.drag(
      [
        [0.7, 0.2],
        [0.7, 0.3],
      ],
      { shift: true },
    );
    expect(picked()).toEqual([0, 1, 2]);
    pane.drag(
      [
        [0.2, 0.2],
        [0.2, 0.3],
      ],
      { ctrl: true },
    );
    expect(picked()).toEqual([1, 2]);
  });
});

describe("a stroke of the brush", () => {
  const way = [
    [0.2, 0.2],
    [0.2, 0.7],
    [0.7, 0.7],
  ] as const;

  it("is one step of the selection's history, however many dabs it took", () => {
    pane.click(0.7, 0.2);
    take(brushTool);
    const steps = bench.getState().pickedBefore.length;
    pane.drag(way);
    expect(picked()).toEqual([0, 2, 3]);
    expect(bench.getState().pickedBefore).toHaveLength(steps + 1);
    stepSelection(bench, "back");
    expect(picked()).toEqual([1]);
    stepSelection(bench, "forth");
    expect(picked()).toEqual([0, 2, 3]);
  });

  it("is taken back whole by Escape, and leaves no step", () => {
    pane.click(0.7, 0.2);
    take(brushTool);
    const steps = bench.getState().pickedBefore.length;
    pane.press(...way[0]);
    for (const [u, v] of way) pane.moveTo(u, v);
    expect(picked()).not.toEqual([1]);
    pane.gestures.cancel();
    pane.release(0.7, 0.7);
    expect(picked()).toEqual([1]);
    expect(bench.getState().pickedBefore).toHaveLength(steps);
  });
});

describe("the brush where the pointer rests", () => {
  it("shows how far it reaches, and goes with the pointer", () => {
    take(brushTool);
    bench.setState({ brushRadius: 30 });
    pane.moveTo(0.5, 0.5);
    expect(bench.getState().overlay).toEqual({ pane: "sheet", shape: { kind: "disc", x: 200, y: 200, radius: 30 } });
    pane.gestures.leave();
    expect(bench.getState().overlay).toBeNull();
    // A wide one reaches two squares at once.
    bench.setState({ brushRadius: 110 });
    pane.drag([
      [0.45, 0.2],
      [0.45, 0.22],
    ]);
    expect(picked()).toEqual([0, 1]);
  });
});

describe("moving, turning and scaling", () => {
  const far = { x: 0, y: 0, shift: false, ctrl: false, alt: false };

  it("begin a box where no shells are picked", () => {
    for (const tool of [moveTool, turnTool, scaleTool]) {
      take(tool);
      pane.drag([
        [0.05, 0.05],
        [0.35, 0.35],
      ]);
      expect(picked()).toEqual([0]);
      pane.click(0.45, 0.45);
    }
    expect(pane.moves).toEqual([]);
  });

  it("preview what the pointer does and become one step of it", async () => {
    for (const [tool, to, motion] of [
      [moveTool, [0.7, 0.3], { du: 0.5, dv: 0.1, turn: 0, scale: 1 }],
      [turnTool, [0.2, 0.5], { du: 0, dv: 0, turn: 90, scale: 1 }],
      [scaleTool, [0.8, 0.2], { du: 0, dv: 0, turn: 0, scale: 2 }],
    ] as const) {
      take(boxTool);
      pane.click(0.2, 0.2);
      take(tool);
      const [u, v] = to;
      pane.press(tool === moveTool ? 0.2 : 0.5, 0.2);
      pane.moveTo(u, v);
      await vi.waitFor(() => expect(pane.moves.at(-1)?.[0]).toBe("update"));
      pane.release(u, v);
      await vi.waitFor(() => expect(pane.moves.at(-1)?.[0]).toBe("commit"));
      const [, told] = pane.moves.at(-1)!;
      for (const key of ["du", "dv", "turn", "scale"] as const) expect(told![key]).toBeCloseTo(motion[key], 6);
      expect(countPicked(bench.getState().picked)).toBe(1);
    }
  });

  it("by a handle do so whatever the tool, and with Shift pick what lies under it", async () => {
    pane.click(0.2, 0.2);
    pane.press(0.2, 0.2, { grip: "move" });
    pane.moveTo(0.3, 0.2, { grip: "move" });
    pane.release(0.3, 0.2, { grip: "move" });
    await vi.waitFor(() => expect(pane.moves.at(-1)?.[0]).toBe("commit"));
    const before = pane.moves.length;
    pane.drag(
      [
        [0.05, 0.05],
        [0.85, 0.35],
      ],
      { grip: "move", shift: true },
    );
    expect(pane.moves.length).toBe(before);
    expect(picked()).toEqual([0, 1]);
  });

  it("are taken back by Escape", async () => {
    pane.click(0.2, 0.2);
    take(moveTool);
    pane.press(0.2, 0.2);
    pane.moveTo(0.4, 0.4);
    pane.gestures.cancel();
    pane.release(0.4, 0.4);
    await vi.waitFor(() => expect(pane.moves.at(-1)?.[0]).toBe("drop"));
    expect(pane.moves.some(([what]) => what === "commit")).toBe(false);
  });

  it("keep to one axis and to steps with Shift, to the grid and to steps with Alt", () => {
    const at = (x: number, y: number, shift = true) => ({ ...far, x, y, shift });
    expect(motionOf("move", far, at(30, -10), [0, 0], 100)).toEqual({ du: 0.3, dv: 0, turn: 0, scale: 1 });
    expect(motionOf("turn", at(10, 0), at(10, -9), [0, 0], 100).turn).toBe(45);
    const step = (x: number, y: number) => ({ ...at(x, y, false), alt: true });
    expect(motionOf("move", at(0, 0), step(30, -55), [0, 0], 100)).toEqual({ du: 0.25, dv: 0.5, turn: 0, scale: 1 });
    expect(motionOf("turn", at(10, 0), step(10, -9), [0, 0], 100).turn).toBe(45);
    expect(motionOf("scale", at(10, 0), step(13.3, 0), [0, 0], 100).scale).toBeCloseTo(1.3, 12);
    expect(motionOf("scale", at(10, 0), step(0, 0), [0, 0], 100).scale).toBe(0.01);
    // A side scales along its own axis, whatever the pointer does along the other.
    expect(motionOf("scale-u", at(10, 0), at(20, 99), [0, 0], 100)).toEqual({
      du: 0,
      dv: 0,
      turn: 0,
      scale: 1,
      scaleU: 2,
    });
    expect(motionOf("scale-v", at(0, 10), at(99, 5), [0, 0], 100)).toMatchObject({ scale: 1, scaleV: 0.5 });
    expect(motionOf("scale", at(10, 0), at(0, 0), [0, 0], 100).scale).toBe(0.01);
  });
});

describe("a drag of the brush with Alt", () => {
  it("makes it larger and smaller within bounds, picks nothing, and is taken back", () => {
    take(brushTool);
    bench.setState({ brushRadius: 20 });
    const drag = (to: number) => {
      pane.press(0.3, 0.2, { alt: true });
      pane.moveTo(to, 0.2);
    };
    drag(0.4);
    expect(bench.getState().brushRadius).toBeCloseTo(60, 9);
    pane.gestures.cancel();
    expect(bench.getState().brushRadius).toBe(20);
    drag(0.1);
    pane.release(0.1, 0.2);
    expect(bench.getState().brushRadius).toBe(4);
    expect(picked()).toEqual([]);
  });
});

describe("the relax brush", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    take(relaxTool);
    bench.setState({ brushRadius: 20 });
  });
  afterEach(() => vi.useRealTimers());
  const last = () => dabsOf(pane.strokes.at(-1)![1]!);

  it("draws one stroke of dabs that leave no gap, in tiles, and keeps it where it is let go", async () => {
    pane.press(0.2, 0.2);
    pane.moveTo(0.21, 0.22);
    await vi.advanceTimersByTimeAsync(0);
    pane.moveTo(0.6, 0.2);
    pane.release(0.6, 0.2);
    await vi.advanceTimersByTimeAsync(0);
    expect(pane.strokes.at(-1)![0]).toBe("commit");
    const dabs = last();
    expect(dabs[0]).toEqual({ u: 0.2, v: 0.2, radius: 0.05 });
    expect(dabs.at(-1)!.u).toBeCloseTo(0.6, 6);
    dabs.slice(1).forEach((dab, i) => {
      expect(Math.hypot(dab.u - dabs[i]!.u, dab.v - dabs[i]!.v)).toBeLessThan(0.05);
    });
    expect(picked()).toEqual([]);
  });

  it("goes on where it rests, until it is let go", async () => {
    pane.press(0.2, 0.2);
    pane.moveTo(0.22, 0.22);
    await vi.advanceTimersByTimeAsync(1000);
    const resting = last().length;
    expect(resting).toBeGreaterThan(8);
    pane.release(0.22, 0.22);
    await vi.advanceTimersByTimeAsync(1000);
    expect(pane.strokes.at(-1)![0]).toBe("commit");
    expect(last()).toHaveLength(resting);
  });

  it("draws on the form as well: as large on the sheet as it is there, and not beyond what is seen", () => {
    // The first square is seen five times as large on the form as it lies in the sheet.
    const form = benchOver(bench, "form", pane.surface(), () => 1);
    expect(form.dabAt(0.2 * 400, 0.8 * 400)).toEqual({
      u: expect.closeTo(0.14, 6),
      v: expect.closeTo(0.14, 6),
      radius: expect.closeTo(0.01, 6),
    });
    // At the rim of a square what lies within it tells the size.
    expect(form.dabAt(0.11 * 400, 0.8 * 400)!.radius).toBeCloseTo(0.01, 6);
    expect(form.dabAt(0.45 * 400, 0.55 * 400)).toBeNull();
    expect(form.placeAt(80, 320)).toBeNull();
  });

  it("is taken back by Escape, and made larger by a drag with Alt", async () => {
    pane.press(0.2, 0.2);
    pane.moveTo(0.3, 0.3);
    expect(pane.gestures.cancel()).toBe(true);
    await vi.advanceTimersByTimeAsync(1000);
    expect(pane.strokes.at(-1)).toEqual(["drop"]);
    pane.release(0.3, 0.3);
    pane.drag(
      [
        [0.2, 0.2],
        [0.3, 0.2],
      ],
      { alt: true },
    );
    expect(bench.getState().brushRadius).toBe(60);
    expect(pane.strokes.at(-1)).toEqual(["drop"]);
  });
});

describe("pulling", () => {
  beforeEach(() => {
    take(pullTool);
    setKind(bench, "points");
  });

  it("takes hold of the point under the pointer, and brings it to where it is let go", async () => {
    pane.drag([
      [0.11, 0.11],
      [0.2, 0.25],
      [0.21, 0.31],
    ]);
    await vi.waitFor(() => expect(pane.moves.at(-1)![0]).toBe("commit"));
    expect(countPicked(bench.getState().picked)).toBe(1);
    expect(pane.moves.at(-1)![1]).toMatchObject({ du: expect.closeTo(0.1, 9), dv: expect.closeTo(0.2, 9) });
  });

  it("pulls all that are picked with the one that is taken hold of, and picks in a box beside everything", async () => {
    pane.click(0.11, 0.11);
    pane.click(0.29, 0.11, { shift: true });
    pane.drag([
      [0.29, 0.11],
      [0.35, 0.11],
    ]);
    await vi.waitFor(() => expect(pane.moves.at(-1)![0]).toBe("commit"));
    expect(countPicked(bench.getState().picked)).toBe(2);
    const done = pane.moves.length;
    pane.drag([
      [0.45, 0.45],
      [0.95, 0.95],
    ]);
    expect(pane.moves).toHaveLength(done);
    expect(countPicked(bench.getState().picked)).toBe(4);
  });
});
