"use client";

import { ActionIcon, Anchor, Button, Checkbox, Group, Menu } from "@mantine/core";
import { IconBookmark, IconDots } from "@tabler/icons-react";
import { useEffect, useState } from "react";
import { Summary } from "@/core/check/summary";
import type { Mark } from "@/wire/answers";
import { jumpTo, refreshPast, say } from "../session/actions";
import { deleteMarkRemote } from "../session/remote";
import { useBenchOf } from "../session/store";
import { askMark } from "./ask";
import classes from "./bench.module.css";
import { compareSteps } from "./compare";

const clock = (at: string): string =>
  new Date(at).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** The figures that tell layouts apart at a glance. */
function shortFigures(raw: unknown): string {
  const parsed = Summary.safeParse(raw);
  if (!parsed.success) return "";
  const s = parsed.data;
  return [`${s.shells} shells`, s.stretch === null ? "" : `stretch ${s.stretch.toFixed(3)}`]
    .filter(Boolean)
    .join(" · ");
}

function MarkLine({ mark, chosen, choose }: { mark: Mark; chosen: boolean; choose: () => void }) {
  const { asset, history } = useBenchOf("asset", "history");
  const remove = async () => {
    await deleteMarkRemote(asset!.id, mark.id);
    say(`The mark ${mark.name} is gone; its step is still in the list.`);
    await refreshPast();
  };
  return (
    <div className={classes.mark} data-picked={history?.head === mark.number}>
      <img src={`/api/assets/${asset!.id}/picture?at=${mark.number}`} alt="" width={64} height={48} />
      <button
        type="button"
        className={classes.label}
        title={mark.note || `Go to ${mark.name}`}
        onClick={() => void jumpTo(mark.number)}
      >
        <b>{mark.name}</b>
        <span>{mark.note || (mark.automatic ? "set by itself" : clock(mark.at))}</span>
        <span>{shortFigures(mark.figures)}</span>
      </button>
      <Checkbox size="xs" checked={chosen} onChange={choose} aria-label={`Compare ${mark.name}`} />
      <Menu position="right-start" withinPortal>
        <Menu.Target>
          <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`More for mark ${mark.name}`}>
            <IconDots size={14} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => askMark(mark)}>Name and note…</Menu.Item>
          <Menu.Item onClick={() => void jumpTo(mark.number)}>Go there</Menu.Item>
          <Menu.Item color="red" onClick={() => void remove()}>
            Delete the mark
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

/** Marks, then every step ever made, the newest first; a click goes there, and nothing is lost by it. */
export function HistoryList() {
  const { past, history, stepsKnown } = useBenchOf("past", "history", "stepsKnown");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  // Dependencies on purpose: the list is fetched anew when the server has another step
  useEffect(() => {
    void refreshPast();
  }, [stepsKnown]);
  if (!past || !history) return <p className={classes.none}>Looking up the history…</p>;
  const line = new Set<number>();
  for (let at: number | null = history.head; at !== null; at = past.steps[at]?.parent ?? null) line.add(at);
  const choose = (id: string) =>
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(-4));
  const compared = past.marks.filter((m) => chosen.includes(m.id));
  return (
    <div className={classes.list}>
      <Group gap={6} mx={10} mb={6}>
        <Button size="compact-xs" leftSection={<IconBookmark size={12} />} onClick={() => askMark()}>
          Set a mark
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={!compared.length}
          onClick={() => compareSteps(compared.map((m) => ({ name: m.name, number: m.number })))}
        >
          {compared.length === 1 ? "Compare with now" : "Compare"}
        </Button>
      </Group>
      {!past.marks.length && (
        <p className={classes.none}>
          No marks yet. A mark names this state, so that it can be gone back to and compared.
        </p>
      )}
      {[...past.marks].reverse().map((mark) => (
        <MarkLine key={mark.id} mark={mark} chosen={chosen.includes(mark.id)} choose={() => choose(mark.id)} />
      ))}
      <h2>{past.steps.length} steps</h2>
      <ol className={classes.steps}>
        {[...past.steps].reverse().map((step) => (
          <li key={step.number} data-here={step.number === history.head} data-aside={!line.has(step.number)}>
            <Anchor
              component="button"
              type="button"
              size="xs"
              aria-current={step.number === history.head ? "step" : undefined}
              onClick={() => void jumpTo(step.number)}
            >
              {step.words}
            </Anchor>
            <span>{clock(step.at)}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
