import { faceCount } from "../mesh/poly-mesh";
import { trianglesOf } from "../mesh/triangulate";
import { type Drafted, draftStages } from "../seams/draft";
import { draftPiece, type PieceAnswer, type PieceAsk } from "../seams/draft-piece";
import { type Source, sourceOf } from "../seams/piece";
import type { Context } from "./context";
import { spread } from "./spread";
import type { TaskRunner } from "./task-runner";
import type { DraftInput } from "./tasks";

/** Faces from which on a shape is spread over the workers piece by piece; others go to one each, whole. */
const LARGE = 4000;
/** Faces up to which a piece is done sooner than sent. */
const FEW = 60;

/**
 * Drafts of shapes, as many side by side as there are workers: small ones whole, large ones by their pieces.
 *
 * @throws Stopped when the work is stopped
 */
export async function draftShapes(
  inputs: readonly DraftInput[],
  context: Context,
  progress: (share: number) => void,
): Promise<Drafted[]> {
  const { pool } = context;
  const weights = inputs.map((i) => faceCount(i.mesh));
  const isLarge = (i: number): boolean => pool !== undefined && pool.width > 1 && weights[i]! >= LARGE;
  const large = inputs.map((_, i) => i).filter(isLarge);
  const small = inputs.map((_, i) => i).filter((i) => !isLarge(i));
  const sum = (list: readonly number[]) => list.reduce((n, i) => n + weights[i]!, 0);
  const total = sum(large) + sum(small) || 1;
  const shares = new Float64Array(inputs.length + 1);
  const tell = (at: number, share: number, weight: number) => {
    shares[at] = (share * weight) / total;
    progress(
      Math.min(
        1,
        shares.reduce((a, b) => a + b, 0),
      ),
    );
  };
  const out: Drafted[] = new Array(inputs.length);
  await Promise.all([
    spread(
      "draftShape",
      small.map((i) => inputs[i]!),
      small.map((i) => weights[i]!),
      context,
      (share) => tell(inputs.length, share, sum(small)),
    ).then((drafted) => {
      for (const [k, own] of drafted.entries()) out[small[k]!] = own;
    }),
    ...large.map(async (i) => {
      const { mesh, world, cost, ...options } = inputs[i]!;
      const source = sourceOf(mesh, world, cost);
      const onStep = (share: number) => tell(i, share, weights[i]!);
      out[i] = await draftStages(source, { ...options, onStep, pieces: piecesOn(pool!) });
    }),
  ]);
  return out;
}

/** Works on the pieces of sources on a pool. */
export const piecesOn =
  (pool: TaskRunner) =>
  ({ mesh, world, cost, topology, scratch }: Source): ((ask: PieceAsk) => Promise<PieceAnswer>) => {
    const known = { mesh, world, cost, topology, triangles: trianglesOf(mesh) };
    const here = { mesh, world, cost, topology, scratch };
    return async (ask) =>
      ask.faces.length <= FEW ? draftPiece(here, ask, () => {}) : pool.run("draftPiece", { ...known, ask });
  };
