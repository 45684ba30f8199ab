import { faceNetOf, matchedPoints } from "../place/face-match";

/**
 * The mirror image of every point of a shell across a line of its own edges, by what lies beside what on both sides of it:
 * the shell need not mirror in space, but has to have the same faces on both sides.
 *
 * @param faces points of each face, in its direction
 * @param axis two points, next to each other on the line
 * @returns for every point another, or itself; null where the sides differ
 */
export function mirroredAbout(
  faces: ReadonlyArray<readonly number[]>,
  points: number,
  axis: readonly [number, number],
): Uint32Array | null {
  const net = faceNetOf(faces, points);
  const images = matchedPoints(net, net, axis, axis, true);
  return images?.every((image, p) => images[image] === p) ? images : null;
}
