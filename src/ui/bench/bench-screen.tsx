"use client";

import { Alert, Anchor, Button, Group } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import Link from "next/link";
import { useEffect, useState } from "react";
import { Panel, Group as PanelGroup, Separator } from "react-resizable-panels";
import { FormPane } from "../panes/form-pane";
import { useSharedScene } from "../panes/shared-scene";
import { SheetPane } from "../panes/sheet-pane";
import { closeBench, isUnsaved, openBench, takeNewest } from "../session/actions";
import { useBench } from "../session/store";
import classes from "./bench.module.css";
import { CardColumn } from "./card-column";
import { ACTIONS, useKeys } from "./keys";
import { Palette } from "./palette";
import { SidePanel } from "./side-panel";
import { StageRail } from "./stage-rail";
import { StatusLine } from "./status-line";
import { Tray } from "./tray";

/** Whether keys are being typed into something; a switch or a box that has the focus takes none. */
function isTyping(): boolean {
  const at = document.activeElement;
  if (at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement) return true;
  return at instanceof HTMLInputElement && !["radio", "checkbox"].includes(at.type);
}

function useBenchKeys(): void {
  const keys = useKeys();
  useHotkeys(
    ACTIONS.flatMap(({ id, run }) => {
      const key = keys.get(id);
      if (!key) return [];
      const act = (event: KeyboardEvent) => {
        if (isTyping() || document.querySelector("[role=dialog]")) return;
        event.preventDefault();
        run();
      };
      return [[key, act, { preventDefault: false }]];
    }),
    [],
  );
}

function Panes() {
  const panes = useBench((s) => s.panes);
  const shared = useSharedScene();
  if (!shared) return null;
  if (panes === "form") return <FormPane shared={shared} />;
  if (panes === "sheet") return <SheetPane shared={shared} />;
  return (
    <PanelGroup orientation="horizontal" className={classes.panes}>
      <Panel minSize="20%" defaultSize="50%">
        <FormPane shared={shared} />
      </Panel>
      <Separator className={classes.grip} aria-label="Width of the panes" />
      <Panel minSize="20%" defaultSize="50%">
        <SheetPane shared={shared} />
      </Panel>
    </PanelGroup>
  );
}

function ConflictBar() {
  const conflict = useBench((s) => s.conflict);
  if (!conflict) return null;
  return (
    <Alert className={classes.conflict} color="sumac" variant="filled" p="xs" radius={0} role="alert">
      <Group justify="center" gap="md">
        <span>{conflict}</span>
        <Button size="compact-sm" variant="white" onClick={() => void takeNewest()}>
          Take the newest
        </Button>
      </Group>
    </Alert>
  );
}

export function BenchScreen({ id }: { id: string }) {
  const [error, setError] = useState<string | null>(null);
  const asset = useBench((s) => s.asset);
  useBenchKeys();
  useEffect(() => {
    openBench(id).catch((e: Error) => setError(e.message));
    return closeBench;
  }, [id]);
  useEffect(() => {
    // What is on the table and not in the database yet would be lost with the page.
    const hold = (event: BeforeUnloadEvent) => isUnsaved() && event.preventDefault();
    addEventListener("beforeunload", hold);
    return () => removeEventListener("beforeunload", hold);
  }, []);
  useEffect(() => {
    if (asset) document.title = `${asset.name} · Tavlin`;
  }, [asset]);
  if (error)
    return (
      <div className={classes.empty}>
        <p>{error}</p>
        <Anchor component={Link} href="/">
          Back to the assets
        </Anchor>
      </div>
    );
  if (!asset) return <p className={classes.empty}>Laying out the table…</p>;
  return (
    <div className={classes.bench}>
      <StageRail />
      <SidePanel />
      <main className={classes.main}>
        <ConflictBar />
        <div className={classes.fill}>
          <Panes />
        </div>
        <Tray />
      </main>
      <CardColumn />
      <StatusLine />
      <Palette />
    </div>
  );
}
