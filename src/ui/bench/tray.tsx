"use client";

import { ActionIcon, Button, Kbd, SegmentedControl, Switch } from "@mantine/core";
import { IconX } from "@tabler/icons-react";
import { movePoints, optionFields } from "@/core/operations/registry";
import { PATH_WAYS, type PathWay } from "@/core/seams/path-ways";
import { FALLOFF_CURVES, type FalloffCurve } from "@/core/select/falloff";
import { falloffOf, setFalloff } from "../session/falloff";
import { useBenchOf, useSession } from "../session/session-context";
import { countPicked } from "../session/store";
import { threadTool } from "../tools/thread-tool";
import { toolNamed } from "../tools/tools";
import { keyWords } from "./key-choices";
import { ACTIONS, useKeys } from "./keys";
import { NumberField } from "./number-field";
import classes from "./tray.module.css";
import { toggleTray, useTray } from "./tray-choice";

const WAYS: Readonly<Record<PathWay, string>> = {
  shortest: "Shortest",
  creased: "Creases",
  straight: "Straight",
  hidden: "Hidden",
};

/** What the thread's paths keep to. */
function ThreadWay() {
  const { bench } = useSession();
  const { threadWay } = useBenchOf("threadWay");
  return (
    <SegmentedControl
      size="xs"
      aria-label="What the thread keeps to"
      data={PATH_WAYS.map((way) => ({ value: way, label: WAYS[way] }))}
      value={threadWay}
      onChange={(way) => bench.setState({ threadWay: way as PathWay })}
    />
  );
}

/** Whether shells are unfolded as soon as they are cut. */
function UnfoldsAlong() {
  const { bench } = useSession();
  const { unfoldsAlong } = useBenchOf("unfoldsAlong");
  return (
    <Switch
      size="xs"
      mr={8}
      label="Unfold after each cut"
      checked={unfoldsAlong}
      onChange={(e) => bench.setState({ unfoldsAlong: e.currentTarget.checked })}
    />
  );
}

const CURVES: Readonly<Record<FalloffCurve, string>> = { smooth: "Smooth", even: "Even", sharp: "Sharp" };

const RADIUS = optionFields(movePoints).find(({ name }) => name === "radius")!;

/** How far about the picked points others follow, and how they do. */
function FalloffChoice() {
  const { bench } = useSession();
  const { options } = useBenchOf("options");
  const { radius, curve } = falloffOf({ options });
  return (
    <>
      <span>{RADIUS.title}</span>
      <NumberField
        field={RADIUS}
        unit={RADIUS.unit!}
        value={radius}
        change={(value) => setFalloff(bench, { radius: value ?? 0 })}
        onEnter={() => (document.activeElement as HTMLElement).blur()}
      />
      <SegmentedControl
        size="xs"
        aria-label="Curve of the falloff"
        data={FALLOFF_CURVES.map((c) => ({ value: c, label: CURVES[c] }))}
        value={curve}
        onChange={(c) => setFalloff(bench, { curve: c as FalloffCurve })}
      />
    </>
  );
}

/**
 * The actions that fit what is picked, each with its key, at the foot of the panes. It has a place of its own there, so
 * that it never lies over what is picked, and nothing moves when it fills.
 */
export function Tray() {
  const shown = useTray((s) => s.shown);
  const { kind, picked, tool } = useBenchOf("kind", "picked", "tool");
  const session = useSession();
  const keys = useKeys();
  if (!shown) return null;
  const ofTool = ACTIONS.filter((a) => a.tools?.includes(tool));
  const fitting = ofTool.length || !countPicked(picked) ? ofTool : ACTIONS.filter((a) => a.fits?.includes(kind));
  return (
    <div className={classes.tray} role="toolbar" aria-label="What fits what is picked">
      {tool === threadTool.id && <ThreadWay />}
      {kind === "edges" && <UnfoldsAlong />}
      {kind === "points" && toolNamed(tool).fades && <FalloffChoice />}
      {fitting.map((a) => (
        <Button
          key={a.id}
          size="compact-sm"
          variant="subtle"
          color="gray"
          c="inherit"
          title={a.about ?? a.words}
          onClick={() => a.run(session)}
        >
          {a.short}
          {keys.has(a.id) && (
            <Kbd size="xs" ml={6}>
              {keyWords(keys.get(a.id)!)}
            </Kbd>
          )}
        </Button>
      ))}
      {!fitting.length && <span>Operations for what you pick appear here.</span>}
      <ActionIcon
        className={classes.away}
        size="sm"
        variant="subtle"
        color="gray"
        aria-label="Hide the tray"
        title="Hide the tray; Find an action brings it back"
        onClick={toggleTray}
      >
        <IconX size={13} />
      </ActionIcon>
    </div>
  );
}
