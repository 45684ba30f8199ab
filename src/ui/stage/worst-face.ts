import { worstTriangle } from "@/core/check/triangle-stretch";
import type { Asset, ShapeId } from "@/core/layout/asset";
import { edgesOfFace } from "@/core/mesh/topology";
import { trianglesOf } from "@/core/mesh/triangulate";
import { ElementSet } from "@/core/select/element-set";
import { elementCount } from "@/core/select/grow";

/** The edges of the face that is stretched most; nothing where none is known, or its shape is gone. */
export function edgesOfWorst(
  asset: Asset,
  stretch: Parameters<typeof worstTriangle>[0],
): { shape: ShapeId; edges: ElementSet } | null {
  const worst = worstTriangle(stretch);
  const mesh = worst && asset.shapes.get(worst.shape)?.mesh;
  if (!worst || !mesh) return null;
  const own = edgesOfFace(mesh, trianglesOf(mesh).face[worst.triangle]!);
  return { shape: worst.shape, edges: ElementSet.of(elementCount(mesh, "edges"), own) };
}
