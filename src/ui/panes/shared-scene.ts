import { useEffect, useMemo, useRef, useState } from "react";
import type { CanvasTexture } from "three";
import type { Asset, Part, ShapeId } from "@/core/layout/asset";
import { facesOfItems } from "../session/selection";
import { useBenchOf } from "../session/store";
import { fetchImages, imageLayers } from "./image-layers";
import { type FaceTextures, swatchTexture } from "./materials";
import {
  buildScene,
  faceTexture,
  fillColors,
  fillStretch,
  fillTints,
  fillUv,
  HOVERED,
  hideParts,
  markFaces,
  type Scene,
  SELECTED,
} from "./scene";

let swatch: CanvasTexture | null = null;

/** The calibration swatch, drawn once. */
export function useSharedSwatch(): CanvasTexture {
  return useMemo(() => {
    swatch ??= swatchTexture();
    return swatch;
  }, []);
}

/** The parts, as long as none of them is of another shape or stands elsewhere. */
function useShapes(asset: Asset | null): readonly Part[] | undefined {
  const kept = useRef<readonly Part[] | undefined>(undefined);
  const shapes = useRef<Asset["shapes"] | undefined>(undefined);
  const now = asset?.parts;
  const was = kept.current;
  const same =
    was?.length === now?.length &&
    now?.every((p, i) => {
      const q = was![i]!;
      return p === q || (p.id === q.id && p.shape === q.shape && p.transform === q.transform);
    }) &&
    asset !== null &&
    [...asset.shapes.values()].every((s) => shapes.current?.get(s.id)?.mesh === s.mesh);
  if (!same) {
    kept.current = now;
    shapes.current = asset?.shapes;
  }
  return kept.current;
}

const NOTHING: ReadonlyMap<ShapeId, Iterable<number>> = new Map();

/**
 * The drawn asset that both panes share, kept up with the document: arrays made once per mesh, coordinates, tints,
 * marks and stretch rewritten in place. `stamp` changes whenever something did.
 */
export function useSharedScene(): { scene: Scene; textures: FaceTextures; stamp: object } | null {
  const { asset, set, picked, kind, hover, hidden, stretch, live } = useBenchOf(
    "asset",
    "set",
    "picked",
    "kind",
    "hover",
    "hidden",
    "stretch",
    "live",
  );
  const shapes = useShapes(asset);
  // Dependencies on purpose: only other meshes, transforms or materials need another scene
  const built = useMemo(() => {
    if (!asset) return null;
    const scene = buildScene(asset);
    const textures = {
      state: faceTexture(scene.faces),
      color: faceTexture(scene.faces),
      images: imageLayers(asset),
    };
    return { scene, textures };
  }, [asset?.id, shapes, asset?.images]);
  // Dependencies on purpose: colours follow materials and the set that images are laid by
  const colored = useMemo(() => {
    if (built && asset) fillColors(built.textures.color, built.scene, asset, set);
    return {};
  }, [built, asset?.materials, set]);
  const [pictured, setPictured] = useState({});
  useEffect(() => {
    if (!built || !asset?.images.length) return;
    let wanted = true;
    void fetchImages(asset, built.textures.images, () => wanted).then(() => wanted && setPictured({}));
    return () => {
      wanted = false;
    };
  }, [built]);
  useEffect(
    () => () => {
      built?.scene.geometry.dispose();
      built?.scene.flat.dispose();
      built?.textures.state.dispose();
      built?.textures.color.dispose();
      built?.textures.images.dispose();
    },
    [built],
  );
  // Each step rewrites only what depends on it, and those after it that it has overwritten.
  const laid = useMemo(() => {
    if (!built || !asset) return null;
    fillUv(built.scene, asset, set);
    fillTints(built.textures.state, built.scene, asset, set);
    return {};
  }, [built, asset, set]);
  // Shells under the pointer are rewritten alone, and put back where the document has them when they are let go.
  const followed = useRef<ReadonlySet<ShapeId>>(new Set());
  const moved = useMemo(() => {
    if (!laid || !built || !asset) return {};
    const ids = new Set([...followed.current, ...live.keys()]);
    if (ids.size) fillUv(built.scene, asset, set, ids, live);
    followed.current = new Set(live.keys());
    return {};
  }, [built, laid, asset, set, live]);
  const shown = useMemo(() => {
    if (laid && built) hideParts(built.textures.state, built.scene, hidden);
    return {};
  }, [built, laid, hidden]);
  const marked = useMemo(() => {
    if (!shown || !built || !asset) return {};
    const whole = kind === "faces" || kind === "shells";
    const faces = new Map(
      [...picked].map(([id, items]) => [id, whole ? facesOfItems(asset, set, id, items, kind) : []] as const),
    );
    markFaces(built.textures.state, built.scene, SELECTED, faces);
    return {};
  }, [built, shown, asset, set, picked, kind]);
  const pointed = useMemo(() => {
    if (!marked || !built || !asset) return {};
    const whole = hover && (kind === "faces" || kind === "shells");
    const faces = whole
      ? new Map([[hover.shape, facesOfItems(asset, set, hover.shape, new Set([hover.item]), kind)]])
      : NOTHING;
    markFaces(built.textures.state, built.scene, HOVERED, faces);
    return {};
  }, [built, marked, asset, set, hover, kind]);
  const stretched = useMemo(() => {
    if (built) fillStretch(built.scene, stretch);
    return {};
  }, [built, stretch]);
  return useMemo(
    () => (built ? { ...built, stamp: { pointed, stretched, colored, pictured, moved } } : null),
    [built, pointed, stretched, colored, pictured, moved],
  );
}
