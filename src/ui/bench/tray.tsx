"use client";

import { ActionIcon, Button, Kbd, NativeSelect, SegmentedControl, Switch } from "@mantine/core";
import { IconX } from "@tabler/icons-react";
import { Fragment } from "react";
import { PUSHES, SNAPS, STOPS } from "@/core/layout/snap-targets";
import type { AnyOperation } from "@/core/operations/operation";
import { optionFields } from "@/core/operations/option-fields";
import { movePoints, relaxStroke } from "@/core/operations/registry";
import { PATH_WAYS, type PathWay } from "@/core/seams/path-ways";
import type { Falloff } from "@/core/select/falloff";
import { type BrushOptions, brushOf, setBrush } from "../session/brush";
import { falloffOf, setFalloff } from "../session/falloff";
import { useBenchOf, useSession } from "../session/session-context";
import { type BenchState, countPicked } from "../session/store";
import { relaxTool } from "../tools/relax-tool";
import { threadTool } from "../tools/thread-tool";
import { toolNamed } from "../tools/tools";
import { moveTool } from "../tools/transform-tools";
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

/** What else is done while seams are made. */
function Along({ of, label }: { of: "threadCuts" | "unfoldsAlong"; label: string }) {
  const { bench } = useSession();
  const state = useBenchOf(of);
  return (
    <Switch
      size="xs"
      mr={8}
      label={label}
      checked={state[of]}
      onChange={(e) => bench.setState({ [of]: e.currentTarget.checked })}
    />
  );
}

/** Whether the thread cuts as it goes, and shells are unfolded as soon as they are cut. */
function WhileCutting({ threads }: { threads: boolean }) {
  const { threadCuts } = useBenchOf("threadCuts");
  if (!threads) return <Along of="unfoldsAlong" label="Unfold after each cut" />;
  return (
    <>
      <Along of="threadCuts" label="Cut as it goes" />
      {threadCuts && <Along of="unfoldsAlong" label="and unfold" />}
    </>
  );
}

/** Some options of an operation, for the tool that works with them. */
function ToolOptions<Values extends object>(props: {
  op: AnyOperation;
  names: ReadonlyArray<keyof Values & string>;
  values: Values;
  change: (change: Partial<Values>) => void;
}) {
  const { op, names, values, change } = props;
  return optionFields(op)
    .filter(({ name }) => (names as readonly string[]).includes(name))
    .map((field) => {
      const name = field.name as keyof Values;
      const set = (value: unknown) => change({ [name]: value } as Partial<Values>);
      if (field.choices)
        return (
          <SegmentedControl
            key={field.name}
            size="xs"
            aria-label={field.title}
            data={field.choices.map(String).map((c) => ({ value: c, label: c[0]!.toUpperCase() + c.slice(1) }))}
            value={String(values[name])}
            onChange={set}
          />
        );
      return (
        <Fragment key={field.name}>
          <span>{field.title}</span>
          <NumberField
            field={field}
            unit={field.unit ?? ""}
            value={Number(values[name])}
            change={(value) => set(value ?? field.least)}
            onEnter={() => (document.activeElement as HTMLElement).blur()}
          />
        </Fragment>
      );
    });
}

/** How far about the picked points others follow, and how they do. */
function FalloffChoice() {
  const { bench } = useSession();
  const { options } = useBenchOf("options");
  const change = (falloff: Partial<Falloff>) => setFalloff(bench, falloff);
  return <ToolOptions op={movePoints} names={["radius", "curve"]} values={falloffOf({ options })} change={change} />;
}

const SNAP_WORDS: Readonly<Record<BenchState["snap"], string>> = {
  off: "Snap to nothing",
  points: "Snap to points",
  borders: "Snap to borders",
  tiles: "Snap to tile edges",
  grid: "Snap to the grid",
  shells: "Stop at shells",
  push: "Push shells",
};

/** What is moved under the pointer keeps to. */
function SnapChoice() {
  const { bench } = useSession();
  const { snap } = useBenchOf("snap");
  return (
    <NativeSelect
      size="xs"
      aria-label="Snap"
      title="The point that is taken hold of is put onto what lies near it, or what is moved stops at other shells, or pushes them, with the padding kept"
      data={(["off", ...SNAPS, STOPS, PUSHES] as const).map((value) => ({ value, label: SNAP_WORDS[value] }))}
      value={snap}
      onChange={(e) => {
        bench.setState({ snap: e.currentTarget.value as BenchState["snap"] });
        // Keys are the bench's again.
        e.currentTarget.blur();
      }}
    />
  );
}

/** How strongly the relax brush works, and in which way. */
function BrushChoice() {
  const { bench } = useSession();
  const { options } = useBenchOf("options");
  const change = (brush: Partial<BrushOptions>) => setBrush(bench, brush);
  return <ToolOptions op={relaxStroke} names={["strength", "way"]} values={brushOf({ options })} change={change} />;
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
      {kind === "edges" && <WhileCutting threads={tool === threadTool.id} />}
      {tool === relaxTool.id && <BrushChoice />}
      {tool === moveTool.id && <SnapChoice />}
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
