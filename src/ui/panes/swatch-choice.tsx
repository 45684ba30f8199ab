"use client";

import {
  ActionIcon,
  Button,
  Checkbox,
  FileButton,
  Group,
  Popover,
  Radio,
  SegmentedControl,
  Stack,
  Text,
} from "@mantine/core";
import { IconPhotoPlus, IconTexture, IconTrash } from "@tabler/icons-react";
import { useEffect } from "react";
import { count } from "@/core/operations/words";
import { addPictures, deletePicture, loadPictures, usePictures } from "../session/pictures";
import { say } from "../session/say";
import { useBenchOf, useSession } from "../session/session-context";
import type { Pane } from "../session/store";
import {
  CELLS_OF_SWATCH,
  type OwnSwatch,
  ownSwatch,
  pictureOfSwatch,
  SWATCH_IDS,
  SWATCH_WEIGHTS,
  SWATCHES,
  type SwatchId,
  WITHOUT_LINES,
} from "../session/swatches";

/** The pictures that files are chosen of. */
const PICTURES = "image/png,image/jpeg,image/webp";

/** The name of a pattern, or of a picture of the library. */
function useSwatchName(swatch: SwatchId | OwnSwatch): string {
  const { bench } = useSession();
  const list = usePictures((s) => s.list);
  const picture = pictureOfSwatch(swatch);
  const isUnknown = picture !== null && list === null;
  useEffect(() => {
    if (isUnknown) loadPictures().catch((error: Error) => say(bench, error.message, "refused"));
  }, [bench, isUnknown]);
  return picture === null ? SWATCHES[swatch as SwatchId] : (list?.find((p) => p.id === picture)?.name ?? "Picture");
}

/** Pictures of the user's own: one is chosen like a pattern, added by dialog, or dropped on a pane. */
function OwnPictures({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const list = usePictures((s) => s.list);
  const { partSwatches, relief, swatch } = useBenchOf("partSwatches", "relief", "swatch");
  useEffect(() => {
    loadPictures().catch((error: Error) => say(bench, error.message, "refused"));
  }, [bench]);
  return (
    <>
      {list?.map(({ id, name }) => (
        <Group key={id} gap={4} wrap="nowrap" justify="space-between">
          <Radio size="xs" value={ownSwatch(id)} label={name.length > 24 ? `${name.slice(0, 23)}…` : name} />
          <ActionIcon
            size="xs"
            variant="subtle"
            color="gray"
            aria-label={`Delete ${name} from the library`}
            onClick={() => void deletePicture(bench, id)}
          >
            <IconTrash size={12} />
          </ActionIcon>
        </Group>
      ))}
      <FileButton multiple accept={PICTURES} onChange={(files) => void addPictures(bench, pane, files, null)}>
        {(props) => (
          <Button
            {...props}
            size="compact-xs"
            variant="default"
            fw={400}
            leftSection={<IconPhotoPlus size={12} />}
            title="PNG, JPEG or WebP. Dropped on a pane it lies on everything, dropped on a part on that alone."
          >
            Add pictures of your own
          </Button>
        )}
      </FileButton>
      <Checkbox
        size="xs"
        label="Pictures are normal maps"
        title="On the form they are lit in place of shown: turn the light, or the form, to see which way they run."
        disabled={!partSwatches.size && pictureOfSwatch(swatch) === null}
        checked={relief}
        onChange={(e) => bench.setState({ relief: e.currentTarget.checked })}
      />
      {partSwatches.size > 0 && (
        <Button
          size="compact-xs"
          variant="default"
          fw={400}
          onClick={() => bench.setState({ partSwatches: new Map() })}
        >
          Take the pictures off {count(partSwatches.size, "part")}
        </Button>
      )}
    </>
  );
}

/** What the swatch view lays on the faces: the pattern, how often it stands across a tile, and how heavy its lines are. */
export function SwatchChoice({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const { swatch, swatchRepeats, swatchWeight } = useBenchOf("swatch", "swatchRepeats", "swatchWeight");
  const name = useSwatchName(swatch);
  // A picture and the number of a tile stand there whole; patterns have cells.
  const isWhole = swatch === "tiles" || pictureOfSwatch(swatch) !== null;
  const cells = isWhole ? 1 : CELLS_OF_SWATCH;
  const across = isWhole ? `${swatchRepeats} across` : `${cells * swatchRepeats} cells across`;
  return (
    <Popover position="bottom-start" withinPortal shadow="md" trapFocus returnFocus>
      <Popover.Target>
        <ActionIcon
          data-swatch
          variant="default"
          aria-label={`Swatch: ${name}, ${across}`}
          title={`Swatch: ${name}, ${across} a tile. Choose another, how fine it is, and the weight of its lines`}
        >
          <IconTexture size={16} />
        </ActionIcon>
      </Popover.Target>
      <Popover.Dropdown p="sm">
        <Stack gap={10}>
          <Radio.Group
            aria-label="Pattern of the swatch"
            value={swatch}
            onChange={(v) => bench.setState({ swatch: v as SwatchId | OwnSwatch })}
          >
            <Stack gap={6}>
              {SWATCH_IDS.map((id) => (
                <Radio key={id} size="xs" value={id} label={SWATCHES[id]} />
              ))}
              <OwnPictures pane={pane} />
            </Stack>
          </Radio.Group>
          <div>
            <Text size="xs" c="dimmed" mb={2}>
              {isWhole ? "Times across a tile" : "Cells across a tile"}
            </Text>
            <SegmentedControl
              size="xs"
              fullWidth
              aria-label="Cells of the swatch across a tile"
              data={[1, 2, 4, 8].map((n) => ({ value: String(n), label: String(cells * n) }))}
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
              disabled={pictureOfSwatch(swatch) !== null || WITHOUT_LINES.has(swatch as SwatchId)}
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
