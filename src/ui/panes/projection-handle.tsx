"use client";

import { useElementSize } from "@mantine/hooks";
import { type KeyboardEvent, type PointerEvent, useRef, useSyncExternalStore } from "react";
import { Vector3 } from "three";
import { CENTRES, type Frame, pointedAlong, turnsBetween, type Vector } from "@/core/project/frame";
import { CENTRED } from "@/core/project/kinds";
import { setOption } from "../session/actions";
import { lendOption } from "../session/lent-option";
import { useBench, useSession } from "../session/session-context";
import type { Stage } from "../stage/stage";
import classes from "./pane.module.css";
import { centreNear, placed, rounded, shiftOf, snapped, wayTo } from "./projection-drag";
import { wiresOf } from "./projection-wires";
import { wayUnder } from "./way-under";

/** How far the knob of the axis stands out of the form. */
const OUT = 1.35;
/** Degrees, and of the form's size, that an arrow key turns and moves. */
const TURNS_BY = 5;
const MOVES_BY = 0.05;
const NAMES = ["x", "y", "z"] as const;

/**
 * What the open projection takes the form for, drawn about it: the knob on its axis turns it, that in its middle moves its
 * centre. Everything else of the pane works as ever meanwhile.
 */
export function ProjectionHandle({ stage }: { stage: Stage }) {
  const eye = stage.form;
  const trial = useBench((s) => s.trial);
  const { ref, width, height } = useElementSize();
  useSyncExternalStore(eye.subscribe, eye.getMoves, eye.getMoves);
  const drag = useDrag(stage);
  if (!trial?.stands) return null;
  const { stands } = trial;
  const far = knobAt(stands.reach);
  const pixel = (own: Vector): readonly [number, number] => {
    const at = new Vector3(...placed(stands.frame, own)).project(eye.camera);
    return [((at.x + 1) / 2) * width, ((1 - at.y) / 2) * height];
  };
  const [tip, middle] = [pixel([0, 0, far]), pixel([0, 0, 0])];
  const told = (prefix: string) => NAMES.map((n) => drag.value(`${prefix}${prefix ? n.toUpperCase() : n}`)).join(", ");
  return (
    <div ref={ref} className={classes.projection}>
      <svg aria-label={`Projected as ${stands.kind}`} role="img">
        {wiresOf(stands).map((line, i) => (
          <polyline key={`${stands.kind}${i}`} points={line.map((p) => pixel(p).join(",")).join(" ")} />
        ))}
        <line x1={middle[0]} y1={middle[1]} x2={tip[0]} y2={tip[1]} />
        <Knob
          at={tip}
          radius={7}
          label="Axis of the projection: drag it, or turn it by the arrow keys"
          hint="Falls onto the world's axes, with Shift on none; with Alt it goes the way of the edge or face under the pointer"
          now={drag.value("turnX")}
          told={`Turned ${told("turn")} degrees`}
          onBegin={drag.begin}
          onDrag={drag.turn}
          onEnd={drag.end}
          onStep={(by, axis) => drag.add(`turn${NAMES[axis].toUpperCase()}`, TURNS_BY * by)}
        />
        {CENTRED.some((kind) => kind === stands.kind) && (
          <Knob
            at={middle}
            radius={5}
            label="Centre of the projection: drag it, or move it by the arrow keys"
            hint="Falls onto the middle, the base and the part's origin; with Shift on none"
            now={drag.value("x")}
            told={`Moved by ${told("")}`}
            onBegin={drag.begin}
            onDrag={drag.move}
            onEnd={drag.end}
            onStep={(by, axis) => drag.add(NAMES[axis], (MOVES_BY * far * by) / OUT)}
          />
        )}
      </svg>
    </div>
  );
}

/** How far from the centre the knob of the axis stands. */
const knobAt = (reach: Vector): number => OUT * (Math.max(...reach) || 1);

/** What a drag on the handle began with. */
interface Begun {
  readonly frame: Frame;
  readonly base: Frame;
  /** Of the ball that the knob goes about on. */
  readonly radius: number;
  readonly x: number;
  readonly y: number;
  readonly shift: Vector;
  /** Where the centre is moved from. */
  readonly centre: string;
}

/** What a drag on the handle does to the options of the open card. */
function useDrag(stage: Stage) {
  const eye = stage.form;
  const session = useSession();
  const begun = useRef<Begun | null>(null);
  const trial = () => session.bench.getState().trial!;
  const value = (name: string): number => Number(session.bench.getState().options[trial().operation]?.[name] ?? 0);
  // What it is taken for does not change under the hand, and is not asked of what is picked next.
  const keepKind = () => lendOption(session, trial().operation, "kind", trial().stands!.kind);
  const set = (values: Readonly<Record<string, number | string>>) => {
    const { operation } = trial();
    for (const [name, v] of Object.entries(values))
      setOption(session, operation, name, typeof v === "number" ? rounded(v) : v);
  };
  return {
    value,
    begin(e: PointerEvent) {
      const { frame, base, reach } = trial().stands!;
      const shift: Vector = [value("x"), value("y"), value("z")];
      const centre = String(session.bench.getState().options[trial().operation]?.centre ?? CENTRES[0]);
      begun.current = { frame, base, radius: knobAt(reach), x: e.clientX, y: e.clientY, shift, centre };
      keepKind();
    },
    /**
     * Turns the axis to where the pointer is on a ball about the centre; Shift keeps it from falling onto the world's axes,
     * with Alt it goes the way of the edge or the face under the pointer.
     */
    turn(e: PointerEvent) {
      const from = begun.current;
      if (!from) return;
      const pane = paneOf(e);
      const under = e.altKey ? wayUnder(session, stage, e.clientX - pane.left, e.clientY - pane.top) : null;
      const way = wayTo(eye, { clientX: e.clientX, clientY: e.clientY, pane }, from.frame, from.radius);
      const [x, y, z] = turnsBetween(from.base, pointedAlong(from.frame, under ?? (e.shiftKey ? way : snapped(way))));
      set({ turnX: x, turnY: y, turnZ: z });
    },
    move(e: PointerEvent) {
      const from = begun.current;
      if (!from) return;
      const pane = paneOf(e);
      const at = { clientX: e.clientX, clientY: e.clientY, pane };
      const near = e.shiftKey ? null : centreNear(eye, at, trial().stands!.centres);
      if (near) {
        set({ centre: near, x: 0, y: 0, z: 0 });
        return;
      }
      const by = shiftOf(eye, pane, from.frame.centre, e.clientX - from.x, e.clientY - from.y);
      const [x, y, z] = from.shift.map((a, d) => a + by[d]!) as [number, number, number];
      set({ centre: from.centre, x, y, z });
    },
    end() {
      begun.current = null;
    },
    add(name: string, by: number) {
      keepKind();
      set({ [name]: value(name) + by });
    },
  };
}

const paneOf = (e: PointerEvent): DOMRect => (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();

/** Which way, and about or along which axis of the world, a key goes. */
const STEPS: Readonly<Record<string, readonly [number, 0 | 1 | 2]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [1, 1],
  ArrowDown: [-1, 1],
  PageUp: [1, 2],
  PageDown: [-1, 2],
};

interface KnobProps {
  readonly at: readonly [number, number];
  readonly radius: number;
  readonly label: string;
  readonly hint: string;
  readonly now: number;
  readonly told: string;
  readonly onBegin: (e: PointerEvent) => void;
  readonly onDrag: (e: PointerEvent) => void;
  readonly onEnd: () => void;
  readonly onStep: (by: number, axis: 0 | 1 | 2) => void;
}

/** A dot that is dragged, or moved by keys. */
function Knob({ at, radius, label, hint, now, told, onBegin, onDrag, onEnd, onStep }: KnobProps) {
  const key = (e: KeyboardEvent) => {
    const step = STEPS[e.key];
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    onStep(...step);
  };
  return (
    <circle
      cx={at[0]}
      cy={at[1]}
      r={radius}
      data-handle
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={now}
      aria-valuetext={told}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        onBegin(e);
      }}
      onPointerMove={onDrag}
      onPointerUp={onEnd}
      onLostPointerCapture={onEnd}
      onKeyDown={key}
    >
      <title>{hint}</title>
    </circle>
  );
}
