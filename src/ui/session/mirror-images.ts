import { type ShapeId, shapeById } from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { pointNames } from "@/core/layout/point-names";
import { layoutOf } from "@/core/operations/scope";
import { elementsOfFace } from "@/core/select/stand-for";
import type { BenchState } from "./store";

/** Items of a shape with their mirror images, while picks are mirrored and those are known. */
export function withImages(state: BenchState, id: ShapeId, items: Iterable<number>): Iterable<number> {
  const { asset, set, kind, mirror } = state;
  const shape = mirror && asset ? shapeById(asset, id) : null;
  const images = shape && mirror!.images.get(shape.mesh);
  if (!images) return items;
  const own = [...items];
  if (kind === "points") {
    const s = structureOf(shape.mesh, layoutOf(shape, set));
    const corners = own.map((c) => images.corners[c]!).filter((c) => c >= 0);
    return [...own, ...corners.map((c) => pointNames(s)[s.cornerWedge[c]!]!)];
  }
  if (kind !== "shells") return [...own, ...own.map((i) => images[kind][i]!).filter((i) => i >= 0)];
  // A shell's image is the shell that the image of its least face lies in.
  const faces = own.map((f) => images.faces[f]!).filter((f) => f >= 0);
  return [...own, ...faces.flatMap((f) => elementsOfFace(shape.mesh, layoutOf(shape, set), f, "shells"))];
}
