"use client";

import { useEffect, useRef, useState } from "react";
import type { AnyOperation } from "@/core/operations/operation";
import { useBenchOf, useSession } from "../session/session-context";
import { Trials } from "../session/trial";
import { SCOPE_KEYS } from "./scope-words";

/** What an operation would come to, in words here and as lines in the panes, as soon as it is known. */
export function Tried({ op }: { op: AnyOperation }) {
  const session = useSession();
  const state = useBenchOf(...SCOPE_KEYS, "options", "outcomes");
  const [words, setWords] = useState<string | null>(null);
  const { asset, set, kind, picked, hidden, alone, rows } = state;
  const options = state.options[op.id];
  const outcome = state.outcomes[op.id];
  const lastDone = useRef(outcome);
  const trials = useRef<Trials | null>(null);
  useEffect(() => {
    const own = new Trials(session, op, setWords);
    trials.current = own;
    return () => own.end();
  }, [session, op]);
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
  return words ? (
    <p data-testid="tried" aria-live="polite">
      {words}
    </p>
  ) : null;
}
