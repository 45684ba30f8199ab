"use client";

import { Button, Group, Stack, Textarea, TextInput } from "@mantine/core";
import { modals } from "@mantine/modals";
import { useState } from "react";
import { markStep, refreshPast, say } from "../session/actions";
import type { BenchSession } from "../session/bench-session";
import { changeMarkRemote } from "../session/remote";

/** Asks for a line of text. @param title what is done with it: of the window and of its button */
export function askText(title: string, label: string, initial: string, act: (text: string) => void): void {
  modals.open({ title, children: <TextForm title={title} label={label} initial={initial} act={act} /> });
}

function TextForm(props: { title: string; label: string; initial: string; act: (text: string) => void }) {
  const { title, label, initial, act } = props;
  const [text, setText] = useState(initial);
  const done = () => {
    modals.closeAll();
    act(text.trim());
  };
  return (
    <Stack>
      <TextInput
        label={label}
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        onKeyDown={(e) => e.key === "Enter" && done()}
        data-autofocus
      />
      <Group justify="flex-end">
        <Button variant="default" onClick={() => modals.closeAll()}>
          Cancel
        </Button>
        <Button onClick={done}>{title}</Button>
      </Group>
    </Stack>
  );
}

/** Asks for a mark's name and note, for the step on the table or a mark that is there. */
export function askMark(session: BenchSession, mark?: { id: string; name: string; note: string }): void {
  modals.open({ title: mark ? "Change the mark" : "Set a mark", children: <MarkForm session={session} mark={mark} /> });
}

function MarkForm(props: { session: BenchSession; mark: { id: string; name: string; note: string } | undefined }) {
  const { session, mark } = props;
  const { bench } = session;
  const [name, setName] = useState(mark?.name ?? "");
  const [note, setNote] = useState(mark?.note ?? "");
  const save = async () => {
    const { asset } = bench.getState();
    if (!asset || !name.trim()) return;
    try {
      if (mark) await changeMarkRemote(asset.id, { id: mark.id, name, note });
      else await markStep(session, name, note);
      modals.closeAll();
      say(bench, mark ? `The mark is called ${name} now.` : `Marked as ${name}.`);
      await refreshPast(session);
    } catch (error) {
      say(bench, error instanceof Error ? error.message : String(error), "refused");
    }
  };
  return (
    <Stack>
      <TextInput
        label="Name"
        value={name}
        onChange={(e) => setName(e.currentTarget.value)}
        onKeyDown={(e) => e.key === "Enter" && void save()}
        data-autofocus
      />
      <Textarea label="Note" value={note} onChange={(e) => setNote(e.currentTarget.value)} autosize minRows={2} />
      <Group justify="flex-end">
        <Button variant="default" onClick={() => modals.closeAll()}>
          Cancel
        </Button>
        <Button disabled={!name.trim()} onClick={() => void save()}>
          {mark ? "Save" : "Set the mark"}
        </Button>
      </Group>
    </Stack>
  );
}
