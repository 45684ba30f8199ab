import type { Asset, PlacedShape } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { type Layout, structureOf } from "../../layout/layout";
import { pointNames } from "../../layout/point-names";
import { isMapped } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import type { Shell } from "../../mesh/indices";
import { worldPositions } from "../../mesh/transform";
import { converted } from "../../select/convert";
import { elementCount, flagsAt } from "../../select/grow";
import { shellMesh } from "../../unfold/shell-mesh";
import type { Scope } from "../operation";
import { layoutOf, shellsInScope } from "../scope";
import type { ShapeShell } from "./new-layouts";

/** A shell some of whose points may move: 1 for each of them. */
export interface MovableShell extends ShapeShell {
  readonly moves: Uint8Array;
}

/** A shell that is looked up when it is asked for. */
export interface ShellToCome {
  readonly shape: PlacedShape;
  readonly layout: Layout;
  readonly shell: Shell;
  /** Nothing where none of its points may move. */
  look(): MovableShell | null;
}

const NOTHING = "Nothing here has coordinates that may move: unfold it, or unpin some points.";

/** By wedge, whether the scope means it: picked points, corners of what is picked, or all. */
function meantPoints(shape: PlacedShape, layout: Layout, { selection }: Scope): Uint8Array | null {
  const items = selection?.items.get(shape.id);
  if (!selection || !items || selection.kind === "shells") return null;
  const flags = flagsAt(items, elementCount(shape.mesh, selection.kind));
  const points = converted(shape.mesh, layout, selection.kind, flags, "points", "touching");
  return Uint8Array.from(pointNames(structureOf(shape.mesh, layout)), (c) => points[c]!);
}

/** Shells with coordinates that the scope means. @throws UserError where there are none */
export function shellsToCome(asset: Asset, scope: Scope): ShellToCome[] {
  const out = shellsInScope(asset, scope).flatMap(({ shape, shells }) => {
    const layout = layoutOf(shape, scope.set);
    const world = worldPositions(shape.mesh, shape.metric);
    const meant = meantPoints(shape, layout, scope);
    return [...shells].flatMap((shell): ShellToCome[] => {
      if (!isMapped(shape.mesh, layout, shell)) return [];
      const look = () => {
        const form = shellMesh(shape.mesh, world, layout, shell);
        const moves = Uint8Array.from(form.wedges, (w) => (!getBit(layout.pinned, w) && (meant?.[w] ?? 1) ? 1 : 0));
        return moves.some(Boolean) ? { shape, layout, shell, form, moves } : null;
      };
      return [{ shape, layout, shell, look }];
    });
  });
  if (!out.length) throw new UserError(NOTHING);
  return out;
}

/** The same, looked up, without those of which no point may move. @throws UserError where none is left */
export function movableShells(asset: Asset, scope: Scope): MovableShell[] {
  const out = shellsToCome(asset, scope).flatMap((s) => s.look() ?? []);
  if (!out.length) throw new UserError(NOTHING);
  return out;
}
