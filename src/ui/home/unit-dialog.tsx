"use client";

import { Button, Group, Modal, Select, Stack, Text } from "@mantine/core";
import { useEffect, useState } from "react";
import type { ReadFile } from "@/compute/describe-read";
import { METRES, UNITS, type Unit } from "@/core/layout/asset";
import { count } from "@/core/operations/words";

const UNIT_WORDS: Record<Unit, string> = { m: "metres", cm: "centimetres", mm: "millimetres", in: "inches" };

/** How large the thing would be: what a wrong unit shows by. */
function sizeWords(extent: number, unit: Unit): string {
  const m = extent * METRES[unit];
  if (m >= 1) return `${+m.toPrecision(3)} m`;
  return m >= 0.01 ? `${+(100 * m).toPrecision(3)} cm` : `${+(1000 * m).toPrecision(3)} mm`;
}

function layoutWords(file: ReadFile): string {
  if (!file.layout) return "no layout";
  const { shells, stretch } = file.layout;
  return `a layout of ${count(shells, "shell")}${stretch === null ? "" : `, stretch ${stretch.toFixed(3)}`}`;
}

/** Tells what was read, and asks once what its units are. */
export function UnitDialog({
  files,
  onKeep,
  onLeave,
}: {
  files: readonly ReadFile[];
  onKeep: (units: readonly Unit[]) => void;
  onLeave: () => void;
}) {
  const [units, setUnits] = useState<readonly Unit[]>([]);
  useEffect(() => setUnits(files.map((f) => f.unit)), [files]);
  const title = files.length === 1 ? `Bring in ${files[0]!.name}` : `Bring in ${files.length} assets`;
  return (
    <Modal opened={files.length > 0} onClose={onLeave} title={title}>
      <Stack gap="sm" mah={420} style={{ overflowY: "auto" }}>
        {files.map((file, i) => (
          <div key={i}>
            <Text size="sm">
              {files.length > 1 && <b>{file.name}: </b>}
              {count(file.parts, "part")}, {count(file.faces, "face")}, {layoutWords(file)}
              {file.images ? `, ${count(file.images, "image")}` : ""}.
            </Text>
            <Select
              label={`Unit: the longest side is then ${sizeWords(file.extent, units[i] ?? file.unit)}`}
              data={UNITS.map((u) => ({ value: u, label: UNIT_WORDS[u] }))}
              value={units[i] ?? file.unit}
              allowDeselect={false}
              onChange={(v) => setUnits(units.map((u, k) => (k === i ? (v as Unit) : u)))}
            />
          </div>
        ))}
      </Stack>
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={onLeave}>
          Cancel
        </Button>
        <Button onClick={() => onKeep(units)} data-autofocus>
          {files.length > 1 ? "Import all" : "Import"}
        </Button>
      </Group>
    </Modal>
  );
}
