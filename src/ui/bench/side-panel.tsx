"use client";

import { Group, SegmentedControl } from "@mantine/core";
import { refreshPast } from "../session/actions";
import { useBench, useSession } from "../session/session-context";
import type { Side } from "../session/store";
import { HistoryList } from "./history-list";
import { MaterialsList } from "./materials-list";
import { OwnWindowButton } from "./own-window";
import { PartsList } from "./parts-list";
import { SetsList } from "./sets-list";
import { ShellsList } from "./shells-list";
import classes from "./side-panel.module.css";

/** The left column: parts, shells, UV sets, or the history. */
export function SidePanel() {
  const session = useSession();
  const side = useBench((s) => s.side);
  const show = (next: Side) => {
    session.bench.setState({ side: next });
    void refreshPast(session);
  };
  return (
    <aside className={classes.parts} aria-label="Parts, shells, sets, history">
      <Group gap={4} p={8} wrap="nowrap">
        <SegmentedControl
          flex={1}
          size="xs"
          fullWidth
          value={side}
          onChange={(v) => show(v as Side)}
          aria-label="What the column shows"
          data={[
            { value: "parts", label: "Parts" },
            { value: "shells", label: "Shells" },
            { value: "sets", label: "UV sets" },
            { value: "history", label: "History" },
          ]}
        />
        <OwnWindowButton column="lists" />
      </Group>
      {side === "parts" && <PartsList />}
      {side === "parts" && <MaterialsList />}
      {side === "shells" && <ShellsList />}
      {side === "sets" && <SetsList />}
      {side === "history" && <HistoryList />}
    </aside>
  );
}
