"use client";

import { Alert, Anchor, Button, Group } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import Link from "next/link";
import { Fragment, type RefObject, startTransition, useEffect, useRef, useState } from "react";
import { Panel, Group as PanelGroup, Separator } from "react-resizable-panels";
import { Pane } from "../panes/pane";
import { StageHolder } from "../panes/stage-context";
import { isUnsaved, leaveSession, openSession } from "../session/actions";
import { BenchSession } from "../session/bench-session";
import { showBranches } from "../session/branches";
import { showWeights } from "../session/falloff";
import { lookUpImages } from "../session/mirror-picks";
import { say } from "../session/say";
import { SessionContext, useBench, useBenchOf, useSession } from "../session/session-context";
import type { Pane as PaneName } from "../session/store";
import { branchTool } from "../tools/branch-tool";
import { toolNamed } from "../tools/tools";
import classes from "./bench-screen.module.css";
import { CardColumn } from "./card-column";
import { keepsKey } from "./key-owner";
import { ACTIONS, useKeys } from "./keys";
import { ColumnPlace, useOwnWindows } from "./own-window";
import { Palette } from "./palette";
import { SidePanel } from "./side-panel";
import { StageRail } from "./stage-rail";
import { StatusLine } from "./status-line";
import { Tray } from "./tray";

/**
 * Whether the key that goes down now belongs to a field or a dialog. It is asked before anything has acted on the key,
 * for the Escape that closes a dialog is the dialog's, though the dialog is gone by the time the bench hears of it.
 */
function useTakenKey(): RefObject<boolean> {
  const taken = useRef(false);
  useEffect(() => {
    const ask = (event: KeyboardEvent) => {
      // Words that are marked on the page are copied as anywhere.
      const isText = (event.ctrlKey || event.metaKey) && event.key === "c" && getSelection()?.isCollapsed === false;
      const isOwn = isText || keepsKey(document.activeElement, event.key);
      taken.current = isOwn || document.querySelector("[role=dialog], [role=menu]") !== null;
    };
    addEventListener("keydown", ask, { capture: true });
    return () => removeEventListener("keydown", ask, { capture: true });
  }, []);
  return taken;
}

function useBenchKeys(): void {
  const session = useSession();
  const keys = useKeys();
  const taken = useTakenKey();
  useHotkeys(
    ACTIONS.flatMap(({ id, run }) => {
      const key = keys.get(id);
      if (!key) return [];
      const act = (event: KeyboardEvent) => {
        if (taken.current) return;
        event.preventDefault();
        run(session);
      };
      return [[key, act, { preventDefault: false }]];
    }),
    [],
  );
}

/** Keys that do something for as long as they are held: letting go of one ends it, and so does leaving the page. */
function useHeldKeys(): void {
  const session = useSession();
  const keys = useKeys();
  useEffect(() => {
    const held = ACTIONS.filter((a) => a.release);
    const letGo = (event: KeyboardEvent) => {
      for (const { id, release } of held)
        if (keys.get(id)?.split("+").at(-1)?.toLowerCase() === event.key.toLowerCase()) release!(session);
    };
    const left = () => {
      for (const { release } of held) release!(session);
    };
    addEventListener("keyup", letGo);
    addEventListener("blur", left);
    return () => {
      removeEventListener("keyup", letGo);
      removeEventListener("blur", left);
    };
  }, [session, keys]);
}

/** While the tool for them is taken, the branches of what is picked are shown. */
function useBranches(): void {
  const { bench } = useSession();
  const { tool, picked, kind, asset } = useBenchOf("tool", "picked", "kind", "asset");
  useEffect(() => showBranches(bench, tool === branchTool.id), [bench, tool, picked, kind, asset]);
}

/** While picks are mirrored, the images of what is on the table are looked up. */
function useMirror(): void {
  const session = useSession();
  const { mirror, asset } = useBenchOf("mirror", "asset");
  useEffect(() => {
    if (mirror && asset) lookUpImages(session).catch((error: Error) => say(session.bench, error.message, "refused"));
  }, [session, mirror, asset]);
}

/** While a tool that moves points is taken, how much each point takes of it is shown. */
function useWeights(): void {
  const session = useSession();
  const { tool, picked, kind, asset, options, set } = useBenchOf("tool", "picked", "kind", "asset", "options", "set");
  const on = toolNamed(tool).fades ?? false;
  useEffect(() => void showWeights(session, on), [session, on, picked, kind, asset, options, set]);
}

/** What follows the selection without showing anything itself: a component of its own, so that nothing else is rendered for it. */
function Following() {
  useBranches();
  useMirror();
  useWeights();
  return null;
}

function Panes() {
  const { panes, stacked, swapped } = useBenchOf("panes", "stacked", "swapped");
  if (panes !== "both") return <Pane key={panes} pane={panes} />;
  const order: readonly PaneName[] = swapped ? ["sheet", "form"] : ["form", "sheet"];
  return (
    // Begun anew when they lie otherwise: widths of one are no heights of the other.
    <PanelGroup key={String(stacked)} orientation={stacked ? "vertical" : "horizontal"} className={classes.panes}>
      {order.map((pane, i) => (
        <Fragment key={pane}>
          {i > 0 && (
            <Separator className={stacked ? classes.gripAcross : classes.grip} aria-label="Size of the panes" />
          )}
          <Panel minSize="20%" defaultSize="50%">
            <Pane pane={pane} />
          </Panel>
        </Fragment>
      ))}
    </PanelGroup>
  );
}

function ConflictBar() {
  const session = useSession();
  const conflict = useBench((s) => s.conflict);
  if (!conflict) return null;
  return (
    <Alert className={classes.conflict} color="sumac" variant="filled" p="xs" radius={0} role="alert">
      <Group justify="center" gap="md">
        <span>{conflict}</span>
        <Button size="compact-sm" variant="white" onClick={() => void session.takeNewest()}>
          Take the newest
        </Button>
      </Group>
    </Alert>
  );
}

/**
 * Counts up to `last` once it may begin, a step after each was shown: what is put up in turn never holds the page for
 * long. Every step is a transition, which is rendered a few milliseconds at a time.
 */
function useInTurn(begins: boolean, last: number): number {
  const [shown, setShown] = useState(0);
  useEffect(() => {
    if (begins && shown < last) startTransition(() => setShown(shown + 1));
  }, [begins, shown, last]);
  return shown;
}

/** Opens an asset for as long as it is shown. */
export function BenchScreen({ id }: { id: string }) {
  const [session, setSession] = useState<BenchSession | null>(null);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    const own = new BenchSession(id);
    setSession(own);
    openSession(own).catch((e: Error) => setError(e.message));
    return () => leaveSession(own);
  }, [id]);
  useEffect(() => {
    // What is on the table and not in the database yet would be lost with the page.
    const hold = (event: BeforeUnloadEvent) => isUnsaved(session) && event.preventDefault();
    addEventListener("beforeunload", hold);
    return () => removeEventListener("beforeunload", hold);
  }, [session]);
  if (error)
    return (
      <div className={classes.empty}>
        <p>{error}</p>
        <Anchor component={Link} href="/">
          Back to the assets
        </Anchor>
      </div>
    );
  if (!session) return null;
  return (
    <SessionContext value={session}>
      <Table />
    </SessionContext>
  );
}

/** The asset on the table, with all that belongs to it around. */
function Table() {
  const name = useBench((s) => s.asset?.name);
  const columns = useBench((s) => s.columns);
  const { lists, cards } = useOwnWindows();
  const shown = useInTurn(name !== undefined, 4);
  useBenchKeys();
  useHeldKeys();
  useEffect(() => {
    if (name) document.title = `${name} · Tavlin`;
  }, [name]);
  if (!shown) return <p className={classes.empty}>Opening the asset…</p>;
  return (
    <div className={classes.bench} data-left={columns && !lists} data-right={columns && !cards}>
      <StageRail />
      {columns && shown > 1 ? (
        <ColumnPlace column="lists">
          <SidePanel />
        </ColumnPlace>
      ) : (
        <aside />
      )}
      <main className={classes.main}>
        <ConflictBar />
        <div className={classes.fill}>
          {shown > 2 && (
            <StageHolder>
              <Panes />
            </StageHolder>
          )}
        </div>
        <Tray />
      </main>
      {columns && shown > 3 ? (
        <ColumnPlace column="cards">
          <CardColumn />
        </ColumnPlace>
      ) : (
        <aside />
      )}
      <StatusLine />
      <Palette />
      <Following />
    </div>
  );
}
