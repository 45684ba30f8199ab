"use client";

import { useElementSize } from "@mantine/hooks";
import { type PointerEvent as ReactPointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { beginMove } from "../session/actions";
import type { LiveMove, Motion } from "../session/live-move";
import { useBenchOf } from "../session/store";
import { type SheetView, uvBox } from "./sheet-view";
import { spaceHeld } from "./space-key";

const STILL: Motion = { du: 0, dv: 0, turn: 0, scale: 1 };
type Grip = "move" | "turn" | "scale";

interface Held {
  readonly grip: Grip;
  /** Where the pane lies in the window; asking at every move would have the page laid out anew each time. */
  readonly frame: { readonly left: number; readonly top: number };
  readonly x: number;
  readonly y: number;
  readonly start: number;
  motion: Motion;
  /** Begun with the first motion. */
  live: Promise<LiveMove | null> | null;
  /** Escape has taken it back. */
  dropped: boolean;
}

/**
 * Handles about the picked shells: drag inside to move, a corner to scale, the knob to turn. Shift keeps to steps,
 * Escape lets the shells back where they were.
 */
export function SheetHandles({ view }: { view: SheetView }) {
  const { ref, width, height } = useElementSize();
  const { asset, kind, picked, set } = useBenchOf("asset", "kind", "picked", "set");
  const [motion, setMotion] = useState<Motion>(STILL);
  const held = useRef<Held | null>(null);
  useEffect(() => {
    const letGo = (e: KeyboardEvent) => {
      const h = held.current;
      if (e.key !== "Escape" || !h || h.dropped) return;
      e.stopPropagation();
      void h.live?.then((live) => live?.drop());
      // Held until the button is let go, which then means nothing: not a click on what lies under it either.
      h.dropped = true;
      setMotion(STILL);
    };
    addEventListener("keydown", letGo, true);
    return () => removeEventListener("keydown", letGo, true);
  }, []);
  // Dependencies on purpose: the box follows these through the store
  const box = useMemo(() => (kind === "shells" && picked.size ? uvBox("selection") : null), [asset, set, kind, picked]);
  const x = (u: number) => width / 2 + (u - view.u) * view.scale;
  const y = (v: number) => height / 2 - (v - view.v) * view.scale;
  if (!box) return <div ref={ref} style={{ position: "absolute", inset: 0, pointerEvents: "none" }} />;
  const [mu, mv] = [(box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2];
  const [cx, cy] = [x(mu), y(mv)];

  const begin = (grip: Grip) => (e: ReactPointerEvent) => {
    if (e.button !== 0 || e.shiftKey || e.ctrlKey || spaceHeld()) return;
    // A press inside the box that never moves is a click on what lies there, and goes on to the pane.
    if (grip !== "move") e.stopPropagation();
    const r = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
    const [px, py] = [e.clientX - r.left, e.clientY - r.top];
    const frame = { left: r.left, top: r.top };
    const start = grip === "turn" ? Math.atan2(cy - py, px - cx) : Math.hypot(px - cx, py - cy);
    held.current = { grip, frame, x: px, y: py, start, motion: STILL, live: null, dropped: false };
    e.currentTarget.setPointerCapture(e.pointerId);
  };

  const go = (e: ReactPointerEvent) => {
    const h = held.current;
    if (!h) return;
    if (h.dropped) {
      e.stopPropagation();
      return;
    }
    const [px, py] = [e.clientX - h.frame.left, e.clientY - h.frame.top];
    if (h.motion === STILL && Math.hypot(px - h.x, py - h.y) < 3) return;
    e.stopPropagation();
    let next = STILL;
    if (h.grip === "move") {
      const [du, dv] = [(px - h.x) / view.scale, (h.y - py) / view.scale];
      next = { ...STILL, ...(e.shiftKey ? (Math.abs(du) > Math.abs(dv) ? { du } : { dv }) : { du, dv }) };
    } else if (h.grip === "turn") {
      const degrees = ((Math.atan2(cy - py, px - cx) - h.start) * 180) / Math.PI;
      next = { ...STILL, turn: e.shiftKey ? Math.round(degrees / 15) * 15 : degrees };
    } else next = { ...STILL, scale: Math.max(0.01, Math.hypot(px - cx, py - cy) / (h.start || 1)) };
    h.motion = next;
    setMotion(next);
    h.live ??= beginMove();
    void h.live.then((live) => live && held.current === h && !h.dropped && live.update(next));
  };

  const end = async (e: ReactPointerEvent) => {
    const h = held.current;
    if (!h) return;
    held.current = null;
    if (h.motion === STILL && h.grip === "move") return;
    e.stopPropagation();
    if (h.dropped) return;
    const live = await h.live;
    await live?.commit(h.motion);
    setMotion(STILL);
  };

  const grips = (grip: Grip) => ({
    onPointerDown: begin(grip),
    onPointerMove: go,
    onPointerUp: end,
    style: { pointerEvents: "all" as const },
  });
  const [left, right, top, bottom] = [x(box.u0), x(box.u1), y(box.v1), y(box.v0)];
  const shift = `translate(${motion.du * view.scale} ${-motion.dv * view.scale}) translate(${cx} ${cy}) rotate(${-motion.turn}) scale(${motion.scale}) translate(${-cx} ${-cy})`;
  return (
    <div ref={ref} style={{ position: "absolute", inset: 0, pointerEvents: "none" }}>
      <svg width={width} height={height} role="img" aria-label="Handles of the picked shells">
        <g transform={shift} stroke="var(--sumac)" fill="none">
          <rect
            x={left}
            y={top}
            width={right - left}
            height={bottom - top}
            strokeDasharray="5 3"
            fill="transparent"
            data-grip="move"
            cursor="move"
            {...grips("move")}
          />
          <path d={`M${cx} ${top}V${top - 22}`} />
          <circle cx={cx} cy={top - 24} r={6} fill="var(--card)" data-grip="turn" cursor="grab" {...grips("turn")} />
          {[
            [left, top],
            [right, top],
            [left, bottom],
            [right, bottom],
          ].map(([a, b], k) => (
            <rect
              key={k}
              x={a! - 5}
              y={b! - 5}
              width={10}
              height={10}
              rx={2}
              fill="var(--card)"
              data-grip="scale"
              cursor={k === 0 || k === 3 ? "nwse-resize" : "nesw-resize"}
              {...grips("scale")}
            />
          ))}
        </g>
        {motion !== STILL && (
          <text x={right + 8} y={top} fontSize={12} fill="var(--sumac)">
            {motion.turn
              ? `${motion.turn.toFixed(1)}°`
              : motion.scale !== 1
                ? `× ${motion.scale.toFixed(3)}`
                : `${motion.du.toFixed(3)}, ${motion.dv.toFixed(3)}`}
          </text>
        )}
      </svg>
    </div>
  );
}
