"use client";

import { Button, Group, Text } from "@mantine/core";
import { modals } from "@mantine/modals";
import { operationById, optionFields } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { useBenchOf } from "../session/store";
import { BRIEF_PAGES } from "./brief-pages";
import { Field } from "./option-field";
import { SCOPE_KEYS, scopeWords } from "./scope-words";
import { STAGES_SHOWN } from "./stages";

type Preset = Readonly<Record<string, unknown>>;

/** Operations whose options stand on a card. */
const ON_CARDS: ReadonlySet<string> = new Set([
  ...STAGES_SHOWN.flatMap((s) => s.cards).map((c) => c.operation),
  ...Object.values(BRIEF_PAGES).flat(),
]);

/** Options that are left to be chosen. */
const fieldsLeft = (id: string, preset: Preset) => optionFields(operationById(id)).filter((f) => !(f.name in preset));

/** Runs an operation; one with options that stand on no card shows them first. */
export function runOrAsk(id: string, preset: Preset = {}): void {
  if (ON_CARDS.has(id) || !fieldsLeft(id, preset).length) {
    void runOperation(id, preset);
    return;
  }
  const { title } = operationById(id);
  modals.open({ title, children: <OperationForm id={id} preset={preset} /> });
}

function OperationForm({ id, preset }: { id: string; preset: Preset }) {
  const state = useBenchOf(...SCOPE_KEYS);
  const op = operationById(id);
  if (!state.asset) return null;
  const { words, ready } = scopeWords(op, state);
  const done = () => {
    modals.closeAll();
    void runOperation(id, preset);
  };
  return (
    <>
      <Text size="sm" mb="xs">
        {op.about}
        {words !== op.about && ` ${words}`}
      </Text>
      {fieldsLeft(id, preset).map((f) => (
        <Field key={f.name} operation={id} field={f} onEnter={() => ready && done()} />
      ))}
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={() => modals.closeAll()}>
          Leave it
        </Button>
        <Button disabled={!ready} onClick={done} data-autofocus>
          {op.title}
        </Button>
      </Group>
    </>
  );
}
