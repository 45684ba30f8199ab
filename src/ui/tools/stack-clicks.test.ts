import { beforeEach, describe, expect, it } from "vitest";
import { measure } from "@/core/check/measure";
import { shapesOf } from "@/core/layout/asset";
import { mirrorImages } from "@/core/select/mirrored";
import { edit, pickingParts } from "@/testing/assets";
import { HeadlessPane } from "@/testing/headless-pane";
import { squares } from "@/testing/squares";
import { placeWords } from "../panes/readout";
import { type Bench, newBench } from "../session/store";

// Two squares on one another, and one that lies alone.
const asset = squares([
  [0.1, 0.1, 0.2, 0.2],
  [0.1, 0.1, 0.2, 0.2],
  [0.6, 0.6, 0.2, 0.2],
]);
const id = shapesOf(asset)[0]!.id;
let bench: Bench;
let pane: HeadlessPane;
const picked = () => [...(bench.getState().picked.get(id) ?? [])];
const said = () => bench.getState().message?.words;

beforeEach(() => {
  bench = newBench({ asset, set: "s1", kind: "shells", measures: measure(asset) });
  pane = new HeadlessPane(bench, 400);
});

describe("shells on one another", () => {
  it("are taken as one stack, then one after another by clicks at the same place, and go round", () => {
    const found = [1, 2, 3, 4].map(() => {
      pane.click(0.2, 0.2);
      return [picked(), said()];
    });
    expect(found).toEqual([
      [[0, 1], expect.stringMatching(/^A stack of 2/)],
      [[0], expect.stringMatching(/: 1 of 2 on one another/)],
      [[1], expect.stringMatching(/: 2 of 2 on one another/)],
      [[0, 1], expect.stringMatching(/^A stack of 2/)],
    ]);
    pane.click(0.25, 0.25);
    expect(picked()).toEqual([0, 1]);
    pane.click(0.7, 0.7);
    expect(picked()).toEqual([2]);
  });

  it("are listed by a click with Alt, and added to by a click with Shift as ever", () => {
    pane.click(0.2, 0.2, { alt: true });
    expect(bench.getState().stack).toMatchObject({ pane: "sheet", shells: [{ face: 0 }, { face: 1 }] });
    expect(picked()).toEqual([]);
    pane.click(0.7, 0.7);
    expect(bench.getState().stack).toBeNull();
    pane.click(0.2, 0.2, { shift: true });
    expect(picked()).toEqual([0, 2]);
  });
});

describe("why a click cannot pick", () => {
  it("is said of a locked part, which is picked all the same", async () => {
    const locked = await edit(asset, "lock-parts", { why: "signed off" }, pickingParts(asset, [asset.parts[0]!.id]));
    bench.setState({ asset: locked });
    pane.click(0.7, 0.7);
    expect(picked()).toEqual([2]);
    expect(bench.getState().notice).toMatchObject({
      cure: { act: "unlock" },
      words: expect.stringContaining("signed off"),
    });
    pane.click(0.45, 0.45);
    expect(bench.getState().notice).toBeNull();
  });

  it("is said where a hidden part lies, and not beside it", () => {
    bench.setState({ hidden: new Set([asset.parts[0]!.id]) });
    pane.click(0.2, 0.2);
    expect(picked()).toEqual([]);
    expect(bench.getState().notice).toMatchObject({ cure: { act: "show", part: asset.parts[0]!.id } });
    pane.click(0.45, 0.45);
    expect(bench.getState().notice).toBeNull();
  });
});

describe("what lies under the pointer", () => {
  it("is read where something shows it: u and v, texels and the cell of the swatch", () => {
    pane.moveTo(0.7, 0.65);
    expect(bench.getState().hoverUv).toBeNull();
    bench.setState({ readout: true });
    pane.moveTo(0.7, 0.65);
    expect(bench.getState().hoverUv!.map((x) => +x.toFixed(6))).toEqual([0.7, 0.65]);
    pane.gestures.leave();
    expect(bench.getState().hoverUv).toBeNull();
  });

  it("is named as the swatch names its cells, in every tile and on every repeat", () => {
    expect(placeWords([0.3, 0.99], 2048, 8)).toBe("u 0.3000  v 0.9900 · px 614, 2027 · cell C8");
    expect(placeWords([1.3, -0.01], 100, 8)).toContain("px 30, 99 · cell C8");
    expect(placeWords([0.55, 0.05], 100, 16)).toContain("cell A1");
  });
});

describe("mirrored picks", () => {
  it("take the images along where they are known, and come and go with them", () => {
    const { mesh } = shapesOf(asset)[0]!;
    const images = mirrorImages(mesh, 0);
    bench.setState({ kind: "faces", mirror: { axis: "x", images: new Map() } });
    pane.click(0.7, 0.7);
    expect(picked()).toEqual([2]);
    bench.setState({ mirror: { axis: "x", images: new Map([[mesh, { ...images, faces: Int32Array.of(2, -1, 0) }]]) } });
    pane.click(0.7, 0.7);
    expect(picked()).toEqual([0, 2]);
    pane.click(0.7, 0.7, { ctrl: true });
    expect(picked()).toEqual([]);
  });
});
