import type { Asset, ShapeId } from "../core/layout/asset";
import { UserError } from "../core/layout/user-error";
import type { Context, Scope } from "../core/operations/operation";
import { runEdit } from "../core/operations/run";
import { shapesInScope } from "../core/operations/scope";
import { draftPiece } from "../core/seams/draft-piece";
import { addedSeams, type ProposalFigures, proposalFigures } from "../core/seams/proposal-figures";
import { piecesOn } from "../core/tasks/draft-shapes";

/** A style of seams, as it would be run. */
export interface WantedProposal {
  readonly operation: string;
  readonly options: unknown;
  readonly scope: Scope;
}

/** What a style would come to, or why it has nothing to propose. */
export type Proposal =
  | {
      readonly operation: string;
      readonly options: unknown;
      readonly scope: Scope;
      readonly figures: ProposalFigures;
      /** Edges that would become seams, by shape. */
      readonly edges: ReadonlyMap<ShapeId, Uint32Array>;
    }
  | { readonly operation: string; readonly refused: string };

export interface Proposals {
  /** The seams that are there. */
  readonly present: ProposalFigures;
  readonly list: readonly Proposal[];
}

/** Runs styles of seams on an asset, which stays as it is, and measures each. @throws Stopped */
export async function proposals(
  asset: Asset,
  wanted: readonly WantedProposal[],
  seen: ReadonlyMap<ShapeId, Float32Array>,
  context: Context,
): Promise<Proposals> {
  const { set } = wanted[0]!.scope;
  const shapes = new Set(shapesInScope(asset, wanted[0]!.scope).map((s) => s.id));
  // Each style has its own share of the work: half to be found, half to be measured.
  const share = (i: number, of: number) => context.progress((i + of) / (wanted.length + 1));
  const measured = (edited: Asset, i: number) =>
    proposalFigures(edited, {
      set,
      shapes,
      seen,
      piecesOf: context.pool
        ? piecesOn(context.pool)
        : (source) => async (ask) => draftPiece(source, ask, () => context.check?.()),
      onStep: (of) => share(i, 0.5 + of / 2),
    });
  const present = await measured(asset, 0);
  const list: Proposal[] = [];
  for (const [k, { operation, options, scope }] of wanted.entries()) {
    try {
      const progress = (of: number) => share(k + 1, of / 2);
      const { asset: edited } = await runEdit(asset, operation, options, scope, { ...context, progress });
      const figures = await measured(edited, k + 1);
      list.push({ operation, options, scope, figures, edges: addedSeams(asset, edited, set) });
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      list.push({ operation, refused: error.message });
    }
  }
  return { present, list };
}
