"use client";

import { ActionIcon, Button, Progress, SegmentedControl, Tooltip } from "@mantine/core";
import { IconArrowBackUp, IconArrowForwardUp } from "@tabler/icons-react";
import type { SelectionKind } from "@/core/operations/operation";
import { count } from "@/core/operations/words";
import { stepBench, stopWork } from "./actions";
import classes from "./bench.module.css";
import { setKind } from "./selection";
import { countPicked, useBench } from "./store";

const NOUN: Record<SelectionKind, string> = { vertices: "vertex", edges: "edge", faces: "face", shells: "shell" };

const pickedWords = (n: number, kind: SelectionKind): string =>
  n === 0
    ? "Nothing picked"
    : kind === "vertices" && n > 1
      ? `${n.toLocaleString("en")} vertices`
      : count(n, NOUN[kind]);

const HINT: Record<SelectionKind, string> = {
  edges: "Double click: loop · Alt click: path · right drag: orbit",
  vertices: "Click or drag a box · Shift adds · Ctrl takes away",
  faces: "Click or drag a box · Shift adds · Ctrl takes away",
  shells: "Drag the box in Sheet to move · knob turns · corner scales",
};

export function StatusLine() {
  const { kind, picked, running, message, history, savedAt } = useBench();
  return (
    <footer className={classes.status}>
      <SegmentedControl
        size="xs"
        value={kind}
        onChange={(v) => setKind(v as SelectionKind)}
        aria-label="What is picked"
        data={[
          { value: "vertices", label: "Vertices" },
          { value: "edges", label: "Edges" },
          { value: "faces", label: "Faces" },
          { value: "shells", label: "Shells" },
        ]}
      />
      <b data-testid="picked">{pickedWords(countPicked(picked), kind)}</b>
      <span className={classes.words} role="status" data-tone={message?.tone} title={message?.words}>
        {message ? [message.words, ...message.notes.map((n) => n.words)].join(" ") : HINT[kind]}
      </span>
      <span className={classes.push} />
      {running && (
        <>
          <span>{running.title}</span>
          <Progress
            value={100 * running.share}
            w={110}
            size="sm"
            color="pool"
            aria-label={`${running.title} progress`}
          />
          <span>{Math.round(100 * running.share)} %</span>
          <Button size="compact-xs" variant="default" onClick={stopWork}>
            Stop
          </Button>
        </>
      )}
      <Tooltip label={history?.undo && history.head > 0 ? `Undo: ${history.undo}` : "Nothing to undo"}>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label="Undo"
          disabled={!history?.undo || running !== null}
          onClick={() => void stepBench("undo")}
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
          disabled={!history?.redo || running !== null}
          onClick={() => void stepBench("redo")}
        >
          <IconArrowForwardUp size={16} />
        </ActionIcon>
      </Tooltip>
      {savedAt && <span>Saved {savedAt.toLocaleTimeString("en-GB")}</span>}
    </footer>
  );
}
