"use client";

import { Anchor } from "@mantine/core";
import { useMemo } from "react";
import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { ShellRow } from "@/core/check/measure";
import { type DensityBin, densityBins, densityOutliers } from "@/core/density/histogram";
import { saidOf } from "@/core/layout/shell-marks";
import { bringBack, standUpright } from "@/core/operations/registry";
import { count } from "@/core/operations/words";
import { runOperation } from "../session/actions";
import { lookAtShells, pickShells } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import card from "./card.module.css";
import classes from "./level-cards.module.css";
import { percent } from "./stages";

const BINS = 16;
/** Degrees from which on a shell surely does not stand upright, square in its box or not. */
const LEANS = 15.5;

const figure = (x: number): string => (x >= 100 ? Math.round(x).toLocaleString("en") : x.toPrecision(3));

/** How dense shells are, as a histogram whose bars pick them, and which do not stand upright or are parked. */
export function LevelCards() {
  const session = useSession();
  const { measures: m, asset, set } = useBenchOf("measures", "asset", "set");
  const bins = useMemo(() => (m ? densityBins(m.perShell, BINS) : []), [m]);
  if (!m || !asset || !bins.length || !m.texelDensityMean) return null;
  const mean = m.texelDensityMean;
  const outliers = densityOutliers(m.perShell, mean, asset.rules.spread);
  const leaning = m.perShell.filter(({ turn }) => turn !== null && Math.abs(turn) > LEANS);
  const mirrored = m.perShell.filter((s) => s.mirrored);
  const withRatio = m.perShell.filter((s) => s.ratio !== 1);
  const marked = m.perShell.map((row) => ({ row, said: saidOf(asset, set, row) }));
  // One that was put onto the page since is not parked any more.
  const parked = marked.filter(({ row, said }) => said.parked && row.tile === null).map(({ row }) => row);
  const backwards = marked.filter(({ row, said }) => said.lettering && row.mirrored).map(({ row }) => row);
  return (
    <section className={card.card} aria-label="Density">
      <p className={classes.mean}>
        <b>{figure(mean)}</b> px/{asset.unit} on average, spread {percent(m.texelDensityVariation ?? 0, 1)}
      </p>
      <Histogram bins={bins} />
      <Line shells={outliers} words={`off by more than ${percent(asset.rules.spread)}`} none="All within the limit." />
      <Line shells={withRatio} words="with a ratio of their own" />
      <Line
        shells={leaning}
        words="not upright"
        none="All stand upright, within 15°."
        {...(leaning.length ? { does: standUpright.title, act: () => runOperation(session, standUpright) } : {})}
      />
      <Line shells={mirrored} words="mirrored" />
      <Line shells={backwards} words="with lettering that reads backwards" />
      <Line
        shells={parked}
        words="parked"
        {...(parked.length ? { does: bringBack.title, act: () => runOperation(session, bringBack) } : {})}
      />
    </section>
  );
}

/** Some shells, which a press picks, with what can be done about them. */
function Line(props: {
  shells: ReadonlyArray<Pick<ShellRow, "shape" | "face">>;
  words: string;
  none?: string;
  does?: string;
  act?: () => void;
}) {
  const { bench } = useSession();
  const { shells, words, none, does, act } = props;
  if (!shells.length) return none ? <p className={classes.line}>{none}</p> : null;
  return (
    <p className={classes.line}>
      <Anchor component="button" type="button" size="xs" onClick={() => lookAtShells(bench, shells)}>
        {count(shells.length, "shell")} {words}
      </Anchor>
      {does && (
        <Anchor
          component="button"
          type="button"
          size="xs"
          onClick={() => {
            lookAtShells(bench, shells);
            act!();
          }}
        >
          {does}
        </Anchor>
      )}
    </p>
  );
}

/** Shells by their densities; a press on a bar picks those in it, with Shift those too. */
function Histogram({ bins }: { bins: readonly DensityBin[] }) {
  const { bench } = useSession();
  const pick = (bin: DensityBin, more: boolean) => pickShells(bench, bin.shells, more ? "add" : "replace");
  const data = bins.map((bin) => ({ ...bin, name: figure((bin.low + bin.high) / 2), shellCount: bin.shells.length }));
  const words = (bin: DensityBin) =>
    `${count(bin.shells.length, "shell")} at ${bins.length === 1 ? figure(bin.low) : `${figure(bin.low)} to ${figure(bin.high)}`}`;
  return (
    <div className={classes.histogram}>
      <div aria-hidden="true">
        <ResponsiveContainer width="100%" height={84}>
          <BarChart data={data} margin={{ top: 4, right: 2, bottom: 0, left: 2 }} barCategoryGap={1}>
            <XAxis dataKey="name" tickLine={false} interval="preserveStartEnd" fontSize={10} stroke="var(--quiet)" />
            <YAxis hide allowDecimals={false} />
            <Tooltip
              cursor={false}
              isAnimationActive={false}
              content={({ payload }) => {
                const bin = payload?.[0]?.payload as DensityBin | undefined;
                return bin ? <span className={classes.told}>{words(bin)}</span> : null;
              }}
            />
            <Bar
              dataKey="shellCount"
              fill="var(--pool)"
              minPointSize={2}
              isAnimationActive={false}
              onClick={(bar, _, event) => pick(bar.payload as DensityBin, event.shiftKey)}
            />
          </BarChart>
        </ResponsiveContainer>
      </div>
      <ul aria-label="Shells by density" className={classes.bars}>
        {bins
          .filter((bin) => bin.shells.length)
          .map((bin) => (
            <li key={bin.low}>
              <button type="button" onClick={(e) => pick(bin, e.shiftKey)}>
                {words(bin)}
              </button>
            </li>
          ))}
      </ul>
    </div>
  );
}
