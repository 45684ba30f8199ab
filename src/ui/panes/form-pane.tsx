"use client";

import { Canvas, useThree } from "@react-three/fiber";
import { useCallback, useEffect, useMemo, useRef } from "react";
import { MOUSE, type PerspectiveCamera, TOUCH, Vector3 } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { facesOfItems } from "../session/selection";
import { useBench } from "../session/store";
import { pickMaterial } from "./materials";
import { PaneContent } from "./pane-content";
import { PaneFrame } from "./pane-frame";
import { PickBuffer } from "./pick-buffer";
import type { useSharedScene } from "./shared-scene";
import { type PaneView, usePaneInput } from "./use-pane-input";

type Shared = NonNullable<ReturnType<typeof useSharedScene>>;

/** Middle and radius of what is to be framed, world space. */
function frameTarget(shared: Shared, what: "selection" | "all"): { centre: Vector3; radius: number } {
  const { asset, set, kind, picked } = useBench.getState();
  const whole = { centre: new Vector3(...shared.scene.centre), radius: shared.scene.radius };
  if (what === "all" || !asset || !picked.size) return whole;
  const low = new Vector3(Infinity, Infinity, Infinity);
  const high = new Vector3(-Infinity, -Infinity, -Infinity);
  const point = new Vector3();
  for (const d of shared.scene.drawn) {
    const items = picked.get(d.part.shape);
    if (!items || !d.first) continue;
    const world = shared.scene.world.get(d.part.id)!;
    for (const f of facesOfItems(asset, set, d.part.shape, items, kind))
      for (let c = d.part.mesh.faceStart[f]!; c < d.part.mesh.faceStart[f + 1]!; c++) {
        point.fromArray(world, 3 * d.part.mesh.cornerVertex[c]!);
        low.min(point);
        high.max(point);
      }
  }
  if (low.x > high.x) return whole;
  return {
    centre: low.clone().add(high).multiplyScalar(0.5),
    radius: Math.max(low.distanceTo(high) / 2, shared.scene.radius * 0.02),
  };
}

/** Camera, its handling, and what the pane hands out for pointing. */
function Stage({ shared, buffer, onView }: { shared: Shared; buffer: PickBuffer; onView: (v: PaneView) => void }) {
  const { gl, camera, size, invalidate } = useThree();
  const up = useBench((s) => s.asset?.up);
  const frame = useBench((s) => s.frame);
  const controls = useRef<OrbitControls | null>(null);

  useEffect(() => {
    const c = new OrbitControls(camera, gl.domElement.parentElement!.parentElement!.parentElement!);
    c.mouseButtons = { LEFT: null, MIDDLE: MOUSE.PAN, RIGHT: MOUSE.ROTATE };
    c.touches = { ONE: TOUCH.ROTATE, TWO: TOUCH.DOLLY_PAN };
    c.zoomToCursor = true;
    const changed = () => {
      buffer.spoil();
      invalidate();
    };
    c.addEventListener("change", changed);
    const space = (down: boolean) => (e: KeyboardEvent) => {
      if (e.code === "Space") c.mouseButtons.LEFT = down ? MOUSE.ROTATE : null;
    };
    const [press, release] = [space(true), space(false)];
    addEventListener("keydown", press);
    addEventListener("keyup", release);
    controls.current = c;
    return () => {
      removeEventListener("keydown", press);
      removeEventListener("keyup", release);
      c.dispose();
    };
  }, [camera, gl, buffer, invalidate]);

  useEffect(() => {
    const eye = camera as PerspectiveCamera;
    const { centre, radius } = frameTarget(shared, frame.what);
    const fov = (eye.fov * Math.PI) / 180;
    const away = (radius * 0.88) / Math.sin(Math.min(fov, 2 * Math.atan(Math.tan(fov / 2) * eye.aspect)) / 2);
    const from = frame.count <= 1 ? new Vector3(0.55, 0.38, 1) : eye.position.clone().sub(controls.current!.target);
    if (frame.count <= 1 && up === "z") from.set(0.55, -1, 0.38);
    eye.up.set(0, up === "z" ? 0 : 1, up === "z" ? 1 : 0);
    eye.near = shared.scene.radius / 500;
    eye.far = shared.scene.radius * 100;
    eye.position.copy(centre).addScaledVector(from.normalize(), away);
    eye.updateProjectionMatrix();
    controls.current!.target.copy(centre);
    controls.current!.update();
    buffer.spoil();
    invalidate();
    // Dependencies on purpose: framing happens when asked for, not when the selection changes
  }, [frame, shared.scene, camera, size.width > 0]);

  useEffect(() => {
    buffer.spoil();
    const v = new Vector3();
    onView({
      gl,
      camera,
      size,
      toPixels(x, y, z) {
        v.set(x, y, z).project(camera);
        return [((v.x + 1) / 2) * size.width, ((1 - v.y) / 2) * size.height];
      },
    });
  }, [gl, camera, size, buffer, onView]);

  // Dependencies on purpose: the stamp says that arrays were rewritten
  useEffect(() => {
    buffer.spoil();
    invalidate();
  }, [shared.stamp]);
  return null;
}

/** The 3D pane. */
export function FormPane({ shared }: { shared: Shared }) {
  const view = useRef<PaneView | null>(null);
  const buffer = useMemo(
    () => new PickBuffer(shared.scene.geometry, pickMaterial("form", shared.textures)),
    [shared.scene, shared.textures],
  );
  useEffect(() => () => buffer.dispose(), [buffer]);
  const getView = useCallback(() => view.current, []);
  const getBuffer = useCallback(() => buffer, [buffer]);
  const onView = useCallback((v: PaneView) => {
    view.current = v;
  }, []);
  const { box, handlers } = usePaneInput("form", shared.scene, getView, getBuffer);
  return (
    <PaneFrame pane="form" box={box} handlers={handlers}>
      <Canvas
        legacy
        frameloop="demand"
        dpr={[1, 2]}
        flat
        linear
        gl={{ antialias: true, preserveDrawingBuffer: true }}
        camera={{ fov: 32 }}
      >
        <Stage shared={shared} buffer={buffer} onView={onView} />
        <PaneContent scene={shared.scene} textures={shared.textures} pane="form" />
      </Canvas>
    </PaneFrame>
  );
}
