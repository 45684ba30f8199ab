import { createStore, type StoreApi } from "zustand/vanilla";
import type { Proposals } from "@/compute/proposals";
import type { TriedOut } from "@/compute/tried-out";
import type { Measures } from "@/core/check/measure";
import type { Summary } from "@/core/check/summary";
import type { Asset, PartId, ShapeId, UvSetId } from "@/core/layout/asset";
import type { ShellRef } from "@/core/layout/layout";
import type { PUSHES, SnapTo, STOPS } from "@/core/layout/snap-targets";
import type { PolyMesh } from "@/core/mesh/poly-mesh";
import type { AnyOperation, Note, Scope, SelectionKind } from "@/core/operations/operation";
import type { Faults } from "@/core/prepare/faults";
import type { ElementSet } from "@/core/select/element-set";
import type { Weights } from "@/core/select/falloff";
import type { MirrorImages } from "@/core/select/mirrored";
import type { HistoryState, Mark, Revision } from "@/wire/answers";
import { type Looks, PLAIN_LOOKS } from "./look-choices";
import type { OwnSwatch } from "./swatches";

export type Panes = "both" | "form" | "sheet";
/** Picked elements by shape, none of them empty; shells by their names. */
export type Picked = ReadonlyMap<ShapeId, ElementSet>;

/** What lies under the pointer: an element of a shape, in the kind that is being picked. */
export interface Hover {
  readonly shape: ShapeId;
  readonly face: number;
  readonly item: number;
  /** The part that is seen there. */
  readonly part?: PartId;
}

/** A vertex of a shape. */
export interface Stop {
  readonly shape: ShapeId;
  readonly vertex: number;
}

/** Joins that are proposed one by one. */
export interface OneByOne {
  /** What is joined: what was picked when it began, or everything visible. */
  readonly scope: Scope;
  /** Borders that were skipped. */
  readonly skipped: readonly string[];
  /** What is picked while a join is proposed. */
  readonly proposed: Picked | null;
}

/** What the thread tool has laid so far: vertices that were clicked, and the paths between them. */
export interface Thread {
  readonly shape: ShapeId;
  readonly stops: readonly number[];
  /** Edges from each stop to the next; null while they are looked for. */
  readonly pieces: ReadonlyArray<readonly number[] | null>;
  /** Enter was pressed while a piece was still looked for. */
  readonly keeping: boolean;
}

/** A way on from where picked edges end. */
export interface Branch {
  readonly shape: ShapeId;
  readonly edges: readonly number[];
}

export type Pane = "form" | "sheet";

/** Sides from which the form can be looked at, along an axis. */
export const AXIS_SIDES = ["front", "back", "left", "right", "top", "bottom"] as const;
export type AxisSide = (typeof AXIS_SIDES)[number];

/** How shells are moved under the pointer: tiles, degrees, and times. */
export interface Motion {
  readonly du: number;
  readonly dv: number;
  readonly turn: number;
  readonly scale: number;
  /** Along one axis alone. */
  readonly scaleU?: number;
  readonly scaleV?: number;
}

/** What a tool shows over its pane while it is at work; pixels from the pane's top left. */
export type Overlay =
  | { readonly kind: "box"; readonly box: readonly [left: number, top: number, right: number, bottom: number] }
  | { readonly kind: "line"; readonly points: ReadonlyArray<readonly [number, number]> }
  | { readonly kind: "disc"; readonly x: number; readonly y: number; readonly radius: number }
  | { readonly kind: "motion"; readonly motion: Motion };

/** Something that stands at a point of a pane, pixels from its top left. */
interface AtPoint {
  readonly pane: Pane;
  readonly x: number;
  readonly y: number;
}

/** Why something cannot be picked or is left as it is, and the press that changes that. */
export interface PaneNotice extends AtPoint {
  readonly words: string;
  readonly cure?: { readonly act: "unlock" | "show"; readonly part: PartId };
}

/** Shells that lie on one another, each by its face there: one of them is to be chosen. */
export interface Stack extends AtPoint {
  readonly shells: readonly ShellRef[];
}

/** What is picked, or every shell in view, looked at piece by piece: those that hang together, the smallest first. */
export interface Review {
  readonly picked: Picked;
  readonly kind: SelectionKind;
  readonly pieces: ReadonlyArray<{ readonly shape: ShapeId; readonly items: Uint32Array }>;
  readonly at: number;
}

/** What an operation last did here, in figures. */
export interface Outcome {
  readonly words: string;
  readonly before: Summary | null;
  readonly after: Summary | null;
  readonly notes: readonly Note[];
}

/** What an edit would come to. */
export interface Trial extends TriedOut {
  readonly operation: string;
}

export interface Message {
  readonly tone: "info" | "warning" | "refused";
  readonly words: string;
  readonly notes: readonly Note[];
  /** What would work instead of what was refused. */
  readonly offers?: readonly Instead[];
}

/** An operation with other options than those that it was refused with. */
export interface Instead {
  readonly title: string;
  readonly operation: string;
  readonly options: Readonly<Record<string, unknown>>;
}

/** Work that is shown in the status line, where it can be stopped. */
export interface Job {
  readonly id: number;
  readonly title: string;
  readonly share: number;
  /** What it had reached after how many seconds, from 0 to 1: where it tells that. */
  readonly curve: ReadonlyArray<{ readonly seconds: number; readonly reached: number }>;
  stop(): void;
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

export interface BenchState extends Looks {
  asset: Asset | null;
  /** What was shown before the last step, and whether the panes show that now. */
  before: {
    readonly asset: Asset;
    readonly stretch: ReadonlyMap<ShapeId, Float32Array>;
    /** The mark that it is, where one was chosen: it stays until it is let go. */
    readonly mark?: string;
  } | null;
  peek: boolean;
  history: HistoryState | null;
  /** The UV set worked on. */
  set: UvSetId;
  panes: Panes;
  /** The pane that the pointer was in last: keys that are about one pane mean it. */
  inUse: Pane;
  kind: SelectionKind;
  /** Whole parts are picked, by any of their faces. */
  wholeParts: boolean;
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
  /** What styles of seams would come to, on the asset as it was then. */
  proposals: (Proposals & { readonly asset: Asset }) | null;
  /** What the open card would come to, drawn into the sheet before it is done. */
  trial: Trial | null;
  /** While joins are proposed one by one. */
  oneByOne: OneByOne | null;
  /** Steps and marks, as last fetched. */
  past: Past | null;
  /** What the left column shows. */
  side: Side;
  brief: BriefPage;
  /** The row that is open as a card, by stage or page; null where all are closed, nothing where none was chosen yet. */
  opened: Readonly<Record<string, string | null>>;
  /** Operations whose cards stay open when another row is opened. */
  kept: ReadonlySet<string>;
  /** What the thread tool has laid, and the vertex it points at. */
  thread: Thread | null;
  threadAt: Stop | null;
  /** Ways on from the ends of what is picked, while they are shown. */
  branches: readonly Branch[];
  /** Edges a click would add, shown before it. */
  preview: Picked;
  /** While points are moved with a falloff: how much of it each takes. */
  weights: ReadonlyMap<ShapeId, Weights>;
  hover: Hover | null;
  /** The point of the sheet that the pointer is at, u and v. */
  hoverUv: readonly [number, number] | null;
  notice: PaneNotice | null;
  stack: Stack | null;
  /** While picks are mirrored: across which axis, and the images that are known, each of a mesh. */
  mirror: { readonly axis: "x" | "y" | "z"; readonly images: ReadonlyMap<PolyMesh, MirrorImages> } | null;
  review: Review | null;
  hidden: ReadonlySet<PartId>;
  /** Faces that are isolated, by shape: of these shapes nothing else is shown. Null while whole parts are. */
  alone: Picked | null;
  /** Names of materials whose faces are hidden. */
  hiddenMaterials: ReadonlySet<string>;
  /** How many parts are of each part's shape, as far as that was looked up. */
  alike: ReadonlyMap<PartId, number>;
  measures: Measures | null;
  summary: Summary | null;
  stretch: ReadonlyMap<ShapeId, Float32Array>;
  /** Coordinates while shells follow the pointer, by shape. */
  live: ReadonlyMap<ShapeId, Float64Array>;
  jobs: readonly Job[];
  /** Edits that the database does not have yet, and whether the server answers. */
  unsaved: number;
  /** Counts steps that the server has: the history is fetched again when it changes. */
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
  frame: { what: "selection" | "all"; count: number; only?: { readonly kind: SelectionKind; readonly picked: Picked } };
  /** The way from the asset to who looks at Form, while it is drawn. */
  eye: (() => readonly [number, number, number]) | null;
  /** Counts requests to look at the form from a side. */
  lookFrom: { readonly side: AxisSide; readonly count: number };
  /** Kept apart from `hidden`, so that isolating can be taken back. */
  hiddenBefore: ReadonlySet<PartId> | null;
  /** The state that the panes are in, by its name. */
  tool: string;
  /** Drags also pick what lies behind what is seen. */
  through: boolean;
  /** Of the brush, pixels. */
  brushRadius: number;
  /** Pictures that lie on single parts in place of the swatch. */
  partSwatches: ReadonlyMap<PartId, OwnSwatch>;
  /** What is shown over a pane while a tool is at work. */
  /** What shells and points that are moved under the pointer keep to. */
  snap: SnapTo | typeof STOPS | typeof PUSHES | "off";
  overlay: { readonly pane: Pane; readonly shape: Overlay } | null;
}

/** The state in which a drag picks in a box. */
export const PLAIN_TOOL = "box";

export const EMPTY: Picked = new Map();

/** What is shown of an opened asset, and of the work on it; one for every session. */
export type Bench = StoreApi<BenchState>;

const FRESH: BenchState = {
  ...PLAIN_LOOKS,
  asset: null,
  snap: "off",
  before: null,
  peek: false,
  history: null,
  set: "",
  panes: "both",
  inUse: "form",
  kind: "edges",
  wholeParts: false,
  picked: EMPTY,
  lastEdge: null,
  rows: new Set<PartId>(),
  pickedBefore: [],
  pickedAfter: [],
  faults: null,
  proposals: null,
  trial: null,
  eye: null,
  oneByOne: null,
  past: null,
  side: "parts",
  brief: "Report",
  opened: {},
  kept: new Set<string>(),
  thread: null,
  threadAt: null,
  branches: [],
  preview: EMPTY,
  weights: new Map<ShapeId, Weights>(),
  hover: null,
  hoverUv: null,
  notice: null,
  stack: null,
  mirror: null,
  review: null,
  hidden: new Set<PartId>(),
  alone: null,
  hiddenMaterials: new Set<string>(),
  alike: new Map<PartId, number>(),
  measures: null,
  summary: null,
  stretch: new Map<ShapeId, Float32Array>(),
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
  lookFrom: { side: "front", count: 0 },
  hiddenBefore: null,
  tool: PLAIN_TOOL,
  through: false,
  brushRadius: 18,
  partSwatches: new Map<PartId, OwnSwatch>(),
  overlay: null,
};

/** A radius of the brush within its bounds: from a few pixels to a large part of a pane. */
export const brushWithin = (radius: number): number => Math.min(200, Math.max(4, radius));

/** @param more what differs from how a session begins */
export const newBench = (more: Partial<BenchState> = {}): Bench =>
  createStore<BenchState>(() => ({ ...FRESH, ...more }));

/** Opens the row of an operation in its stage or on its page, in place of the one that is open; null closes it. */
export const openRow = (bench: Bench, place: string, operation: string | null): void =>
  bench.setState(({ opened }) => ({ opened: { ...opened, [place]: operation } }));

/** Keeps an operation's card open beside the others, or no longer. */
export const keepOpen = (bench: Bench, operation: string, on: boolean): void =>
  bench.setState(({ kept }) => {
    const next = new Set(kept);
    if (on) next.add(operation);
    else next.delete(operation);
    return { kept: next };
  });

/** What was shown is what was before, from now on; a mark that was chosen stays. */
export const nowBefore = ({ asset, stretch, before }: BenchState): Pick<BenchState, "before" | "peek"> => ({
  before: before?.mark === undefined ? asset && { asset, stretch } : before,
  peek: false,
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
  // With nothing picked everything in view is meant: while faces are isolated, those.
  const meant = state.picked.size || !state.alone ? state : { kind: "faces" as const, picked: state.alone };
  const items = new Map([...meant.picked].flatMap(([id, s]) => (s.size ? [[id, s.items()] as const] : [])));
  // All that is in view may be nothing.
  if (meant !== state && !items.size) return { set: state.set, parts: [] };
  return { set: state.set, parts, ...(items.size ? { selection: { kind: meant.kind, items } } : {}) };
}
