import { useBench } from "../session/session-context";
import type { Motion, Pane } from "../session/store";
import classes from "./pane.module.css";

/** A motion in figures. */
export function motionWords({ du, dv, turn, scale, scaleU = 1, scaleV = 1 }: Motion): string {
  if (turn) return `${turn.toFixed(1)}°`;
  if (scaleU !== 1) return `across × ${scaleU.toFixed(3)}`;
  if (scaleV !== 1) return `upwards × ${scaleV.toFixed(3)}`;
  return scale !== 1 ? `× ${scale.toFixed(3)}` : `${du.toFixed(3)}, ${dv.toFixed(3)}`;
}

/** What the tool at work shows over its pane: its box, line or brush. */
export function ToolOverlay({ pane }: { pane: Pane }) {
  const shape = useBench((s) => (s.overlay?.pane === pane ? s.overlay.shape : null));
  if (!shape || shape.kind === "motion") return null;
  if (shape.kind === "box") {
    const [left, top, right, bottom] = shape.box;
    return <div className={classes.box} style={{ left, top, width: right - left, height: bottom - top }} />;
  }
  return (
    <svg className={classes.strokes} aria-hidden>
      {shape.kind === "disc" ? (
        <circle cx={shape.x} cy={shape.y} r={shape.radius} />
      ) : (
        <polygon points={shape.points.map((p) => p.join()).join(" ")} />
      )}
    </svg>
  );
}
