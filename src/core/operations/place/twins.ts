import type { Asset } from "../../layout/asset";
import { facesOfShell, structureOf } from "../../layout/layout";
import { worldPositions } from "../../mesh/transform";
import { faceNet } from "../../place/face-match";
import { type TwinShell, twinShell } from "../../place/twin-shells";
import type { ShellAt } from "./shells-at";

/** A shell as twins are looked for; its points are its wedges, in their order. */
export function asTwin({ shape, layout, shell, wedges }: ShellAt, place: Int32Array): TwinShell {
  const { mesh } = shape;
  const s = structureOf(mesh, layout);
  const world = worldPositions(mesh, shape.metric);
  for (let i = 0; i < wedges.length; i++) place[wedges[i]!] = i;
  const positions = new Float64Array(3 * wedges.length);
  const faces = facesOfShell(s, shell);
  const start = new Uint32Array(faces.length + 1);
  for (let i = 0; i < faces.length; i++)
    start[i + 1] = start[i]! + mesh.faceStart[faces[i]! + 1]! - mesh.faceStart[faces[i]!]!;
  const point = new Uint32Array(start[faces.length]!);
  let k = 0;
  for (const f of faces)
    for (let c = mesh.faceStart[f]!; c < mesh.faceStart[f + 1]!; c++) {
      const p = place[s.cornerWedge[c]!]!;
      const v = 3 * mesh.cornerVertex[c]!;
      positions[3 * p] = world[v]!;
      positions[3 * p + 1] = world[v + 1]!;
      positions[3 * p + 2] = world[v + 2]!;
      point[k++] = p;
    }
  return twinShell(faceNet(start, point, wedges.length), positions);
}

/** Shells as twins are looked for. */
export function asTwins(shells: readonly ShellAt[]): TwinShell[] {
  const places = new Map<string, Int32Array>();
  return shells.map((own) => {
    const place = places.get(own.shape.id) ?? new Int32Array(structureOf(own.shape.mesh, own.layout).wedgeCount);
    places.set(own.shape.id, place);
    return asTwin(own, place);
  });
}

/** The whole scope of a UV set: every part. */
export const wholeSet = (asset: Asset, set: string) => ({ set, parts: asset.parts.map((p) => p.id) });

/** How near boxes lie to be in one place, tiles. */
const SAME = 1e-7;

/** Shells that lie exactly on one another: lists of places in the list, each of two or more, in its order. */
export function stacksAmong(shells: readonly ShellAt[]): number[][] {
  const order = shells.map((_, i) => i).sort((a, b) => shells[a]!.box.u0 - shells[b]!.box.u0 || a - b);
  const taken = new Uint8Array(shells.length);
  const out: number[][] = [];
  for (let i = 0; i < order.length; i++) {
    const first = order[i]!;
    if (taken[first]) continue;
    const list = [first];
    for (let k = i + 1; k < order.length && shells[order[k]!]!.box.u0 - shells[first]!.box.u0 <= SAME; k++)
      if (!taken[order[k]!] && areOnOne(shells[first]!, shells[order[k]!]!)) list.push(order[k]!);
    if (list.length < 2) continue;
    for (const k of list) taken[k] = 1;
    out.push(list.sort((a, b) => a - b));
  }
  return out;
}

function areOnOne(a: ShellAt, b: ShellAt): boolean {
  if (a.wedges.length !== b.wedges.length) return false;
  for (const side of ["u0", "v0", "u1", "v1"] as const) if (Math.abs(a.box[side] - b.box[side]) > SAME) return false;
  // The same points, in whatever order: by their sums and the sums of their squares.
  for (const power of [1, 2]) {
    const sum = ({ uv }: ShellAt, d: number) => uv.reduce((all, x, i) => (i % 2 === d ? all + x ** power : all), 0);
    for (const d of [0, 1]) if (Math.abs(sum(a, d) - sum(b, d)) > SAME * a.wedges.length) return false;
  }
  return true;
}

/** Points of a shell where their images lie. @param uv 2 per point of the other */
export function laidOn(uv: Float64Array, images: Uint32Array): Float64Array {
  const out = new Float64Array(2 * images.length);
  for (let i = 0; i < images.length; i++) {
    out[2 * i] = uv[2 * images[i]!]!;
    out[2 * i + 1] = uv[2 * images[i]! + 1]!;
  }
  return out;
}
