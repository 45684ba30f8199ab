import { proxy } from "comlink";
import type { Proposal } from "@/compute/proposals";
import { placedShape } from "@/core/layout/asset";
import { UserError } from "@/core/layout/user-error";
import { Stopped } from "@/core/operations/operation";
import { OPERATIONS, operationById } from "@/core/operations/registry";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import type { BenchSession } from "./bench-session";
import { asJob } from "./jobs";
import { say } from "./say";
import { clearPicked, pickMany, setKind } from "./selection";
import { EMPTY, type Picked, scopeNow } from "./store";

/** A style that has something to propose. */
export type Found = Extract<Proposal, { readonly figures: unknown }>;

/** Looks what every style of seams would come to, with the options its card has, on what is picked or visible. */
export async function compareProposals(session: BenchSession): Promise<void> {
  const { bench } = session;
  const state = bench.getState();
  const { asset } = state;
  if (!asset) return;
  const wanted = OPERATIONS.filter((op) => op.proposes).map((op) => ({
    operation: op.id,
    options: { ...state.options[op.id], ...op.given },
    scope: scopeNow(state, op),
  }));
  try {
    const found = await asJob(bench, "Compare proposals", (flag, progress) =>
      session.lookUp((remote, revision) => remote.proposals(revision, wanted, { flag: flag.shared }, proxy(progress))),
    );
    if (found) bench.setState({ proposals: { asset, ...found } });
  } catch (error) {
    if (error instanceof Stopped || error instanceof UserError) say(bench, error.message);
    else say(bench, `The comparison failed: ${(error as Error).message}`, "refused");
  }
}

/** Shows in both panes which edges a style would cut; nothing for none. */
export function previewProposal({ bench }: BenchSession, proposal: Found | null): void {
  bench.setState({ preview: proposal ? edgesOf(bench.getState().asset!, proposal) : EMPTY });
}

const edgesOf = (asset: Parameters<typeof placedShape>[0], { edges }: Found): Picked =>
  new Map([...edges].map(([id, own]) => [id, ElementSet.of(elementCount(placedShape(asset, id).mesh, "edges"), own)]));

/** Picks the edges that a style would cut, to be changed by hand before they are. */
export function pickProposal({ bench }: BenchSession, proposal: Found): void {
  setKind(bench, "edges");
  clearPicked(bench);
  pickMany(bench, new Map([...proposal.edges].map(([id, edges]) => [id, [...edges]])), "add");
  bench.setState({ preview: EMPTY });
  say(bench, "Its edges are picked: add and take away as ever, then Cut.");
}

/** Takes a proposal as it was shown, whatever has been picked since. */
export async function takeProposal(session: BenchSession, { operation, options, scope }: Found): Promise<void> {
  previewProposal(session, null);
  await session.edit(operationById(operation).title, operation, options, scope);
}
