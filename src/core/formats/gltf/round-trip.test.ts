import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { Document, NodeIO } from "@gltf-transform/core";
import { EXTMeshoptCompression, KHRDracoMeshCompression } from "@gltf-transform/extensions";
import draco from "draco3dgltf";
import fc from "fast-check";
import { validateBytes } from "gltf-validator";
import { MeshoptDecoder, MeshoptEncoder } from "meshoptimizer";
import { describe, expect, it } from "vitest";
import { brassBalance } from "../../../../demo/models/brass-balance";
import { pepperMill } from "../../../../demo/models/pepper-mill";
import { laidOut, laidOutModel, layoutAt, shapeAt } from "../../../testing/assets";
import { type Asset, shapesOf, sourceBytes } from "../../layout/asset";
import { runEdit } from "../../operations/run";
import { everything } from "../../operations/scope";
import { readGltf } from "./read";
import { writeGlb } from "./write";

const quiet = { progress: () => {} };
const edit = async (asset: Asset, id: string, options: unknown = {}, scope = everything(asset)) =>
  (await runEdit(asset, id, options, scope, quiet)).asset;
const wasm = async () =>
  new Uint8Array(readFileSync(createRequire(import.meta.url).resolve("draco3dgltf/draco_decoder_gltf.wasm")));

async function faultsOf(bytes: Uint8Array): Promise<string[]> {
  const report = await validateBytes(bytes, { maxIssues: 50 });
  return report.issues.messages.filter((m) => m.severity === 0).map((m) => `${m.code} ${m.pointer}`);
}

/** JSON and binary part of a GLB. */
// biome-ignore lint/suspicious/noExplicitAny: the JSON is looked into as it stands
function opened(bytes: Uint8Array): { json: Record<string, any>; bin: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const size = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + size)));
  return { json, bin: bytes.subarray(28 + size) };
}

/** A bent strip with a skin, an animation, a morph target, tangents, extras and an extension nobody knows. */
async function rigged(): Promise<Uint8Array> {
  const doc = new Document();
  const buffer = doc.createBuffer();
  const n = 6;
  const array = (size: number, value: (i: number, d: number) => number, count = 2 * n) =>
    Float32Array.from({ length: size * count }, (_, k) => value(Math.floor(k / size), k % size));
  const accessor = (type: "VEC2" | "VEC3" | "VEC4" | "SCALAR" | "MAT4", a: Float32Array | Uint16Array | Uint8Array) =>
    doc
      .createAccessor()
      .setType(type)
      .setArray(a as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const quads = Array.from({ length: n - 1 }, (_, i) => [
    2 * i,
    2 * i + 1,
    2 * i + 3,
    2 * i,
    2 * i + 3,
    2 * i + 2,
  ]).flat();
  const primitive = doc
    .createPrimitive()
    .setIndices(accessor("SCALAR", Uint16Array.from(quads)))
    .setAttribute(
      "POSITION",
      accessor(
        "VEC3",
        array(3, (i, d) => (d === 0 ? i % 2 : d === 1 ? i >> 1 : Math.sin(i))),
      ),
    )
    .setAttribute(
      "NORMAL",
      accessor(
        "VEC3",
        array(3, (_, d) => (d === 2 ? 1 : 0)),
      ),
    )
    .setAttribute(
      "TANGENT",
      accessor(
        "VEC4",
        array(4, (_, d) => (d === 0 || d === 3 ? 1 : 0)),
      ),
    )
    .setAttribute(
      "TEXCOORD_0",
      accessor(
        "VEC2",
        array(2, (i, d) => (d ? (i >> 1) / n : i % 2)),
      ),
    )
    .setAttribute(
      "TEXCOORD_1",
      accessor(
        "VEC2",
        array(2, (i, d) => (d ? (i >> 1) / 9 : (i % 2) / 3)),
      ),
    )
    .setAttribute("JOINTS_0", accessor("VEC4", new Uint8Array(8 * n)))
    .setAttribute(
      "WEIGHTS_0",
      accessor(
        "VEC4",
        array(4, (_, d) => (d ? 0 : 1)),
      ),
    )
    .addTarget(
      doc.createPrimitiveTarget().setAttribute(
        "POSITION",
        accessor(
          "VEC3",
          array(3, () => 0.1),
        ),
      ),
    );
  const joint = doc.createNode("Joint");
  const unit = Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  const skin = doc.createSkin().addJoint(joint).setInverseBindMatrices(accessor("MAT4", unit));
  const node = doc.createNode("Strip").setMesh(doc.createMesh("Strip").addPrimitive(primitive)).setSkin(skin);
  doc.createScene("Stall").addChild(node).addChild(joint).setExtras({ stall: 7 });
  const sampler = doc
    .createAnimationSampler()
    .setInput(accessor("SCALAR", Float32Array.of(0, 1)))
    .setOutput(accessor("VEC3", Float32Array.of(0, 0, 0, 0, 1, 0)));
  const channel = doc.createAnimationChannel().setTargetNode(joint).setTargetPath("translation").setSampler(sampler);
  doc.createAnimation("Sway").addSampler(sampler).addChannel(channel);
  const { json, bin } = opened(await new NodeIO().writeBinary(doc));
  json.extensionsUsed = ["NIGHT_market"];
  json.extensions = { NIGHT_market: { lamps: 3 } };
  json.buffers = [
    { byteLength: bin.length, uri: `data:application/octet-stream;base64,${Buffer.from(bin).toString("base64")}` },
  ];
  return new TextEncoder().encode(JSON.stringify(json));
}

describe("glTF, out and in", () => {
  it("passes the validator, with several sets, instances and materials", async () => {
    for (const made of [brassBalance(), pepperMill()]) {
      const laid = await edit(await laidOut(made), "duplicate-set");
      const { bytes } = await writeGlb(laid);
      expect(await faultsOf(bytes)).toEqual([]);
      const back = await readGltf(bytes, { name: "back.glb" });
      expect(back.sets).toHaveLength(2);
      expect(await faultsOf((await writeGlb(await edit(back, "move", { turn: 30 }))).bytes)).toEqual([]);
    }
  }, 120_000);

  it("carries skins, animations, morph targets, extras and unknown extensions through untouched", async () => {
    const source = await rigged();
    const asset = await readGltf(source, { name: "strip.gltf" });
    expect(asset.sets.map((s) => s.exportAs)).toEqual([0, 1]);
    const cut = await edit(
      asset,
      "cut",
      {},
      {
        ...everything(asset),
        selection: { kind: "edges", items: new Map([["p1", Uint32Array.of(2)]]) },
      },
    );
    const moved = await edit(
      cut,
      "move",
      { du: 0.25 },
      {
        ...everything(cut),
        selection: { kind: "faces", items: new Map([["p1", Uint32Array.of(0)]]) },
      },
    );
    const { bytes, warnings } = await writeGlb(moved);
    expect(await faultsOf(bytes)).toEqual([]);
    expect(warnings.join()).toContain("Tangents were left out");
    const [before, after] = [JSON.parse(new TextDecoder().decode(source)), opened(bytes).json];
    for (const key of ["skins", "animations", "nodes", "scenes", "extensions", "extensionsUsed", "asset"])
      expect(after[key]).toEqual(before[key]);
    expect(after.accessors.slice(0, before.accessors.length)).toEqual(before.accessors);
    const back = await readGltf(bytes, { name: "strip.glb" });
    expect(shapeAt(back, 0).mesh.cornerVertex).toEqual(shapeAt(asset, 0).mesh.cornerVertex);
    expect(layoutAt(back, 0, 1)).toEqual(layoutAt(asset, 0, 1));
    const doc = await new NodeIO().readBinary(bytes);
    const p = doc.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
    const count = p.getAttribute("POSITION")!.getCount();
    expect(count).toBeGreaterThan(12);
    for (const semantic of p.listSemantics()) expect(p.getAttribute(semantic)!.getCount()).toBe(count);
    expect(p.listTargets()[0]!.getAttribute("POSITION")!.getCount()).toBe(count);
  });

  it("changes no byte of what it need not: an untouched asset keeps its accessors", async () => {
    const source = await rigged();
    const asset = await readGltf(source, { name: "strip.gltf" });
    const { bytes, warnings } = await writeGlb(asset);
    const before = JSON.parse(new TextDecoder().decode(source));
    expect(opened(bytes).json.meshes).toEqual(before.meshes);
    expect(opened(bytes).json.accessors).toEqual(before.accessors);
    expect(warnings).toEqual([]);
  });

  it.each([
    ["meshopt", EXTMeshoptCompression],
    ["Draco", KHRDracoMeshCompression],
  ])(
    "reads files compressed by %s, and writes them back unpacked",
    async (_, extension) => {
      await MeshoptEncoder.ready;
      const laid = await laidOutModel(pepperMill);
      const plain = (await writeGlb(laid)).bytes;
      const io = new NodeIO().registerExtensions([extension]).registerDependencies({
        "meshopt.encoder": MeshoptEncoder,
        "meshopt.decoder": MeshoptDecoder,
        "draco3d.encoder": await draco.createEncoderModule(),
        "draco3d.decoder": await draco.createDecoderModule(),
      });
      const doc = await io.readBinary(plain);
      (extension === EXTMeshoptCompression
        ? doc.createExtension(EXTMeshoptCompression)
        : doc.createExtension(KHRDracoMeshCompression)
      ).setRequired(true);
      const packed = await io.writeBinary(doc);
      const asset = await readGltf(packed, { name: "mill.glb", wasm });
      const known = await readGltf(plain, { name: "mill.glb" });
      expect(shapesOf(asset).map((p) => p.mesh.cornerVertex.length)).toEqual(
        shapesOf(known).map((p) => p.mesh.cornerVertex.length),
      );
      const { bytes, warnings } = await writeGlb(asset, wasm);
      expect(warnings.join()).toContain("written unpacked");
      expect(await faultsOf(bytes)).toEqual([]);
      const back = await readGltf(bytes, { name: "mill.glb" });
      shapesOf(back).forEach((_, i) => {
        expect(layoutAt(back, i).cut).toEqual(layoutAt(asset, i).cut);
      });
      if (extension === KHRDracoMeshCompression)
        await expect(readGltf(packed, { name: "mill.glb" })).rejects.toThrow("cannot be read here");
    },
    120_000,
  );

  it("finds files that came along, and keeps them with the source", async () => {
    const { json, bin } = opened((await writeGlb(await edit(pepperMill(), "creased"))).bytes);
    json.buffers[0].uri = "wood%20parts/mill.bin";
    const text = new TextEncoder().encode(JSON.stringify(json));
    const beside = [{ name: "stall/wood parts/mill.bin", bytes: bin }];
    const asset = await readGltf(text, { name: "stall/mill.gltf", beside });
    expect(asset.source).toMatchObject({ name: "mill.gltf", format: "gltf" });
    expect(await readGltf(sourceBytes(asset)!, { name: "mill.gltf" })).toMatchObject({ name: "mill" });
    await expect(readGltf(text, { name: "mill.gltf" })).rejects.toThrow("refers to wood parts/mill.bin");
  });

  it("refuses what it does not know or cannot trust", async () => {
    const { json, bin } = opened((await writeGlb(pepperMill())).bytes);
    const inline = `data:application/octet-stream;base64,${Buffer.from(bin).toString("base64")}`;
    const read = (change: object) =>
      readGltf(
        new TextEncoder().encode(
          JSON.stringify({ ...json, buffers: [{ ...json.buffers[0], uri: inline }], ...change }),
        ),
        {
          name: "mill.gltf",
        },
      );
    await expect(read({})).resolves.toBeDefined();
    await expect(read({ extensionsRequired: ["NIGHT_market"] })).rejects.toThrow(
      "needs the glTF extension NIGHT_market",
    );
    await expect(read({ asset: { version: "1.0" } })).rejects.toThrow("only version 2");
    await expect(read({ nodes: [{ mesh: 0, children: [0] }] })).rejects.toThrow("in the tree twice");
    await expect(read({ scenes: [{ nodes: [99] }] })).rejects.toThrow("node 99");
    await expect(read({ accessors: json.accessors.map((a: object) => ({ ...a, count: 1e9 })) })).rejects.toThrow(
      "lies outside",
    );
  });

  it("never crashes, whatever is done to a good file", async () => {
    const good = (await writeGlb(await edit(pepperMill(), "creased"))).bytes;
    const head = 20 + new DataView(good.buffer).getUint32(12, true);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(head + 400), fc.integer({ min: 0, max: 255 })), { minLength: 1, maxLength: 6 }),
        fc.option(fc.nat(good.length), { nil: good.length, freq: 6 }),
        async (edits, size) => {
          const bytes = good.slice(0, size);
          for (const [at, value] of edits) if (at < bytes.length) bytes[at] = value;
          try {
            const asset = await readGltf(bytes, { name: "x.glb" });
            expect(asset.parts.length).toBeGreaterThan(0);
          } catch (error) {
            expect((error as Error).name, (error as Error).stack).toBe("UserError");
          }
        },
      ),
      { numRuns: 1500 },
    );
  }, 120_000);
});
