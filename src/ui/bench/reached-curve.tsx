"use client";

import { Line, LineChart, YAxis } from "recharts";
import type { Job } from "../session/store";
import classes from "./status-line.module.css";

/** Pixels. */
const [WIDTH, HEIGHT] = [72, 20];

/** How much a job has reached over its time, as a small curve, and what it has come to. */
export function ReachedCurve({ curve }: { curve: Job["curve"] }) {
  const [first, last] = [curve[0]!.reached, curve.at(-1)!.reached];
  const percent = (x: number) => `${(100 * x).toFixed(1)} %`;
  const words = `${percent(last)} covered, ${percent(first)} at first`;
  return (
    <span className={classes.curve} title={words} role="img" aria-label={words}>
      <LineChart width={WIDTH} height={HEIGHT} data={[...curve]} margin={{ top: 3, right: 3, bottom: 3, left: 3 }}>
        <YAxis hide domain={[first - 0.005, last + 0.005]} />
        <Line
          dataKey="reached"
          type="stepAfter"
          dot={false}
          isAnimationActive={false}
          stroke="var(--pool)"
          strokeWidth={1.5}
        />
      </LineChart>
      <b>{percent(last)}</b>
    </span>
  );
}
