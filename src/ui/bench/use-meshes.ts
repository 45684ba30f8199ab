import { useRef } from "react";
import { type Asset, shapeOf } from "@/core/layout/asset";

/** The meshes of the parts, the same list for as long as none of them changes. */
export function useMeshes(asset: Asset): readonly unknown[] {
  const kept = useRef<readonly unknown[]>([]);
  const now = asset.parts.flatMap((p) => [p.id, p.transform, shapeOf(asset, p).mesh]);
  if (kept.current.length !== now.length || kept.current.some((k, i) => k !== now[i])) kept.current = now;
  return kept.current;
}
