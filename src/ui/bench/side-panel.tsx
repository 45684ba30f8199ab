"use client";

import { SegmentedControl } from "@mantine/core";
import { refreshPast } from "../session/actions";
import { type Side, useBench } from "../session/store";
import classes from "./bench.module.css";
import { HistoryList } from "./history-list";
import { PartsList } from "./parts-list";
import { SetsList } from "./sets-list";

/** The left column: parts, UV sets, or the history. */
export function SidePanel() {
  const side = useBench((s) => s.side);
  const show = (next: Side) => {
    useBench.setState({ side: next });
    void refreshPast();
  };
  return (
    <aside className={classes.parts} aria-label="Parts, sets, history">
      <SegmentedControl
        m={8}
        size="xs"
        fullWidth
        value={side}
        onChange={(v) => show(v as Side)}
        aria-label="What the column shows"
        data={[
          { value: "parts", label: "Parts" },
          { value: "sets", label: "UV sets" },
          { value: "history", label: "History" },
        ]}
      />
      {side === "parts" && <PartsList />}
      {side === "sets" && <SetsList />}
      {side === "history" && <HistoryList />}
    </aside>
  );
}
