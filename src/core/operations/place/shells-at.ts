import { type Asset, type LayoutChange, type PlacedShape, withLayouts } from "../../layout/asset";
import { type Layout, shellName, structureOf, withPoints } from "../../layout/layout";
import { saidOf } from "../../layout/shell-marks";
import { hasPins, isMapped, wedgesOfShell } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { boxOf, type SheetBox } from "../../place/box";
import type { Scope } from "../operation";
import { shellsInScope } from "../scope";

/** A shell that may be moved, and where it lies. */
export interface ShellAt {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  /** Its name. */
  readonly face: number;
  readonly wedges: Uint32Array;
  /** 2 per wedge. */
  readonly uv: Float64Array;
  readonly box: SheetBox;
}

/** Shells with coordinates and without pins that the scope means. @throws UserError where there are none */
export function shellsAt(asset: Asset, scope: Scope): ShellAt[] {
  const out = shellsInScope(asset, scope).flatMap(({ shape, layout, shells }) => {
    const s = structureOf(shape.mesh, layout);
    return [...shells].flatMap((shell): ShellAt[] => {
      if (!isMapped(shape.mesh, layout, shell) || hasPins(shape.mesh, layout, shell)) return [];
      const wedges = wedgesOfShell(shape.mesh, layout, shell);
      const uv = new Float64Array(2 * wedges.length);
      for (let i = 0; i < wedges.length; i++) {
        uv[2 * i] = layout.uv[2 * wedges[i]!]!;
        uv[2 * i + 1] = layout.uv[2 * wedges[i]! + 1]!;
      }
      return [{ shape, layout, shell, face: shellName(s, shell), wedges, uv, box: boxOf(uv) }];
    });
  });
  if (!out.length)
    throw new UserError("These shells have no coordinates yet, or are pinned: unfold or unpin them first.");
  return out;
}

/** The asset with shells where they are put. @param uvs 2 per wedge, by shell; null for one that stays */
export function withShellsAt(
  asset: Asset,
  set: string,
  shells: readonly ShellAt[],
  uvs: ReadonlyArray<Float64Array | null>,
): Asset {
  const layouts = new Map<string, { change: LayoutChange; uv: Float64Array }>();
  shells.forEach(({ shape, layout, wedges }, k) => {
    const points = uvs[k];
    if (!points) return;
    let own = layouts.get(shape.id);
    if (!own) {
      const uv = layout.uv.slice();
      own = { change: { shape: shape.id, set, layout: withPoints(layout, uv) }, uv };
      layouts.set(shape.id, own);
    }
    for (let i = 0; i < wedges.length; i++) {
      own.uv[2 * wedges[i]!] = points[2 * i]!;
      own.uv[2 * wedges[i]! + 1] = points[2 * i + 1]!;
    }
  });
  return withLayouts(
    asset,
    [...layouts.values()].map(({ change, uv }) => ({ ...change, layout: withPoints(change.layout!, uv) })),
  );
}

/** By how much a shell was moved to be parked; null where it is not, or was put onto the page since. */
export function parkedBy(asset: Asset, set: string, { shape, face, box }: ShellAt): readonly [number, number] | null {
  const { parked } = saidOf(asset, set, { shape: shape.id, face });
  return parked && box.u1 <= 0 ? parked : null;
}

/** Points moved. */
export function shifted(uv: Float64Array, [du, dv]: readonly [number, number]): Float64Array {
  const out = new Float64Array(uv.length);
  for (let i = 0; i < uv.length; i += 2) {
    out[i] = uv[i]! + du;
    out[i + 1] = uv[i + 1]! + dv;
  }
  return out;
}
