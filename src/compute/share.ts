import type { Asset, Remembered, Shape, ShapeBody } from "../core/layout/asset";
import type { AssetDelta } from "../core/layout/delta";
import type { Layout } from "../core/layout/layout";
import type { PolyMesh } from "../core/mesh/poly-mesh";
import { canShare } from "./stop-flag";

type Numbers = Uint8Array | Uint32Array | Int32Array | Float32Array | Float64Array | Int8Array;

/** Arrays that were copied into shared memory, by the array they were. */
const sharedOf = new WeakMap<Numbers, Numbers>();

/** An array in memory that all threads see, so that handing it over costs nothing; itself where that cannot be. */
export function share<T extends Numbers>(array: T): T {
  if (!canShare() || array.buffer instanceof SharedArrayBuffer) return array;
  const known = sharedOf.get(array);
  if (known) return known as T;
  const make = array.constructor as new (buffer: SharedArrayBuffer) => T;
  const copy = new make(new SharedArrayBuffer(array.byteLength));
  copy.set(array as never);
  sharedOf.set(array, copy);
  return copy;
}

const shareMesh = (m: PolyMesh): PolyMesh => ({
  ...m,
  positions: share(m.positions),
  faceStart: share(m.faceStart),
  cornerVertex: share(m.cornerVertex),
  faceMaterial: share(m.faceMaterial),
  faceGroup: share(m.faceGroup),
  ...(m.cornerNormal ? { cornerNormal: share(m.cornerNormal) } : {}),
  origin: { vertex: share(m.origin.vertex), face: share(m.origin.face) },
});

const shareLayout = (l: Layout): Layout => ({
  cut: share(l.cut),
  mapped: share(l.mapped),
  uv: share(l.uv),
  pinned: share(l.pinned),
});

const shareRemembered = ({ part, shape }: Remembered): Remembered => ({ part, shape: shareShape(shape) });

function shareBody(b: ShapeBody): ShapeBody {
  return {
    mesh: shareMesh(b.mesh),
    ...(b.merged ? { merged: b.merged.map(shareRemembered) } : {}),
    ...(b.split ? { split: { whole: shareRemembered(b.split.whole), faces: share(b.split.faces) } } : {}),
  };
}

function shareShape(s: Shape): Shape {
  return {
    ...shareBody(s),
    id: s.id,
    layouts: new Map([...s.layouts].map(([set, layout]) => [set, shareLayout(layout)])),
  };
}

/** A change whose arrays all threads see. */
export const shareDelta = (delta: AssetDelta): AssetDelta => ({
  ...delta,
  shapes: delta.shapes.map(({ id, body }) => ({ id, body: shareBody(body) })),
  layouts: delta.layouts.map((l) => ({ ...l, layout: l.layout && shareLayout(l.layout) })),
});

export const shareAsset = (asset: Asset): Asset => ({
  ...asset,
  shapes: new Map([...asset.shapes].map(([id, shape]) => [id, shareShape(shape)])),
});
