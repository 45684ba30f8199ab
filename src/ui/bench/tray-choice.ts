import { create } from "zustand";

const KEPT = "tavlin-tray";

/** Whether the tray is shown in this browser. */
export const useTray = create<{ shown: boolean }>(() => ({
  shown: typeof localStorage === "undefined" || localStorage.getItem(KEPT) !== "away",
}));

export function toggleTray(): void {
  const shown = !useTray.getState().shown;
  localStorage.setItem(KEPT, shown ? "shown" : "away");
  useTray.setState({ shown });
}
