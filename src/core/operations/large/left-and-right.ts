import { type Asset, shapesOf } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { transformPoints } from "../../mesh/transform";
import { middleOfBox } from "../../place/box";
import { MIRRORED, mayBeTwins, twinMatch } from "../../place/twin-shells";
import type { EditResult, Scope } from "../operation";
import { shellsAt, withShellsAt } from "../place/shells-at";
import { asTwins, laidOn } from "../place/twins";
import { count } from "../words";

interface LeftAndRightInput {
  readonly axis: "x" | "y" | "z";
  /** Per cent. */
  readonly within: number;
}

/** Lays shells beyond the middle of the model as mirror images of their twins before it. */
export function run(asset: Asset, scope: Scope, { axis, within }: LeftAndRightInput): EditResult {
  const d = "xyz".indexOf(axis);
  const shells = shellsAt(asset, scope);
  const twins = asTwins(shells);
  const { middle, size } = extentOf(asset, d);
  const centres = twins.map(({ positions }) => centreOf(positions));
  const near = (within / 100) * size;
  const uvs: Array<Float64Array | null> = shells.map(() => null);
  const done = new Uint8Array(shells.length);
  let pairs = 0;
  for (const [k, own] of shells.entries()) {
    if (done[k] || centres[k]![d]! >= middle - near) continue;
    const image = centres[k]!.map((x, i) => (i === d ? 2 * middle - x : x));
    const order = shells
      .map((_, i) => ({ i, off: Math.hypot(...centres[i]!.map((x, a) => x - image[a]!)) }))
      .filter(({ i, off }) => i !== k && !done[i] && off <= near && mayBeTwins(twins[i]!, twins[k]!, within / 100))
      .sort((a, b) => a.off - b.off || a.i - b.i);
    for (const { i } of order) {
      const match = twinMatch(twins[i]!, twins[k]!, within / 100, MIRRORED);
      if (!match) continue;
      const line = 2 * (Math.floor(middleOfBox(own.box)[0]) + 0.5);
      uvs[i] = laidOn(own.uv, match.images).map((x, a) => (a % 2 ? x : line - x));
      done[k] = done[i] = 1;
      pairs++;
      break;
    }
  }
  if (!pairs) throw new UserError(`No two of these shells mirror each other across ${axis}.`);
  return {
    asset: withShellsAt(asset, scope.set, shells, uvs),
    words: `Lay ${count(pairs, "pair")} left and right alike`,
    notes: [],
  };
}

/** The middle of an asset along an axis, and how large it is. */
function extentOf(asset: Asset, d: number): { middle: number; size: number } {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (const { mesh, parts } of shapesOf(asset))
    for (const { transform } of parts) {
      const points = transformPoints(transform, mesh.positions);
      for (let i = 0; i < points.length; i++) {
        low![i % 3] = Math.min(low![i % 3]!, points[i]!);
        high![i % 3] = Math.max(high![i % 3]!, points[i]!);
      }
    }
  return { middle: (low![d]! + high![d]!) / 2, size: Math.hypot(...low!.map((x, i) => high![i]! - x)) };
}

/** The mean of points. @param positions 3 each */
function centreOf(positions: Float64Array): number[] {
  const mean = [0, 0, 0];
  for (let i = 0; i < positions.length; i++) mean[i % 3]! += (3 * positions[i]!) / positions.length;
  return mean;
}
