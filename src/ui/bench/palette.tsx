"use client";

import { Kbd } from "@mantine/core";
import { Spotlight } from "@mantine/spotlight";
import { useMemo } from "react";
import { useSession } from "../session/session-context";
import { keyWords } from "./key-choices";
import { ACTIONS, useKeys } from "./keys";

/** The closed palette keeps its field in the page: with the focus left there, no key would reach the bench. */
const leaveField = (): void => {
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
};

/** Every operation and command by name. */
export function Palette() {
  const session = useSession();
  const keys = useKeys();
  const actions = useMemo(
    () =>
      ACTIONS.map(({ id, words, about, run }) => ({
        id,
        label: words,
        ...(about ? { description: about } : {}),
        rightSection: keys.has(id) ? <Kbd size="xs">{keyWords(keys.get(id)!)}</Kbd> : undefined,
        onClick: () => run(session),
      })),
    [keys, session],
  );
  return (
    <Spotlight
      actions={actions}
      shortcut={["mod + K"]}
      // Wherever the focus is, a switch or a number: by itself the palette would not open from there.
      tagsToIgnore={[]}
      onSpotlightClose={leaveField}
      nothingFound="No action is called that."
      // Keys that are pressed right after it was left are meant for the bench.
      transitionProps={{ duration: 0 }}
      highlightQuery
      scrollable
      maxHeight={420}
      searchProps={{ placeholder: "Find an action", "aria-label": "Find an action" }}
    />
  );
}
