"use client";

import { Button, Kbd } from "@mantine/core";
import { spotlight } from "@mantine/spotlight";
import Link from "next/link";
import { useState } from "react";
import { useBenchOf, useSession } from "../session/session-context";
import { ThemeSwitch } from "../theme/theme-switch";
import classes from "./stage-rail.module.css";
import { STAGES_SHOWN } from "./stages";

/** A stage's figure; one that was changed lights up once, and keeps what it was before for whoever points at it. */
function Figure({ words, tone }: { words: string; tone: string }) {
  const [seen, setSeen] = useState<{ now: string; before: string | null }>({ now: words, before: null });
  if (seen.now !== words) setSeen({ now: words, before: seen.now });
  return (
    <span
      key={words}
      data-tone={tone}
      data-changed={seen.before !== null}
      title={seen.before === null ? undefined : `Before: ${seen.before}`}
    >
      {words}
    </span>
  );
}

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
              <Figure words={figure.words} tone={figure.tone} />
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
