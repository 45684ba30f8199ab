"use client";

import { useEffect, useState } from "react";
import type { AnyOperation } from "@/core/operations/operation";
import { useBenchOf, useSession } from "../session/session-context";
import { scopeNow } from "../session/store";
import { SCOPE_KEYS } from "./scope-words";

/** Milliseconds for which nothing changes before it is asked what an operation would come to. */
const CALM = 120;

/** What an operation that sets seams would come to, as soon as it is known. */
export function Foretold({ op }: { op: AnyOperation }) {
  const session = useSession();
  const state = useBenchOf(...SCOPE_KEYS, "options");
  const [words, setWords] = useState<string | null>(null);
  const { asset, set, kind, picked, hidden, alone, rows } = state;
  const options = state.options[op.id];
  useEffect(() => {
    let isOver = false;
    setWords(null);
    const timer = setTimeout(() => {
      const scope = scopeNow(session.bench.getState(), op);
      session
        .lookUp((remote, revision) => remote.foretell(revision, op.id, { ...options, ...op.given }, scope))
        .then(
          (found) => !isOver && setWords(found),
          () => {},
        );
    }, CALM);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [session, op, asset, set, kind, picked, hidden, alone, rows, options]);
  return words ? (
    <p data-testid="foretold" aria-live="polite">
      {words}
    </p>
  ) : null;
}
