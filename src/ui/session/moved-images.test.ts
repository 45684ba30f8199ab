import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Asset } from "@/core/layout/asset";
import { operationById } from "@/core/operations/registry";
import { squares } from "@/testing/squares";
import { StandInServer, saving, servers, startWorker, workers } from "@/testing/stand-in-server";
import { beginMove, runOperation } from "./actions";
import { BenchSession } from "./bench-session";
import { isPainted, movesUnderImages } from "./moved-images";
import { pickMany, setKind } from "./selection";

const plain = squares([[0.1, 0.1, 0.2, 0.2]]);
const laid = { image: "k", set: "s1" };
/** With an image that is painted for the set, whose bytes nobody has: what would move it is refused. */
const asset: Asset = {
  ...plain,
  materials: [{ name: "Paint", color: [1, 1, 1], texture: laid }],
  images: [{ key: "k", name: "k.png", type: "image/png" }],
  shapes: new Map(
    [...plain.shapes].map(([id, s]) => [
      id,
      { ...s, mesh: { ...s.mesh, faceMaterial: s.mesh.faceMaterial.map(() => 0) } },
    ]),
  ),
};

describe("images that are painted for a layout", () => {
  it("are those that its set lays, in any channel", () => {
    expect(isPainted(asset, "s1")).toBe(true);
    expect(isPainted(asset, "s2")).toBe(false);
    const rough = { name: "Rough", color: [1, 1, 1] as const, maps: [{ ...laid, channel: "roughness" as const }] };
    expect(isPainted({ ...asset, materials: [rough] }, "s1")).toBe(true);
    expect(isPainted(plain, "s1")).toBe(false);
  });

  it("are named on the cards of what moves shells, and on no others", () => {
    const named = (id: string) => movesUnderImages(operationById(id), { asset, set: "s1" });
    for (const id of ["move", "pack", "level", "unfold", "draft", "join", "assemble", "transfer"])
      expect([id, named(id)]).toEqual([id, true]);
    for (const id of ["pin", "lettering", "redraw-images", "cut", "lock-seams", "export-obj", "part-up"])
      expect([id, named(id)]).toEqual([id, false]);
  });
});

describe("the wish to move images along", () => {
  let session: BenchSession;
  let server: StandInServer;
  beforeEach(async () => {
    workers.length = 0;
    server = new StandInServer({ ...asset, id: "a" });
    servers.set("a", server);
    session = new BenchSession("a", startWorker, saving);
    await session.open(1e9);
    setKind(session.bench, "shells");
    pickMany(session.bench, new Map([[[...asset.shapes.keys()][0]!, [0]]]), "replace");
  });
  const message = () => session.bench.getState().message;

  it("goes with every step, by a button as under the pointer, and what cannot keep to it is refused whole", async () => {
    session.bench.setState({ movesImages: true });
    await runOperation(session, operationById("nudge"));
    expect(message()).toMatchObject({ tone: "refused", words: expect.stringContaining("is not at hand") });
    await (await beginMove(session, null))!.commit({ du: 0.1, dv: 0, turn: 0, scale: 1 });
    expect(message()).toMatchObject({ tone: "refused", words: expect.stringContaining("is not at hand") });
    expect(server.sent).toHaveLength(0);
    expect(session.bench.getState().asset!.shapes).toEqual(asset.shapes);
  });

  it("is not there where it is not told, nor for what moves nothing", async () => {
    await runOperation(session, operationById("nudge"));
    await vi.waitFor(() => expect(server.sent).toHaveLength(1), { timeout: 9000 });
    expect(server.sent[0]!.options).not.toHaveProperty("images");
    session.bench.setState({ movesImages: true });
    await runOperation(session, operationById("lettering"));
    await vi.waitFor(() => expect(server.sent).toHaveLength(2), { timeout: 9000 });
    expect(server.sent[1]!.options).not.toHaveProperty("images");
  });
});
