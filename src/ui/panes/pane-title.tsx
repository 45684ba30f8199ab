"use client";

import { ActionIcon, NativeSelect, Select, Tooltip } from "@mantine/core";
import { IconArrowsMaximize, IconArrowsMinimize } from "@tabler/icons-react";
import { optionFields } from "@/core/operations/option-fields";
import { setResolution } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { enlarge, showView } from "../session/look-actions";
import { VIEW_IDS, VIEWS, type View } from "../session/look-choices";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import type { Pane } from "../session/store";
import { LookChoice } from "./look-choice";
import classes from "./pane.module.css";
import { SwatchChoice } from "./swatch-choice";

/** Of choices that share a narrow title: their text is shown whole. */
const NARROW = { rightSectionWidth: 18, styles: { input: { paddingInline: "8px 18px" }, root: { flex: "none" } } };

/** The UV set that edits go to: always in view, and chosen here. */
function TargetSet() {
  const session = useSession();
  const { asset, set } = useBenchOf("asset", "set");
  if (!asset) return null;
  return (
    <Select
      size="xs"
      w={66}
      {...NARROW}
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
      w={76}
      {...NARROW}
      aria-label="Resolution of the tiles"
      title={`Texels per tile side, in which gaps and densities are measured${own ? `; ${own} of them have their own` : ""}`}
      allowDeselect={false}
      data={choices.map((c) => ({ value: String(c), label: `${c} px` }))}
      value={String(tiles.resolution)}
      onChange={(v) => v && void runOperation(session, setResolution, { resolution: Number(v), tile: 0 })}
    />
  );
}

/** What the faces of the pane show. */
function ViewChoice({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const view = useBench((s) => s.view[pane]);
  return (
    <NativeSelect
      className={classes.view}
      size="xs"
      w={78}
      {...NARROW}
      aria-label={`What the faces show in ${pane === "form" ? "Form" : "Sheet"}`}
      title="What the faces show"
      data={VIEW_IDS.map((id) => ({ value: id, label: VIEWS[id] }))}
      value={view}
      onChange={(e) => {
        showView(bench, pane, e.currentTarget.value as View);
        // Keys are the bench's again.
        e.currentTarget.blur();
      }}
    />
  );
}

/** A pane's name, figures and tools. */
export function PaneTitle({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const { view, measures, panes } = useBenchOf("view", "measures", "panes");
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
      <div className={classes.tools}>
        {view[pane] === "swatch" && <SwatchChoice pane={pane} />}
        <ViewChoice pane={pane} />
        <LookChoice pane={pane} />
        <Tooltip label={panes === "both" ? "Enlarge this pane" : "Show both panes"}>
          <ActionIcon
            variant="default"
            aria-label={panes === "both" ? `Enlarge ${pane === "form" ? "Form" : "Sheet"}` : "Show both panes"}
            onClick={() => enlarge(bench, pane)}
          >
            {panes === "both" ? <IconArrowsMaximize size={16} /> : <IconArrowsMinimize size={16} />}
          </ActionIcon>
        </Tooltip>
      </div>
    </div>
  );
}
