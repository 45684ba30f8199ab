"use client";

import { Button } from "@mantine/core";
import { Fragment, useEffect, useState } from "react";
import type { Proposal } from "@/compute/proposals";
import { operationById } from "@/core/operations/registry";
import type { ProposalFigures } from "@/core/seams/proposal-figures";
import { compareProposals, type Found, pickProposal, previewProposal, takeProposal } from "../session/proposals";
import { useBenchOf, useSession } from "../session/session-context";
import card from "./card.module.css";
import classes from "./proposals.module.css";
import { shortTitle } from "./short-title";
import { lengthWords } from "./stages";

/** Of a figure: from how much on it is told as better or worse. */
const MATTERS = 0.005;

const FIGURES = [
  { title: "Shells", about: "Shells of the parts that are meant", of: (f: ProposalFigures) => f.shells },
  { title: "Seam", about: "Length of all seams", of: (f: ProposalFigures) => f.length },
  { title: "Seen", about: "Length of seams, each by how openly it is seen", of: (f: ProposalFigures) => f.visible },
  {
    title: "Stretch",
    about: "Mean stretch once they are unfolded; 1 is none",
    of: (f: ProposalFigures) => f.stretch,
  },
] as const;

/** Styles of seams beside each other and beside what is there; each can be looked at, edited and taken. */
export function Proposals() {
  const session = useSession();
  const { proposals, asset, jobs } = useBenchOf("proposals", "asset", "jobs");
  const [chosen, setChosen] = useState<string | null>(null);
  useEffect(() => () => previewProposal(session, null), [session]);
  const isFresh = proposals?.asset === asset;
  const found = proposals?.list.find((p): p is Found => p.operation === chosen && "figures" in p);
  const isBusy = jobs.some((j) => j.title === "Compare proposals");
  return (
    <section className={card.card} aria-label="Compare proposals">
      <p>
        {proposals
          ? isFresh
            ? "Point at a style to see its seams, click it to edit or take them."
            : "Seams or parts have changed since: compare again."
          : "Shows what every style would come to on what is picked, or on everything visible, before anything is cut."}
      </p>
      {proposals && (
        <table
          className={classes.table}
          onPointerLeave={() => previewProposal(session, isFresh && found ? found : null)}
        >
          <thead>
            <tr>
              <th>Style</th>
              {FIGURES.map((f) => (
                <th key={f.title} title={f.about}>
                  {f.title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              <td>Present</td>
              <Figures of={proposals.present} beside={null} />
            </tr>
            {proposals.list.map((p) => (
              <Fragment key={p.operation}>
                <Style
                  proposal={p}
                  present={proposals.present}
                  isChosen={p.operation === chosen}
                  isFresh={isFresh}
                  choose={() => setChosen(p.operation === chosen ? null : p.operation)}
                />
                {p === found && isFresh && <Chosen proposal={found} />}
              </Fragment>
            ))}
          </tbody>
        </table>
      )}
      <Button
        fullWidth
        mt={6}
        size="xs"
        variant="default"
        disabled={isBusy}
        onClick={() => void compareProposals(session)}
      >
        {proposals ? "Compare again" : "Compare"}
      </Button>
    </section>
  );
}

/** What can be done with the style that was clicked. */
function Chosen({ proposal }: { proposal: Found }) {
  const session = useSession();
  const { shells, flat } = proposal.figures;
  return (
    <tr className={classes.chosen}>
      <td colSpan={FIGURES.length + 1}>
        {flat < shells && (
          <p>
            {shells - flat} of {shells} shells {shells - flat > 1 ? "do" : "does"} not lie flat yet.
          </p>
        )}
        <div className={classes.actions}>
          <Button size="xs" variant="default" onClick={() => pickProposal(session, proposal)}>
            Pick its edges
          </Button>
          <Button size="xs" onClick={() => void takeProposal(session, proposal)}>
            Take it
          </Button>
        </div>
      </td>
    </tr>
  );
}

function Style(props: {
  proposal: Proposal;
  present: ProposalFigures;
  isChosen: boolean;
  isFresh: boolean;
  choose: () => void;
}) {
  const { proposal, present, isChosen, isFresh, choose } = props;
  const session = useSession();
  const title = shortTitle(operationById(proposal.operation));
  if ("refused" in proposal)
    return (
      <tr className={classes.none} title={proposal.refused}>
        <td>{title}</td>
        <td colSpan={FIGURES.length}>nothing to cut</td>
      </tr>
    );
  const look = () => isFresh && previewProposal(session, proposal);
  return (
    <tr
      className={classes.style}
      aria-selected={isChosen}
      tabIndex={0}
      onPointerEnter={look}
      onFocus={look}
      onClick={choose}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        e.stopPropagation();
        choose();
      }}
    >
      <td>{title}</td>
      <Figures of={proposal.figures} beside={present} />
    </tr>
  );
}

/** The figures of seams, better and worse ones marked, and in words for those who do not see the colour. */
function Figures({ of, beside }: { of: ProposalFigures; beside: ProposalFigures | null }) {
  const { asset } = useBenchOf("asset");
  const shown = (title: string, x: number | null) => {
    if (x === null) return "–";
    if (title === "Shells") return String(x);
    return title === "Stretch" ? x.toFixed(3) : lengthWords(x, asset!.unit);
  };
  return FIGURES.map(({ title, of: figure }) => {
    const [x, was] = [figure(of), beside && figure(beside)];
    const change = x === null || was === null || !was ? 0 : x / was - 1;
    const isMarked = title !== "Shells" && Math.abs(change) > MATTERS;
    const words = isMarked ? `${Math.abs(100 * change).toFixed(0)} % ${change < 0 ? "less" : "more"} than present` : "";
    return (
      <td
        key={title}
        title={words}
        className={isMarked ? (change < 0 ? classes.better : classes.worse) : undefined}
        data-flat={title === "Shells" ? of.flat : undefined}
      >
        {shown(title, x)}
      </td>
    );
  });
}
