"use client";

import { Canvas, useThree } from "@react-three/fiber";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type OrthographicCamera, Vector3 } from "three";
import { useBench } from "../session/store";
import { pickMaterial } from "./materials";
import { PaneContent } from "./pane-content";
import { PaneFrame } from "./pane-frame";
import { PickBuffer } from "./pick-buffer";
import type { useSharedScene } from "./shared-scene";
import { SheetHandles } from "./sheet-handles";
import { type SheetView, uvBox } from "./sheet-view";
import { spaceHeld } from "./space-key";
import { TileGrid } from "./tile-grid";
import { type PaneView, usePaneInput } from "./use-pane-input";

type Shared = NonNullable<ReturnType<typeof useSharedScene>>;

function Stage({
  shared,
  buffer,
  view,
  onView,
}: {
  shared: Shared;
  buffer: PickBuffer;
  view: SheetView;
  onView: (v: PaneView) => void;
}) {
  const { gl, camera, size, invalidate } = useThree();
  useEffect(() => {
    const eye = camera as OrthographicCamera;
    const [w, h] = [size.width / 2 / view.scale, size.height / 2 / view.scale];
    Object.assign(eye, { left: -w, right: w, top: h, bottom: -h, near: 0.1, far: 10, zoom: 1 });
    eye.position.set(view.u, view.v, 5);
    eye.updateProjectionMatrix();
    eye.updateMatrixWorld();
    buffer.spoil();
    const point = new Vector3();
    onView({
      gl,
      camera,
      size,
      toPixels(x, y, z) {
        point.set(x, y, z).project(camera);
        return [((point.x + 1) / 2) * size.width, ((1 - point.y) / 2) * size.height];
      },
    });
    invalidate();
  }, [view, size, camera, gl, buffer, onView, invalidate]);
  // Dependencies on purpose: the stamp says that arrays were rewritten
  useEffect(() => {
    buffer.spoil();
    invalidate();
  }, [shared.stamp]);
  return null;
}

/** The UV pane. */
export function SheetPane({ shared }: { shared: Shared }) {
  const holder = useRef<HTMLDivElement>(null);
  const paneView = useRef<PaneView | null>(null);
  const [view, setView] = useState<SheetView>({ u: 0.5, v: 0.5, scale: 300 });
  const frame = useBench((s) => s.frame);
  const buffer = useMemo(
    () => new PickBuffer(shared.scene.flat, pickMaterial("sheet", shared.textures)),
    [shared.scene, shared.textures],
  );
  useEffect(() => () => buffer.dispose(), [buffer]);
  const getView = useCallback(() => paneView.current, []);
  const getBuffer = useCallback(() => buffer, [buffer]);
  const onView = useCallback((v: PaneView) => {
    paneView.current = v;
  }, []);
  const { box, handlers } = usePaneInput("sheet", shared.scene, getView, getBuffer);

  useEffect(() => {
    const target = uvBox(frame.what) ?? uvBox("all");
    const r = holder.current?.getBoundingClientRect();
    if (!target || !r) return;
    const scale =
      0.86 * Math.min(r.width / (target.u1 - target.u0 || 1), (r.height - 60) / (target.v1 - target.v0 || 1));
    setView({ u: (target.u0 + target.u1) / 2, v: (target.v0 + target.v1) / 2, scale });
  }, [frame]);

  useEffect(() => {
    const element = holder.current!;
    let panning = false;
    const zoom = (e: WheelEvent) => {
      e.preventDefault();
      const r = element.getBoundingClientRect();
      const [dx, dy] = [e.clientX - r.left - r.width / 2, r.height / 2 - (e.clientY - r.top)];
      setView((v) => {
        const scale = Math.min(200_000, Math.max(8, v.scale * Math.exp(-e.deltaY * 0.0015)));
        return { u: v.u + dx / v.scale - dx / scale, v: v.v + dy / v.scale - dy / scale, scale };
      });
    };
    const down = (e: PointerEvent) => {
      panning = e.button === 1 || e.button === 2 || (spaceHeld() && e.button === 0);
    };
    const move = (e: PointerEvent) => {
      if (panning) setView((v) => ({ ...v, u: v.u - e.movementX / v.scale, v: v.v + e.movementY / v.scale }));
    };
    const up = () => {
      panning = false;
    };
    element.addEventListener("wheel", zoom, { passive: false });
    element.addEventListener("pointerdown", down, true);
    addEventListener("pointermove", move);
    addEventListener("pointerup", up);
    return () => {
      element.removeEventListener("wheel", zoom);
      element.removeEventListener("pointerdown", down, true);
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", up);
    };
  }, []);

  return (
    <PaneFrame pane="sheet" box={box} handlers={handlers} holder={holder}>
      <TileGrid view={view} />
      <Canvas
        legacy
        frameloop="demand"
        orthographic
        dpr={[1, 2]}
        flat
        linear
        gl={{ antialias: true, stencil: true, alpha: true, preserveDrawingBuffer: true }}
        style={{ position: "absolute", inset: 0 }}
      >
        <Stage shared={shared} buffer={buffer} view={view} onView={onView} />
        <PaneContent scene={shared.scene} textures={shared.textures} pane="sheet" />
      </Canvas>
      <SheetHandles view={view} />
    </PaneFrame>
  );
}
