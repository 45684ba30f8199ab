import { placedShape, type ShapeId } from "@/core/layout/asset";
import { elementWords } from "@/core/operations/words";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import type { BenchSession } from "./bench-session";
import { say } from "./say";
import { allPicked, pick } from "./selection";
import type { Bench, BenchState, Picked, Review } from "./store";

/** What is to be looked at: what is picked, or every shell in view. */
const meant = (state: BenchState): Pick<Review, "kind" | "picked"> =>
  state.picked.size ? state : { kind: "shells", picked: allPicked(state, "shells") };

/** The review that is under way, if it is of what is picked now. */
function current(state: BenchState): Review | null {
  const { review } = state;
  if (!review) return null;
  const { kind, picked } = state.picked.size ? state : review;
  return review.kind === kind && review.picked === picked ? review : null;
}

const lookedAt = (asset: BenchState["asset"], { kind, pieces, at }: Review): Picked => {
  const { shape, items } = pieces[at]!;
  return new Map<ShapeId, ElementSet>([
    [shape, ElementSet.of(elementCount(placedShape(asset!, shape).mesh, kind), items)],
  ]);
};

/** Frames the next piece of what is picked, or the one before; with nothing picked the next shell in view. */
export async function reviewNext(session: BenchSession, by: 1 | -1): Promise<void> {
  const { bench } = session;
  const before = current(bench.getState());
  let review = before;
  if (!review) {
    const { kind, picked } = meant(bench.getState());
    const items = new Map([...picked].map(([id, s]) => [id, s.items()] as const));
    const pieces = await session.lookUp((remote, revision) => remote.groups(revision, { kind, items }));
    if (!pieces) return;
    review = { kind, picked, pieces, at: by > 0 ? -1 : 0 };
  }
  const count = review.pieces.length;
  if (!count) {
    say(bench, "There is nothing in view to look at.");
    return;
  }
  const next = { ...review, at: (review.at + by + count) % count };
  const { asset, frame } = bench.getState();
  const piece = next.pieces[next.at]!;
  // A shell that is not picked is lit, so that it is told from its neighbours.
  const lit = next.kind === "shells" && !bench.getState().picked.size && bench.getState().kind === "shells";
  const [face] = piece.items;
  bench.setState({
    ...(lit ? { hover: { shape: piece.shape, face: face!, item: face! } } : {}),
    review: next,
    frame: { what: "selection", count: frame.count + 1, only: { kind: next.kind, picked: lookedAt(asset, next) } },
  });
  const name = placedShape(asset!, piece.shape).name;
  const words = next.kind === "shells" ? "a shell" : elementWords(piece.items.length, next.kind);
  say(bench, `${next.at + 1} of ${count}: ${words} of ${name}.`);
}

/** Lets go of the piece that is looked at; the others stay picked. */
export function letGoOfPiece(bench: Bench): void {
  const state = bench.getState();
  const review = current(state);
  if (!review || !state.picked.size || review.at < 0) {
    say(bench, "Look at a piece of what is picked first: Review, the next piece.");
    return;
  }
  const { shape, items } = review.pieces[review.at]!;
  pick(bench, shape, items, "remove");
  const pieces = review.pieces.filter((_, i) => i !== review.at);
  // The next step leads to the piece after the one that was let go.
  bench.setState({ review: { ...review, pieces, picked: bench.getState().picked, at: review.at - 1 } });
}
