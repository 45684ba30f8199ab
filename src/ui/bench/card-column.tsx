"use client";

import { operationsIn } from "@/core/operations/registry";
import { useBench } from "../session/session-context";
import { BriefCards } from "./brief-cards";
import classes from "./card-column.module.css";
import { CheckCards } from "./check-cards";
import { HandOffCard } from "./hand-off-card";
import { LevelCards } from "./level-cards";
import { OperationRows } from "./operation-rows";
import { OwnWindowButton } from "./own-window";
import { STAGES_SHOWN } from "./stages";

/** The cards of the chosen stage. */
export function CardColumn() {
  const stage = useBench((s) => s.stage);
  const plan = STAGES_SHOWN.find((s) => s.id === stage)!;
  // In Check one looks first; elsewhere the first row is what the stage is for.
  const first = stage === "check" ? undefined : operationsIn(stage)[0];
  return (
    <aside className={classes.cards} aria-label={`${plan.title} cards`}>
      <span className={classes.window}>
        <OwnWindowButton column="cards" />
      </span>
      {stage === "brief" && <BriefCards />}
      {stage === "hand-off" && <HandOffCard />}
      {stage === "check" && <CheckCards />}
      {stage === "level" && <LevelCards />}
      {stage !== "brief" && <OperationRows key={stage} stage={stage} {...(first ? { first } : {})} />}
      {stage === "hand-off" && <CheckCards />}
    </aside>
  );
}
