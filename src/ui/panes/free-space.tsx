"use client";

import { useEffect, useState } from "react";
import { intoFree } from "@/core/operations/registry";
import type { FreeBox } from "@/core/operations/sessions";
import { count } from "@/core/operations/words";
import { runOperation } from "../session/actions";
import { say } from "../session/say";
import { pickShells } from "../session/selection";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { countPicked } from "../session/store";
import type { SheetCamera } from "../stage/sheet-camera";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Pixels a side from which on a box tells its size. */
const TELLS = 46;

/** Shows the largest empty boxes of the tiles; a press puts what is picked into one, or picks what could go there. */
export function FreeSpace({ eye }: { eye: SheetCamera }) {
  const session = useSession();
  const { asset, set, freeSpace, picked, kind, measures } = useBenchOf(
    "asset",
    "set",
    "freeSpace",
    "picked",
    "kind",
    "measures",
  );
  const { x, y } = useSheetPlaces(eye);
  const padding = useBench((s) => Number(s.options[intoFree.id]?.padding ?? s.asset?.rules.padding ?? 0));
  const grow = useBench((s) => s.options[intoFree.id]?.grow === true);
  const [boxes, setBoxes] = useState<readonly FreeBox[]>([]);
  // With the figures of an edit, and so after it.
  useEffect(() => {
    if (!freeSpace || !measures) {
      setBoxes([]);
      return;
    }
    let isOn = true;
    void session
      .lookUp((remote, revision) => remote.freeBoxes(revision, set, padding))
      .then((found) => isOn && setBoxes(found ?? []))
      .catch(() => isOn && setBoxes([]));
    return () => {
      isOn = false;
    };
  }, [session, freeSpace, measures, set, padding]);
  if (!freeSpace || !asset || !boxes.length) return null;
  const own = kind === "shells" ? countPicked(picked) : 0;
  const press = ({ box, fits }: FreeBox) => {
    if (own) {
      const at = { u: (box.u0 + box.u1) / 2, v: (box.v0 + box.v1) / 2, padding };
      void runOperation(session, intoFree, at);
    } else if (fits.length) {
      pickShells(session.bench, fits, "replace");
      say(session.bench, `${count(fits.length, "shell")} could go there. Pick one of them and press the box again.`);
    } else say(session.bench, "No shell would go into this box as large as it is.");
  };
  const title = ({ fits }: FreeBox) =>
    own
      ? `Put ${count(own, "picked shell")} here${grow ? ", grown to fill it" : ""}`
      : `${count(fits.length, "shell")} could go here: press to pick them`;
  return (
    <svg className={classes.free}>
      <title>Free space</title>
      {boxes.map((free) => {
        const { u0, v0, u1, v1 } = free.box;
        const [left, top, width, height] = [x(u0), y(v1), x(u1) - x(u0), y(v0) - y(v1)];
        const size = asset.tiles.resolution;
        const words = `${Math.round((u1 - u0) * size)} × ${Math.round((v1 - v0) * size)} px`;
        return (
          // biome-ignore lint/a11y/useSemanticElements: a button cannot be drawn within a drawing
          <g
            key={`${u0} ${v0}`}
            role="button"
            tabIndex={0}
            aria-label={`Empty box, ${words}: ${title(free)}`}
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() => press(free)}
            onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && press(free)}
          >
            <title>{title(free)}</title>
            <rect x={left} y={top} width={width} height={height} />
            {width > 2 * TELLS && height > TELLS / 2 && (
              <text x={left + width / 2} y={top + height / 2 + 4}>
                {words}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
