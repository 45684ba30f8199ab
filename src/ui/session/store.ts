import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Measures } from "@/core/check/measure";
import type { Summary } from "@/core/check/summary";
import type { StretchKind } from "@/core/check/triangle-stretch";
import type { Asset, PartId, ShapeId, UvSetId } from "@/core/layout/asset";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import type { AnyOperation, Note, Scope, SelectionKind, Stage } from "@/core/operations/operation";
import type { Faults } from "@/core/prepare/faults";
import type { HistoryState, Mark, Revision } from "@/wire/answers";
import type { Job } from "./jobs";

export const VIEWS = ["shaded", "swatch", "stretch", "tints"] as const;
export type View = (typeof VIEWS)[number];
export type Panes = "both" | "form" | "sheet";
/** Picked elements by shape; shells by their names. */
export type Picked = ReadonlyMap<ShapeId, ReadonlySet<number>>;

/** What lies under the pointer: an element of a shape, in the kind that is being picked. */
export interface Hover {
  readonly shape: ShapeId;
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
  readonly tone: "info" | "warning" | "refused";
  readonly words: string;
  readonly notes: readonly Note[];
}

export interface Selected {
  readonly kind: SelectionKind;
  readonly picked: Picked;
  /** The meshes its elements are of: on another mesh the same numbers mean others. */
  readonly meshes: ReadonlyMap<ShapeId, PolyMesh>;
}

export interface Past {
  readonly steps: readonly Revision[];
  readonly marks: readonly Mark[];
}

export const SIDES = ["parts", "shells", "sets", "history"] as const;
export type Side = (typeof SIDES)[number];
/** Pages of Brief: the headings of its operations. */
export const BRIEF_PAGES = ["Report", "Parts", "Files"] as const;
export type BriefPage = (typeof BRIEF_PAGES)[number];

export interface BenchState {
  asset: Asset | null;
  history: HistoryState | null;
  /** The UV set worked on. */
  set: UvSetId;
  stage: Stage;
  view: View;
  wires: boolean;
  panes: Panes;
  kind: SelectionKind;
  picked: Picked;
  /** Edge picked last, from which a path starts. */
  lastEdge: { shape: ShapeId; edge: number } | null;
  /** Parts picked in the list. */
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
  /** The row that is open as a card, by stage or page; null where all are closed, nothing where none was chosen yet. */
  opened: Readonly<Record<string, string | null>>;
  /** Operations whose cards stay open when another row is opened. */
  kept: ReadonlySet<string>;
  /** Edges a click would add, shown before it. */
  preview: Picked;
  hover: Hover | null;
  hidden: ReadonlySet<PartId>;
  /** How many parts are of each part's shape, as far as that was looked up. */
  alike: ReadonlyMap<PartId, number>;
  measures: Measures | null;
  summary: Summary | null;
  stretch: ReadonlyMap<ShapeId, Float32Array>;
  /** What the stretch view paints, and from which to which change of scale. */
  stretchKind: StretchKind;
  stretchLimit: number;
  /** How often the swatch stands across a tile. */
  swatchRepeats: number;
  /** Coordinates while shells follow the pointer, by shape. */
  live: ReadonlyMap<ShapeId, Float64Array>;
  jobs: readonly Job[];
  /** Edits that the database does not have yet, and whether the server answers. */
  unsaved: number;
  /** Counts steps that the server has: the history is fetched anew when it changes. */
  stepsKnown: number;
  answers: boolean;
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
  set: "",
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
  brief: "Report",
  opened: {},
  kept: new Set<string>(),
  preview: EMPTY,
  hover: null,
  hidden: new Set<PartId>(),
  alike: new Map<PartId, number>(),
  measures: null,
  summary: null,
  stretch: new Map<ShapeId, Float32Array>(),
  stretchKind: "area",
  stretchLimit: 1.25,
  swatchRepeats: 1,
  live: new Map<ShapeId, Float64Array>(),
  jobs: [],
  unsaved: 0,
  stepsKnown: 0,
  answers: true,
  outcomes: {},
  message: null,
  conflict: null,
  savedAt: null,
  options: {},
  frame: { what: "all", count: 0 },
  hiddenBefore: null,
}));

/** Some of the state, for a component that is drawn anew only when one of these differs. */
export const useBenchOf = <K extends keyof BenchState>(...keys: readonly K[]): Pick<BenchState, K> =>
  useBench(useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as unknown as Pick<BenchState, K>));

/** Opens the row of an operation in its stage or on its page, in place of the one that is open; null closes it. */
export const openRow = (place: string, operation: string | null): void =>
  useBench.setState(({ opened }) => ({ opened: { ...opened, [place]: operation } }));

/** Keeps an operation's card open beside the others, or no longer. */
export const keepOpen = (operation: string, on: boolean): void =>
  useBench.setState(({ kept }) => {
    const next = new Set(kept);
    if (on) next.add(operation);
    else next.delete(operation);
    return { kept: next };
  });

export const countPicked = (picked: Picked): number => {
  let sum = 0;
  for (const items of picked.values()) sum += items.size;
  return sum;
};

/** The scope an operation would act on now: what is picked, or everything visible. */
export function scopeNow(state: BenchState, op: AnyOperation): Scope {
  const parts = state.asset!.parts.filter((p) => !state.hidden.has(p.id)).map((p) => p.id);
  if (op.acts === "parts" && state.rows.size) return { set: state.set, parts, picked: [...state.rows] };
  const items = new Map(
    [...state.picked].filter(([, s]) => s.size).map(([id, s]) => [id, Uint32Array.from(s).sort()] as const),
  );
  return { set: state.set, parts, ...(items.size ? { selection: { kind: state.kind, items } } : {}) };
}
