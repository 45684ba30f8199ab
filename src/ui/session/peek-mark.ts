import { startDocument } from "@/compute/document";
import type { Asset, Shape, ShapeId } from "@/core/layout/asset";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import type { Mark } from "@/wire/answers";
import type { BenchSession } from "./bench-session";
import { say } from "./say";
import type { Bench } from "./store";

const sameNumbers = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

const sameMesh = (a: PolyMesh, b: PolyMesh): boolean =>
  sameNumbers(a.faceStart, b.faceStart) &&
  sameNumbers(a.cornerVertex, b.cornerVertex) &&
  sameNumbers(a.positions, b.positions) &&
  sameNumbers(a.faceMaterial, b.faceMaterial);

/** A state of an asset with the meshes of another where they are the same: what is drawn of those can stay. */
export function withMeshesOf(then: Asset, now: Asset): Asset {
  const shapes = new Map<ShapeId, Shape>();
  for (const [id, shape] of then.shapes) {
    const mesh = now.shapes.get(id)?.mesh;
    shapes.set(id, mesh && sameMesh(mesh, shape.mesh) ? { ...shape, mesh } : shape);
  }
  return { ...then, shapes };
}

/** From now on the key that looks back shows a mark, in both panes, until another is chosen or it is let go. */
export async function lookBackTo(session: BenchSession, mark: Mark): Promise<void> {
  const { bench } = session;
  const { asset, stretchKind, set } = bench.getState();
  if (!asset) return;
  // A worker of its own: what is shown is not what is on the table.
  const { remote, end } = startDocument();
  try {
    const then = (await remote.open(asset.id, mark.number)).asset;
    const own = then.sets.some((s) => s.id === set) ? set : then.sets[0]!.id;
    const { stretch } = await remote.measure(0, own, stretchKind);
    if (session.isClosed) return;
    bench.setState({ before: { asset: withMeshesOf(then, bench.getState().asset!), stretch, mark: mark.name } });
    say(bench, `Hold the key for before and after to see ${mark.name}.`);
  } catch (error) {
    say(bench, `The mark cannot be shown: ${(error as Error).message}`, "refused");
  } finally {
    end();
  }
}

/** The key that looks back shows the state before the last step again. */
export const lookBackToLast = (bench: Bench): void => bench.setState({ before: null, peek: false });
