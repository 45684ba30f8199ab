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

/** Pixels of a side from which on it has a handle of its own. */
const ROOM = 44;

/**
 * Handles about the picked shells: a drag inside moves, a corner scales, a side along one axis, the knob turns. What they do is the gestures'
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
    `translate(${motion.du * view.scale} ${-motion.dv * view.scale}) translate(${cx} ${cy}) rotate(${-motion.turn}) scale(${motion.scale * (motion.scaleU ?? 1)} ${motion.scale * (motion.scaleV ?? 1)}) translate(${-cx} ${-cy})`;
  const corners = [
    [left, top, "nwse-resize"],
    [right, top, "nesw-resize"],
    [left, bottom, "nesw-resize"],
    [right, bottom, "nwse-resize"],
  ] as const;
  // Along one axis: where there is room between the corners.
  const sides = [
    ...(bottom - top > ROOM ? ([left, right] as const).map((a) => [a, cy, "scale-u"] as const) : []),
    ...(right - left > ROOM ? ([top, bottom] as const).map((b) => [cx, b, "scale-v"] as const) : []),
  ];
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
        {sides.map(([a, b, grip]) => (
          <rect
            key={`${a},${b}`}
            x={a - (grip === "scale-u" ? 3 : 8)}
            y={b - (grip === "scale-u" ? 8 : 3)}
            width={grip === "scale-u" ? 6 : 16}
            height={grip === "scale-u" ? 16 : 6}
            rx={2}
            data-grip={grip}
            cursor={grip === "scale-u" ? "ew-resize" : "ns-resize"}
          />
        ))}
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
