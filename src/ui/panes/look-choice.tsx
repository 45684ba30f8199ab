"use client";

import {
  ActionIcon,
  Button,
  ColorSwatch,
  Group,
  Popover,
  SegmentedControl,
  Select,
  Slider,
  Stack,
  Switch,
  Text,
  Tooltip,
} from "@mantine/core";
import { IconAdjustmentsHorizontal } from "@tabler/icons-react";
import type { ReactNode } from "react";
import { lookFrom, showView, toggleLines } from "../session/look-actions";
import {
  MOUSE_HABITS,
  type MouseHabit,
  SEAM_COLORS,
  type SeamColor,
  SHADING_IDS,
  SHADINGS,
  type Shading,
  VIEW_IDS,
  VIEWS,
  type View,
} from "../session/look-choices";
import { frameAll } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import { AXIS_SIDES, type Pane } from "../session/store";

function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div>
      <Text size="xs" c="dimmed" mb={2}>
        {label}
      </Text>
      {children}
    </div>
  );
}

function FacesChoice({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const { view } = useBenchOf("view");
  return (
    <SegmentedControl
      size="xs"
      fullWidth
      aria-label="What the faces show"
      data={VIEW_IDS.map((id) => ({ value: id, label: VIEWS[id] }))}
      value={view[pane]}
      onChange={(v) => showView(bench, pane, v as View)}
    />
  );
}

/** Lines over the faces of a pane, and how seams are drawn in both. */
function LinesChoice({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const { wires, seams, seamWidth, seamColor, readout } = useBenchOf(
    "wires",
    "seams",
    "seamWidth",
    "seamColor",
    "readout",
  );
  return (
    <>
      <Group gap="sm">
        <Switch size="xs" label="Wires" checked={wires[pane]} onChange={() => toggleLines(bench, "wires", pane)} />
        <Switch size="xs" label="Seams" checked={seams[pane]} onChange={() => toggleLines(bench, "seams", pane)} />
        <Switch
          size="xs"
          label="Readout"
          title="Figures of the shell under the pointer"
          checked={readout}
          onChange={(e) => bench.setState({ readout: e.currentTarget.checked })}
        />
      </Group>
      <Labelled label="Width and colour of seams, in both panes">
        <Group gap="sm" wrap="nowrap">
          <Slider
            flex={1}
            size="sm"
            min={0.5}
            max={3}
            step={0.25}
            label={(x) => `× ${x}`}
            thumbLabel="Width of seams"
            value={seamWidth}
            onChange={(x) => bench.setState({ seamWidth: x })}
          />
          <Group gap={4} role="radiogroup" aria-label="Colour of seams">
            {Object.entries(SEAM_COLORS).map(([id, color]) => (
              <ColorSwatch
                key={id}
                component="button"
                type="button"
                size={16}
                color={color ?? "var(--indigo)"}
                role="radio"
                aria-checked={seamColor === id}
                aria-label={id}
                title={id}
                style={{ outline: seamColor === id ? "2px solid var(--sumac)" : "none", outlineOffset: 1 }}
                onClick={() => bench.setState({ seamColor: id as SeamColor })}
              />
            ))}
          </Group>
        </Group>
      </Labelled>
    </>
  );
}

/** How the form is lit and looked at. */
function FormChoice() {
  const { bench } = useSession();
  const { shading, lightTurn, parallel, inset, mouse } = useBenchOf(
    "shading",
    "lightTurn",
    "parallel",
    "inset",
    "mouse",
  );
  return (
    <>
      <Labelled label="Shading">
        <Select
          size="xs"
          aria-label="Shading"
          allowDeselect={false}
          comboboxProps={{ withinPortal: false }}
          data={SHADING_IDS.map((id) => ({ value: id, label: SHADINGS[id] }))}
          value={shading}
          onChange={(v) => v && bench.setState({ shading: v as Shading })}
        />
      </Labelled>
      <Labelled label="Light, turned about the upright">
        <Slider
          size="sm"
          min={-180}
          max={180}
          step={5}
          disabled={shading === "flat"}
          label={(x) => `${x}°`}
          thumbLabel="Light"
          value={lightTurn}
          onChange={(x) => bench.setState({ lightTurn: x })}
        />
      </Labelled>
      <Labelled label="Look from">
        <Group gap={3} wrap="nowrap">
          {AXIS_SIDES.map((side) => (
            <Button
              key={side}
              size="compact-xs"
              px={6}
              variant="default"
              fw={400}
              onClick={() => lookFrom(bench, side)}
            >
              {side}
            </Button>
          ))}
        </Group>
      </Labelled>
      <Group gap="lg">
        <Switch
          size="xs"
          label="Parallel"
          checked={parallel}
          onChange={(e) => bench.setState({ parallel: e.currentTarget.checked })}
        />
        <Switch
          size="xs"
          label="Second view"
          checked={inset}
          onChange={(e) => bench.setState({ inset: e.currentTarget.checked })}
        />
      </Group>
      <Labelled label="Mouse, in both panes">
        <Select
          size="xs"
          aria-label="Mouse"
          allowDeselect={false}
          comboboxProps={{ withinPortal: false }}
          data={Object.entries(MOUSE_HABITS).map(([value, label]) => ({ value, label }))}
          value={mouse}
          onChange={(v) => v && bench.setState({ mouse: v as MouseHabit })}
        />
      </Labelled>
    </>
  );
}

/** How the two panes lie beside each other. */
function PanesChoice() {
  const { bench } = useSession();
  const { stacked, swapped, columns } = useBenchOf("stacked", "swapped", "columns");
  return (
    <Labelled label="Panes">
      <Group gap={6} wrap="nowrap">
        <SegmentedControl
          size="xs"
          flex={1}
          aria-label="How the panes lie"
          data={[
            { value: "row", label: "Side by side" },
            { value: "stack", label: "Stacked" },
          ]}
          value={stacked ? "stack" : "row"}
          onChange={(v) => bench.setState({ stacked: v === "stack" })}
        />
        <Button size="compact-sm" variant="default" fw={400} onClick={() => bench.setState({ swapped: !swapped })}>
          Swap
        </Button>
      </Group>
      <Group mt={8} justify="space-between">
        <Switch
          size="xs"
          label="Columns at the sides"
          checked={columns}
          onChange={(e) => bench.setState({ columns: e.currentTarget.checked })}
        />
        <Button size="compact-xs" variant="default" fw={400} onClick={() => frameAll(bench)}>
          Frame all
        </Button>
      </Group>
    </Labelled>
  );
}

/** How a pane looks: lines, light and eye, and how the panes lie. */
export function LookChoice({ pane }: { pane: Pane }) {
  return (
    <Popover position="bottom-end" withinPortal shadow="md" trapFocus returnFocus width={300}>
      <Popover.Target>
        <Tooltip label="Look: lines, light, eye, panes">
          <ActionIcon variant="default" aria-label={`Look of ${pane === "form" ? "Form" : "Sheet"}`}>
            <IconAdjustmentsHorizontal size={16} />
          </ActionIcon>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown p="sm">
        <Stack gap={10}>
          <FacesChoice pane={pane} />
          <LinesChoice pane={pane} />
          {pane === "form" && <FormChoice />}
          <PanesChoice />
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
