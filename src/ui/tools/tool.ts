import type { Dab } from "@/core/layout/stroke";
import type { SelectionKind } from "@/core/operations/operation";
import type { LiveMove } from "../session/live-move";
import type { PickMode, Stroke } from "../session/selection";
import type { Hover, Overlay, Pane, Picked, Stop } from "../session/store";
import type { Region } from "./region";

/** Where the pointer is in a pane, pixels from its top left, and what is held with it. */
export interface At {
  readonly x: number;
  readonly y: number;
  readonly shift: boolean;
  readonly ctrl: boolean;
  readonly alt: boolean;
  /** The handle that was taken hold of, where one was. */
  readonly grip?: Grip | undefined;
}
export type Grip = "move" | "turn" | "scale" | "scale-u" | "scale-v";

/** What tools work with: a pane, what it shows, and the selection. */
export interface ToolBench {
  readonly pane: Pane;
  /** The item at a point; null for none. */
  itemAt(x: number, y: number): Hover | null;
  /** Items within a region, seen or also those behind, as is set. */
  itemsIn(region: Region): Picked;
  /** Picks what lies in a region. */
  pickIn(region: Region, mode: PickMode): void;
  /** Begins a selection that is made bit by bit. */
  beginStroke(): Stroke;
  /** The middle of what is picked in Sheet, in pixels; null when no shells or UV points are picked. */
  pivot(): readonly [number, number] | null;
  /** Pixels to a tile. */
  scale(): number;
  /** Of the brush, pixels. */
  brushRadius(): number;
  setBrushRadius(radius: number): void;
  /** Lets the picked shells or points follow; null when they cannot be moved. @param from where they are taken hold of */
  beginMove(from: At): Promise<LiveMove | null>;
  /** Lets the shells of the picked points follow them; null when they cannot be pulled. */
  beginPull(): Promise<LiveMove | null>;
  /** Begins a stroke of the relax brush; null when there is nothing to draw over. */
  beginRelax(): Promise<LiveMove<{ readonly stroke: string }> | null>;
  /** Where on the sheet a point of Sheet lies; null in Form. */
  placeAt(x: number, y: number): readonly [u: number, v: number] | null;
  /** The dab of a brush that lies under a point; null beside everything in Form. */
  dabAt(x: number, y: number): Dab | null;
  /** Picks the UV point nearest to a place, where it is not picked yet. @returns whether there is one */
  takePoint(x: number, y: number): boolean;
  /** Keeps a rectangle of the sheet for a packing; tiles. */
  drawPlot(box: { readonly u0: number; readonly v0: number; readonly u1: number; readonly v1: number }): void;
  show(overlay: Overlay | null): void;
  /** The vertex that is nearest to a point, on the face seen there. */
  vertexAt(x: number, y: number): Stop | null;
  readonly thread: ThreadBench;
  /** Takes the branch that an edge belongs to, of those that are shown. @returns whether there is one */
  takeBranch(at: Hover): boolean;
}

/** What the thread tool does on the bench. */
export interface ThreadBench {
  point(at: Stop | null): void;
  lay(at: Stop): void;
  keep(): void;
}

/** One drag of the pointer, from the press to the release. */
export interface Drag {
  move(at: At): void;
  end(at: At): void;
  /** Takes it back: everything is as it was before. */
  drop(): void;
}

/** A state of the panes: what a drag does. A click picks in every one of them, but where the tool takes it. */
export interface Tool {
  readonly id: string;
  readonly title: string;
  /** One sentence on what a drag does. */
  readonly about: string;
  readonly key: string;
  readonly cursor: string;
  /** Kinds of elements that it works on: what is picked of another becomes the first of them when it is taken. */
  readonly works?: readonly SelectionKind[];
  /** With it UV points near those that are moved follow, as the falloff says. */
  readonly fades?: true;
  /** What is shown where the pointer rests. */
  resting?(bench: ToolBench, at: At): Overlay;
  /** The pointer rests at a point, or has left the pane. */
  point?(bench: ToolBench, at: At | null): void;
  /** A click of the tool's own. @returns whether it was one; if not, it picks */
  click?(bench: ToolBench, at: At): boolean;
  /** A double click of the tool's own, in the same way. */
  doubleClick?(bench: ToolBench): boolean;
  /** Begins a drag; null where it has nothing to work on, and the plain one is begun instead. */
  begin(bench: ToolBench, from: At): Drag | null;
}

export const modeOf = ({ shift, ctrl }: At): PickMode => (shift ? "add" : ctrl ? "remove" : "replace");
