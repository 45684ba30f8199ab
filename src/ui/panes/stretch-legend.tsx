import { STRETCH_RANGE } from "./materials";
import classes from "./pane.module.css";

/** The stretch scale with its numbers, always in view while stretch is. */
export function StretchLegend() {
  return (
    <div className={classes.legend}>
      stretch of lengths, against the shell's mean
      <div className={classes.scale} />
      <div className={classes.numbers}>
        <span>{STRETCH_RANGE[0]} squeezed</span>
        <span>1</span>
        <span>stretched {STRETCH_RANGE[1]}</span>
      </div>
    </div>
  );
}
