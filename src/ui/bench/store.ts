import { create } from "zustand";
import type { Measures } from "@/core/check/measure";
import type { Summary } from "@/core/check/summary";
import type { Asset, PartId } from "@/core/layout/asset";
import type { AnyOperation, Note, Scope, SelectionKind, Stage } from "@/core/operations/operation";
import type { Faults } from "@/core/prepare/faults";
import type { HistoryState } from "@/server/assets";
import type { Mark } from "@/server/marks";
import type { Revision } from "@/server/revisions";

export const VIEWS = ["shaded", "swatch", "stretch", "tints"] as const;
export type View = (typeof VIEWS)[number];
export type Panes = "both" | "form" | "sheet";
export type Picked = ReadonlyMap<PartId, ReadonlySet<number>>;

/** What lies under the pointer: an element of a part, in the kind that is being picked. */
export interface Hover {
  readonly part: PartId;
  readonly face: number;
  readonly item: number;
}

/** What an operation last did here, in figures. */
export interface Outcome {
  readonly words: string;
  readonly before: Summary | null;
  readonly after: Summary | null;
  readonly notes: readonly Note[];
}

export interface Message {
  readonly tone: "info" | "refused";
  readonly words: string;
  readonly notes: readonly Note[];
}

export interface Selected {
  readonly kind: SelectionKind;
  readonly picked: Picked;
}

export interface Past {
  readonly steps: readonly Revision[];
  readonly marks: readonly Mark[];
}

export const SIDES = ["parts", "sets", "history"] as const;
export type Side = (typeof SIDES)[number];
export const BRIEF_PAGES = ["report", "parts", "files"] as const;
export type BriefPage = (typeof BRIEF_PAGES)[number];

export interface BenchState {
  asset: Asset | null;
  history: HistoryState | null;
  /** Index of the UV set worked on. */
  set: number;
  stage: Stage;
  view: View;
  wires: boolean;
  panes: Panes;
  kind: SelectionKind;
  picked: Picked;
  /** Edge picked last, from which a path starts. */
  lastEdge: { part: PartId; edge: number } | null;
  /** Rows picked in the parts list, instances for themselves. */
  rows: ReadonlySet<PartId>;
  /** Selections before this one, and those stepped back from. */
  pickedBefore: readonly Selected[];
  pickedAfter: readonly Selected[];
  /** What hinders UV work on the meshes; null while it is not known. */
  faults: Faults | null;
  /** Steps and marks, as last fetched. */
  past: Past | null;
  /** What the left column shows. */
  side: Side;
  brief: BriefPage;
  /** Edges a click would add, shown before it. */
  preview: Picked;
  hover: Hover | null;
  hidden: ReadonlySet<PartId>;
  measures: Measures | null;
  summary: Summary | null;
  stretch: ReadonlyMap<PartId, Float32Array>;
  running: { title: string; share: number } | null;
  outcomes: Readonly<Record<string, Outcome>>;
  message: Message | null;
  /** Another tab has changed the asset. */
  conflict: string | null;
  savedAt: Date | null;
  /** Options as set in the cards, by operation. */
  options: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  /** Counts requests to frame, with what is meant. */
  frame: { what: "selection" | "all"; count: number };
  /** Kept apart from `hidden`, so that isolating can be taken back. */
  hiddenBefore: ReadonlySet<PartId> | null;
}

export const EMPTY: Picked = new Map();

export const useBench = create<BenchState>(() => ({
  asset: null,
  history: null,
  set: 0,
  stage: "seams",
  view: "shaded",
  wires: true,
  panes: "both",
  kind: "edges",
  picked: EMPTY,
  lastEdge: null,
  rows: new Set<PartId>(),
  pickedBefore: [],
  pickedAfter: [],
  faults: null,
  past: null,
  side: "parts",
  brief: "report",
  preview: EMPTY,
  hover: null,
  hidden: new Set<PartId>(),
  measures: null,
  summary: null,
  stretch: new Map<PartId, Float32Array>(),
  running: null,
  outcomes: {},
  message: null,
  conflict: null,
  savedAt: null,
  options: {},
  frame: { what: "all", count: 0 },
  hiddenBefore: null,
}));

export const countPicked = (picked: Picked): number => {
  let sum = 0;
  for (const items of picked.values()) sum += items.size;
  return sum;
};

/** The scope an operation would act on now: what is picked, or everything visible. */
export function scopeNow(state: BenchState, op: AnyOperation): Scope {
  const parts = state.asset!.parts.filter((p) => !state.hidden.has(p.id)).map((p) => p.id);
  const items = op.acts === "parts" && state.rows.size ? wholeRows(state) : pickedItems(state);
  const kind = op.acts === "parts" && state.rows.size ? "faces" : state.kind;
  return { set: state.set, parts, ...(items.size ? { selection: { kind, items } } : {}) };
}

const pickedItems = (state: BenchState): Map<PartId, Uint32Array> =>
  new Map([...state.picked].filter(([, s]) => s.size).map(([id, s]) => [id, Uint32Array.from(s).sort()] as const));

/** Rows picked in the list stand for their parts, instances for themselves. */
const wholeRows = (state: BenchState): Map<PartId, Uint32Array> =>
  new Map(
    state
      .asset!.parts.filter((p) => state.rows.has(p.id))
      .map((p) => [p.id, Uint32Array.from({ length: p.mesh.faceStart.length - 1 }, (_, f) => f)] as const),
  );
