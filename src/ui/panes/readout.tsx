import { useMemo } from "react";
import { resolutionAt } from "@/core/layout/tiles";
import { useBench, useBenchOf } from "../session/session-context";
import { FIGURES, figureWords, lineOfShell, type ShellLine, shellOfFace } from "../session/shell-rows";
import type { BenchState, Pane } from "../session/store";
import { CELLS_OF_SWATCH } from "../session/swatches";
import classes from "./pane.module.css";

/** The shell under the pointer, and the one it is compared with: picked alone, or the second of two that are picked. */
function shellsMeant(state: Pick<BenchState, "asset" | "set" | "measures" | "hover" | "picked" | "kind">): ShellLine[] {
  const { asset, set, measures, hover, picked, kind } = state;
  if (!asset || !measures) return [];
  const line = (shape: string, face: number) => lineOfShell(asset, set, measures, { shape, face });
  const chosen =
    kind === "shells" ? [...picked].flatMap(([id, items]) => [...items].slice(0, 3).map((f) => line(id, f))) : [];
  const known = chosen.filter((l) => l !== null);
  const under = hover && lineOfShell(asset, set, measures, shellOfFace(asset, set, hover));
  if (!under) return known.length === 2 ? known : [];
  return known.length === 1 && known[0]!.key !== under.key ? [under, known[0]!] : [under];
}

/** How many times one figure of two shells is the other; nothing where that says nothing. */
function ratioOf([a, b]: readonly ShellLine[], figure: "density" | "area" | "stretch"): string {
  const [x, y] = [a?.[figure], b?.[figure]];
  return x && y ? `× ${(x / y).toFixed(3)}` : "";
}

/** Checker squares of two shells beside each other, as large as they are to one another on the model. */
function Squares({ pair }: { pair: readonly ShellLine[] }) {
  const sizes = pair.map((l) => (l.density ? 1 / l.density : 0));
  const most = Math.max(...sizes);
  if (!most || sizes.includes(0)) return null;
  return (
    <svg width={116} height={54} role="img" aria-label="Checker squares of both shells, to one scale">
      {sizes.map((size, i) => {
        const side = (50 * size) / most;
        return (
          <g key={pair[i]!.key} transform={`translate(${60 * i + 2} ${52 - side})`}>
            <rect width={side} height={side} fill="var(--card)" stroke="var(--ink)" />
            <rect width={side / 2} height={side / 2} fill={pair[i]!.color} />
            <rect x={side / 2} y={side / 2} width={side / 2} height={side / 2} fill={pair[i]!.color} />
          </g>
        );
      })}
    </svg>
  );
}

/** Where on the sheet the pointer is: u and v, texels of its tile, and the cell of the swatch. */
export function placeWords([u, v]: readonly [number, number], side: number, cells: number): string {
  const within = (x: number) => x - Math.floor(x);
  const texel = (x: number) => Math.floor(within(x) * side);
  // The swatch stands several times across a tile: its cells are named anew each time.
  const cell = (x: number) => Math.floor(within(x) * cells) % CELLS_OF_SWATCH;
  const name = `${String.fromCharCode(65 + cell(u))}${cell(v) + 1}`;
  return `u ${u.toFixed(4)}  v ${v.toFixed(4)} · px ${texel(u)}, ${texel(v)} · cell ${name}`;
}

function Place() {
  const { hoverUv, asset, swatchRepeats } = useBenchOf("hoverUv", "asset", "swatchRepeats");
  if (!hoverUv || !asset) return null;
  const side = resolutionAt(asset.tiles, hoverUv[0], hoverUv[1]);
  return <div data-testid="place">{placeWords(hoverUv, side, CELLS_OF_SWATCH * swatchRepeats)}</div>;
}

function Figures() {
  const state = useBenchOf("asset", "set", "measures", "hover", "picked", "kind");
  const { asset, set, measures, hover, picked, kind } = state;
  const lines = useMemo(
    () => shellsMeant({ asset, set, measures, hover, picked, kind }),
    [asset, set, measures, hover, picked, kind],
  );
  if (!lines.length) return <div>Point at a shell to read its figures; pick another to compare.</div>;
  const unit = {
    density: ` px/${asset!.unit}`,
    area: ` ${asset!.unit}²`,
    stretch: "",
    turn: "",
    tile: "",
    material: "",
  };
  return (
    <>
      <table>
        <tbody>
          <tr>
            <td />
            {lines.map((l) => (
              <th key={l.key}>{l.name}</th>
            ))}
          </tr>
          {FIGURES.map((f) => (
            <tr key={f}>
              <td>{f}</td>
              {lines.map((l) => (
                <td key={l.key}>{figureWords(l, f) + (l[f] === null ? "" : unit[f])}</td>
              ))}
              {lines.length > 1 && (
                <td>{f === "density" || f === "area" || f === "stretch" ? ratioOf(lines, f) : ""}</td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {lines.length > 1 && <Squares pair={lines} />}
    </>
  );
}

/** What lies under the pointer, in figures: the shell where that is wanted, the place on the sheet under a swatch as well. */
export function Readout({ pane }: { pane: Pane }) {
  const isInUse = useBench((s) => s.inUse === pane);
  const readout = useBench((s) => s.readout);
  const underSwatch = useBench((s) => s.view[pane] === "swatch" && s.hoverUv !== null);
  if (!isInUse || !(readout || underSwatch)) return null;
  return (
    <div className={classes.readout} data-testid="readout">
      {readout && <Figures />}
      <Place />
    </div>
  );
}
