"use client";

import { useEffect, useMemo, useRef, useState } from "react";
import type { AnyOperation } from "@/core/operations/operation";
import type { ProjectionWay } from "@/core/project/frame";
import { giveBack, lendOption } from "../session/lent-option";
import { useBenchOf, useSession } from "../session/session-context";
import { Trials } from "../session/trial";
import { pathOf } from "../stage/line-path";
import { SCOPE_KEYS } from "./scope-words";
import classes from "./tried.module.css";

/** Ways that are offered to be pressed; all are in the choice below. */
const SHOWN = 5;

/** What an operation would come to, in words here and as lines in the panes, as soon as it is known. */
export function Tried({ op }: { op: AnyOperation }) {
  const session = useSession();
  const state = useBenchOf(...SCOPE_KEYS, "options", "outcomes");
  const [words, setWords] = useState<string | null>(null);
  const [ways, setWays] = useState<readonly ProjectionWay[]>([]);
  const { asset, set, kind, picked, hidden, alone, rows } = state;
  const options = state.options[op.id];
  const outcome = state.outcomes[op.id];
  const lastDone = useRef(outcome);
  const trials = useRef<Trials | null>(null);
  useEffect(() => {
    const own = new Trials(session, op, (told, found) => {
      setWords(told);
      // Once one is chosen the others are not looked at again: they stay to be chosen from.
      if (found) setWays(found);
    });
    trials.current = own;
    return () => own.end();
  }, [session, op]);
  // Other picks, other ways.
  const seen = useRef(picked);
  useEffect(() => {
    setWays([]);
    if (seen.current !== picked) giveBack(session);
    seen.current = picked;
  }, [session, asset, set, kind, picked, hidden, alone, rows]);
  useEffect(() => {
    // What has just been done is not tried at once on what came of it.
    const isDone = outcome !== lastDone.current;
    lastDone.current = outcome;
    if (!isDone) {
      trials.current?.ask();
      return;
    }
    trials.current?.clear();
    setWords(null);
  }, [asset, set, kind, picked, hidden, alone, rows, options, outcome]);
  if (!words) return null;
  return (
    <>
      <p data-testid="tried" aria-live="polite">
        {words}
      </p>
      {ways.length > 1 && <Ways op={op} ways={ways.slice(0, SHOWN)} chosen={String(options?.kind ?? "")} />}
    </>
  );
}

/** Ways that were looked at, those first that stretch least for their pieces: a press takes one. */
function Ways({ op, ways, chosen }: { op: AnyOperation; ways: readonly ProjectionWay[]; chosen: string }) {
  const session = useSession();
  const taken = ways.some((w) => w.kind === chosen) ? chosen : ways[0]!.kind;
  return (
    <ul className={classes.ways} aria-label="Ways to project">
      {ways.map((way) => (
        <li key={way.kind}>
          <button
            type="button"
            aria-pressed={way.kind === taken}
            title={`Project as ${way.kind}; seams that are kept may part its pieces further`}
            onClick={() => lendOption(session, op.id, "kind", way.kind)}
          >
            <WayDrawn lines={way.lines} />
            <span>{way.kind}</span>
            <span>{way.pieces === 1 ? "1 piece" : `${way.pieces} pieces`}</span>
            <span>{way.stretch.toFixed(3)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** A way as it would lie, its parts side by side; an empty place where there are too many faces to be drawn. */
function WayDrawn({ lines }: { lines: Float32Array | undefined }) {
  const path = useMemo(() => lines && pathOf(lines), [lines]);
  return (
    <svg viewBox="0 0 1 1" aria-hidden="true">
      {path && <path d={path} transform="matrix(1 0 0 -1 0 1)" />}
    </svg>
  );
}
