"use client";

import { plotsOf } from "@/core/layout/plots";
import { removePlots } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { useBenchOf, useSession } from "../session/session-context";
import type { SheetCamera } from "../stage/sheet-camera";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Pixels: a plot narrower than this has no room for its name; letters are about so wide; the mark that removes it. */
const [TELLS, LETTER, MARK] = [40, 6.2, 14];

/** The plots of the UV set with their names, under the layout's handles. */
export function Plots({ eye }: { eye: SheetCamera }) {
  const session = useSession();
  const { asset, set, tool } = useBenchOf("asset", "set", "tool");
  const { x, y } = useSheetPlaces(eye);
  const plots = asset ? plotsOf(asset, set) : [];
  if (!plots.length) return null;
  const remove = (name: string) => void runOperation(session, removePlots, { name });
  return (
    <svg className={classes.plots}>
      <title>Plots</title>
      {plots.map(({ name, u0, v0, u1, v1 }) => {
        const [left, top, width, height] = [x(u0), y(v1), x(u1) - x(u0), y(v0) - y(v1)];
        const room = Math.floor((width - (tool === "plot" ? 2 * MARK : 8)) / LETTER);
        const told = name.length > room ? `${name.slice(0, Math.max(1, room - 1))}…` : name;
        return (
          <g key={name}>
            <rect x={left} y={top} width={Math.max(0, width)} height={Math.max(0, height)} />
            {width > TELLS && height > TELLS / 2 && (
              <text x={left + 5} y={top + 13}>
                {told}
                <title>{name}</title>
              </text>
            )}
            {tool === "plot" && width > TELLS && (
              // biome-ignore lint/a11y/useSemanticElements: a button cannot be drawn within a drawing
              <g
                role="button"
                tabIndex={0}
                aria-label={`Remove plot ${name}`}
                onPointerDown={(e) => e.stopPropagation()}
                onClick={() => remove(name)}
                onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && remove(name)}
              >
                <rect x={left + width - MARK - 3} y={top + 3} width={MARK} height={MARK} />
                <path
                  d={`M${left + width - MARK} ${top + 6}l${MARK - 6} ${MARK - 6}m0 ${6 - MARK}l${6 - MARK} ${MARK - 6}`}
                />
              </g>
            )}
          </g>
        );
      })}
    </svg>
  );
}
