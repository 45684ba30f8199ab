"use client";

import { useMemo, useSyncExternalStore } from "react";
import { useBench, useBenchOf } from "../session/session-context";
import type { SheetCamera } from "../stage/sheet-camera";
import { uvBox } from "../stage/uv-box";
import classes from "./pane.module.css";
import { motionWords } from "./tool-overlay";

/** The eye on the sheet, and where a point of it lies in the pane. */
export function useSheetPlaces(eye: SheetCamera) {
  const view = useSyncExternalStore(eye.subscribe, eye.getView, eye.getView);
  return {
    view,
    x: (u: number) => view.width / 2 + (u - view.u) * view.scale,
    y: (v: number) => view.height / 2 - (v - view.v) * view.scale,
  };
}

/**
 * Handles about the picked shells: a drag inside moves, a corner scales, the knob turns. What they do is the gestures'
 * of the pane; here they are only drawn.
 */
export function SheetHandles({ eye }: { eye: SheetCamera }) {
  const { asset, kind, picked, set } = useBenchOf("asset", "kind", "picked", "set");
  const { view, x, y } = useSheetPlaces(eye);
  const overlay = useBench((s) => (s.overlay?.pane === "sheet" ? s.overlay.shape : null));
  const box = useMemo(
    () => (kind === "shells" && picked.size ? uvBox({ asset, set, kind, picked }, "selection") : null),
    [asset, set, kind, picked],
  );
  if (!box) return null;
  const motion = overlay?.kind === "motion" ? overlay.motion : null;
  const [cx, cy] = [x((box.u0 + box.u1) / 2), y((box.v0 + box.v1) / 2)];
  const [left, right, top, bottom] = [x(box.u0), x(box.u1), y(box.v1), y(box.v0)];
  const shift =
    motion &&
    `translate(${motion.du * view.scale} ${-motion.dv * view.scale}) translate(${cx} ${cy}) rotate(${-motion.turn}) scale(${motion.scale}) translate(${-cx} ${-cy})`;
  const corners = [
    [left, top, "nwse-resize"],
    [right, top, "nesw-resize"],
    [left, bottom, "nesw-resize"],
    [right, bottom, "nwse-resize"],
  ] as const;
  return (
    <svg className={classes.handles} role="img" aria-label="Handles of the picked shells">
      <g transform={shift ?? undefined}>
        <rect
          x={left}
          y={top}
          width={right - left}
          height={bottom - top}
          strokeDasharray="5 3"
          fill="transparent"
          data-grip="move"
          cursor="move"
        />
        <path d={`M${cx} ${top}V${top - 22}`} />
        <circle cx={cx} cy={top - 24} r={6} data-grip="turn" cursor="grab" />
        {corners.map(([a, b, cursor]) => (
          <rect key={`${a},${b}`} x={a - 5} y={b - 5} width={10} height={10} rx={2} data-grip="scale" cursor={cursor} />
        ))}
      </g>
      {motion && (
        <text x={right + 8} y={top}>
          {motionWords(motion)}
        </text>
      )}
    </svg>
  );
}
