"use client";

import { useBench } from "../session/store";
import classes from "./bench.module.css";
import { BriefCards } from "./brief-cards";
import { CheckCards } from "./check-cards";
import { HandOffCard } from "./hand-off-card";
import { OperationCard } from "./operation-card";
import { STAGES_SHOWN } from "./stages";

/** The cards of the chosen stage. */
export function CardColumn() {
  const stage = useBench((s) => s.stage);
  const plan = STAGES_SHOWN.find((s) => s.id === stage)!;
  return (
    <aside className={classes.cards} aria-label={`${plan.title} cards`}>
      {stage === "brief" && <BriefCards />}
      {stage === "hand-off" && <HandOffCard />}
      {plan.cards.map((card, i) => (
        <OperationCard key={`${stage}/${card.operation}`} plan={card} main={i === 0} />
      ))}
      {(stage === "check" || stage === "hand-off") && <CheckCards />}
    </aside>
  );
}
