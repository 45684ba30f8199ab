"use client";

import { Button, Group, Kbd, ScrollArea, Table, Text, TextInput } from "@mantine/core";
import { modals } from "@mantine/modals";
import { type KeyboardEvent, useState } from "react";
import { chooseKeys, type Keyed, keyPressed, keysAfter, keyWords, useKeyChoices, whyNot, withKey } from "./key-choices";

/** Shows the table of keys of everything there is. */
export const showKeys = (all: readonly Named[]): void => {
  modals.open({ title: "Keys", size: "lg", children: <KeyTable all={all} /> });
};

interface Named extends Keyed {
  readonly words: string;
}

/** Every action with its key: a press on the key, then on another, changes it. Kept in this browser. */
function KeyTable({ all }: { all: readonly Named[] }) {
  const chosen = useKeyChoices((s) => s.chosen);
  const [words, setWords] = useState("");
  const [said, setSaid] = useState("Press a key’s button, then the key it is to be. Backspace takes the key away.");
  const keys = keysAfter(all, chosen);
  const shown = all.filter((a) => a.words.toLowerCase().includes(words.trim().toLowerCase()));
  const choose = (action: Named, key: string) => {
    const refused = key ? whyNot(key) : null;
    if (refused) return setSaid(refused);
    const before = all.find((a) => a.id !== action.id && keys.get(a.id) === key);
    chooseKeys(withKey(all, chosen, action.id, key));
    const lost = key && before ? `, and no longer for ${before.words}` : "";
    setSaid(key ? `${keyWords(key)} stands for ${action.words} now${lost}.` : `${action.words} has no key now.`);
  };
  return (
    <>
      <TextInput
        size="xs"
        placeholder="Find an action"
        aria-label="Find an action in the table"
        value={words}
        onChange={(e) => setWords(e.currentTarget.value)}
        data-autofocus
      />
      <Text size="xs" my="xs" role="status" aria-label="What happened to the keys">
        {said}
      </Text>
      <ScrollArea.Autosize mah="56vh">
        <Table verticalSpacing={3} fz="xs">
          <Table.Tbody>
            {shown.map((a) => (
              <Table.Tr key={a.id}>
                <Table.Td>{a.words}</Table.Td>
                <Table.Td ta="right" w={150}>
                  <KeyButton name={a.words} value={keys.get(a.id)} choose={(key) => choose(a, key)} />
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
        {!shown.length && <Text size="xs">No action is called that.</Text>}
      </ScrollArea.Autosize>
      <Group justify="flex-end" mt="md">
        <Button
          size="xs"
          variant="default"
          disabled={!Object.keys(chosen).length}
          onClick={() => {
            chooseKeys({});
            setSaid("All keys are as they came.");
          }}
        >
          All as they came
        </Button>
        <Button size="xs" onClick={() => modals.closeAll()}>
          Done
        </Button>
      </Group>
    </>
  );
}

function KeyButton(props: { name: string; value: string | undefined; choose: (key: string) => void }) {
  const { name, value, choose } = props;
  const [listens, setListens] = useState(false);
  const press = (event: KeyboardEvent) => {
    if (!listens || event.key === "Tab") return;
    const key = keyPressed(event);
    event.preventDefault();
    event.stopPropagation();
    if (!key) return;
    setListens(false);
    if (key !== "Escape") choose(key === "Backspace" || key === "Delete" ? "" : key);
  };
  const shown = listens ? "Press a key…" : value ? keyWords(value) : "none";
  return (
    <Button
      size="compact-xs"
      variant={listens ? "filled" : "default"}
      aria-label={`Key of ${name}: ${shown}`}
      onClick={() => setListens(true)}
      onKeyDown={press}
      onBlur={() => setListens(false)}
    >
      {value && !listens ? <Kbd size="xs">{shown}</Kbd> : shown}
    </Button>
  );
}
