"use client";

import { useMemo } from "react";
import { layoutOf } from "@/core/operations/scope";
import { count } from "@/core/operations/words";
import { type MateKnot, mateKnots } from "@/core/seams/mate-knots";
import { useBenchOf } from "../session/session-context";
import type { SheetCamera } from "../stage/sheet-camera";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Pairs that are tied at most; more would be a tangle. */
const MOST = 24;
/** Edges up to which knots are looked for. */
const FEW = 20_000;
/** Pixels within which both sides lie together: a thread between them would only hide them. */
const TOGETHER = 12;

/** Ties the two sides of picked seams: a knot of the same number on each, and a thread from one to the other. */
export function MateThreads({ eye }: { eye: SheetCamera }) {
  const { asset, set, kind, picked, live } = useBenchOf("asset", "set", "kind", "picked", "live");
  const { x, y } = useSheetPlaces(eye);
  const knots = useMemo(() => {
    const out: MateKnot[] = [];
    if (kind !== "edges" || !asset) return out;
    for (const [id, edges] of picked) {
      const shape = asset.shapes.get(id);
      if (!shape || edges.size > FEW) continue;
      const layout = layoutOf(shape, set);
      out.push(...mateKnots(shape.mesh, layout, edges.items(), { uv: live.get(id) ?? layout.uv, tiles: asset.tiles }));
    }
    return out.slice(0, MOST);
  }, [asset, set, kind, picked, live]);
  if (!knots.length) return null;
  return (
    <svg
      className={classes.threads}
      role="img"
      aria-label={`Mates of the picked seams: ${count(knots.length, "pair")}`}
    >
      {knots.map(({ a, b, ratio }, i) => {
        const [ax, ay, bx, by] = [x(a[0]), y(a[1]), x(b[0]), y(b[1])];
        const apart = Math.hypot(bx - ax, by - ay);
        if (apart < TOGETHER) return null;
        // The thread hangs a little, so that several between the same shells do not lie on each other.
        const sag = Math.min(60, 0.18 * apart);
        const [mx, my] = [(ax + bx) / 2 - (sag * (by - ay)) / apart, (ay + by) / 2 + (sag * (bx - ax)) / apart];
        return (
          <g key={`${a} ${b}`}>
            <path d={`M${ax} ${ay}Q${mx} ${my} ${bx} ${by}`} />
            <text className={classes.ratio} x={(ax + 2 * mx + bx) / 4} y={(ay + 2 * my + by) / 4 - 4}>
              <title>How many times as many texels the seam has on the one side as on the other</title>×{" "}
              {Math.max(ratio, 1 / ratio).toFixed(2)}
            </text>
            {[
              [ax, ay],
              [bx, by],
            ].map(([cx, cy], side) => (
              <g key={side === 0 ? "a" : "b"} transform={`translate(${cx} ${cy})`}>
                <circle r={i < 9 ? 7 : 8.5} />
                <text dy={3.5}>{i + 1}</text>
              </g>
            ))}
          </g>
        );
      })}
    </svg>
  );
}
