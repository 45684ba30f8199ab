import type { Asset, LayoutChange, UvSetId } from "../layout/asset";
import { type Layout, structureOf, withPoints } from "../layout/layout";
import { shellBorders } from "../layout/shell-borders";
import { hasPins, isMapped, wedgeShells } from "../layout/shell-points";
import type { Shell } from "../mesh/indices";
import { boxOf } from "../place/box";
import { type Pushed, Pushes } from "../place/push";
import type { Moving } from "./moving";
import type { Scope } from "./operation";
import { layoutOf, shapesInScope } from "./scope";

interface Way {
  readonly du: number;
  readonly dv: number;
}

/** The shells of a shape among all that push and are pushed. */
interface ShapeShells {
  readonly shape: string;
  readonly layout: Layout;
  /** Place of its first shell among all. */
  readonly first: number;
  /** Shell by wedge. */
  readonly shellOf: Uint32Array;
}

/** Shells that are moved push their neighbours before them, with the padding kept. Locked and pinned ones stop them. */
export class Pushing {
  private readonly shapes: ShapeShells[] = [];
  private readonly pushes: Pushes;
  private last: { readonly du: number; readonly dv: number; readonly travel: Float64Array } | null = null;
  private readonly movers: number[] = [];

  constructor(asset: Asset, scope: Scope, moving: readonly Moving[]) {
    const shells: Pushed[] = [];
    const { set, parts } = scope;
    const locked = new Set(asset.parts.filter((p) => p.locked !== undefined).map((p) => p.shape));
    for (const shape of shapesInScope(asset, { set, parts })) {
      const layout = layoutOf(shape, set);
      const { mesh } = shape;
      const s = structureOf(mesh, layout);
      const shellOf = wedgeShells(mesh, s);
      const first = shells.length;
      this.shapes.push({ shape: shape.id, layout, first, shellOf });
      const borders = shellBorders(mesh, layout);
      for (let k = 0 as Shell; k < s.shellCount; k++) {
        const segments = borders[k]!;
        const fixed = locked.has(shape.id) || !isMapped(mesh, layout, k) || hasPins(mesh, layout, k);
        shells.push({ segments, box: boxOf(segments), fixed });
      }
      const own = new Set<number>();
      for (const { shape: id, wedges } of moving)
        if (id === shape.id) for (let i = 0; i < wedges.length; i++) own.add(first + shellOf[wedges[i]!]!);
      this.movers.push(...own);
    }
    this.pushes = new Pushes(shells, this.movers, asset.rules.padding / asset.tiles.resolution);
  }

  /** The way that the shells come which are moved: all of it, or as far as something lets them. */
  reached<T extends Way>(way: T): T {
    const length = Math.hypot(way.du, way.dv);
    const share = length ? (this.travel(way)[this.movers[0]!] ?? length) / length : 1;
    return { ...way, du: share * way.du, dv: share * way.dv };
  }

  /** The layouts with everything where it is pushed. */
  changes(way: Way, set: UvSetId): LayoutChange[] {
    const travel = this.travel(way);
    const length = Math.hypot(way.du, way.dv) || 1;
    const [u, v] = [way.du / length, way.dv / length];
    return this.shapes.flatMap(({ shape, layout, first, shellOf }) => {
      let uv: Float64Array | null = null;
      for (let w = 0; w < shellOf.length; w++) {
        const gone = travel[first + shellOf[w]!]!;
        if (!(gone > 0)) continue;
        uv ??= layout.uv.slice();
        uv[2 * w]! += gone * u;
        uv[2 * w + 1]! += gone * v;
      }
      return uv ? [{ shape, set, layout: withPoints(layout, uv) }] : [];
    });
  }

  /** How many shells went along, beside those that were moved. */
  pushed(way: Way): number {
    const travel = this.travel(way);
    const own = new Set(this.movers);
    return travel.reduce((n, t, k) => n + (t > 0 && !own.has(k) ? 1 : 0), 0);
  }

  private travel({ du, dv }: Way): Float64Array {
    if (this.last?.du !== du || this.last.dv !== dv) this.last = { du, dv, travel: this.pushes.along(du, dv) };
    return this.last.travel;
  }
}
