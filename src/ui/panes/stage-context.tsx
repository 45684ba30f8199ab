"use client";

import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from "react";
import { useSession } from "../session/session-context";
import type { Stage } from "../stage/stage";
import { useThemeShown } from "../theme/theme-choice";
import classes from "./pane.module.css";

/** Why nothing is drawn, and what helps. */
const TROUBLE = {
  graphics:
    "This browser cannot draw in 3D: WebGL 2 is off, or the graphics card is not supported. Turn it on in the browser's settings, then load the page again.",
  loading: "The part of the page that draws could not be loaded. Check the connection, then load the page again.",
} as const;

const StageContext = createContext<Stage | null>(null);

/** What draws both panes; null for the moment before it is there. */
export const useStage = (): Stage | null => useContext(StageContext);

/** Holds the panes, and the one canvas on which the stage draws what they show. */
export function StageHolder({ children }: { children: ReactNode }) {
  const { bench } = useSession();
  const holder = useRef<HTMLDivElement>(null);
  const [stage, setStage] = useState<Stage | null>(null);
  const [trouble, setTrouble] = useState<keyof typeof TROUBLE | null>(null);
  const theme = useThemeShown();
  useEffect(() => {
    let own: Stage | null = null;
    let isGone = false;
    // Loaded and made in tasks of their own: the renderer is large, and making a context takes a while.
    const begin = async () => {
      const { Stage } = await import("../stage/stage");
      await new Promise((resolve) => setTimeout(resolve));
      if (isGone) return;
      try {
        const made = new Stage(holder.current!, bench);
        own = made;
        bench.setState({ eye: () => made.form.way() });
        setStage(made);
      } catch {
        setTrouble("graphics");
      }
    };
    begin().catch(() => setTrouble("loading"));
    return () => {
      isGone = true;
      setStage(null);
      bench.setState({ eye: null });
      own?.dispose();
    };
  }, [bench]);
  useEffect(() => stage?.setTheme(theme), [stage, theme]);
  return (
    <div ref={holder} className={classes.holder}>
      <StageContext value={stage}>{children}</StageContext>
      {trouble && <p className={classes.note}>{TROUBLE[trouble]}</p>}
    </div>
  );
}
