import { layLike } from "@/core/operations/registry";
import { count } from "@/core/operations/words";
import { runOperation, setOption } from "./actions";
import type { BenchSession } from "./bench-session";
import { say } from "./say";

/** Remembers the picked shells, whose layout others are to take. */
export function copyLayout(session: BenchSession): void {
  const { bench } = session;
  const { kind, picked } = bench.getState();
  const names =
    kind === "shells" ? [...picked].flatMap(([shape, faces]) => [...faces].map((f) => `${shape}/${f}`)) : [];
  if (!names.length) {
    say(bench, "Pick the shells whose layout is to be copied.", "refused");
    return;
  }
  setOption(session, layLike.id, "from", names.join(" "));
  say(bench, `Layout of ${count(names.length, "shell")} copied: pick others and paste it.`);
}

/** Lays the picked shells like those that were copied. */
export const pasteLayout = (session: BenchSession): Promise<void> => runOperation(session, layLike);
