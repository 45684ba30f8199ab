import { facesOfShell, shellNamed, structureOf } from "@/core/layout/layout";
import type { Scope } from "@/core/operations/operation";
import { assemble, join, lockSeams, nextJoin } from "@/core/operations/registry";
import { layoutOf } from "@/core/operations/scope";
import { runOperation } from "./actions";
import type { BenchSession } from "./bench-session";
import { say } from "./say";
import { picksAs } from "./selection";
import { type BenchState, type OneByOne, scopeNow } from "./store";

/** Why seams stay that are kept open while joins are proposed. */
const KEPT_OPEN = "kept open";

/** What is picked, as faces: shells have other names once they are joined. Picked edges and points are none. */
function scopeOf(state: BenchState): Scope {
  const { asset, set, rows } = state;
  const { parts, selection } = scopeNow(state, nextJoin);
  if (rows.size) return { set, parts, picked: [...rows] };
  if (selection?.kind === "faces") return { set, parts, selection };
  if (selection?.kind !== "shells") return { set, parts };
  const items = [...selection.items].map(([id, names]) => {
    const shape = asset!.shapes.get(id)!;
    const s = structureOf(shape.mesh, layoutOf(shape, set));
    const faces = Array.from(names).flatMap((name) => {
      const shell = shellNamed(s, name);
      return shell === null ? [] : [...facesOfShell(s, shell)];
    });
    return [id, Uint32Array.from(faces).sort()] as const;
  });
  return { set, parts, selection: { kind: "faces", items: new Map(items) } };
}

/** Picks the border that is best joined next. */
async function propose(session: BenchSession, of: OneByOne): Promise<void> {
  const { bench } = session;
  bench.setState({ oneByOne: { ...of, proposed: null } });
  const options = { ...bench.getState().options[assemble.id], skip: of.skipped.join(" ") };
  await session.select(nextJoin.title, nextJoin.id, options, of.scope, () => {
    const { asset, set, picked, frame } = bench.getState();
    // Both shells, so that one sees what would be joined.
    const shells = new Map([...picked].map(([id, edges]) => [id, picksAs(asset!, set, id, edges, "edges", "shells")]));
    bench.setState({
      oneByOne: { ...of, proposed: picked },
      frame: { what: "selection", count: frame.count + 1, only: { kind: "shells", picked: shells } },
    });
  });
}

/** The run that is under way, and whether what it proposed is still what is picked. */
function current({ oneByOne, set, picked }: BenchState): { of: OneByOne; isPicked: boolean } | null {
  if (!oneByOne || oneByOne.scope.set !== set) return null;
  return { of: oneByOne, isPicked: oneByOne.proposed !== null && oneByOne.proposed === picked };
}

/** Joins what is proposed and proposes the next; where nothing is, it begins. */
export async function joinNext(session: BenchSession): Promise<void> {
  const { bench } = session;
  const state = bench.getState();
  if (!state.asset) return;
  const run = current(state);
  if (!run) return propose(session, { scope: scopeOf(state), skipped: [], proposed: null });
  if (!run.isPicked) return propose(session, run.of);
  await runOperation(session, join);
  // Refused, it stays picked, with the reason said: it can be skipped.
  if (bench.getState().asset !== state.asset) await propose(session, run.of);
}

/** Proposes another join in place of this one. @param forGood locks the seams, so that nothing else joins them either */
export async function skipJoin(session: BenchSession, forGood: boolean): Promise<void> {
  const { bench } = session;
  const run = current(bench.getState());
  if (!run?.isPicked) {
    say(bench, "Nothing is proposed: begin with the first join.");
    return;
  }
  if (forGood) {
    await runOperation(session, lockSeams, { reason: KEPT_OPEN });
    return propose(session, run.of);
  }
  const keys = [...run.of.proposed!].map(([shape, edges]) => `${shape}:${edges.items()[0]}`);
  return propose(session, { ...run.of, skipped: [...run.of.skipped, ...keys] });
}

/** Begins anew the next time: with what is picked by then, and nothing skipped. */
export const endOneByOne = ({ bench }: BenchSession): void => bench.setState({ oneByOne: null });
