import { placedShape, type ShapeId } from "@/core/layout/asset";
import { branchesOf } from "@/core/mesh/loops";
import { ElementSet } from "@/core/select/element-set";
import { elementCount, flagsAt } from "@/core/select/grow";
import { pickMany } from "./selection";
import { type Bench, type BenchState, type Branch, EMPTY, type Hover, type Picked } from "./store";

/** Every way on from the ends of what is picked. */
export function branchesNow({ asset, kind, picked }: BenchState): Branch[] {
  if (!asset || kind !== "edges") return [];
  return [...picked].flatMap(([shape, items]) => {
    const { mesh } = placedShape(asset, shape);
    return branchesOf(mesh, flagsAt(items.items(), elementCount(mesh, "edges"))).map((edges) => ({ shape, edges }));
  });
}

/** Shows the branches of what is picked, or no longer. */
export function showBranches(bench: Bench, on: boolean): void {
  const state = bench.getState();
  const branches = on ? branchesNow(state) : [];
  if (branches.length || state.branches.length) bench.setState({ branches, preview: edgesOf(state, branches) });
}

function edgesOf({ asset }: BenchState, branches: readonly Branch[]): Picked {
  if (!branches.length) return EMPTY;
  const out = new Map<ShapeId, ElementSet>();
  for (const { shape, edges } of branches)
    out.set(
      shape,
      (out.get(shape) ?? ElementSet.none(elementCount(placedShape(asset!, shape).mesh, "edges"))).with(edges),
    );
  return out;
}

/** Picks the branches that an edge belongs to. @returns whether there are any */
export function takeBranch(bench: Bench, at: Hover): boolean {
  const own = bench.getState().branches.filter((b) => b.shape === at.shape && b.edges.includes(at.item));
  if (own.length) pickMany(bench, new Map([[at.shape, own[0]!.edges]]), "add");
  return own.length > 0;
}

/** Picks every branch. */
export const takeAllBranches = (bench: Bench): void =>
  pickMany(bench, edgesOf(bench.getState(), bench.getState().branches), "add");
