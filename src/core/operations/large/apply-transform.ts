import { refuseTiedShape } from "../../layout/assembly";
import type { Asset } from "../../layout/asset";
import { type Part, type PlacedShape, placedShape, type Shape, withParts } from "../../layout/asset";
import { UserError } from "../../layout/user-error";
import { determinant, IDENTITY, isIdentity, type Mat4, transformPoints } from "../../mesh/transform";
import { keepFace, planFaces, rebuiltShape } from "../../prepare/rebuild";
import type { EditResult, Scope } from "../operation";
import { partsInScope } from "../scope";
import { count } from "../words";

/** Writes rotation and scale into the vertices; the part looks and measures as before. */
export function run(asset: Asset, scope: Scope, { place }: { readonly place: boolean }): EditResult {
  const wanted = partsInScope(asset, scope).filter((p) => !isIdentity(rest(p.transform, place)));
  if (!wanted.length) throw new UserError("These parts have no transform to apply.");
  const done = wanted.map((p) => applied(placedShape(asset, p.shape), p, place));
  const parts = new Map(done.map((d) => [d.part.id, d.part]));
  return {
    asset: withParts(
      asset,
      asset.parts.map((p) => parts.get(p.id) ?? p),
      done.map((d) => d.shape),
    ),
    words: `Apply the transform of ${count(wanted.length, "part")}`,
    notes: [],
  };
}

/** The part of a transform that is to be applied. */
const rest = (m: Mat4, place: boolean): Mat4 => (place ? m : [...m.slice(0, 12), 0, 0, 0, 1]);

function applied(shape: PlacedShape, part: Part, place: boolean): { part: Part; shape: Shape } {
  refuseTiedShape(part.name, shape);
  // Vertices that are about to change must not be drawn by other parts as well.
  const other = shape.parts.find((p) => p.id !== part.id);
  if (other) throw new UserError(`${other.name} shares the mesh of ${part.name}: make it unique first.`);
  const by = rest(part.transform, place);
  const { mesh } = shape;
  const moved = transformPoints(by, mesh.positions);
  const left: Mat4 = place ? IDENTITY : [...IDENTITY.slice(0, 12), ...part.transform.slice(12)];
  const pivot =
    part.pivot && (Array.from(transformPoints(by, Float64Array.from(part.pivot))) as [number, number, number]);
  const next: PlacedShape = {
    ...shape,
    mesh: {
      ...mesh,
      positions: moved,
      ...(mesh.cornerNormal ? { cornerNormal: turnedNormals(by, mesh.cornerNormal) } : {}),
    },
  };
  const record: Part = { ...part, transform: left, ...(pivot ? { pivot } : {}) };
  if (determinant(by) > 0) return { part: record, shape: next };
  // A mirrored shape is inside out until its faces are turned over.
  const faces = planFaces(next.mesh, (plan, f) => keepFace(plan, next.mesh, f, true));
  return { part: record, shape: rebuiltShape(next, faces) };
}

/** Normals under a transform: by its cofactors, which need no inverse, made one long again. */
function turnedNormals(m: Mat4, normals: Float32Array): Float32Array {
  const [a, b, c, , d, e, f, , g, h, i] = m as number[];
  const rows = [
    [e! * i! - f! * h!, f! * g! - d! * i!, d! * h! - e! * g!],
    [c! * h! - b! * i!, a! * i! - c! * g!, b! * g! - a! * h!],
    [b! * f! - c! * e!, c! * d! - a! * f!, a! * e! - b! * d!],
  ];
  const sign = Math.sign(determinant(m)) || 1;
  const out = new Float32Array(normals.length);
  for (let n = 0; n < normals.length; n += 3) {
    const [x, y, z] = [normals[n]!, normals[n + 1]!, normals[n + 2]!];
    const v = [0, 1, 2].map((r) => sign * (rows[0]![r]! * x + rows[1]![r]! * y + rows[2]![r]! * z));
    const length = Math.hypot(v[0]!, v[1]!, v[2]!) || 1;
    for (let k = 0; k < 3; k++) out[n + k] = v[k]! / length;
  }
  return out;
}
