"use client";

import { useMemo } from "react";
import { ElementSet } from "@/core/select/element-set";
import { useBenchOf } from "../session/session-context";
import { lineOfShell, shellOfFace } from "../session/shell-rows";
import type { SheetCamera } from "../stage/sheet-camera";
import { uvBox } from "../stage/uv-box";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Pixels: the arrow's length. */
const LONG = 34;

/** Shows on the shell under the pointer which way up on the model is, and which side it is on. */
export function UpArrow({ eye }: { eye: SheetCamera }) {
  const { asset, set, hover, measures, stage } = useBenchOf("asset", "set", "hover", "measures", "stage");
  const { x, y } = useSheetPlaces(eye);
  const found = useMemo(() => {
    // Where shells are turned and placed; elsewhere it would only be in the way.
    if (!asset || !measures || !hover || (stage !== "level" && stage !== "place")) return null;
    const shell = shellOfFace(asset, set, hover);
    const { turn = null, side = null } = lineOfShell(asset, set, measures, shell) ?? {};
    if (turn === null) return null;
    const faces = asset.shapes.get(shell.shape)!.mesh.faceStart.length - 1;
    const picked = new Map([[shell.shape, ElementSet.of(faces, Uint32Array.of(shell.face))]]);
    const box = uvBox({ asset, set, kind: "shells", picked }, "selection");
    return box && { turn, side, u: (box.u0 + box.u1) / 2, v: (box.v0 + box.v1) / 2 };
  }, [asset, set, hover, measures, stage]);
  if (!found) return null;
  return (
    <svg className={classes.upArrows} role="img" aria-label="Up on the model">
      <g transform={`translate(${x(found.u)} ${y(found.v)})`}>
        <path
          transform={`rotate(${-found.turn})`}
          d={`M0 ${LONG / 2}V${-LONG / 2}M-6 ${-LONG / 2 + 7}L0 ${-LONG / 2}L6 ${-LONG / 2 + 7}`}
        />
        <text y={LONG / 2 + 14}>{found.side ? `up · ${found.side}` : "up"}</text>
      </g>
    </svg>
  );
}
