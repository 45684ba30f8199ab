import { Vector3 } from "three";
import { CENTRES, type Centre, dot, type Frame, unit, type Vector } from "@/core/project/frame";
import type { FormCamera } from "../stage/form-camera";

/** The cosine from which on an axis that is dragged falls onto one of the world. */
const SNAPS = Math.cos((5 * Math.PI) / 180);

/** Where the pointer is, and the pane that it is over. */
export interface At {
  readonly clientX: number;
  readonly clientY: number;
  readonly pane: DOMRect;
}

/** A place in the axes of a frame as one of the world. */
export const placed = ({ centre, x, y, z }: Frame, [a, b, c]: Vector): Vector =>
  [0, 1, 2].map((d) => centre[d]! + a * x[d]! + b * y[d]! + c * z[d]!) as unknown as Vector;

/** To a thousandth: what a hand can set. */
export const rounded = (x: number): number => Math.round(1000 * x) / 1000 + 0;

/** A way, or the axis of the world that it nearly runs along. */
export function snapped(way: Vector): Vector {
  const axis = way.reduce((best, a, d) => (Math.abs(a) > Math.abs(way[best]!) ? d : best), 0);
  const onto = [0, 1, 2].map((d) => (d === axis ? Math.sign(way[axis]!) : 0)) as unknown as Vector;
  return dot(way, onto) > SNAPS ? onto : way;
}

/** The ray from the eye through a point of the pane: where it begins, and its way. */
function rayThrough(eye: FormCamera, { clientX, clientY, pane }: At): [Vector3, Vector3] {
  const at = (z: number) =>
    new Vector3(
      (2 * (clientX - pane.left)) / pane.width - 1,
      1 - (2 * (clientY - pane.top)) / pane.height,
      z,
    ).unproject(eye.camera);
  const from = at(-1);
  return [from, at(1).sub(from).normalize()];
}

/** The way from a frame's centre to the point of a ball about it that lies under the pointer, or nearest to it. */
export function wayTo(eye: FormCamera, at: At, { centre, z }: Frame, radius: number): Vector {
  const [from, ray] = rayThrough(eye, at);
  const middle = new Vector3(...centre);
  const nearest = middle.clone().sub(from).dot(ray);
  const foot = from.clone().addScaledVector(ray, nearest);
  const off = foot.distanceTo(middle);
  // On the half that the axis points to: nearer to the eye, or farther from it.
  const side = ray.dot(new Vector3(...z)) > 0 ? 1 : -1;
  const deep = side * Math.sqrt(Math.max(0, radius * radius - off * off));
  const to = foot.addScaledVector(ray, deep).sub(middle);
  return unit([to.x, to.y, to.z], z);
}

/** By how much a place moves in the plane of the pane when the pointer goes so many pixels. */
export function shiftOf(eye: FormCamera, { width, height }: DOMRect, centre: Vector, dx: number, dy: number): Vector {
  const at = new Vector3(...centre).project(eye.camera);
  const to = new Vector3(at.x + (2 * dx) / width, at.y - (2 * dy) / height, at.z).unproject(eye.camera);
  return [to.x - centre[0], to.y - centre[1], to.z - centre[2]];
}

/** A place of the world in pixels of the pane. */
export function pixelOf(eye: FormCamera, { width, height }: DOMRect, place: Vector): readonly [number, number] {
  const at = new Vector3(...place).project(eye.camera);
  return [((at.x + 1) / 2) * width, ((1 - at.y) / 2) * height];
}

/** Pixels within which the centre falls onto a place that has a name. */
const NEAR = 10;

/** The place with a name that lies nearest to a point of the pane; null where none is near. */
export function centreNear(
  eye: FormCamera,
  { clientX, clientY, pane }: At,
  centres: Readonly<Record<Centre, Vector>>,
): Centre | null {
  let best: Centre | null = null;
  let least = NEAR;
  for (const name of CENTRES) {
    const [x, y] = pixelOf(eye, pane, centres[name]);
    const off = Math.hypot(clientX - pane.left - x, clientY - pane.top - y);
    if (off >= least) continue;
    least = off;
    best = name;
  }
  return best;
}
