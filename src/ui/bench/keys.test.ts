import { beforeEach, describe, expect, it, vi } from "vitest";
import { shapesOf } from "@/core/layout/asset";
import { squares } from "@/testing/squares";
import type { BenchSession } from "../session/bench-session";
import { falloffOf, setFalloff } from "../session/falloff";
import { PLAIN_LOOKS, SHADING_IDS } from "../session/look-choices";
import { keepLooks, keptLooks } from "../session/looks";
import { pick } from "../session/selection";
import { figureWords, type ShellLine } from "../session/shell-rows";
import { type Bench, countPicked, newBench } from "../session/store";
import { TOOLS } from "../tools/tools";
import { ACTIONS } from "./keys";
import { toggleFigure, useShellFigures } from "./shell-figures";

const asset = squares([[0.1, 0.1, 0.2, 0.2]]);
let bench: Bench;
const run = (id: string) => ACTIONS.find((a) => a.id === id)!.run({ bench } as BenchSession);
const now = () => bench.getState();

beforeEach(() => {
  bench = newBench({ asset, set: "s1", kind: "faces" });
});

describe("what the interface does by key and by name", () => {
  it("takes every tool, and what is picked becomes what it works on", () => {
    const works = Object.fromEntries(TOOLS.map((t) => [t.id, t.works]));
    const moves = ["shells", "points"];
    expect(works).toMatchObject({ move: moves, turn: moves, scale: moves, thread: ["edges"], box: undefined });
    pick(bench, shapesOf(asset)[0]!.id, [0], "replace");
    for (const { id, works } of TOOLS) {
      bench.setState({ kind: "faces" });
      run(`tool-${id}`);
      expect(now().tool).toBe(id);
      expect(now().kind, id).toBe(works?.[0] ?? "faces");
    }
    // UV points stay what they are, where a tool works on them.
    bench.setState({ kind: "points" });
    run("tool-move");
    expect(now().kind).toBe("points");
  });

  it("sizes the falloff of points that are moved by the keys of the brush, from none and back to none", () => {
    bench.setState({ kind: "points", tool: "move" });
    run("brush-larger");
    expect(falloffOf(now())).toEqual({ radius: 1 / 64, curve: "smooth" });
    for (let k = 0; k < 40; k++) run("brush-larger");
    expect(falloffOf(now()).radius).toBe(2);
    for (let k = 0; k < 40; k++) run("brush-smaller");
    expect(falloffOf(now()).radius).toBe(0);
    expect(now().brushRadius).toBe(18);
    setFalloff(bench, { curve: "even" });
    expect(falloffOf(now())).toEqual({ radius: 0, curve: "even" });
  });

  it("leads to the number of a tool that is taken already", () => {
    vi.stubGlobal("document", { querySelector: () => null });
    run("tool-turn");
    expect(now().stage).toBe("seams");
    run("tool-turn");
    expect(now()).toMatchObject({ stage: "place", tool: "turn" });
    expect(now().opened.place).toBe("move");
  });

  it("ends one thing at a time by Escape: work, then the tool, then what is picked", () => {
    pick(bench, shapesOf(asset)[0]!.id, [0], "replace");
    run("tool-lasso");
    const stop = vi.fn();
    bench.setState({ jobs: [{ id: 1, title: "Pack", share: 0, curve: [], stop }] });
    run("stop");
    expect([stop.mock.calls.length, now().tool, countPicked(now().picked)]).toEqual([1, "lasso", 1]);
    bench.setState({ jobs: [] });
    run("stop");
    expect([now().tool, countPicked(now().picked)]).toEqual(["box", 1]);
    run("stop");
    expect(countPicked(now().picked)).toBe(0);
  });

  it("sizes the brush within bounds, and the disc that is shown with it", () => {
    bench.setState({ overlay: { pane: "form", shape: { kind: "disc", x: 1, y: 2, radius: 18 } } });
    run("brush-larger");
    expect(now().brushRadius).toBe(22.5);
    expect(now().overlay!.shape).toMatchObject({ x: 1, radius: 22.5 });
    for (let k = 0; k < 40; k++) run("brush-larger");
    expect(now().brushRadius).toBe(200);
    for (let k = 0; k < 40; k++) run("brush-smaller");
    expect(now().brushRadius).toBe(4);
  });

  it("turns picking through on and off", () => {
    run("through");
    expect(now().through).toBe(true);
    run("through");
    expect(now().through).toBe(false);
  });

  it("changes what one pane shows: the one the pointer is in", () => {
    bench.setState({ inUse: "sheet" });
    for (const id of ["wires", "seams", "swatch"]) run(id);
    expect(now()).toMatchObject({
      wires: { form: true, sheet: false },
      seams: { form: true, sheet: false },
      view: { form: "shaded", sheet: "swatch" },
    });
    run("swatch");
    bench.setState({ inUse: "form" });
    const views = Array.from({ length: 4 }, () => {
      run("next-view");
      return now().view.form;
    });
    expect(views).toEqual(["swatch", "stretch", "tints", "shaded"]);
    expect(now().view.sheet).toBe("shaded");
  });

  it("enlarges the pane in use by one key, and shows both again by the same", () => {
    for (const pane of ["sheet", "form"] as const) {
      bench.setState({ inUse: pane });
      run("enlarge");
      expect(now().panes).toBe(pane);
      run("enlarge");
      expect(now().panes).toBe("both");
    }
    run("swap-panes");
    run("stack-panes");
    run("parallel");
    run("look-top");
    expect(now()).toMatchObject({ swapped: true, stacked: true, parallel: true, lookFrom: { side: "top", count: 1 } });
  });

  it("turns the light all the way round, and goes through every shading", () => {
    for (let k = 0; k < 12; k++) run("light-right");
    expect(now().lightTurn).toBe(0);
    run("light-left");
    expect(now().lightTurn).toBe(-30);
    const all = SHADING_IDS.map(() => {
      run("next-shading");
      return now().shading;
    });
    expect(new Set(all).size).toBe(SHADING_IDS.length);
    expect(now().shading).toBe("lit");
  });
});

describe("what this browser keeps", () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal("localStorage", {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
    });
  });

  it("is how the bench looked when an asset was left; what cannot be read is as it comes", () => {
    expect(keptLooks()).toEqual(PLAIN_LOOKS);
    const looks = {
      stage: "check",
      view: { form: "swatch", sheet: "tints" },
      swatch: "circles",
      swatchRepeats: 4,
      mouse: "alt",
      stacked: true,
    } as const;
    keepLooks(newBench(looks).getState());
    expect(keptLooks()).toEqual({ ...PLAIN_LOOKS, ...looks });
    // Kept by another version, or meddled with: what is known of it counts.
    kept.set("tavlin-looks", '{"stage":"check","view":"tints","swatchRepeats":99,"seams":{"form":1}}');
    expect(keptLooks()).toEqual({ ...PLAIN_LOOKS, stage: "check" });
    for (const text of ["{", "null", "7"]) {
      kept.set("tavlin-looks", text);
      expect(keptLooks()).toEqual(PLAIN_LOOKS);
    }
  });

  it("is which figures the table of shells shows, in its own order", () => {
    toggleFigure("turn");
    toggleFigure("stretch");
    expect(useShellFigures.getState().shown).toEqual(["density", "area", "turn"]);
    expect(JSON.parse(kept.get("tavlin-shell-figures")!)).toEqual(["density", "area", "turn"]);
    toggleFigure("stretch");
    toggleFigure("turn");
    expect(useShellFigures.getState().shown).toEqual(["density", "stretch", "area"]);
  });
});

describe("a figure of a shell", () => {
  it("is written as short as it is clear, and as a dash where there is none", () => {
    const line = {
      ratio: 1,
      density: 71.84,
      stretch: 1.0129,
      area: 0.35412,
      turn: -89.6,
      tile: 1013,
      material: "Brass",
    };
    const words = (figure: Parameters<typeof figureWords>[1], more: object = {}) =>
      figureWords({ ...line, ...more } as ShellLine, figure);
    expect((["density", "stretch", "area", "turn", "tile", "material"] as const).map((f) => words(f))).toEqual([
      "71.8",
      "1.013",
      "0.354",
      "-90°",
      "1013",
      "Brass",
    ]);
    expect(words("turn", { turn: null })).toBe("–");
    expect(words("density", { ratio: 0.5 })).toBe("71.8 ×0.5");
  });
});
