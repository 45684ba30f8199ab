import { describe, expect, it } from "vitest";
import { assemble, box, lathe } from "../../../demo/kit";
import { edit, laidOut, quiet, shapeAt } from "../../testing/assets";
import { encodeAsset } from "../formats/asset-bundle";
import type { Asset } from "../layout/asset";
import { UserError } from "../layout/user-error";
import { type HistoryFile, readHistory, replay, stepsWithFiles } from "./history-file";
import type { Scope } from "./operation";
import { runEdit } from "./run";
import { everything } from "./scope";
import { queryOfScope, resolveScope } from "./scope-query";

const stall = (): Asset =>
  assemble(
    "Stall",
    "cm",
    [],
    [
      { name: "Crate", shape: box([3, 2, 1], [2, 2, 2]) },
      { name: "Ring", shape: box([1, 2, 1], [1, 1, 1]) },
      {
        name: "Ring",
        shape: lathe(
          [1, 2, 1].map((r, i): [number, number] => [r, i]),
          8,
        ),
      },
    ],
  );

const empty: Omit<HistoryFile, "steps"> = {
  format: "tavlin-history",
  version: 1,
  asset: "Stall",
  source: "stall.obj",
  unit: "cm",
};

/** Works on an asset and keeps the steps as the bench does. */
class Recorder {
  readonly steps: HistoryFile["steps"] = [];
  constructor(public asset: Asset) {}
  async edit(id: string, options: unknown = {}, scope: Partial<Scope> = {}, imported?: readonly Asset[]) {
    const whole = { ...everything(this.asset), ...scope };
    const context = imported ? { ...quiet, imported } : quiet;
    const { asset, result } = await runEdit(this.asset, id, options, whole, context);
    this.steps.push({ operation: id, options, scope: queryOfScope(this.asset, whole), words: result.words });
    this.asset = asset;
  }
  get file(): string {
    return JSON.stringify({ ...empty, steps: this.steps });
  }
}

const again = (history: HistoryFile, asset = stall(), files: Asset[][] = []) =>
  replay(asset, history, files, quiet, () => {});

describe("a history", () => {
  it("done again comes to the same asset, with parts and sets that were made on the way", async () => {
    const work = new Recorder(stall());
    const first = shapeAt(work.asset).id;
    await work.edit("creased");
    await work.edit(
      "split-off",
      { name: "Lid" },
      { selection: { kind: "faces", items: new Map([[first, Uint32Array.of(0, 1, 2)]]) } },
    );
    const lid = work.asset.parts.find((p) => p.name === "Lid")!;
    await work.edit(
      "unfold",
      { skip: true },
      { selection: { kind: "faces", items: new Map([[lid.shape, Uint32Array.of(0)]]) } },
    );
    await work.edit("duplicate-set", { name: "Light" });
    await work.edit("draft", {}, { set: work.asset.sets[1]!.id });
    await work.edit("merge-parts", {}, { picked: work.asset.parts.slice(0, 2).map((p) => p.id) });
    await work.edit("add-file", {}, {}, [await laidOut(stall())]);
    const history = readHistory(work.file, "stall history.json");
    expect(stepsWithFiles(history)).toEqual([work.steps.at(-1)!.words]);
    const told: string[] = [];
    const done = await replay(stall(), history, [[await laidOut(stall())]], quiet, (words) => told.push(words));
    expect(encodeAsset(done)).toEqual(encodeAsset(work.asset));
    expect(told).toEqual(work.steps.map((s) => s.words));
  });

  it("makes other ids of another file that is brought in the same way", async () => {
    const added = async (imported: Asset) => {
      const { asset } = await runEdit(stall(), "add-file", {}, everything(stall()), { ...quiet, imported: [imported] });
      return asset.parts.at(-1)!.id;
    };
    const other = { ...stall(), source: { ...stall().source, name: "other.obj" } };
    expect(await added(stall())).toBe(await added(stall()));
    expect(await added(other)).not.toBe(await added(stall()));
  });

  it("goes by the names of parts on another asset, and by the parts themselves on this one", async () => {
    const asset = stall();
    const second = asset.parts[2]!;
    const said = queryOfScope(asset, { ...everything(asset), picked: [second.id] });
    expect(resolveScope(asset, said).picked).toEqual([second.id]);
    const renamed = await edit(asset, "rename-part", { name: "Hoop" }, { ...everything(asset), picked: [second.id] });
    expect(resolveScope(renamed, said).picked).toEqual([asset.parts[1]!.id]);
    const hidden = queryOfScope(asset, { ...everything(asset), parts: asset.parts.slice(0, 2).map((p) => p.id) });
    expect(resolveScope(asset, hidden).parts).toEqual(asset.parts.slice(0, 2).map((p) => p.id));
  });

  it("names the step that cannot be done, and why", async () => {
    const scope = queryOfScope(stall(), everything(stall()));
    const step = { operation: "draft", options: {}, scope, words: "Draft" };
    const first = { ...step, operation: "creased", words: "Creased" };
    const refused = async (change: Partial<typeof step>) => {
      const error = await again({ ...empty, steps: [first, { ...step, ...change } as typeof step] }).catch((e) => e);
      expect(error).toBeInstanceOf(UserError);
      return (error as Error).message;
    };
    expect(await refused({ operation: "unravel" })).toBe(
      "Step 2 (Draft) cannot be done: there is no operation unravel.",
    );
    expect(await refused({ scope: null! })).toMatch(/^Step 2 \(Draft\) cannot be done: it was made before steps kept/);
    expect(await refused({ options: { padding: "wide" } })).toMatch(/^Step 2 .*padding/i);
    expect(await refused({ operation: "merge-parts", words: "Merge" })).toMatch(
      /^Step 2 \(Merge\) cannot be done: Pick /,
    );
    expect(await refused({ operation: "add-file" })).toMatch(/Bring a file for it\.$/);
  });

  it("is refused in a sentence when the file is none", () => {
    expect(() => readHistory("{", "a.json")).toThrow("a.json is not JSON.");
    expect(() => readHistory("{}", "a.json")).toThrow("a.json is not a history: format is none of the known values.");
    expect(() => readHistory(JSON.stringify({ ...empty, steps: 3 }), "a.json")).toThrow(
      /^a\.json is not a history: steps/,
    );
  });
});
