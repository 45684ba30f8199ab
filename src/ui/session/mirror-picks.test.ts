import { describe, expect, it } from "vitest";
import { DocumentHost } from "@/compute/host";
import type { squares } from "@/testing/squares";
import { brassBalance } from "../../../demo/models/brass-balance";
import { gingerRoot } from "../../../demo/models/ginger-root";
import type { BenchSession } from "./bench-session";
import { lookUpImages, nextMirror } from "./mirror-picks";
import { newBench } from "./store";

/** A session whose questions a host answers at once. */
function sessionOf(asset: ReturnType<typeof squares>) {
  const host = new DocumentHost(null);
  const opened = host.load(asset);
  const bench = newBench({ asset: opened.asset, set: opened.asset.sets[0]!.id });
  const lookUp = (ask: (remote: DocumentHost, revision: number) => unknown) =>
    Promise.resolve(ask(host, opened.revision));
  return { bench, lookUp } as unknown as BenchSession;
}

describe("mirrored picks", () => {
  it("go through the axes and end, and tell how much has an image", async () => {
    const session = sessionOf(brassBalance());
    const { bench } = session;
    const axes: Array<string | undefined> = [];
    for (let k = 0; k < 4; k++) {
      nextMirror(bench);
      axes.push(bench.getState().mirror?.axis);
      await lookUpImages(session);
      if (axes[k] === "x")
        expect(bench.getState().message!.words).toMatch(/^Picks are mirrored across x: \d+ % of all/);
    }
    expect(axes).toEqual(["x", "y", "z", undefined]);
    expect(bench.getState().message!.words).toBe("Picks are not mirrored any more.");
  });

  it("look every mesh up once, and say so where nothing has another half", async () => {
    const session = sessionOf(gingerRoot(0.12));
    const { bench } = session;
    nextMirror(bench);
    await lookUpImages(session);
    const { mirror, message } = bench.getState();
    expect(mirror!.images.size).toBe(bench.getState().asset!.shapes.size);
    expect(message).toMatchObject({ tone: "warning", words: "Nothing here has another half across x." });
    await lookUpImages(session);
    expect(bench.getState().mirror).toBe(mirror);
  });
});
