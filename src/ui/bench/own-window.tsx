"use client";

import { ActionIcon, MantineThemeProvider } from "@mantine/core";
import { IconExternalLink, IconWindowMinimize } from "@tabler/icons-react";
import { type ReactNode, useEffect, useMemo } from "react";
import { createPortal } from "react-dom";
import { create } from "zustand";
import type { BenchSession } from "../session/bench-session";
import { say } from "../session/say";
import { useSession } from "../session/session-context";
import { keepsKey } from "./key-owner";
import classes from "./own-window.module.css";

/** Columns that can stand in a window of their own. */
const COLUMNS = { lists: "Lists", cards: "Cards" } as const;
export type Column = keyof typeof COLUMNS;

/** The windows that columns stand in now: they belong to this page and go with it. */
export const useOwnWindows = create<Readonly<Record<Column, Window | null>>>(() => ({ lists: null, cards: null }));

/** Puts a column into a window of its own, or back. */
export function toggleOwnWindow({ bench }: BenchSession, column: Column): void {
  const before = useOwnWindows.getState()[column];
  if (before) {
    before.close();
    useOwnWindows.setState({ [column]: null });
    return;
  }
  const own = window.open("", `tavlin-${column}`, "popup,width=380,height=820");
  if (own) useOwnWindows.setState({ [column]: own });
  else say(bench, "The browser allows no other window: allow pop-ups for this page, and ask again.", "refused");
}

/** Keeps the looks of a window like those of the page: its styles, those that come later, and the theme. */
function dressLike(page: Document, own: Document): () => void {
  const taken = new Map<Node, Node>();
  const dress = () => {
    for (const sheet of page.querySelectorAll("link[rel=stylesheet], style")) {
      if (taken.has(sheet)) continue;
      taken.set(sheet, own.head.appendChild(own.importNode(sheet, true)));
    }
    for (const { name, value } of page.documentElement.attributes) own.documentElement.setAttribute(name, value);
  };
  dress();
  const changes = new MutationObserver(dress);
  changes.observe(page.head, { childList: true });
  changes.observe(page.documentElement, { attributes: true });
  return () => changes.disconnect();
}

/** Hands keys on to the page, but for those of a field that is being filled in or a button that is pressed. */
function handKeysOn(own: Window): () => void {
  const hand = (event: KeyboardEvent) => {
    if (keepsKey(own.document.activeElement, event.key)) return;
    const same = new KeyboardEvent(event.type, event);
    document.documentElement.dispatchEvent(same);
    if (same.defaultPrevented) event.preventDefault();
  };
  own.addEventListener("keydown", hand);
  own.addEventListener("keyup", hand);
  return () => {
    own.removeEventListener("keydown", hand);
    own.removeEventListener("keyup", hand);
  };
}

/** What stands in a window of its own: part of this page, so that everything in it works as it does here. */
function InWindow({ own, column, children }: { own: Window; column: Column; children: ReactNode }) {
  useEffect(() => {
    own.document.title = `${COLUMNS[column]} · ${document.title}`;
    const undress = dressLike(document, own.document);
    const keepKeys = handKeysOn(own);
    // A window that is closed gives the column back; with the page all of them go.
    const left = setInterval(() => own.closed && useOwnWindows.setState({ [column]: null }), 300);
    const close = () => own.close();
    addEventListener("pagehide", close);
    return () => {
      clearInterval(left);
      removeEventListener("pagehide", close);
      undress();
      keepKeys();
      own.close();
      useOwnWindows.setState({ [column]: null });
    };
  }, [own, column]);
  // Menus and hints open beside what they belong to, in that window.
  const theme = useMemo(
    () => ({ components: { Portal: { defaultProps: { target: own.document.body, reuseTargetNode: false } } } }),
    [own],
  );
  return createPortal(
    <MantineThemeProvider inherit theme={theme}>
      <div className={classes.window}>{children}</div>
    </MantineThemeProvider>,
    own.document.body,
  );
}

/** A column at the side of the panes, or in a window of its own. */
export function ColumnPlace({ column, children }: { column: Column; children: ReactNode }) {
  const own = useOwnWindows((s) => s[column]);
  if (!own) return children;
  return (
    <>
      <aside />
      <InWindow own={own} column={column}>
        {children}
      </InWindow>
    </>
  );
}

/** Puts a column into a window of its own, or back. */
export function OwnWindowButton({ column }: { column: Column }) {
  const session = useSession();
  const isOwn = useOwnWindows((s) => s[column] !== null);
  const words = isOwn ? "Put back beside the panes" : "Into a window of its own";
  return (
    <ActionIcon
      size="sm"
      variant="subtle"
      color="gray"
      aria-label={`${COLUMNS[column]}: ${words.toLowerCase()}`}
      title={words}
      onClick={() => toggleOwnWindow(session, column)}
    >
      {isOwn ? <IconWindowMinimize size={14} /> : <IconExternalLink size={14} />}
    </ActionIcon>
  );
}
