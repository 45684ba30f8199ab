import { type PointerEvent as ReactPointerEvent, useCallback, useRef, useState } from "react";
import type { Camera, WebGLRenderer } from "three";
import { clearPicked, clickItem, type PickMode, pickMany, previewPath } from "../session/selection";
import { EMPTY, useBench } from "../session/store";
import type { PickBuffer } from "./pick-buffer";
import { itemAt, itemsIn, projector } from "./pointing";
import type { Scene } from "./scene";
import { spaceHeld } from "./space-key";

/** What a pane hands out for pointing: its renderer, camera and projection, as they are now. */
export interface PaneView {
  readonly gl: WebGLRenderer;
  readonly camera: Camera;
  readonly size: { width: number; height: number };
  toPixels(x: number, y: number, z: number): [number, number];
}

export interface BoxShape {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

const modeOf = (e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): PickMode =>
  e.shiftKey ? "add" : e.ctrlKey || e.metaKey ? "remove" : "replace";

/** How far the pointer goes before a press becomes a box, pixels. */
const SLACK = 4;

/**
 * Picking in a pane as a small state machine: resting (hover), pressed (may become a click), boxing. Shift adds,
 * Ctrl takes away, Alt takes the path from the last edge, a double click the loop.
 */
export function usePaneInput(
  pane: "form" | "sheet",
  scene: Scene,
  view: () => PaneView | null,
  buffer: () => PickBuffer | null,
) {
  const press = useRef<{ x: number; y: number } | null>(null);
  const [box, setBox] = useState<BoxShape | null>(null);
  const boxNow = useRef<BoxShape | null>(null);
  const frame = useRef(0);

  const find = useCallback(
    (x: number, y: number) => {
      const v = view();
      const b = buffer();
      const { asset, set, kind } = useBench.getState();
      if (!v || !b || !asset) return null;
      const id = b.faceAt(v.gl, v.camera, v.size, x, y);
      return id < 0 ? null : itemAt(scene, asset, set, kind, id, projector(scene, asset, set, pane, v.toPixels), x, y);
    },
    [scene, pane, view, buffer],
  );

  const place = (e: ReactPointerEvent | React.MouseEvent): [number, number] => {
    const r = e.currentTarget.getBoundingClientRect();
    return [e.clientX - r.left, e.clientY - r.top];
  };

  const onPointerDown = (e: ReactPointerEvent) => {
    if (e.button !== 0 || spaceHeld()) return;
    const [x, y] = place(e);
    press.current = { x, y };
    if (!(e.target as Element).hasPointerCapture(e.pointerId)) e.currentTarget.setPointerCapture(e.pointerId);
  };

  const onPointerMove = (e: ReactPointerEvent) => {
    const [x, y] = place(e);
    const from = press.current;
    if (from && e.buttons & 1) {
      if (!boxNow.current && Math.hypot(x - from.x, y - from.y) < SLACK) return;
      boxNow.current = {
        x0: Math.min(x, from.x),
        y0: Math.min(y, from.y),
        x1: Math.max(x, from.x),
        y1: Math.max(y, from.y),
      };
      setBox(boxNow.current);
      return;
    }
    if (e.buttons) return;
    const path = e.altKey;
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const hit = find(x, y);
      const { hover, preview } = useBench.getState();
      if (hit?.shape !== hover?.shape || hit?.item !== hover?.item) useBench.setState({ hover: hit });
      if (hit && path) previewPath(hit.shape, hit.item);
      else if (preview.size) useBench.setState({ preview: EMPTY });
    });
  };

  const onPointerUp = (e: ReactPointerEvent) => {
    if (e.button !== 0 || !press.current) return;
    const shape = boxNow.current;
    press.current = null;
    boxNow.current = null;
    setBox(null);
    const mode = modeOf(e);
    if (shape) {
      const v = view();
      const b = buffer();
      const { asset, set, kind } = useBench.getState();
      if (!v || !b || !asset) return;
      const ids = b.facesIn(v.gl, v.camera, v.size, shape);
      pickMany(itemsIn(scene, asset, set, kind, ids, projector(scene, asset, set, pane, v.toPixels), shape), mode);
      return;
    }
    const [x, y] = place(e);
    const hit = find(x, y);
    if (hit) clickItem(hit.shape, hit.item, mode, e.altKey ? "path" : "single");
    else if (mode === "replace") clearPicked();
  };

  const onDoubleClick = (e: React.MouseEvent) => {
    const [x, y] = place(e);
    const hit = find(x, y);
    if (hit) clickItem(hit.shape, hit.item, e.shiftKey ? "add" : e.ctrlKey ? "remove" : "replace", "loop");
  };

  const onPointerLeave = () => {
    cancelAnimationFrame(frame.current);
    useBench.setState({ hover: null, preview: EMPTY });
  };

  return { box, handlers: { onPointerDown, onPointerMove, onPointerUp, onDoubleClick, onPointerLeave } };
}
