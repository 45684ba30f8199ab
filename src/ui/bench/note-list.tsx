"use client";

import { Anchor, Button } from "@mantine/core";
import type { ShapeId } from "@/core/layout/asset";
import type { Note } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { frameSelection, pickMany, setKind } from "../session/selection";
import { shortTitle } from "./short-title";

/** Picks the shells a note is about and frames them. */
function pickShells(notes: readonly Note[]): void {
  setKind("shells");
  const items = new Map<ShapeId, Set<number>>();
  for (const { shape, face } of notes.flatMap((n) => n.shells))
    items.set(shape, (items.get(shape) ?? new Set<number>()).add(face));
  pickMany(items, "replace");
  frameSelection();
}

/** What could not be done: each line picks its shells; the repair is offered for all of them. */
export function NoteList({ notes }: { notes: readonly Note[] }) {
  const offer = notes[0]?.offer === undefined ? undefined : operationById(notes[0].offer);
  return (
    <div style={{ marginTop: 8, fontSize: 12 }}>
      {notes.slice(0, 6).map((note) => (
        <div key={note.words}>
          <Anchor
            component="button"
            type="button"
            size="xs"
            c="var(--bad)"
            ta="left"
            onClick={() => pickShells([note])}
          >
            {note.words}
          </Anchor>
        </div>
      ))}
      {notes.length > 6 && <div>and {notes.length - 6} more.</div>}
      {offer && (
        <Button
          size="compact-xs"
          variant="light"
          mt={6}
          onClick={() => {
            pickShells(notes);
            void runOperation(offer);
          }}
        >
          {shortTitle(offer)} {notes.length > 1 ? "these" : "it"}
        </Button>
      )}
    </div>
  );
}
