import { type Asset, type PlacedShape, type ShapeId, shapesOf, type UvSetId } from "../layout/asset";
import { emptyLayout, type Layout } from "../layout/layout";
import type { Mat4 } from "../mesh/transform";
import { measureShape } from "./measure-shape";
import type { ShapeFigures } from "./shape-figures";

/** Figures of an asset in one UV set, by shape. */
export type Figures = ReadonlyMap<ShapeId, ShapeFigures>;

interface Kept {
  readonly layout: Layout;
  readonly metric: Mat4;
  readonly figures: ShapeFigures;
  readonly stamps: Float64Array;
}

const same = (a: Mat4, b: Mat4): boolean => a === b || a.every((x, i) => x === b[i]);

/**
 * Keeps the figures of shapes for as long as what they depend on stays: mesh, layout and metric. After an edit only the
 * shapes that changed are measured, and of those only the shells that moved where the cuts are as they were.
 */
export class FigureCache {
  private readonly kept = new Map<string, Kept>();
  private stamp = 0;

  /** Figures that are still right; null where the shape must be measured. */
  known(shape: PlacedShape, set: UvSetId): ShapeFigures | null {
    const kept = this.kept.get(`${shape.id}/${set}`);
    return kept && kept.layout === layoutIn(shape, set) && same(kept.metric, shape.metric) ? kept.figures : null;
  }

  /** What measuring a shape can begin from. */
  before(shape: PlacedShape, set: UvSetId): Kept | undefined {
    const kept = this.kept.get(`${shape.id}/${set}`);
    return kept && same(kept.metric, shape.metric) ? kept : undefined;
  }

  /** Takes the figures of a shape: measured from those that `before` answered, or from nothing. */
  put(shape: PlacedShape, set: UvSetId, figures: ShapeFigures, before: Kept | undefined): void {
    const stamps = figures.fresh && before ? before.stamps.slice() : new Float64Array(figures.count);
    const count = figures.fresh?.length ?? stamps.length;
    for (let i = 0; i < count; i++) stamps[figures.fresh ? figures.fresh[i]! : i] = ++this.stamp;
    this.kept.set(`${shape.id}/${set}`, { layout: layoutIn(shape, set), metric: shape.metric, figures, stamps });
  }

  /** A number for every shell that stays for as long as its figures do. */
  stamps(shape: PlacedShape, set: UvSetId): Float64Array {
    return this.kept.get(`${shape.id}/${set}`)!.stamps;
  }

  /** Lets go of shapes and sets that are no longer there. */
  prune(asset: Asset): void {
    for (const key of this.kept.keys()) {
      const at = key.lastIndexOf("/");
      if (!asset.shapes.has(key.slice(0, at)) || !asset.sets.some((s) => s.id === key.slice(at + 1)))
        this.kept.delete(key);
    }
  }

  /** Figures of all shapes, measured here where they are not known. */
  all(asset: Asset, set: UvSetId, only?: ReadonlySet<ShapeId>): Figures {
    const out = new Map<ShapeId, ShapeFigures>();
    for (const shape of shapesOf(asset)) {
      if (only && !only.has(shape.id)) continue;
      let figures = this.known(shape, set);
      if (!figures) {
        const before = this.before(shape, set);
        figures = measureShape({ ...inputOf(shape, set), before });
        this.put(shape, set, figures, before);
      }
      out.set(shape.id, figures);
    }
    return out;
  }
}

/** The layout of a shape in a set, or the bare one. */
export const layoutIn = (shape: PlacedShape, set: UvSetId): Layout => shape.layouts.get(set) ?? emptyLayout(shape.mesh);

export const inputOf = (shape: PlacedShape, set: UvSetId) => ({
  mesh: shape.mesh,
  layout: layoutIn(shape, set),
  metric: shape.metric,
});

/** Figures of all shapes, from nothing. */
export const figuresOfAsset = (asset: Asset, set: UvSetId, only?: ReadonlySet<ShapeId>): Figures =>
  new FigureCache().all(asset, set, only);
