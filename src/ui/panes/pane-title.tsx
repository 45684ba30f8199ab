"use client";

import { ActionIcon, SegmentedControl, Select, Tooltip } from "@mantine/core";
import { IconArrowsMaximize, IconBoxModel2, IconGridDots } from "@tabler/icons-react";
import { optionFields, setResolution } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { frameAll, frameSelection } from "../session/selection";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { countPicked, type View } from "../session/store";
import classes from "./pane.module.css";
import { SwatchChoice } from "./swatch-choice";

const LABELS: ReadonlyArray<{ value: View; label: string }> = [
  { value: "shaded", label: "Shaded" },
  { value: "swatch", label: "Swatch" },
  { value: "stretch", label: "Stretch" },
  { value: "tints", label: "Tints" },
];

/** The UV set that edits go to: always in view, and chosen here. */
function TargetSet() {
  const session = useSession();
  const { asset, set } = useBenchOf("asset", "set");
  if (!asset) return null;
  return (
    <Select
      size="xs"
      w={78}
      aria-label="Target UV set"
      title="Edits go to this UV set"
      allowDeselect={false}
      data={asset.sets.map((s) => ({ value: s.id, label: s.name }))}
      value={set}
      onChange={(id) => id && session.target(id)}
    />
  );
}

/** Resolution of the tiles, in which gaps and densities are measured: always in view, and chosen here. */
function Resolution() {
  const session = useSession();
  const tiles = useBench((s) => s.asset?.tiles);
  if (!tiles) return null;
  const field = optionFields(setResolution).find((f) => f.name === "resolution")!;
  const choices = [...new Set([...field.choices!.map(Number), tiles.resolution])].sort((a, b) => a - b);
  const own = Object.keys(tiles.own).length;
  return (
    <Select
      size="xs"
      w={86}
      aria-label="Resolution of the tiles"
      title={`Texels per tile side, in which gaps and densities are measured${own ? `; ${own} of them have their own` : ""}`}
      allowDeselect={false}
      data={choices.map((c) => ({ value: String(c), label: `${c} px` }))}
      value={String(tiles.resolution)}
      onChange={(v) => v && void runOperation(session, setResolution, { resolution: Number(v), tile: 0 })}
    />
  );
}

/** A pane's name, figures and tools. */
export function PaneTitle({ pane }: { pane: "form" | "sheet" }) {
  const { bench } = useSession();
  const { view, wires, picked, measures } = useBenchOf("view", "wires", "picked", "measures");
  const gap = measures?.shellGapPx;
  return (
    <div className={classes.title}>
      <b>{pane === "form" ? "Form" : "Sheet"}</b>
      {pane === "sheet" && <TargetSet />}
      {pane === "sheet" && <Resolution />}
      {pane === "sheet" && (
        <small>
          {!measures
            ? "measuring…"
            : gap !== undefined && gap !== null
              ? `gap ${gap.toFixed(gap < 10 ? 1 : 0)} px`
              : ""}
        </small>
      )}
      <div className={classes.tools} style={{ display: "flex", gap: 4 }}>
        {pane === "form" ? (
          <>
            {view === "swatch" && <SwatchChoice />}
            <SegmentedControl
              size="xs"
              data={[...LABELS]}
              value={view}
              onChange={(v) => bench.setState({ view: v as View })}
              aria-label="What the faces show"
            />
            <Tooltip label="Wires">
              <ActionIcon
                variant={wires ? "light" : "default"}
                aria-label="Wires"
                aria-pressed={wires}
                onClick={() => bench.setState({ wires: !wires })}
              >
                <IconGridDots size={16} />
              </ActionIcon>
            </Tooltip>
          </>
        ) : (
          <>
            <Tooltip label="Frame what is picked">
              <ActionIcon
                variant="default"
                aria-label="Frame what is picked"
                disabled={!countPicked(picked)}
                onClick={() => frameSelection(bench)}
              >
                <IconBoxModel2 size={16} />
              </ActionIcon>
            </Tooltip>
            <Tooltip label="Frame all">
              <ActionIcon variant="default" aria-label="Frame all" onClick={() => frameAll(bench)}>
                <IconArrowsMaximize size={16} />
              </ActionIcon>
            </Tooltip>
          </>
        )}
      </div>
    </div>
  );
}
