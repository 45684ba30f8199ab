"use client";

import { ActionIcon, Button, Progress, SegmentedControl, Tooltip } from "@mantine/core";
import { IconArrowBackUp, IconArrowForwardUp } from "@tabler/icons-react";
import { Fragment } from "react";
import type { SelectionKind } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import { count } from "@/core/operations/words";
import { runOperation, stepBench } from "../session/actions";
import type { MouseHabit } from "../session/look-choices";
import { messageWords } from "../session/say";
import { pickWholeParts, setKind } from "../session/selection";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { boxTool } from "../tools/box-tool";
import type { Tool } from "../tools/tool";
import { toolNamed } from "../tools/tools";
import { PickedSizes } from "./picked-sizes";
import { ReachedCurve } from "./reached-curve";
import classes from "./status-line.module.css";
import { ToolChoice } from "./tool-choice";

const HINT: Record<SelectionKind, string> = {
  edges: "Double click: loop · Alt click: path",
  vertices: "Click or drag a box · Shift adds · Ctrl takes away",
  points: "Click or drag a box in Sheet · Shift adds · Ctrl takes away",
  faces: "Click or drag a box · Shift adds · Ctrl takes away",
  shells: "Drag the box in Sheet to move · knob turns · corner scales",
};

/** What turns the form, by habit. */
const TURNS: Record<MouseHabit, string> = {
  right: "right drag turns the form",
  middle: "middle drag turns the form",
  alt: "Alt drag turns the form",
};

/** What the pointer does now. */
const hintOf = (tool: Tool, kind: SelectionKind, mouse: MouseHabit): string =>
  tool === boxTool ? `${HINT[kind]} · ${TURNS[mouse]}` : `${tool.about} Esc ends it.`;

export function StatusLine() {
  const session = useSession();
  const { bench } = session;
  const { kind, wholeParts, mouse, jobs, message, history, savedAt, unsaved, answers } = useBenchOf(
    "kind",
    "wholeParts",
    "mouse",
    "jobs",
    "message",
    "history",
    "savedAt",
    "unsaved",
    "answers",
  );
  const tool = toolNamed(useBench((s) => s.tool));
  return (
    <footer className={classes.status}>
      <SegmentedControl
        size="xs"
        value={wholeParts ? "parts" : kind}
        onChange={(v) => (v === "parts" ? pickWholeParts(bench) : setKind(bench, v as SelectionKind))}
        aria-label="What is picked"
        data={[
          { value: "vertices", label: "Vertices" },
          { value: "points", label: "UV points" },
          { value: "edges", label: "Edges" },
          { value: "faces", label: "Faces" },
          { value: "shells", label: "Shells" },
          { value: "parts", label: "Parts" },
        ]}
      />
      <ToolChoice />
      <PickedSizes />
      <span className={classes.words} role="status" data-tone={message?.tone} title={message?.words}>
        {message ? messageWords(message) : !jobs.length && hintOf(tool, kind, mouse)}
      </span>
      {message?.offers?.map(({ title, operation, options }) => (
        <Button
          key={title}
          size="compact-xs"
          variant="default"
          onClick={() => void runOperation(session, operationById(operation), options)}
        >
          {title}
        </Button>
      ))}
      <span className={classes.push} />
      {jobs.map((job) => (
        <Fragment key={job.id}>
          <span>{job.title}</span>
          {job.curve.length > 0 && <ReachedCurve curve={job.curve} />}
          <Progress
            className={classes.bar}
            value={100 * job.share}
            size="sm"
            color="pool"
            aria-label={`${job.title} progress`}
          />
          <span>{Math.round(100 * job.share)} %</span>
          <Button size="compact-xs" variant="default" onClick={job.stop} aria-label={`Stop ${job.title}`}>
            Stop
          </Button>
        </Fragment>
      ))}
      <Tooltip label={history?.undo && history.head > 0 ? `Undo: ${history.undo}` : "Nothing to undo"}>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label="Undo"
          disabled={!history?.undo}
          onClick={() => void stepBench(session, "undo")}
        >
          <IconArrowBackUp size={16} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={history?.redo ? `Redo: ${history.redo}` : "Nothing to redo"}>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label="Redo"
          disabled={!history?.redo}
          onClick={() => void stepBench(session, "redo")}
        >
          <IconArrowForwardUp size={16} />
        </ActionIcon>
      </Tooltip>
      {unsaved > 0 ? (
        <span data-testid="unsaved">{answers ? "Saving…" : `${count(unsaved, "step")} not saved: no server`}</span>
      ) : (
        savedAt && <span>Saved {savedAt.toLocaleTimeString("en-GB")}</span>
      )}
    </footer>
  );
}
