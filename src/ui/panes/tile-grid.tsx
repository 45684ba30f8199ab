import { resolutionAt } from "@/core/layout/tiles";
import { useBench } from "../session/session-context";
import type { SheetCamera } from "../stage/sheet-camera";
import classes from "./pane.module.css";
import { useSheetPlaces } from "./sheet-handles";

/** Tiles that are drawn at most; from further away than that they would be dust. */
const MOST_TILES = 120;

/** Tiles with borders and numbers, and grids of eighths, drawn under the layout. */
export function TileGrid({ eye }: { eye: SheetCamera }) {
  const { view, x, y } = useSheetPlaces(eye);
  const own = useBench((s) => s.asset?.tiles);
  const { width, height, scale } = view;
  const [u0, u1] = [Math.floor(view.u - width / 2 / scale), Math.ceil(view.u + width / 2 / scale)];
  const [v0, v1] = [Math.floor(view.v - height / 2 / scale), Math.ceil(view.v + height / 2 / scale)];
  const tiles: Array<[number, number]> = [];
  if ((u1 - u0) * (v1 - v0) <= MOST_TILES)
    for (let v = Math.max(0, v0); v < v1; v++)
      for (let u = Math.max(0, u0); u < Math.min(10, u1); u++) tiles.push([u, v]);
  return (
    <svg className={classes.grid} width={width} height={height} aria-hidden>
      {tiles.map(([u, v]) => (
        <g key={`${u},${v}`}>
          <rect x={x(u)} y={y(v + 1)} width={scale} height={scale} data-first={u === 0 && v === 0} />
          {scale > 160 &&
            [1, 2, 3, 4, 5, 6, 7].map((k) => (
              <path
                key={k}
                d={`M${x(u + k / 8)} ${y(v)}V${y(v + 1)}M${x(u)} ${y(v + k / 8)}H${x(u + 1)}`}
                data-half={k === 4}
              />
            ))}
          <text x={x(u) + 4} y={y(v + 1) - 5}>
            <tspan>{1001 + u + 10 * v}</tspan>
            {own && scale > 120 && <tspan dx={8}>{resolutionAt(own, u + 0.5, v + 0.5)} px</tspan>}
          </text>
        </g>
      ))}
    </svg>
  );
}
