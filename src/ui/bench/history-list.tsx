"use client";

import { ActionIcon, Anchor, Button, Checkbox, Group, Menu } from "@mantine/core";
import { IconBookmark, IconDots } from "@tabler/icons-react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { Summary } from "@/core/check/summary";
import type { Mark } from "@/wire/answers";
import { jumpTo, refreshPast, saveSteps, say } from "../session/actions";
import { lookBackTo, lookBackToLast } from "../session/peek-mark";
import { deleteMarkRemote } from "../session/remote";
import { useBenchOf, useSession } from "../session/session-context";
import type { BenchState } from "../session/store";
import { askMark } from "./ask";
import { compareSteps } from "./compare";
import classes from "./history-list.module.css";
import lists from "./list.module.css";

type Past = NonNullable<BenchState["past"]>;

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
  const session = useSession();
  const { asset, history, before } = useBenchOf("asset", "history", "before");
  const looksBack = before?.mark === mark.name;
  const remove = async () => {
    await deleteMarkRemote(asset!.id, mark.id);
    say(session.bench, `The mark ${mark.name} is gone; its step is still in the list.`);
    await refreshPast(session);
  };
  return (
    <div className={`${lists.entry} ${classes.mark}`} data-picked={history?.head === mark.number}>
      <img src={`/api/assets/${asset!.id}/picture?at=${mark.number}`} alt="" width={64} height={48} />
      <button
        type="button"
        className={lists.label}
        title={mark.note || `Go to ${mark.name}`}
        onClick={() => void jumpTo(session, mark.number)}
      >
        <b>{mark.name}</b>
        <span>{mark.note || (mark.automatic ? "automatic" : clock(mark.at))}</span>
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
          <Menu.Item onClick={() => askMark(session, mark)}>Name and note…</Menu.Item>
          <Menu.Item onClick={() => void jumpTo(session, mark.number)}>Go there</Menu.Item>
          {looksBack ? (
            <Menu.Item onClick={() => lookBackToLast(session.bench)}>No longer look back to it</Menu.Item>
          ) : (
            <Menu.Item onClick={() => void lookBackTo(session, mark)}>Look back to it by key</Menu.Item>
          )}
          <Menu.Item color="red" onClick={() => void remove()}>
            Delete the mark
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

/** Pixels a step takes, when nothing of it is wrapped. */
const STEP = 22;

/** The steps, the newest first. Only those in view are drawn: there may be thousands. */
function StepList({ past, head, scroller }: { past: Past; head: number; scroller: RefObject<HTMLDivElement | null> }) {
  const session = useSession();
  const list = useRef<HTMLOListElement>(null);
  const line = useMemo(() => {
    const out = new Set<number>();
    for (let at: number | null = head; at !== null; at = past.steps[at]?.parent ?? null) out.add(at);
    return out;
  }, [past, head]);
  const scrollMargin = list.current?.offsetTop ?? 0;
  const drawn = useVirtualizer({
    count: past.steps.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => STEP,
    overscan: 20,
    scrollMargin,
  });
  return (
    <ol className={classes.steps} ref={list} style={{ height: drawn.getTotalSize(), position: "relative" }}>
      {drawn.getVirtualItems().map((item) => {
        const step = past.steps[past.steps.length - 1 - item.index]!;
        return (
          <li
            key={step.number}
            ref={drawn.measureElement}
            data-index={item.index}
            data-here={step.number === head}
            data-aside={!line.has(step.number)}
            style={{ transform: `translateY(${item.start - scrollMargin}px)` }}
          >
            <Anchor
              component="button"
              type="button"
              size="xs"
              aria-current={step.number === head ? "step" : undefined}
              onClick={() => void jumpTo(session, step.number)}
            >
              {step.words}
            </Anchor>
            <span>{clock(step.at)}</span>
          </li>
        );
      })}
    </ol>
  );
}

/** Marks, then every step ever made, the newest first; a click goes there, and nothing is lost by it. */
export function HistoryList() {
  const session = useSession();
  const { past, history, stepsKnown, unsaved } = useBenchOf("past", "history", "stepsKnown", "unsaved");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const scroller = useRef<HTMLDivElement>(null);
  // Dependencies on purpose: the list is fetched again when the server has another step
  useEffect(() => {
    void refreshPast(session);
  }, [stepsKnown]);
  if (!past || !history) return <p className={lists.none}>Looking up the history…</p>;
  const choose = (id: string) =>
    setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id].slice(-4));
  const compared = past.marks.filter((m) => chosen.includes(m.id));
  return (
    <div className={lists.list} ref={scroller}>
      <Group gap={6} mx={10} mb={6}>
        <Button size="compact-xs" leftSection={<IconBookmark size={12} />} onClick={() => askMark(session)}>
          Set a mark
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={!compared.length}
          onClick={() =>
            compareSteps(
              session,
              compared.map((m) => ({ name: m.name, number: m.number })),
            )
          }
        >
          {compared.length === 1 ? "Compare with now" : "Compare"}
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={past.steps.length < 2 || unsaved > 0}
          title="Saves what was done as a file. The command line does it again, here or on another asset: ./tavlin replay"
          onClick={() => void saveSteps(session)}
        >
          Save the steps
        </Button>
      </Group>
      {!past.marks.length && (
        <p className={lists.none}>
          No marks yet. A mark names this state, so that it can be gone back to and compared.
        </p>
      )}
      {[...past.marks].reverse().map((mark) => (
        <MarkLine key={mark.id} mark={mark} chosen={chosen.includes(mark.id)} choose={() => choose(mark.id)} />
      ))}
      <h2>{past.steps.length} steps</h2>
      <StepList past={past} head={history.head} scroller={scroller} />
    </div>
  );
}
