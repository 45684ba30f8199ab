"use client";

import { Button, Kbd } from "@mantine/core";
import { IconChevronDown, IconChevronRight } from "@tabler/icons-react";
import { useEffect, useRef } from "react";
import type { AnyOperation, Stage } from "@/core/operations/operation";
import { operationsIn } from "@/core/operations/registry";
import { useBenchOf, useSession } from "../session/session-context";
import { keepOpen, openRow } from "../session/store";
import { keyWords } from "./key-choices";
import { useKeys } from "./keys";
import { OperationCard } from "./operation-card";
import classes from "./operation-rows.module.css";
import { Proposals } from "./proposals";
import { shortTitle } from "./short-title";

/**
 * The operations of a stage as rows under their headings, or those under one heading alone. One row at a time is open
 * as a card; others may be kept open beside it, with their values.
 *
 * @param first the operation that is open until another was chosen
 */
export function OperationRows({ stage, heading, first }: { stage: Stage; heading?: string; first?: AnyOperation }) {
  const { opened, kept } = useBenchOf("opened", "kept");
  const place = heading ? `${stage}/${heading}` : stage;
  const open = opened[place] === undefined ? first?.id : opened[place];
  const all = operationsIn(stage).filter((op) => !heading || op.heading === heading);
  const headings = [...new Set(all.map((op) => op.heading!))];
  return (
    <div className={classes.rows}>
      {headings.map((h) => (
        <div key={h}>
          {headings.length > 1 && <h2>{h}</h2>}
          {all.some((op) => op.heading === h && op.proposes) && <CompareRow place={place} open={open === COMPARE} />}
          {all
            .filter((op) => op.heading === h)
            .map((op) => (
              <OperationRow key={op.id} op={op} place={place} open={open === op.id} kept={kept.has(op.id)} />
            ))}
        </div>
      ))}
    </div>
  );
}

/** The row in which the styles of a heading are compared. */
const COMPARE = "compare";

function CompareRow({ place, open }: { place: string; open: boolean }) {
  const { bench } = useSession();
  return (
    <>
      <button
        type="button"
        className={classes.row}
        aria-expanded={open}
        title="Shows what every style of seams would come to, beside each other, before anything is cut"
        onClick={() => openRow(bench, place, open ? null : COMPARE)}
      >
        {open ? <IconChevronDown size={13} /> : <IconChevronRight size={13} />}
        <span>Compare all</span>
      </button>
      {open && <Proposals />}
    </>
  );
}

function OperationRow({ op, place, open, kept }: { op: AnyOperation; place: string; open: boolean; kept: boolean }) {
  const { bench } = useSession();
  const key = useKeys().get(op.id);
  const shown = open || kept;
  const own = useRef<HTMLDivElement>(null);
  // A card that opens at the foot of the column comes into view; one that was open before stays where it is.
  const was = useRef(shown);
  useEffect(() => {
    if (shown && !was.current) own.current?.parentElement?.scrollIntoView({ block: "nearest" });
    was.current = shown;
  }, [shown]);
  const row = (
    <button
      type="button"
      className={classes.row}
      aria-expanded={shown}
      {...(shown ? { "aria-label": `Close ${op.title}` } : {})}
      aria-keyshortcuts={key}
      title={op.about}
      onClick={() => {
        if (kept) keepOpen(bench, op.id, false);
        if (open) openRow(bench, place, null);
        else if (!kept) openRow(bench, place, op.id);
      }}
    >
      {shown ? <IconChevronDown size={13} /> : <IconChevronRight size={13} />}
      <span>{shortTitle(op)}</span>
      {key && !shown && (
        <Kbd size="xs" aria-hidden>
          {keyWords(key)}
        </Kbd>
      )}
    </button>
  );
  if (!shown) return row;
  const head = (
    <div className={classes.head} ref={own}>
      {row}
      <Button
        size="compact-xs"
        variant={kept ? "light" : "subtle"}
        color={kept ? undefined : "gray"}
        aria-pressed={kept}
        title="Keeps this card open when another row is opened"
        onClick={() => keepOpen(bench, op.id, !kept)}
      >
        {kept ? "kept open" : "keep open"}
      </Button>
    </div>
  );
  return <OperationCard op={op} head={head} main={open} />;
}
