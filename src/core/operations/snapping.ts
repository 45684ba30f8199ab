import type { Asset } from "../layout/asset";
import { PUSHES, SnapTargets, type SnapTo, STOPS } from "../layout/snap-targets";
import type { Moving } from "./moving";
import type { Scope } from "./operation";
import type { Pushing } from "./pushing";
import { layoutOf, shapesInScope } from "./scope";
import { Stopping } from "./stopping";

/** What moves under the pointer keeps to something: the point that was taken hold of is put there, and the rest goes along. */
export interface Snap {
  readonly to: SnapTo | typeof STOPS | typeof PUSHES;
  readonly within: number;
  /** Where it was taken hold of. */
  readonly at: readonly [u: number, v: number];
}

interface Way {
  readonly du: number;
  readonly dv: number;
}

/** Finds what moved points keep to; looked up when it is first asked for. */
export class Snapping {
  private targets: { readonly of: Snap; readonly found: SnapTargets; readonly grip: readonly [number, number] } | null =
    null;
  private stopping: Stopping | null = null;

  constructor(
    private readonly asset: Asset,
    private readonly scope: Scope,
    private readonly moving: readonly Moving[],
    /** What the moved push before them, where they can. */
    private readonly pushing?: () => Pushing,
  ) {}

  /** The way to go so that what was taken hold of comes onto what lies near it. */
  apply<T extends Way>(way: T, snap: Snap): T {
    if (snap.to === STOPS) {
      const { rules, tiles } = this.asset;
      this.stopping ??= new Stopping(this.asset, this.scope, this.moving, rules.padding / tiles.resolution);
      return this.stopping.apply(way);
    }
    if (snap.to === PUSHES) {
      return this.pushing ? { ...this.pushing().reached(way), push: true } : way;
    }
    const { found, grip } = this.lookUp(snap);
    const [u, v] = [grip[0] + way.du, grip[1] + way.dv];
    const place = found.nearest(u, v);
    return place ? { ...way, du: place[0] - grip[0], dv: place[1] - grip[1] } : way;
  }

  private lookUp(snap: Snap) {
    const { targets } = this;
    if (snap.to === STOPS || snap.to === PUSHES) throw new Error("What keeps to shells is drawn to nothing.");
    if (targets?.of.to === snap.to && targets.of.within === snap.within) return targets;
    const own = new Map<string, Uint8Array>();
    for (const { shape, wedges, uv } of this.moving) {
      const flags = own.get(shape) ?? new Uint8Array(uv.length / 2);
      for (let i = 0; i < wedges.length; i++) flags[wedges[i]!] = 1;
      own.set(shape, flags);
    }
    const { set, parts } = this.scope;
    const shapes = shapesInScope(this.asset, { set, parts }).map((shape) => ({
      shape,
      layout: layoutOf(shape, set),
      moves: own.get(shape.id) ?? null,
    }));
    const made = {
      of: snap,
      found: new SnapTargets(shapes, snap.to, snap.within),
      grip: nearestOf(this.moving, snap.at),
    };
    this.targets = made;
    return made;
  }
}

/** The place of the moved point that is nearest to one. */
function nearestOf(moving: readonly Moving[], [u, v]: readonly [number, number]): readonly [number, number] {
  let best: readonly [number, number] = [u, v];
  let least = Infinity;
  for (const { uv, wedges } of moving)
    for (let i = 0; i < wedges.length; i++) {
      const w = wedges[i]!;
      const away = Math.hypot(uv[2 * w]! - u, uv[2 * w + 1]! - v);
      if (away >= least) continue;
      least = away;
      best = [uv[2 * w]!, uv[2 * w + 1]!];
    }
  return best;
}
