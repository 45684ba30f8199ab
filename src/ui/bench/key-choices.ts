import { z } from "zod";
import { create } from "zustand";

/** Something with a name of its own that a key can stand for. */
export interface Keyed {
  readonly id: string;
  /** The key it comes with, as "C" or "mod+shift+Z"; mod is Ctrl, or Command on a Mac. */
  readonly key?: string;
}

/** Keys that a person has chosen, by what they stand for; none where it is empty. */
export type KeyChoices = Readonly<Record<string, string>>;

/** The key of each, after what was chosen. A key that was given to another is no longer that of the one it came with. */
export function keysAfter(all: readonly Keyed[], chosen: KeyChoices): ReadonlyMap<string, string> {
  const given = new Set(all.flatMap((a) => chosen[a.id] || []));
  return new Map(
    all.flatMap(({ id, key }) => {
      const own = chosen[id] ?? (key !== undefined && !given.has(key) ? key : "");
      return own ? [[id, own] as const] : [];
    }),
  );
}

/** Choices with one more: whoever had that key has none any more. An empty key takes it away. */
export function withKey(all: readonly Keyed[], chosen: KeyChoices, id: string, key: string): KeyChoices {
  const had = [...keysAfter(all, chosen)].filter(([other, k]) => other !== id && k === key && chosen[other]);
  const next = { ...chosen, ...Object.fromEntries(had.map(([other]) => [other, ""])), [id]: key };
  // What is as it came needs no choice.
  const came = new Map(all.map((a) => [a.id, a.key ?? ""]));
  return Object.fromEntries(Object.entries(next).filter(([i, k]) => k !== came.get(i)));
}

const BROWSERS_OWN = new Set(["mod+W", "mod+T", "mod+N", "mod+R", "mod+L", "F5", "F11", "F12"]);
const OURS = new Set(["mod+K", "Escape"]);

/** The key that was pressed, as it is written in the table; null for one that holds others only. */
export function keyPressed(
  event: Pick<KeyboardEvent, "key" | "altKey" | "ctrlKey" | "metaKey" | "shiftKey">,
): string | null {
  const { key } = event;
  if (["Control", "Meta", "Alt", "Shift", "AltGraph", "CapsLock", "Dead"].includes(key)) return null;
  const name = key === "+" ? "[plus]" : key === " " ? "Space" : key.length === 1 ? key.toUpperCase() : key;
  const mod = event.ctrlKey || event.metaKey;
  return [mod && "mod", event.altKey && "alt", event.shiftKey && "shift", name].filter(Boolean).join("+");
}

/** Why a key cannot be chosen, in a sentence; null when it can. */
export function whyNot(key: string): string | null {
  if (BROWSERS_OWN.has(key)) return `${keyWords(key)} belongs to the browser.`;
  if (key === "Tab" || key === "shift+Tab" || key === "Enter")
    return `${keyWords(key)} goes from one control to the next.`;
  return OURS.has(key) ? `${keyWords(key)} always does what it does.` : null;
}

/** A key as it is shown. */
export const keyWords = (key: string): string =>
  key
    .split("+")
    .map((k) => ({ mod: "Ctrl", shift: "Shift", alt: "Alt", "[plus]": "+" })[k] ?? k)
    .join(" ");

const KEPT = "tavlin-keys";
const Kept = z.record(z.string().max(100), z.string().max(40));

/** What was chosen in this browser; nothing when that cannot be read. */
function kept(): KeyChoices {
  try {
    return Kept.safeParse(JSON.parse(localStorage.getItem(KEPT) ?? "{}")).data ?? {};
  } catch {
    return {};
  }
}

/** The keys of this browser. */
export const useKeyChoices = create<{ chosen: KeyChoices }>(() => ({
  chosen: typeof localStorage === "undefined" ? {} : kept(),
}));

export function chooseKeys(chosen: KeyChoices): void {
  localStorage.setItem(KEPT, JSON.stringify(chosen));
  useKeyChoices.setState({ chosen });
}
