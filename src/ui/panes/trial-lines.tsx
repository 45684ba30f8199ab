"use client";

import { useEffect, useMemo } from "react";
import { useBench } from "../session/session-context";
import { pathOf } from "../stage/line-path";
import type { SheetCamera } from "../stage/sheet-camera";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Draws into the sheet how shells would come to lie, before that is done. */
export function TrialLines({ eye }: { eye: SheetCamera }) {
  const trial = useBench((s) => s.trial);
  const { view, x, y } = useSheetPlaces(eye);
  const paths = useMemo(() => trial && { borders: pathOf(trial.borders), inner: pathOf(trial.inner) }, [trial]);
  useEffect(() => {
    if (trial?.borders.length) eye.include(boxOf(trial.borders));
  }, [trial, eye]);
  if (!paths) return null;
  return (
    <svg className={classes.trial} role="img" aria-label="How the shells would come to lie">
      <g transform={`translate(${x(0)} ${y(0)}) scale(${view.scale} ${-view.scale})`}>
        <path className={classes.trialInner} d={paths.inner} />
        <path d={paths.borders} />
      </g>
    </svg>
  );
}

function boxOf(lines: Float32Array) {
  const box = { u0: Infinity, v0: Infinity, u1: -Infinity, v1: -Infinity };
  for (let i = 0; i < lines.length; i += 2) {
    box.u0 = Math.min(box.u0, lines[i]!);
    box.u1 = Math.max(box.u1, lines[i]!);
    box.v0 = Math.min(box.v0, lines[i + 1]!);
    box.v1 = Math.max(box.v1, lines[i + 1]!);
  }
  return box;
}
