"use client";

import { Button, Group, Modal, Select, SimpleGrid, Text } from "@mantine/core";
import { Dropzone } from "@mantine/dropzone";
import { IconFileImport } from "@tabler/icons-react";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { Engine, Stopped } from "@/compute/engine";
import { READABLE } from "@/core/formats/read-asset";
import { type Asset, UNITS, type Unit } from "@/core/layout/asset";
import { count } from "@/core/operations/words";
import type { AssetRow } from "@/server/assets";
import { sendAsset } from "../bench/remote";
import { AssetCard } from "./asset-card";
import classes from "./home.module.css";

const UNIT_WORDS: Record<Unit, string> = { m: "metres", cm: "centimetres", mm: "millimetres", in: "inches" };

/** Longest side of an asset, in its file's own numbers. */
function extentOf(asset: Asset): number {
  let most = 0;
  for (const part of asset.parts) {
    for (let d = 0; d < 3; d++) {
      let [low, high] = [Infinity, -Infinity];
      for (let i = d; i < part.mesh.positions.length; i += 3) {
        low = Math.min(low, part.mesh.positions[i]!);
        high = Math.max(high, part.mesh.positions[i]!);
      }
      most = Math.max(most, high - low);
    }
  }
  return most;
}

/** All assets, and the way in for new ones. */
export function HomeScreen({ assets }: { assets: AssetRow[] }) {
  const router = useRouter();
  const engine = useRef<Engine | null>(null);
  const openDialog = useRef<() => void>(null);
  const [reading, setReading] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [read, setRead] = useState<Asset | null>(null);
  const [unit, setUnit] = useState<Unit>("m");

  const bring = async (files: File[]) => {
    const file = files[0];
    if (!file) return;
    setRefusal(files.length > 1 ? "One file at a time: the first was taken." : null);
    setReading(file.name);
    engine.current = new Engine();
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const read = await engine.current.run<"read">({ type: "read", files: [{ name: file.name, bytes }] });
      const value = read.value[0]!;
      const extent = extentOf(value);
      setUnit(extent > 500 ? "mm" : extent > 8 ? "cm" : "m");
      setRead(value);
    } catch (error) {
      if (!(error instanceof Stopped)) setRefusal(error instanceof Error ? error.message : String(error));
    } finally {
      engine.current?.dispose();
      setReading(null);
    }
  };

  const add = async () => {
    const asset = read!;
    setRead(null);
    setReading(asset.source.name);
    try {
      router.push(`/bench/${await sendAsset({ ...asset, unit })}`);
    } catch (error) {
      setRefusal(error instanceof Error ? error.message : String(error));
      setReading(null);
    }
  };

  const faces = read?.parts.reduce((n, p) => n + p.mesh.faceStart.length - 1, 0) ?? 0;
  return (
    <div className={classes.home}>
      <header className={classes.top}>
        <h1>Tavlin</h1>
        <span>A cutting table for UV layouts</span>
        <Button
          ml="auto"
          leftSection={<IconFileImport size={16} />}
          onClick={() => openDialog.current?.()}
          disabled={reading !== null}
        >
          Bring in a mesh
        </Button>
      </header>
      <Dropzone.FullScreen active={reading === null} onDrop={(f) => void bring(f)}>
        <Group justify="center" mih={240}>
          <Text size="xl">Drop the mesh here</Text>
        </Group>
      </Dropzone.FullScreen>
      <Dropzone
        className={classes.drop}
        openRef={openDialog}
        onDrop={(f) => void bring(f)}
        loading={reading !== null}
        activateOnClick
        multiple
        aria-label="Drop a mesh or choose one"
      >
        <Text ta="center">
          {reading ? `Reading ${reading}…` : `Drop a mesh anywhere, or click to choose one: ${READABLE.join(", ")}`}
        </Text>
      </Dropzone>
      {reading && (
        <Group justify="center">
          <Button size="xs" variant="default" onClick={() => engine.current?.dispose()}>
            Stop reading
          </Button>
        </Group>
      )}
      {refusal && (
        <p role="alert" className={classes.refusal}>
          {refusal}
        </p>
      )}
      {assets.length ? (
        <SimpleGrid cols={{ base: 1, xs: 2, sm: 3, md: 4, xl: 6 }} spacing="md">
          {assets.map((a) => (
            <AssetCard key={a.id} asset={a} onChanged={() => router.refresh()} onRefused={setRefusal} />
          ))}
        </SimpleGrid>
      ) : (
        <p className={classes.none}>No assets yet. Bring in a mesh to begin.</p>
      )}
      <Modal opened={read !== null} onClose={() => setRead(null)} title={`Bring in ${read?.name ?? ""}`}>
        <Text mb="sm">
          {count(read?.parts.length ?? 0, "part")}, {count(faces, "face")}, longest side{" "}
          {read ? +extentOf(read).toPrecision(4) : 0}. What are its units? The first answer is a guess from its size.
        </Text>
        <Select
          label="Unit"
          data={UNITS.map((u) => ({ value: u, label: UNIT_WORDS[u] }))}
          value={unit}
          allowDeselect={false}
          onChange={(v) => setUnit(v as Unit)}
        />
        <Group justify="flex-end" mt="md">
          <Button variant="default" onClick={() => setRead(null)}>
            Leave it
          </Button>
          <Button onClick={() => void add()} data-autofocus>
            Put it on the table
          </Button>
        </Group>
      </Modal>
    </div>
  );
}
