import { describe, expect, it } from "vitest";
import { box } from "../../demo/kit";
import type { Asset } from "../core/layout/asset";
import { Stopped } from "../core/operations/operation";
import { everything } from "../core/operations/scope";
import { seenFaces } from "../core/tasks/seen-faces";
import { assetOf, edit, quiet } from "../testing/assets";
import { meshOf } from "../testing/seam-forms";
import { proposals } from "./proposals";

const crate = (): Asset => assetOf(meshOf(box([3, 2, 1])));
const wanted = (asset: Asset, ...ids: string[]) =>
  ids.map((operation) => ({ operation, options: {}, scope: everything(asset) }));
const found = async (asset: Asset, ...ids: string[]) =>
  proposals(asset, wanted(asset, ...ids), await seenFaces(asset, quiet, () => {}), quiet);

describe("proposals beside each other", () => {
  it("tell what each style would come to, beside what is there, and change nothing", async () => {
    const asset = crate();
    const { present, list } = await found(asset, "creased", "open-up", "by-material");
    // A closed box is one shell that does not lie flat.
    expect(present).toEqual({ shells: 1, flat: 0, length: 0, visible: 0, stretch: null });
    const [creased, opened, material] = list;
    expect(creased).toMatchObject({
      operation: "creased",
      // Four edges of each length.
      figures: { shells: 6, flat: 6, length: 24, stretch: expect.closeTo(1, 9) },
    });
    expect(opened).toMatchObject({ figures: { shells: 1, flat: 1 } });
    const edges = (p: (typeof list)[number]) => ("edges" in p ? [...p.edges.values()].flatMap((e) => [...e]) : []);
    expect(edges(creased!)).toHaveLength(12);
    // A net of six squares hangs together at five edges.
    expect(edges(opened!)).toHaveLength(7);
    const figures = (p: (typeof list)[number]) => ("figures" in p ? p.figures : null)!;
    expect(figures(opened!).visible).toBeLessThan(figures(creased!).visible);
    expect(material).toEqual({
      operation: "by-material",
      refused: "No two materials meet here that no seam parts already.",
    });
  });

  it("list only the edges that are no seams yet", async () => {
    const cut = await edit(crate(), "creased");
    const { present, list } = await found(cut, "creased", "panels");
    expect(present).toMatchObject({ shells: 6, flat: 6, length: 24 });
    expect(list.every((p) => "refused" in p)).toBe(true);
  });

  it("are stopped while they are looked for", async () => {
    const asset = crate();
    const seen = await seenFaces(asset, quiet, () => {});
    const progress = (share: number) => {
      if (share > 0.3) throw new Stopped();
    };
    await expect(proposals(asset, wanted(asset, "creased", "open-up"), seen, { progress })).rejects.toThrow(Stopped);
  });
});
