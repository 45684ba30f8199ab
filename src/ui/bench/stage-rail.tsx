"use client";

import { Button, Kbd } from "@mantine/core";
import { spotlight } from "@mantine/spotlight";
import Link from "next/link";
import { useBenchOf, useSession } from "../session/session-context";
import { ThemeSwitch } from "../theme/theme-switch";
import classes from "./stage-rail.module.css";
import { STAGES_SHOWN } from "./stages";

/** The stages in the order of the work, each with its own live figure. Nothing is locked. */
export function StageRail() {
  const { bench } = useSession();
  const state = useBenchOf("asset", "set", "summary", "measures", "faults", "stage");
  const { asset, summary, stage } = state;
  return (
    <header className={classes.rail}>
      <div className={classes.name}>
        <Link href="/" title="To all assets">
          Tavlin
        </Link>
        <div title={asset?.name}>{asset?.name}</div>
      </div>
      <nav className={classes.stops} aria-label="Stages">
        {STAGES_SHOWN.map((s) => {
          const figure = summary ? s.figure(summary, state) : { words: "…", tone: "plain" };
          return (
            <button
              key={s.id}
              type="button"
              className={classes.stop}
              aria-current={s.id === stage ? "step" : undefined}
              onClick={() => bench.setState({ stage: s.id })}
            >
              <b>{s.title}</b>
              <span data-tone={figure.tone}>{figure.words}</span>
            </button>
          );
        })}
      </nav>
      <ThemeSwitch />
      <Button variant="default" size="xs" onClick={spotlight.open} rightSection={<Kbd size="xs">Ctrl K</Kbd>}>
        Find an action
      </Button>
    </header>
  );
}
