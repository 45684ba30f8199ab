"use client";

import { Button, Group, Text } from "@mantine/core";
import { modals } from "@mantine/modals";
import type { AnyOperation } from "@/core/operations/operation";
import { optionFields } from "@/core/operations/option-fields";
import { runOperation } from "../session/actions";
import type { BenchSession } from "../session/bench-session";
import { SessionContext, useBenchOf, useSession } from "../session/session-context";
import { Field } from "./option-field";
import { SCOPE_KEYS, scopeWords } from "./scope-words";

type Preset = Readonly<Record<string, unknown>>;

/** Options that are left to be chosen. */
const fieldsLeft = (op: AnyOperation, preset: Preset) =>
  optionFields(op).filter((f) => !(f.name in { ...op.given, ...preset }));

/** Runs an operation; one with options that stand in no stage shows them first. */
export function runOrAsk(session: BenchSession, op: AnyOperation, preset: Preset = {}): void {
  if (op.heading !== undefined || !fieldsLeft(op, preset).length) {
    void runOperation(session, op, preset);
    return;
  }
  modals.open({
    title: op.title,
    children: (
      <SessionContext value={session}>
        <OperationForm op={op} preset={preset} />
      </SessionContext>
    ),
  });
}

function OperationForm({ op, preset }: { op: AnyOperation; preset: Preset }) {
  const session = useSession();
  const state = useBenchOf(...SCOPE_KEYS);
  if (!state.asset) return null;
  const { words, ready } = scopeWords(op, state);
  const done = () => {
    modals.closeAll();
    void runOperation(session, op, preset);
  };
  return (
    <>
      <Text size="sm" mb="xs">
        {op.about}
        {words !== op.about && ` ${words}`}
      </Text>
      {fieldsLeft(op, preset).map((f) => (
        <Field key={f.name} operation={op.id} field={f} onEnter={() => ready && done()} />
      ))}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={() => modals.closeAll()}>
          Cancel
        </Button>
        <Button disabled={!ready} onClick={done} data-autofocus>
          {op.title}
        </Button>
      </Group>
    </>
  );
}
