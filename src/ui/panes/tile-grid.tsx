import { useElementSize } from "@mantine/hooks";
import type { SheetView } from "./sheet-view";

/** Tiles with borders and numbers, and a grid of eighths, drawn under the layout. */
export function TileGrid({ view }: { view: SheetView }) {
  const { ref, width, height } = useElementSize();
  const x = (u: number) => width / 2 + (u - view.u) * view.scale;
  const y = (v: number) => height / 2 - (v - view.v) * view.scale;
  const [u0, u1] = [Math.floor(view.u - width / 2 / view.scale), Math.ceil(view.u + width / 2 / view.scale)];
  const [v0, v1] = [Math.floor(view.v - height / 2 / view.scale), Math.ceil(view.v + height / 2 / view.scale)];
  const tiles: Array<[number, number]> = [];
  if ((u1 - u0) * (v1 - v0) <= 120)
    for (let v = Math.max(0, v0); v < v1; v++)
      for (let u = Math.max(0, u0); u < Math.min(10, u1); u++) tiles.push([u, v]);
  const eighths = view.scale > 160;
  return (
    <div ref={ref} style={{ position: "absolute", inset: 0 }}>
      <svg width={width} height={height} aria-hidden>
        {tiles.map(([u, v]) => (
          <g key={`${u},${v}`}>
            <rect
              x={x(u)}
              y={y(v + 1)}
              width={view.scale}
              height={view.scale}
              fill={u === 0 && v === 0 ? "var(--card)" : "none"}
              stroke="#b9ad95"
              strokeWidth={u === 0 && v === 0 ? 1.4 : 0.6}
            />
            {eighths &&
              u === 0 &&
              v === 0 &&
              [1, 2, 3, 4, 5, 6, 7].map((k) => (
                <path
                  key={k}
                  d={`M${x(k / 8)} ${y(0)}V${y(1)}M${x(0)} ${y(k / 8)}H${x(1)}`}
                  stroke="var(--line)"
                  strokeWidth={k === 4 ? 0.9 : 0.45}
                  fill="none"
                />
              ))}
            <text x={x(u) + 4} y={y(v + 1) - 5} fontSize={11} fontWeight={600} fill="var(--quiet)">
              {1001 + u + 10 * v}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}
