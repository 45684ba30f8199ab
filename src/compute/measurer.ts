import { type Between, measureBetween } from "../core/check/between";
import { FigureCache, type Figures, inputOf, layoutIn } from "../core/check/figures";
import { betweenShapes, type Measures, mergeFigures } from "../core/check/measure";
import { measureShape, movedSince } from "../core/check/measure-shape";
import { type StretchKind, stretchOfShape } from "../core/check/triangle-stretch";
import { type Asset, type PlacedShape, type ShapeId, shapesOf, type UvSetId } from "../core/layout/asset";
import { structureOf } from "../core/layout/layout";
import { unevenness } from "../core/layout/tiles";
import { topologyOf } from "../core/mesh/topology";
import { trianglesOf } from "../core/mesh/triangulate";
import { Stopped } from "../core/operations/operation";
import type { KnownOfShape } from "../core/tasks/tasks";
import { shareAll } from "./derived";
import type { Pool } from "./pool";
import { StopFlag } from "./stop-flag";

export interface MeasuredSet {
  readonly measures: Measures;
  readonly stretch: ReadonlyMap<ShapeId, Float32Array>;
}

/** What was painted last, by shape and set. */
interface KeptStretch {
  readonly kind: StretchKind;
  readonly stamps: Float64Array;
  readonly values: Float32Array;
}

/** Triangles that are measured sooner here than they are sent elsewhere. */
const FEW = 150_000;

/**
 * Measures UV sets of one document, again and again as it changes: only the shells that are not as they were, and what
 * lies between them and the others. Large parts run on the pool at low rank, so that they hold nothing up.
 */
export class Measurer {
  private readonly figures = new FigureCache();
  private readonly between = new Map<UvSetId, Between>();
  private readonly last = new Map<
    UvSetId,
    { readonly asset: Asset; readonly measures: Measures; readonly triangles: ReadonlySet<object> }
  >();
  private readonly painted = new Map<string, KeptStretch>();
  private running: StopFlag | null = null;

  constructor(private readonly pool: Pool | null) {}

  /** Lets go of what is no longer in the document. */
  prune(asset: Asset): void {
    this.figures.prune(asset);
    const sets = new Set(asset.sets.map((s) => s.id));
    for (const set of this.between.keys()) if (!sets.has(set)) this.between.delete(set);
    for (const set of this.last.keys()) if (!sets.has(set)) this.last.delete(set);
    const shapes = new Set([...asset.shapes.keys()].flatMap((id) => asset.sets.map((s) => `${id}/${s.id}`)));
    for (const key of this.painted.keys()) if (!shapes.has(key)) this.painted.delete(key);
  }

  /** Figures of a state, where it is the one that was measured last. */
  known(asset: Asset, set: UvSetId): Measures | null {
    const last = this.last.get(set);
    const before = last?.asset;
    const same = before?.shapes === asset.shapes && before.parts === asset.parts && before.tiles === asset.tiles;
    return same ? last!.measures : null;
  }

  /** @throws Stopped when a newer request came */
  async measure(asset: Asset, set: UvSetId, kind: StretchKind): Promise<MeasuredSet> {
    this.running?.raise();
    const flag = new StopFlag();
    this.running = flag;
    try {
      return await this.measureUnder(flag, asset, set, kind);
    } finally {
      if (this.running === flag) this.running = null;
    }
  }

  private async measureUnder(flag: StopFlag, asset: Asset, set: UvSetId, kind: StretchKind): Promise<MeasuredSet> {
    const figures = await this.figuresOf(asset, set, flag);
    if (flag.isRaised) throw new Stopped("A newer one is measured.");
    const between = await this.betweenOf(asset, set, figures, flag);
    if (flag.isRaised) throw new Stopped("A newer one is measured.");
    const triangles = new Set([...figures.values()].map((f) => f.triangle));
    const last = this.last.get(set);
    const same = last?.triangles.size === triangles.size && [...triangles].every((t) => last.triangles.has(t));
    const measures = mergeFigures(asset, figures, { tiles: asset.tiles, set }, between, { near: last?.measures, same });
    this.last.set(set, { asset, measures, triangles });
    return { measures, stretch: this.stretchOf(asset, set, kind, figures) };
  }

  /** The same for a state that is passed through, where little differs from what was measured last; null else. */
  async measureQuickly(asset: Asset, set: UvSetId, kind: StretchKind): Promise<MeasuredSet | null> {
    if (this.running) return null;
    for (const shape of shapesOf(asset)) {
      if (this.figures.known(shape, set)) continue;
      const before = this.figures.before(shape, set);
      const moved = before && movedSince(shape.mesh, before.layout, layoutIn(shape, set));
      if (!moved || moved.reduce((n, k) => n + before.figures.triangles[k]!, 0) > FEW) return null;
    }
    return this.measure(asset, set, kind);
  }

  private async figuresOf(asset: Asset, set: UvSetId, signal: StopFlag): Promise<Figures> {
    const { pool } = this;
    const away = shapesOf(asset).map(async (shape) => {
      if (this.figures.known(shape, set)) return;
      const before = this.figures.before(shape, set);
      const input = inputOf(shape, set);
      const moved = before && movedSince(shape.mesh, before.layout, input.layout);
      const count = moved
        ? moved.reduce((n, k) => n + before!.figures.triangles[k]!, 0)
        : trianglesOf(shape.mesh).face.length;
      const task = { ...input, before, moved };
      const figures =
        !pool || count < FEW
          ? measureShape(task)
          : await pool.run("measureShape", { ...task, known: knownOf(shape, set) }, { rank: "low", signal });
      this.figures.put(shape, set, figures, before);
    });
    await Promise.all(away);
    return this.figures.all(asset, set);
  }

  private async betweenOf(asset: Asset, set: UvSetId, figures: Figures, signal: StopFlag): Promise<Between> {
    const before = this.between.get(set);
    const shapes = betweenShapes(asset, set, this.figures, figures);
    const known = new Set(before?.kept?.stamps);
    let changed = 0;
    for (const { figures: f, stamps } of shapes)
      for (let k = 0; k < f.count; k++) if (f.mapped[k] && !known.has(stamps[k]!)) changed += f.triangles[k]!;
    const input = { shapes, before, uneven: unevenness(asset.tiles) };
    const between =
      this.pool && changed > FEW
        ? await this.pool.run(
            "measureBetween",
            { ...input, known: shapesOf(asset).map((s) => knownOf(s, set)) },
            { rank: "low", signal },
          )
        : measureBetween(input);
    this.between.set(set, between);
    return between;
  }

  private stretchOf(asset: Asset, set: UvSetId, kind: StretchKind, figures: Figures): Map<ShapeId, Float32Array> {
    const out = new Map<ShapeId, Float32Array>();
    for (const shape of shapesOf(asset)) {
      const key = `${shape.id}/${set}`;
      const kept = this.painted.get(key);
      const stamps = this.figures.stamps(shape, set);
      const fits = kept?.kind === kind && kept.stamps.length === stamps.length;
      const before = fits && kept.values.length === trianglesOf(shape.mesh).face.length ? kept : null;
      const shells = before ? Array.from(stamps.keys()).filter((k) => stamps[k] !== before.stamps[k]) : [];
      const values =
        before && !shells.length
          ? before.values
          : stretchOfShape(shape, set, kind, figures.get(shape.id)!, before ? { ...before, shells } : undefined);
      this.painted.set(key, { kind, stamps, values });
      out.set(shape.id, values);
    }
    return out;
  }
}

/** What is known of a shape, in memory that the workers see. */
function knownOf(shape: PlacedShape, set: UvSetId): KnownOfShape {
  const { mesh } = shape;
  return {
    topology: shareAll(topologyOf(mesh)),
    triangles: shareAll(trianglesOf(mesh)),
    structure: shareAll(structureOf(mesh, layoutIn(shape, set))),
  };
}
