"use client";

import { useEffect, useRef, useState } from "react";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { type Pane as PaneName, PLAIN_TOOL } from "../session/store";
import { Gestures } from "../tools/gestures";
import { listenTo } from "../tools/pane-input";
import { stageBench, stagePointing } from "../tools/stage-bench";
import { toolNamed } from "../tools/tools";
import { FreeSpace } from "./free-space";
import { Inset } from "./inset";
import { MateThreads } from "./mate-threads";
import { Notice } from "./notice";
import classes from "./pane.module.css";
import { PaneTitle } from "./pane-title";
import { takeDrops } from "./picture-drop";
import { Plots } from "./plots";
import { ProjectionHandle } from "./projection-handle";
import { Readout } from "./readout";
import { SheetHandles } from "./sheet-handles";
import { StackList } from "./stack-list";
import { useStage } from "./stage-context";
import { StretchLegend } from "./stretch-legend";
import { TileGrid } from "./tile-grid";
import { ToolOverlay } from "./tool-overlay";
import { TrialLines } from "./trial-lines";
import { UpArrow } from "./up-arrow";

const NAMES: Readonly<Record<PaneName, string>> = { form: "Form, the 3D pane", sheet: "Sheet, the UV pane" };

/** What to do while nothing has coordinates. */
function EmptySheet() {
  const { asset, set, summary, trial } = useBenchOf("asset", "set", "summary", "trial");
  if (!asset || !summary || summary.stretch !== null || trial?.borders.length) return null;
  const name = asset.sets.find((s) => s.id === set)?.name ?? "";
  return (
    <p className={classes.note}>
      Nothing has coordinates in {name} yet. Cut seams and unfold, or let Draft make a first layout.
    </p>
  );
}

/** A pane's ground, title, what the pointer does in it, and what lies over the drawing. The drawing itself is the stage's. */
export function Pane({ pane }: { pane: PaneName }) {
  const stage = useStage();
  const ground = useRef<HTMLDivElement>(null);
  const [hinted, setHinted] = useState(false);
  const view = useBench((s) => s.view[pane]);
  const isLookingBack = useBench((s) => s.peek && s.before !== null);
  const mark = useBench((s) => s.before?.mark);
  const session = useSession();
  const tool = toolNamed(useBench((s) => s.tool));
  useEffect(() => {
    if (!stage) return;
    const ends = [
      stage.attach(pane, ground.current!),
      takeDrops(ground.current!, session, stage, pane),
      listenTo(
        ground.current!,
        new Gestures(
          stageBench(session, stage, pane),
          () => toolNamed(session.bench.getState().tool),
          stagePointing(session, stage, pane),
        ),
        () => session.bench.getState().mouse === "alt",
        () => session.bench.setState({ inUse: pane }),
      ),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [session, stage, pane]);
  useEffect(() => {
    // The tool's name stands in the pane for a moment when it is taken.
    setHinted(true);
    const end = setTimeout(() => setHinted(false), 1200);
    return () => clearTimeout(end);
  }, [tool]);
  return (
    <section className={classes.pane} aria-label={NAMES[pane]} data-pane={pane}>
      <div
        role="application"
        aria-label={pane === "form" ? "Form" : "Sheet"}
        ref={ground}
        className={classes.ground}
        style={{ cursor: tool.cursor }}
        onContextMenu={(e) => e.preventDefault()}
      >
        {pane === "sheet" && stage && <TileGrid eye={stage.sheet} />}
        <div className={classes.over}>
          {pane === "sheet" && stage && !isLookingBack && (
            <>
              <TrialLines eye={stage.sheet} />
              <Plots eye={stage.sheet} />
              <FreeSpace eye={stage.sheet} />
              <MateThreads eye={stage.sheet} />
              <UpArrow eye={stage.sheet} />
              <SheetHandles eye={stage.sheet} />
            </>
          )}
          {pane === "form" && stage && !isLookingBack && <ProjectionHandle stage={stage} />}
          <ToolOverlay pane={pane} />
          <Readout pane={pane} />
          {hinted && tool.id !== PLAIN_TOOL && <span className={classes.tool}>{tool.title}</span>}
          {isLookingBack && <span className={classes.tool}>{mark ?? "Before the last step"}</span>}
        </div>
      </div>
      {pane === "sheet" && <EmptySheet />}
      <Notice pane={pane} />
      <StackList pane={pane} />
      {pane === "form" && stage && <Inset stage={stage} />}
      <PaneTitle pane={pane} />
      {view === "stretch" && <StretchLegend />}
    </section>
  );
}
