import { createHash } from "node:crypto";
import { beforeAll, describe, expect, it } from "vitest";
import { brassBalance } from "../../../demo/models/brass-balance";
import { gingerRoot } from "../../../demo/models/ginger-root";
import { marketCart } from "../../../demo/models/market-cart";
import { paperLantern } from "../../../demo/models/paper-lantern";
import { pepperMill } from "../../../demo/models/pepper-mill";
import { laidOutModel, quiet } from "../../testing/assets";
import { encodeAsset } from "../formats/asset-bundle";
import { checkAsset } from "../formats/asset-json";
import { paintedTriangles, repainted } from "../images/painted-triangles";
import { type Asset, placedShape, shapesOf } from "../layout/asset";
import { deltaBetween, withDelta } from "../layout/delta";
import { UserError } from "../layout/user-error";
import { faceCount } from "../mesh/poly-mesh";
import { topologyOf } from "../mesh/topology";
import type { AnyOperation, Scope, SelectionKind } from "./operation";
import { movesShells, OPERATIONS } from "./registry";
import { runEdit, runExport, runSelect } from "./run";
import { everything } from "./scope";
import { queryOfScope, resolveScope } from "./scope-query";

// What every operation owes, whatever it does: a refusal is one sentence, the asset given is left as it was, the one that
// comes back fits together and is the one that its delta leads to, and the same request gives the same answer.

/** Everything of an asset, in a few letters. */
const print = (asset: Asset): string => createHash("sha1").update(encodeAsset(asset)).digest("hex");

/** Seconds even on a small asset, as they look from all sides or lay shells flat: asked once, on every other asset. */
const LONG = [
  "packed-set",
  "open-up",
  "rounded",
  "dome",
  "panels",
  "centre-line",
  "project",
  "fresh-start",
  "shorten",
  "straighten-seams",
  "assemble",
  "turned",
];
const takesLong = (op: AnyOperation): boolean => op.kind === "edit" && (op.big || LONG.includes(op.id));

/** Options that take less time than those by default, or without which there is nothing to do. */
const OPTIONS: Readonly<Record<string, object>> = {
  pack: { turns: "none", search: "quick" },
  "packed-set": { turns: "none", search: "quick" },
  "relax-stroke": { stroke: "0.3 0.3 0.2, 0.4 0.3 0.2, 0.5 0.4 0.1" },
};
const optionsFor = (op: AnyOperation): object => OPTIONS[op.id] ?? {};

/** The root in 17,000 faces; what is asked of it is asked of it bare, and laying it out is tested with the pool's threads. */
const smallRoot = () => gingerRoot(0.12);
const isLarge = (make: () => Asset): boolean => make === smallRoot;

/** Ways to ask: all that is visible, one part, some elements of a kind. */
function scopesOf(asset: Asset, op: AnyOperation): Scope[] {
  const all = everything(asset);
  const shape = shapesOf(asset)[0]!;
  const few = (kind: SelectionKind): Scope => ({
    ...all,
    selection: { kind, items: new Map([[shape.id, Uint32Array.of(0)]]) },
  });
  if (op.acts === "parts" || op.picks) return [all, { ...all, picked: [asset.parts[0]!.id] }];
  if (op.acts === "edges") return [few("edges")];
  if (op.acts === "faces") return [all, few("faces")];
  return op.acts === "shells" ? [all, few("shells")] : [all];
}

async function edits(asset: Asset, op: AnyOperation, scope: Scope): Promise<void> {
  const run = () => runEdit(asset, op.id, optionsFor(op), scope, quiet);
  const { asset: after, result } = await run();
  expect(result.words.length, op.id).toBeGreaterThan(0);
  checkAsset(after);
  const delta = deltaBetween(asset, after);
  const led = withDelta(asset, delta);
  expect(print(led), `${op.id}: its delta leads elsewhere`).toBe(print(after));
  if (!takesLong(op)) expect(print((await run()).asset), `${op.id}: not the same again`).toBe(print(after));
  if (movesPoints(asset, after, scope.set))
    expect(movesShells(op), `${op.id} moves shells and does not say so`).toBe(true);
  // The scope that is stored with the step means the same parts and elements.
  const said = resolveScope(asset, queryOfScope(asset, scope));
  expect(said.parts, op.id).toEqual(scope.parts);
  expect(said.picked, op.id).toEqual(scope.picked);
  expect([...(said.selection?.items ?? [])], op.id).toEqual([...(scope.selection?.items ?? [])]);
}

/** Whether faces that are laid out before and after lie elsewhere in a set. */
const movesPoints = (before: Asset, after: Asset, set: string): boolean =>
  paintedTriangles(
    repainted(
      shapesOf(after).filter((s) => before.shapes.get(s.id)?.mesh === s.mesh),
      (s) => before.shapes.get(s.id)!.layouts.get(set),
      set,
    ),
    null,
  ).moved;

async function picks(asset: Asset, op: AnyOperation, scope: Scope): Promise<void> {
  const { selection, words } = await runSelect(asset, op.id, {}, scope, quiet);
  expect(words.length, op.id).toBeGreaterThan(0);
  for (const [id, items] of selection.items) {
    const { mesh } = placedShape(asset, id);
    const most = {
      vertices: mesh.positions.length / 3,
      edges: topologyOf(mesh).edgeCount,
      faces: faceCount(mesh),
      shells: faceCount(mesh),
      points: mesh.cornerVertex.length,
    }[selection.kind];
    expect(
      items.every((i) => i < most),
      op.id,
    ).toBe(true);
  }
}

async function writes(asset: Asset, op: AnyOperation, scope: Scope): Promise<void> {
  const { files } = await runExport(asset, op.id, {}, scope, quiet);
  expect(files.length, op.id).toBeGreaterThan(0);
  for (const f of files) expect(f.bytes.length, `${op.id}: ${f.name}`).toBeGreaterThan(0);
}

const ASSETS = [paperLantern, pepperMill, brassBalance, marketCart, smallRoot].map((make, k) => [k, make] as const);
const ASKED = OPERATIONS.filter((op) => op.kind !== "measure");
/** The long ones are asked in turn on those of even numbers, and on the others. */
const askedOn = (k: number, make: () => Asset) =>
  ASKED.filter((op, n) => !takesLong(op) || (!isLarge(make) && (n + k) % 2 === 0));

describe.each(ASSETS)("every operation, on demo asset %i", (k, make) => {
  const states: Array<[string, Asset, string]> = [];
  const add = (state: string, asset: Asset) => states.push([state, asset, print(asset)]);
  beforeAll(async () => {
    add("bare", make());
    if (!isLarge(make)) add("laid out", await laidOutModel(make));
  });

  it.each(askedOn(k, make).map((op) => [op.id, op] as const))(
    "%s keeps the contract",
    async (_, op) => {
      for (const [state, asset, before] of takesLong(op) ? states.slice(1) : states) {
        for (const scope of scopesOf(asset, op).slice(0, takesLong(op) ? 1 : 2)) {
          try {
            if (op.kind === "edit") await edits(asset, op, scope);
            else if (op.kind === "select") await picks(asset, op, scope);
            else await writes(asset, op, scope);
          } catch (error) {
            // A refusal is in order; anything else is a fault.
            if (!(error instanceof UserError)) throw error;
            expect(error.message, op.id).toMatch(/^[A-Z“"].*[.]$/s);
            expect(error.message, op.id).not.toContain("\n");
          }
          expect(print(asset), `${op.id} changed the ${state} asset it was given`).toBe(before);
        }
      }
    },
    60_000,
  );
});
