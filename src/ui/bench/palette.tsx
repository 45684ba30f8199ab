"use client";

import { Kbd } from "@mantine/core";
import { Spotlight, type SpotlightActionData } from "@mantine/spotlight";
import { OPERATIONS } from "@/core/operations/registry";
import { KEYS, keyOf } from "./keys";
import { runOrAsk } from "./operation-form";
import { presetOf } from "./stages";

const keyLabel = (key: string | undefined) =>
  key ? <Kbd size="xs">{key.replace("mod", "Ctrl").replaceAll("+", " ")}</Kbd> : undefined;

const actions: SpotlightActionData[] = [
  ...OPERATIONS.filter((op) => op.kind !== "measure").map((op) => ({
    id: op.id,
    label: op.title,
    description: op.about,
    rightSection: keyLabel(keyOf(op.id)),
    onClick: () => runOrAsk(op.id, presetOf(op.id)),
  })),
  ...KEYS.filter((k) => !k.operation).map((k) => ({
    id: k.key,
    label: k.words,
    rightSection: keyLabel(k.key),
    onClick: k.run,
  })),
];

/** The closed palette keeps its field in the page: with the focus left there, no key would reach the bench. */
const leaveField = (): void => {
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
};

/** Every operation and command by name. */
export const Palette = () => (
  <Spotlight
    actions={actions}
    shortcut={["mod + K"]}
    // Wherever the focus is, a switch or a number: by itself the palette would not open from there.
    tagsToIgnore={[]}
    onSpotlightClose={leaveField}
    nothingFound="No action is called that."
    highlightQuery
    scrollable
    maxHeight={420}
    searchProps={{ placeholder: "Find an action", "aria-label": "Find an action" }}
  />
);
