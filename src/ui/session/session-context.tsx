"use client";

import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { BenchSession } from "./bench-session";
import type { BenchState } from "./store";

/** The session of the asset on the table, for all that is shown of it. */
export const SessionContext = createContext<BenchSession | null>(null);

export function useSession(): BenchSession {
  const session = useContext(SessionContext);
  if (!session) throw new Error("No asset is on the table.");
  return session;
}

export const useBench = <T,>(choose: (state: BenchState) => T): T => useStore(useSession().bench, choose);

/** Some of the state, for a component that renders again only when one of these changes. */
export const useBenchOf = <K extends keyof BenchState>(...keys: readonly K[]): Pick<BenchState, K> =>
  useBench(useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as unknown as Pick<BenchState, K>));
