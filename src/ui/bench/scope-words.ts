import type { AnyOperation } from "@/core/operations/operation";
import { count } from "@/core/operations/words";
import { picksAs } from "../session/selection";
import { type BenchState, countPicked } from "../session/store";

/** What the words follow from. */
export const SCOPE_KEYS = ["asset", "set", "kind", "picked", "hidden", "alone", "rows"] as const;
type ScopeState = Pick<BenchState, (typeof SCOPE_KEYS)[number]>;

const PICK_FIRST = {
  shells: "Pick shells first, in a pane or in the list of shells.",
  parts: "Pick parts in the list, or faces in a pane, first.",
};

/** What an operation would act on, in a sentence; and whether it can run at all. */
export function scopeWords(op: AnyOperation, state: ScopeState): { words: string; ready: boolean } {
  const { asset, set, kind, picked, hidden } = state;
  const visible = asset!.parts.filter((p) => !hidden.has(p.id));
  const n = countPicked(picked);
  if (op.acts === "edges") {
    if (kind === "edges" && n)
      return { words: `Acts on ${count(n, "edge")} on ${count(picked.size, "part")}.`, ready: true };
    return { words: "Pick edges first: click one, double click for its loop, Alt click for a path.", ready: false };
  }
  if (op.kind === "export") return { words: `Writes all ${count(asset!.parts.length, "part")}.`, ready: true };
  if (op.picks && !n && !state.rows.size)
    return { words: PICK_FIRST[op.acts === "shells" ? "shells" : "parts"], ready: false };
  if (op.acts === "asset") return { words: op.about, ready: true };
  if (op.acts === "parts" && state.rows.size)
    return { words: `Acts on ${count(state.rows.size, "part")}.`, ready: true };
  if (!visible.length && !n) return { words: "Everything is hidden.", ready: false };
  if (!n && state.alone) {
    const faces = countPicked(state.alone);
    if (!faces) return { words: "Everything is hidden.", ready: false };
    return { words: `Acts on what is in view: ${count(faces, "face")}.`, ready: true };
  }
  if (!n) return { words: `Acts on everything visible: ${count(visible.length, "part")}.`, ready: visible.length > 0 };
  if (op.acts === "parts") return { words: `Acts on ${count(picked.size, "part")}.`, ready: true };
  const kinds = op.acts === "faces" ? "faces" : "shells";
  let touched = 0;
  for (const [id, items] of picked) touched += picksAs(asset!, set, id, items, kind, kinds).size;
  return {
    words: `Acts on ${count(touched, op.acts === "faces" ? "face" : "shell")} on ${count(picked.size, "part")}.`,
    ready: true,
  };
}
