"use client";

import { ActionIcon, Tooltip } from "@mantine/core";
import { IconFlipVertical, IconStack2 } from "@tabler/icons-react";
import { nextMirror } from "../session/mirror-picks";
import { useBenchOf, useSession } from "../session/session-context";
import { ACTIONS, useKeys } from "./keys";
import { TOOL_ICONS } from "./tool-icons";

/** The states of the panes, one of them taken; and whether drags pick through. */
export function ToolChoice() {
  const session = useSession();
  const { tool, through, mirror } = useBenchOf("tool", "through", "mirror");
  const keys = useKeys();
  const label = (id: string, words: string) => (keys.get(id) ? `${words} (${keys.get(id)})` : words);
  return (
    <ActionIcon.Group role="group" aria-label="Tools">
      {ACTIONS.filter((a) => a.id.startsWith("tool-")).map((action) => {
        const id = action.id.slice("tool-".length);
        const Icon = TOOL_ICONS[id]!;
        return (
          <Tooltip key={id} label={label(action.id, action.words)}>
            <ActionIcon
              size="sm"
              variant={tool === id ? "filled" : "default"}
              aria-label={action.words.split(":")[0]!}
              aria-pressed={tool === id}
              onClick={() => action.run(session)}
            >
              <Icon size={14} />
            </ActionIcon>
          </Tooltip>
        );
      })}
      <Tooltip label={label("through", "Pick through: drags also pick what lies behind")}>
        <ActionIcon
          size="sm"
          variant={through ? "filled" : "default"}
          color="pool"
          aria-label="Pick through"
          aria-pressed={through}
          onClick={() => session.bench.setState({ through: !through })}
        >
          <IconStack2 size={14} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={label("mirror-picks", mirror ? `Picks are mirrored across ${mirror.axis}` : "Mirror picks")}>
        <ActionIcon
          size="sm"
          variant={mirror ? "filled" : "default"}
          color="pool"
          aria-label="Mirror picks"
          aria-pressed={mirror !== null}
          onClick={() => nextMirror(session.bench)}
        >
          {mirror ? <b>{mirror.axis}</b> : <IconFlipVertical size={14} />}
        </ActionIcon>
      </Tooltip>
    </ActionIcon.Group>
  );
}
