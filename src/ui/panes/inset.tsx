import { useEffect, useRef } from "react";
import { useBench, useSession } from "../session/session-context";
import type { Stage } from "../stage/stage";
import { boxTool } from "../tools/box-tool";
import { Gestures } from "../tools/gestures";
import { listenTo } from "../tools/pane-input";
import { stageBench, stagePointing } from "../tools/stage-bench";
import classes from "./pane.module.css";

/** A second view of the form, from behind to begin with: it is turned by itself, and what is clicked in it is picked. */
export function Inset({ stage }: { stage: Stage }) {
  const session = useSession();
  const shown = useBench((s) => s.inset);
  const ground = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!shown) return;
    const { bench } = session;
    const tools = { ...stageBench(session, stage, "inset"), show: () => {} };
    const ends = [
      stage.attach("inset", ground.current!),
      listenTo(
        ground.current!,
        new Gestures(tools, () => boxTool, stagePointing(session, stage, "inset")),
        () => bench.getState().mouse === "alt",
        () => bench.setState({ inUse: "form" }),
      ),
    ];
    return () => {
      for (const end of ends) end();
    };
  }, [session, stage, shown]);
  if (!shown) return null;
  return (
    <section
      ref={ground}
      aria-label="Second view of Form"
      className={classes.inset}
      onContextMenu={(e) => e.preventDefault()}
    />
  );
}
