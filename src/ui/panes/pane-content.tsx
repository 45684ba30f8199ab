"use client";

import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry } from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { ShapeId } from "@/core/layout/asset";
import { type BenchState, useBench, useBenchOf } from "../session/store";
import {
  edgeSegments,
  formLines,
  type LineSets,
  type LinesOf,
  type Segments,
  sheetLines,
  vertexPoints,
  wireGeometry,
} from "./lines";
import { type FaceTextures, faceMaterial, hatchMaterial, VIEW_NUMBER } from "./materials";
import type { Scene } from "./scene";
import { useSharedSwatch } from "./shared-scene";

type Pane = "form" | "sheet";

/** Firm lines of a width in pixels. */
function FirmLines({
  segments,
  color,
  width,
  order,
  through = false,
}: {
  segments: Segments;
  color: string;
  width: number;
  order: number;
  through?: boolean;
}) {
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  // The object and its material stay while its lines change: a new material would have its shader compiled anew, which
  // takes longer than all else while shells follow the pointer.
  const line = useMemo(() => {
    const material = new LineMaterial({ color, linewidth: width, depthTest: !through, transparent: true });
    const object = new LineSegments2(new LineSegmentsGeometry(), material);
    object.renderOrder = order;
    object.frustumCulled = false;
    return object;
  }, [color, width, order, through]);
  useEffect(() => () => line.material.dispose(), [line]);
  useEffect(() => {
    const geometry = new LineSegmentsGeometry();
    if (segments.length) geometry.setPositions(segments);
    line.geometry = geometry;
    line.visible = segments.length > 0;
    invalidate();
    return () => geometry.dispose();
  }, [line, segments, invalidate]);
  useEffect(() => {
    line.material.resolution.set(size.width, size.height);
    invalidate();
  }, [line, size, invalidate]);
  return <primitive object={line} />;
}

/** What follows the pointer where nothing does. */
const STILL: BenchState["live"] = new Map();

/** Shapes that follow the pointer, and all others: the lines of these stay as they are meanwhile. */
function useLinesOf(pane: Pane): { still: LinesOf; moving: LinesOf | null } {
  // In Form nothing moves while shells follow the pointer.
  const live = useBench((s) => (pane === "sheet" ? s.live : STILL));
  const key = [...live.keys()].join();
  // Dependencies on purpose: the key stands for the shapes that move
  const still = useMemo(() => {
    const ids = new Set(live.keys());
    return { wants: (id: ShapeId) => !ids.has(id), live: STILL };
  }, [key]);
  const moving = useMemo(() => (live.size ? { wants: (id: ShapeId) => live.has(id), live } : null), [live]);
  return { still, moving };
}

function Wires({ scene, pane, of }: { scene: Scene; pane: Pane; of: LinesOf }) {
  const { asset, set, hidden } = useBenchOf("asset", "set", "hidden");
  const geometry = useMemo(
    () => (asset ? wireGeometry(scene, asset, set, hidden, pane, of) : null),
    [scene, asset, set, hidden, pane, of],
  );
  useEffect(() => () => geometry?.dispose(), [geometry]);
  if (!geometry) return null;
  return (
    <lineSegments geometry={geometry} renderOrder={2} frustumCulled={false}>
      <lineBasicMaterial
        color="#22252e"
        transparent
        opacity={pane === "form" ? 0.2 : 0.14}
        depthTest={pane === "form"}
      />
    </lineSegments>
  );
}

function Dots({ points, through }: { points: number[]; through: boolean }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute("position", new BufferAttribute(Float32Array.from(points), 3));
    return g;
  }, [points]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <points geometry={geometry} renderOrder={9} frustumCulled={false}>
      <pointsMaterial color="#8e2449" size={7} sizeAttenuation={false} depthTest={!through} transparent />
    </points>
  );
}

const HOVER_NONE: Segments = [];
const NO_LINES: LineSets = { seams: [], ticks: [], borders: [] };

function SeamLines({ lines, flat }: { lines: LineSets; flat: boolean }) {
  return (
    <>
      <FirmLines segments={lines.borders} color="#6b6a66" width={1.2} order={4} through={flat} />
      <FirmLines segments={lines.seams} color="#2e3a87" width={flat ? 1.6 : 2.4} order={5} through={flat} />
      <FirmLines segments={lines.ticks} color="#2e3a87" width={flat ? 1 : 1.4} order={5} through={flat} />
    </>
  );
}

/** Faces, wires, seams and marks of one pane. */
export function PaneContent({ scene, textures, pane }: { scene: Scene; textures: FaceTextures; pane: Pane }) {
  const { asset, set, view, wires, hidden, picked, preview, hover, kind } = useBenchOf(
    "asset",
    "set",
    "view",
    "wires",
    "hidden",
    "picked",
    "preview",
    "hover",
    "kind",
  );
  const { still, moving } = useLinesOf(pane);
  const swatch = useSharedSwatch();
  const invalidate = useThree((s) => s.invalidate);
  const material = useMemo(() => faceMaterial(pane, textures, swatch), [pane, textures, swatch]);
  const hatch = useMemo(() => (pane === "sheet" ? hatchMaterial() : null), [pane]);
  const limit = useBench((s) => s.stretchLimit);
  const repeats = useBench((s) => s.swatchRepeats);
  useEffect(() => {
    material.uniforms.repeats!.value = repeats;
    material.uniforms.view!.value = VIEW_NUMBER[view];
    material.uniforms.range!.value = [1 / limit, limit];
    invalidate();
  });
  const lines = useMemo(() => {
    if (!asset) return null;
    return pane === "form" ? formLines(scene, asset, set, hidden) : sheetLines(asset, set, hidden, still);
  }, [scene, asset, set, hidden, pane, still]);
  const movingLines = useMemo(
    () => (asset && moving ? sheetLines(asset, set, hidden, moving) : NO_LINES),
    [asset, set, hidden, moving],
  );
  const pickedEdges = useMemo(
    () => (asset && kind === "edges" ? edgeSegments(scene, asset, set, picked, pane) : HOVER_NONE),
    [scene, asset, set, picked, kind, pane],
  );
  const previewEdges = useMemo(
    () => (asset ? edgeSegments(scene, asset, set, preview, pane) : HOVER_NONE),
    [scene, asset, set, preview, pane],
  );
  const hoverItem = hover && new Map([[hover.shape, new Set([hover.item])]]);
  const hoverKey = hover ? `${hover.shape}/${hover.item}` : "";
  // Dependencies on purpose: the key stands for the item under the pointer
  const hoverEdge = useMemo(
    () => (asset && hoverItem && kind === "edges" ? edgeSegments(scene, asset, set, hoverItem, pane) : HOVER_NONE),
    [scene, asset, set, hoverKey, kind, pane],
  );
  const dots = useMemo(
    () => (asset && kind === "vertices" ? vertexPoints(scene, asset, set, picked, pane) : HOVER_NONE),
    [scene, asset, set, picked, kind, pane],
  );
  // Dependencies on purpose: the key stands for the item under the pointer
  const hoverDot = useMemo(
    () => (asset && hoverItem && kind === "vertices" ? vertexPoints(scene, asset, set, hoverItem, pane) : HOVER_NONE),
    [scene, asset, set, hoverKey, kind, pane],
  );
  if (!asset || !lines) return null;
  const flat = pane === "sheet";
  return (
    <>
      <mesh geometry={flat ? scene.flat : scene.geometry} material={material} frustumCulled={false} renderOrder={1} />
      {hatch && (
        <mesh material={hatch} frustumCulled={false} renderOrder={3}>
          <planeGeometry args={[2, 2]} />
        </mesh>
      )}
      {wires && <Wires scene={scene} pane={pane} of={still} />}
      {wires && moving && <Wires scene={scene} pane={pane} of={moving} />}
      <SeamLines lines={lines} flat={flat} />
      {flat && <SeamLines lines={movingLines} flat />}
      <FirmLines segments={pickedEdges} color="#8e2449" width={3.6} order={7} through={flat} />
      <FirmLines segments={previewEdges} color="#c98a1b" width={3} order={8} through={flat} />
      <FirmLines segments={hoverEdge} color="#1e7f86" width={3} order={8} through={flat} />
      {dots.length > 0 && <Dots points={dots} through={flat} />}
      {hoverDot.length > 0 && <Dots points={hoverDot} through={flat} />}
    </>
  );
}
