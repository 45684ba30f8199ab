import { type Asset, withLayouts } from "../../layout/asset";
import { turnedAbout } from "../../layout/orient";
import { hasPins } from "../../layout/shell-points";
import { UserError } from "../../layout/user-error";
import { boxOf, middleOfBox } from "../../place/box";
import type { EditResult, Scope } from "../operation";
import { count } from "../words";
import { newLayouts } from "./new-layouts";
import { runsIn } from "./straighten-edges";
import { laidShells } from "./straightened-shells";

/** Turns shells so that an edge lies along an axis. */
export function run(
  asset: Asset,
  scope: Scope,
  { to }: { readonly to: "nearest axis" | "horizontal" | "vertical" },
): EditResult {
  const placed = laidShells(asset, scope).flatMap((own) => {
    if (hasPins(own.shape.mesh, own.layout, own.shell)) return [];
    // All edges together, each as long as it is: turned fourfold where either axis will do, else twofold.
    const fold = to === "nearest axis" ? 4 : 2;
    let [x, y] = [0, 0];
    for (const { points, isClosed } of runsIn(own, scope))
      points.forEach((b, i) => {
        const a = i ? points[i - 1]! : isClosed ? points.at(-1)! : b;
        const [du, dv] = [own.uv[2 * b]! - own.uv[2 * a]!, own.uv[2 * b + 1]! - own.uv[2 * a + 1]!];
        const length = Math.sqrt(du * du + dv * dv);
        const angle = fold * Math.atan2(dv, du);
        x += length * Math.cos(angle);
        y += length * Math.sin(angle);
      });
    if (!x && !y) return [];
    const off = Math.atan2(y, x) / fold - (to === "vertical" ? Math.PI / 2 : 0);
    const by = -(off - (2 * Math.PI * Math.round((fold * off) / (2 * Math.PI))) / fold);
    return [{ ...own, uv: turnedInPlace(own.uv, by) }];
  });
  if (!placed.length) throw new UserError("Pick edges of shells that have coordinates and no pins first.");
  return {
    asset: withLayouts(asset, newLayouts(placed, scope.set)),
    words: `Turn ${count(placed.length, "shell")} by an edge`,
    notes: [],
  };
}

/** Points turned by an angle about the middle of the box about them. */
export const turnedInPlace = (uv: Float64Array, angle: number): Float64Array =>
  turnedAbout(uv, angle, middleOfBox(boxOf(uv)));
