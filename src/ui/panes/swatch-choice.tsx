"use client";

import { Button, Popover, Radio, SegmentedControl, Stack, Text } from "@mantine/core";
import { useBenchOf, useSession } from "../session/session-context";
import { SWATCH_IDS, SWATCH_WEIGHTS, SWATCHES, type SwatchId, WITHOUT_LINES } from "../session/swatches";

/** What the swatch view lays on the faces: the pattern, how often it stands across a tile, and how heavy its lines are. */
export function SwatchChoice() {
  const { bench } = useSession();
  const { swatch, swatchRepeats, swatchWeight } = useBenchOf("swatch", "swatchRepeats", "swatchWeight");
  return (
    <Popover position="bottom-start" withinPortal shadow="md" trapFocus returnFocus>
      <Popover.Target>
        <Button
          data-swatch
          size="compact-sm"
          variant="default"
          fw={400}
          aria-label={`Swatch: ${SWATCHES[swatch]}, ${8 * swatchRepeats} cells`}
          title="The pattern, its cells across a tile, and the weight of its lines"
        >
          {SWATCHES[swatch]}
        </Button>
      </Popover.Target>
      <Popover.Dropdown p="sm">
        <Stack gap={10}>
          <Radio.Group
            aria-label="Pattern of the swatch"
            value={swatch}
            onChange={(v) => bench.setState({ swatch: v as SwatchId })}
          >
            <Stack gap={6}>
              {SWATCH_IDS.map((id) => (
                <Radio key={id} size="xs" value={id} label={SWATCHES[id]} />
              ))}
            </Stack>
          </Radio.Group>
          <div>
            <Text size="xs" c="dimmed" mb={2}>
              Cells across a tile
            </Text>
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label="Cells of the swatch across a tile"
              data={[1, 2, 4, 8].map((n) => ({ value: String(n), label: String(8 * n) }))}
              value={String(swatchRepeats)}
              onChange={(v) => bench.setState({ swatchRepeats: Number(v) })}
            />
          </div>
          <div>
            <Text size="xs" c="dimmed" mb={2}>
              Lines
            </Text>
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label="Weight of the swatch's lines"
              disabled={WITHOUT_LINES.has(swatch)}
              data={Object.entries(SWATCH_WEIGHTS).map(([label, weight]) => ({ value: String(weight), label }))}
              value={String(swatchWeight)}
              onChange={(v) => bench.setState({ swatchWeight: Number(v) })}
            />
          </div>
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}
