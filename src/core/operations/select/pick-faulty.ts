import { z } from "zod";
import { figuresOfAsset } from "../../check/figures";
import { measure } from "../../check/measure";
import type { ShapeFigures } from "../../check/shape-figures";
import { stretchOfShape } from "../../check/triangle-stretch";
import type { Asset, PlacedShape, ShapeId } from "../../layout/asset";
import { getBit } from "../../layout/bits";
import { facesOfShell, shellNamed, structureOf } from "../../layout/layout";
import { faceCount } from "../../mesh/poly-mesh";
import { trianglesOf } from "../../mesh/triangulate";
import { placesOf } from "../../select/grow";
import type { Scope, SelectOperation } from "../operation";
import { layoutOf, shapesInScope } from "../scope";
import { elementWords } from "../words";

const options = z.object({
  what: z
    .enum(["stretched", "flipped", "overlapping", "mirrored", "collapsed", "unmapped"])
    .default("stretched")
    .meta({ title: "Faces", description: "What is wrong with the faces that are picked" }),
  limit: z.number().min(1).max(100).default(1.5).meta({
    title: "Limit",
    description: "For stretched: sides scaled or angles changed by this much and more; 1 is none",
  }),
});
type Options = z.infer<typeof options>;

/** Picks the faces that something is wrong with. */
export const pickFaulty: SelectOperation<Options> = {
  id: "pick-faulty",
  title: "Pick: Faulty faces",
  about:
    "Picks faces that are stretched beyond a limit, flipped, without area, without coordinates, or of shells that overlap or lie mirrored.",
  kind: "select",
  stage: "check",
  heading: "Pick",
  acts: "parts",
  options,
  run(asset, scope, asked) {
    const shapes = shapesInScope(asset, scope);
    const figures = figuresOfAsset(asset, scope.set, new Set(shapes.map((s) => s.id)));
    const shells = asked.what === "overlapping" ? overlapping(asset, scope) : null;
    const items = new Map<ShapeId, Uint32Array>();
    let total = 0;
    for (const shape of shapes) {
      const flags = shells
        ? facesOf(shape, scope, shells.get(shape.id) ?? [])
        : faultyFaces(shape, scope, asked, figures.get(shape.id)!);
      const places = placesOf(flags);
      if (places.length) items.set(shape.id, places);
      total += places.length;
    }
    return { selection: { kind: "faces", items }, words: `${elementWords(total, "faces")} picked.` };
  },
};

/** Names of the shells that share area with another, stacks left out. */
function overlapping(asset: Asset, scope: Scope): Map<ShapeId, Set<number>> {
  const out = new Map<ShapeId, Set<number>>();
  for (const { a, b, stacked } of measure(asset, undefined, scope.set).overlapPairs ?? [])
    for (const { shape, face } of stacked ? [] : [a, b]) {
      const own = out.get(shape) ?? new Set();
      out.set(shape, own.add(face));
    }
  return out;
}

function facesOf(shape: PlacedShape, scope: Scope, shells: Iterable<number>): Uint8Array {
  const s = structureOf(shape.mesh, layoutOf(shape, scope.set));
  const flags = new Uint8Array(faceCount(shape.mesh));
  for (const name of shells) for (const f of facesOfShell(s, shellNamed(s, name)!)) flags[f] = 1;
  return flags;
}

function faultyFaces(shape: PlacedShape, scope: Scope, { what, limit }: Options, f: ShapeFigures): Uint8Array {
  const flags = new Uint8Array(faceCount(shape.mesh));
  const layout = layoutOf(shape, scope.set);
  const s = structureOf(shape.mesh, layout);
  const t = trianglesOf(shape.mesh);
  if (what === "unmapped") return flags.map((_, face) => (getBit(layout.mapped, face) ? 0 : 1));
  if (what === "mirrored") return flags.map((_, face) => (f.majority[s.faceShell[face]!]! < 0 ? 1 : 0));
  const stretch = what === "stretched" ? stretchOfShape(shape, scope.set, "both", f) : null;
  for (let k = 0; k < t.face.length; k++) {
    const face = t.face[k]!;
    const shell = s.faceShell[face]!;
    if (!f.mapped[shell]) continue;
    const sign = f.triangle.sign[k]!;
    const isBad = stretch
      ? Math.max(stretch[k]!, 1 / stretch[k]!) >= limit
      : what === "flipped"
        ? sign * f.majority[shell]! < 0
        : sign === 0 && f.triangle.solid[k] === 1;
    if (isBad) flags[face] = 1;
  }
  return flags;
}
