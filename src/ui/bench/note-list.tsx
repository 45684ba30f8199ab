"use client";

import { Anchor, Button } from "@mantine/core";
import type { Note } from "@/core/operations/operation";
import { operationById } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { lookAtNote, lookAtNotes } from "../session/selection";
import { useSession } from "../session/session-context";
import { shortTitle } from "./short-title";

/** What could not be done, or what was to each shell: each line picks its shells; the repair is offered for all of them. */
export function NoteList({ notes }: { notes: readonly Note[] }) {
  const session = useSession();
  const offer = notes[0]?.offer === undefined ? undefined : operationById(notes[0].offer);
  const offered = notes.filter((n) => n.offer === notes[0]?.offer);
  return (
    <div style={{ marginTop: 8, fontSize: 12 }}>
      {notes.slice(0, 6).map((note) => (
        <div key={note.words}>
          <Anchor
            component="button"
            type="button"
            size="xs"
            c={note.done ? "var(--ink)" : "var(--bad)"}
            ta="left"
            onClick={() => lookAtNote(session.bench, note)}
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
            lookAtNotes(session.bench, offered, offer.acts);
            void runOperation(session, offer);
          }}
        >
          {shortTitle(offer)} {offered.length > 1 ? "these" : "it"}
        </Button>
      )}
    </div>
  );
}
