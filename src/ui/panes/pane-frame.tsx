"use client";

import type { DOMAttributes, ReactNode, Ref } from "react";
import { useBench } from "../session/store";
import classes from "./pane.module.css";
import { PaneTitle } from "./pane-title";
import { StretchLegend } from "./stretch-legend";
import type { BoxShape } from "./use-pane-input";

/** A pane's ground, title, pointer handling, the box being drawn, and the legend. */
export function PaneFrame({
  pane,
  box,
  handlers,
  holder,
  children,
}: {
  pane: "form" | "sheet";
  box: BoxShape | null;
  handlers: DOMAttributes<HTMLDivElement>;
  holder?: Ref<HTMLDivElement>;
  children: ReactNode;
}) {
  const view = useBench((s) => s.view);
  return (
    <section
      className={classes.pane}
      aria-label={pane === "form" ? "Form, the 3D pane" : "Sheet, the UV pane"}
      data-pane={pane}
    >
      <div
        role="application"
        aria-label={pane === "form" ? "Form" : "Sheet"}
        ref={holder}
        className={classes.ground}
        onContextMenu={(e) => e.preventDefault()}
        {...handlers}
      >
        {children}
        {box && (
          <div
            className={classes.box}
            style={{ left: box.x0, top: box.y0, width: box.x1 - box.x0, height: box.y1 - box.y0 }}
          />
        )}
      </div>
      <PaneTitle pane={pane} />
      {view === "stretch" && <StretchLegend />}
    </section>
  );
}
