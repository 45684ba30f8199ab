import type { ShapeId } from "@/core/layout/asset";
import { placesOfBits } from "@/core/layout/bits";
import { lockedEdges } from "@/core/layout/seam-locks";
import { topologyOf } from "@/core/mesh/topology";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";
import type { ChunkView } from "./chunk-view";
import type { Shown } from "./differences";
import type { ShapeSlot } from "./shape-slot";
import { edgesOfWorst } from "./worst-face";

/** What is drawn of shapes, as far as their chunks are filled in. */
interface DrawnShapes {
  slotOf(id: ShapeId): ShapeSlot | undefined;
  eachView(id: ShapeId, act: (view: ChunkView) => void): void;
}

/** Marks elements in both panes: what is picked, lit up, previewed or locked. */
export class Marks {
  /** The shape with the outlined face. */
  private worstOf: ShapeId | null = null;

  constructor(private readonly drawn: DrawnShapes) {}

  picked(id: ShapeId, { kind, picked }: Shown): void {
    const items = picked.get(id) ?? null;
    this.drawn.slotOf(id)?.setPicked(kind, items);
    const lines = kind === "faces" || kind === "shells" ? null : items;
    this.drawn.eachView(id, (view) => view.setMarked(id, "picked", kind, lines));
  }

  /** Lays a ribbon under the seams of a shape that are locked. */
  locked(id: ShapeId, { asset, set }: Shown): void {
    const shape = asset!.shapes.get(id)!;
    const bits = asset!.seamLocks.length ? lockedEdges(asset!, set, shape) : null;
    const edges = bits && ElementSet.of(topologyOf(shape.mesh).edgeCount, placesOfBits(bits));
    this.drawn.eachView(id, (view) => view.setMarked(id, "locked", "edges", edges));
  }

  preview(id: ShapeId, { preview }: Shown): void {
    this.drawn.eachView(id, (view) => view.setMarked(id, "preview", "edges", preview.get(id) ?? null));
  }

  /** Outlines the face that is stretched most, in panes that show stretch. */
  worst({ asset, stretch, view }: Shown): void {
    const isShown = view.form === "stretch" || view.sheet === "stretch";
    const worst = isShown && asset ? edgesOfWorst(asset, stretch) : null;
    const before = this.worstOf;
    this.worstOf = worst?.shape ?? null;
    if (before !== null && before !== this.worstOf)
      this.drawn.eachView(before, (v) => v.setMarked(before, "worst", "edges", null));
    if (worst)
      this.drawn.eachView(worst.shape, (v) =>
        v.setMarked(worst.shape, "worst", "edges", view[v.pane] === "stretch" ? worst.edges : null),
      );
  }

  hover({ kind, hover }: Shown, before: Shown | null): void {
    const lines = kind !== "faces" && kind !== "shells";
    for (const id of new Set([before?.hover?.shape, hover?.shape])) {
      const slot = id === undefined ? undefined : this.drawn.slotOf(id);
      if (!slot || id === undefined) continue;
      const own = hover?.shape === id ? hover : null;
      slot.setHovered(own && !lines ? { shells: kind === "shells", item: own.item } : null);
      const items = own && lines ? ElementSet.of(elementCount(slot.shape.mesh, kind), [own.item]) : null;
      this.drawn.eachView(id, (view) => view.setMarked(id, "hover", kind, items));
    }
  }
}
