"use client";

import { Button } from "@mantine/core";
import { joinNext, skipJoin } from "../session/one-by-one";
import { useBenchOf, useSession } from "../session/session-context";
import classes from "./one-by-one.module.css";

/** Joins proposed one by one: each is picked in both panes before it is made. */
export function OneByOne() {
  const session = useSession();
  const { oneByOne, picked, jobs } = useBenchOf("oneByOne", "picked", "jobs");
  const isProposed = oneByOne?.proposed === picked && picked.size > 0;
  const isBusy = jobs.length > 0;
  const button = (words: string, title: string, act: () => Promise<void>, disabled = false) => (
    <Button size="compact-xs" variant="default" title={title} disabled={isBusy || disabled} onClick={() => void act()}>
      {words}
    </Button>
  );
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be laid out as a row under its words
    <div className={classes.steps} role="group" aria-label="One by one">
      <span>One by one</span>
      {button(
        isProposed ? "Join it" : oneByOne ? "Propose the next" : "Propose the first",
        "Joins what is proposed, and proposes the next; undo steps back",
        () => joinNext(session),
      )}
      {button("Skip", "Proposes another join in place of this one", () => skipJoin(session, false), !isProposed)}
      {button(
        "Keep open",
        "Locks these seams, so that nothing joins them, and proposes another",
        () => skipJoin(session, true),
        !isProposed,
      )}
    </div>
  );
}
