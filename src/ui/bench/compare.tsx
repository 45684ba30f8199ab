"use client";

import { Loader } from "@mantine/core";
import { modals } from "@mantine/modals";
import { useEffect, useState } from "react";
import { startDocument } from "@/compute/document";
import { type Summary, summaryOf } from "@/core/check/summary";
import { say } from "../session/actions";
import type { BenchSession } from "../session/bench-session";
import { SessionContext, useBench, useSession } from "../session/session-context";
import card from "./card.module.css";
import classes from "./compare.module.css";
import { lengthWords, percent } from "./stages";

interface Compared {
  readonly name: string;
  /** Step of the history; the one on the table when it is left out. */
  readonly number: number;
  /** Id of the UV set; the target's when it is left out. */
  readonly set?: string;
}

/** Opens layouts side by side: under the swatch, as they lie in Sheet, and in figures. One alone stands beside now. */
export function compareSteps(session: BenchSession, list: readonly Compared[]): void {
  const { history } = session.bench.getState();
  const all = list.length > 1 || !history ? list : [...list, { name: "Now", number: history.head }];
  modals.open({
    title: "Side by side",
    size: "min(1200px, 94vw)",
    children: (
      <SessionContext value={session}>
        <Comparison list={all} />
      </SessionContext>
    ),
  });
}

/** Opens the UV sets of the asset side by side. */
export function compareSets(session: BenchSession): void {
  const { asset, history } = session.bench.getState();
  if (asset && history)
    compareSteps(
      session,
      asset.sets.map((s) => ({ name: s.name, number: history.head, set: s.id })),
    );
}

const ROWS: ReadonlyArray<[string, (s: Summary, unit: "m" | "cm" | "mm" | "in") => string]> = [
  ["Shells", (s) => String(s.shells)],
  ["Seams", (s, unit) => lengthWords(s.seams, unit)],
  ["Stretch (mean)", (s) => s.stretch?.toFixed(4) ?? "–"],
  ["Density spread", (s) => (s.spread === null ? "–" : percent(s.spread, 1))],
  ["Filled", (s) => (s.coverage === null ? "–" : percent(s.coverage, 1))],
  ["Overlap", (s) => (s.overlap === null ? "–" : percent(s.overlap, 2))],
  ["Flipped", (s) => String(s.flipped)],
];

function Comparison({ list }: { list: readonly Compared[] }) {
  const { bench } = useSession();
  const asset = useBench((s) => s.asset)!;
  const target = useBench((s) => s.set);
  const [figures, setFigures] = useState<ReadonlyArray<Summary | null>>(list.map(() => null));
  useEffect(() => {
    // A worker of its own: what is compared is not what is on the table.
    const { remote, end } = startDocument();
    let wanted = true;
    const measureAll = async () => {
      for (const [i, { number, set = target }] of list.entries()) {
        const then = await remote.open(asset.id, number, i);
        // A step from before the set was made shows its first.
        const own = then.asset.sets.some((s) => s.id === set) ? set : then.asset.sets[0]!.id;
        const { measures } = await remote.measure(i, own, "area");
        if (!wanted) return;
        setFigures((old) => old.map((f, k) => (k === i ? summaryOf(measures) : f)));
      }
    };
    measureAll().catch((error: Error) => wanted && say(bench, `The comparison failed: ${error.message}`, "refused"));
    return () => {
      wanted = false;
      end();
    };
  }, [asset.id, list, target, bench]);
  return (
    <div className={classes.compare} style={{ gridTemplateColumns: `repeat(${list.length}, minmax(200px, 1fr))` }}>
      {list.map(({ name, number, set = target }, i) => (
        <section key={`${number}/${set}`} aria-label={name}>
          <h3>{name}</h3>
          <img
            src={`/api/assets/${asset.id}/picture?at=${number}&set=${encodeURIComponent(set)}&swatch=1`}
            alt={`${name} under the swatch`}
          />
          <img
            src={`/api/assets/${asset.id}/sheet?at=${number}&set=${encodeURIComponent(set)}`}
            alt={`${name} in Sheet`}
          />
          {figures[i] ? (
            <table className={card.figures}>
              <tbody>
                {ROWS.map(([title, show]) => (
                  <tr key={title}>
                    <td>{title}</td>
                    <td>{show(figures[i]!, asset.unit)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          ) : (
            <Loader size="xs" />
          )}
        </section>
      ))}
    </div>
  );
}
