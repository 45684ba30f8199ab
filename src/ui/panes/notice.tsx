import { Button } from "@mantine/core";
import { useEffect } from "react";
import { operationById, unlockParts } from "@/core/operations/registry";
import type { BenchSession } from "../session/bench-session";
import { setHidden } from "../session/selection";
import { useBench, useSession } from "../session/session-context";
import type { Pane, PaneNotice } from "../session/store";
import { scopeNow } from "../session/store";
import classes from "./pane.module.css";

const CURES = { unlock: "Unlock it", show: "Show it" } as const;
/** Milliseconds for which it stands. */
const STANDS = 6000;

/** Half the width of the widest, and its height, pixels: at the border of the pane it gives way to it. */
const [HALF, TALL] = [135, 60];
const placeOf = ({ x, y }: PaneNotice) => ({
  left: `clamp(${HALF}px, ${x}px, calc(100% - ${HALF}px))`,
  top: `min(${y}px, calc(100% - ${TALL}px))`,
});

function cure(session: BenchSession, { act, part }: PaneNotice["cure"] & {}): void {
  const { bench } = session;
  bench.setState({ notice: null });
  if (act === "show") setHidden(bench, [part], false);
  else {
    const op = operationById(unlockParts.id);
    void session.edit(op.title, op.id, {}, { ...scopeNow(bench.getState(), op), picked: [part] });
  }
}

/** Why something cannot be picked, or is left as it is by edits, at the place that was clicked; and what helps. */
export function Notice({ pane }: { pane: Pane }) {
  const session = useSession();
  const notice = useBench((s) => (s.notice?.pane === pane ? s.notice : null));
  useEffect(() => {
    if (!notice) return;
    const end = setTimeout(() => {
      if (session.bench.getState().notice === notice) session.bench.setState({ notice: null });
    }, STANDS);
    return () => clearTimeout(end);
  }, [session, notice]);
  if (!notice) return null;
  return (
    <div className={classes.notice} role="status" style={placeOf(notice)}>
      <span>{notice.words}</span>
      {notice.cure && (
        <Button flex="none" size="compact-xs" variant="default" onClick={() => cure(session, notice.cure!)}>
          {CURES[notice.cure.act]}
        </Button>
      )}
    </div>
  );
}
