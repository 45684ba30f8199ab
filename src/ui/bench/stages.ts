import { findingsOf } from "@/core/check/findings";
import type { Summary } from "@/core/check/summary";
import { METRES, type Unit } from "@/core/layout/asset";
import type { Stage } from "@/core/operations/operation";
import { HARMLESS } from "@/core/prepare/faults";
import type { BenchState } from "../session/store";

export interface StagePlan {
  readonly id: Stage;
  readonly title: string;
  /** The stage's own live figure and how it stands. */
  figure(
    s: Summary,
    state: Pick<BenchState, "asset" | "set" | "measures" | "faults">,
  ): { words: string; tone: "good" | "warn" | "bad" | "plain" };
}

export const percent = (x: number, digits = 0): string => `${(100 * x).toFixed(digits)} %`;

/** A length in the asset's unit; centimetres and millimetres over a metre are given in metres. */
export function lengthWords(x: number, unit: Unit): string {
  const metres = METRES[unit] * x;
  if (metres >= 1 && (unit === "cm" || unit === "mm")) return `${metres.toFixed(1)} m`;
  return `${x >= 100 ? x.toFixed(0) : x.toFixed(1)} ${unit}`;
}

export const STAGES_SHOWN: readonly StagePlan[] = [
  {
    id: "brief",
    title: "Brief",
    figure: (s, { faults, asset }) => {
      const bad = faults ? [...faults.keys()].filter((k) => !HARMLESS.includes(k)).length : 0;
      return bad
        ? { words: `${bad} fault${bad === 1 ? "" : "s"}`, tone: "warn" }
        : { words: `${s.faces.toLocaleString("en")} faces · ${asset!.unit}`, tone: faults ? "good" : "plain" };
    },
  },
  {
    id: "seams",
    title: "Seams",
    figure: (s, state) => ({
      words: `${s.shells} shell${s.shells === 1 ? "" : "s"} · ${lengthWords(s.seams, state.asset!.unit)}`,
      tone: "plain",
    }),
  },
  {
    id: "unfold",
    title: "Unfold",
    figure: (s) =>
      s.stretch === null
        ? { words: "nothing unfolded", tone: "warn" }
        : {
            words: `stretch ${s.stretch.toFixed(3)}`,
            tone: s.stretch < 1.1 ? "good" : s.stretch < 1.3 ? "warn" : "bad",
          },
  },
  {
    id: "level",
    title: "Level",
    figure: (s) =>
      s.spread === null
        ? { words: "no density", tone: "plain" }
        : { words: `spread ${percent(s.spread)}`, tone: s.spread < 0.02 ? "good" : s.spread < 0.15 ? "warn" : "bad" },
  },
  {
    id: "place",
    title: "Place",
    figure: (s) =>
      s.coverage === null
        ? { words: "not placed", tone: "plain" }
        : { words: `${percent(s.coverage)} filled`, tone: s.coverage > 0.6 ? "good" : "plain" },
  },
  {
    id: "check",
    title: "Check",
    figure: (_, { measures, asset, set }) => {
      const n = measures ? findingsOf(measures, asset!.rules, set).length : 0;
      if (!measures) return { words: "measuring…", tone: "plain" };
      return n ? { words: `${n} finding${n === 1 ? "" : "s"}`, tone: "bad" } : { words: "all well", tone: "good" };
    },
  },
  {
    id: "hand-off",
    title: "Hand off",
    figure: (_, { measures, asset, set }) =>
      !measures || findingsOf(measures, asset!.rules, set).length
        ? { words: "not yet", tone: "plain" }
        : { words: "ready", tone: "good" },
  },
];
