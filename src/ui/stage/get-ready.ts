import type { BufferAttribute, Mesh, Texture } from "three";
import type { ShapeId } from "@/core/layout/asset";
import type { Layout } from "@/core/layout/layout";
import type { Pane } from "../session/store";
import type { Chunk } from "./chunk";
import type { ChunkView } from "./chunk-view";

/** What the graphics card can be given before anything is drawn, so that little is left to do then. */
export interface GraphicsAhead {
  compile(pane: Pane, object: Mesh): void;
  sendTexture(texture: Texture): void;
  sendAttribute(attribute: BufferAttribute): void;
}

/** A chunk with what is shown of it. */
export interface Entry {
  readonly chunk: Chunk;
  readonly views: Readonly<Record<Pane, ChunkView>>;
  /** Gets the chunk ready to be drawn, step by step; null when that is done. */
  filling: Generator<void> | null;
}

/** Where a chunk takes its layouts from while it is got ready. */
export interface ReadySource {
  /** The layout of a shape in the set worked on; null when the shape is gone. */
  layoutOf(id: ShapeId): Layout | null;
  showSeams(id: ShapeId, view: ChunkView): void;
}

const PANES: readonly Pane[] = ["form", "sheet"];
/** Corners that are got ready before other work has its turn, and how many of them a shape counts for beside its own. */
const AT_A_STRETCH = 30_000;
const SLOT_COST = 300;

/**
 * Gets a chunk ready to be drawn in steps of a few milliseconds, and sends it to the graphics card piece by piece: so much
 * at once would hold the page for half a second. Yields between the steps.
 */
export function* getReady(
  chunk: Chunk,
  views: Entry["views"],
  source: ReadySource,
  ahead: GraphicsAhead | undefined,
): Generator<void> {
  for (const pane of PANES) {
    ahead?.compile(pane, views[pane].faces);
    yield;
  }
  yield* chunk.fill();
  let done = 0;
  for (const [id, slot] of chunk.slots) {
    const layout = source.layoutOf(id);
    // The state has gone on to other shapes; this chunk is dropped.
    if (!layout) return;
    const steps = [() => slot.setLayout(layout), ...PANES.map((pane) => () => source.showSeams(id, views[pane]))];
    for (const step of steps) {
      step();
      // Other work has its turn after each step of a large shape, and after those of a few small ones.
      done += slot.corners.length + SLOT_COST;
      if (done < AT_A_STRETCH) continue;
      done = 0;
      yield;
    }
  }
  for (const table of chunk.tables) {
    ahead?.sendTexture(table.texture);
    yield;
  }
  for (const attribute of Object.values(chunk.form.attributes)) {
    ahead?.sendAttribute(attribute as BufferAttribute);
    yield;
  }
}
