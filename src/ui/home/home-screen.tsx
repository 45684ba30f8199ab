"use client";

import { Button, Group, Menu, Progress, SimpleGrid, Text } from "@mantine/core";
import { Dropzone } from "@mantine/dropzone";
import { IconArchive, IconFileImport } from "@tabler/icons-react";
import { useRouter } from "next/navigation";
import { useReducer, useRef } from "react";
import { READABLE } from "@/core/formats/read-asset";
import type { AssetRow } from "@/wire/answers";
import { ThemeSwitch } from "../theme/theme-switch";
import { AssetCard } from "./asset-card";
import classes from "./home.module.css";
import { UnitDialog } from "./unit-dialog";
import { useBringing } from "./use-bringing";

/** The product's name, and what goes for all assets. */
function Top({ canSave, busy, choose }: { canSave: boolean; busy: boolean; choose: () => void }) {
  return (
    <header className={classes.top}>
      <h1>Tavlin</h1>
      <span>A cutting table for UV layouts</span>
      <Group ml="auto" gap="xs">
        <ThemeSwitch />
        <Menu position="bottom-end">
          <Menu.Target>
            <Button variant="default" leftSection={<IconArchive size={16} />}>
              Backup
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item component="a" href="/api/backup" download disabled={!canSave}>
              Save everything as one file
            </Menu.Item>
            <Menu.Item onClick={choose}>Put a backup back…</Menu.Item>
          </Menu.Dropdown>
        </Menu>
        <Button leftSection={<IconFileImport size={16} />} onClick={choose} disabled={busy}>
          Bring in a mesh
        </Button>
      </Group>
    </header>
  );
}

/** All assets, and the way in for new ones. */
export function HomeScreen({ assets }: { assets: AssetRow[] }) {
  const router = useRouter();
  const openDialog = useRef<() => void>(null);
  const { reading, read, refusal, said, bring, keep, letGo, refuse } = useBringing();
  // The zone over the whole page counts what a drag enters and leaves, and may miscount: it is mounted again after a drop,
  // and when the pointer moves over it, which it does not do during a drag. Left standing, nothing could be clicked.
  const [zone, renewZone] = useReducer((n: number) => n + 1, 0);
  const drop = (files: File[]) => {
    renewZone();
    void bring(files);
  };

  return (
    <div className={classes.home}>
      <Top canSave={assets.length > 0} busy={reading !== null} choose={() => openDialog.current?.()} />
      <Dropzone.FullScreen
        key={zone}
        active={reading === null && read.length === 0}
        onDrop={drop}
        onPointerMove={renewZone}
        inputProps={{ "aria-label": "Files dropped anywhere" }}
      >
        <Group justify="center" mih={240}>
          <Text size="xl">Drop the mesh here</Text>
        </Group>
      </Dropzone.FullScreen>
      <Dropzone
        className={classes.drop}
        openRef={openDialog}
        onDrop={drop}
        disabled={reading !== null}
        activateOnClick
        multiple
        aria-label="Drop a mesh or choose one"
        inputProps={{ "aria-label": "Files to bring in" }}
      >
        <Text ta="center">
          {reading
            ? `Reading ${reading.what}…`
            : `Drop meshes with their materials and images anywhere, or click to choose: ${READABLE.join(", ")}`}
        </Text>
      </Dropzone>
      {reading && (
        <Group justify="center" mt={-8}>
          <Progress value={100 * reading.share} w={260} color="pool" aria-label="Reading progress" />
          <Button size="xs" variant="default" onClick={letGo}>
            Stop reading
          </Button>
        </Group>
      )}
      {refusal && (
        <p role="alert" className={classes.refusal}>
          {refusal}
        </p>
      )}
      {said && <p role="status">{said}</p>}
      {assets.length ? (
        <SimpleGrid cols={{ base: 1, xs: 2, sm: 3, md: 4, xl: 6 }} spacing="md">
          {assets.map((a) => (
            <AssetCard key={a.id} asset={a} onChanged={() => router.refresh()} onRefused={refuse} />
          ))}
        </SimpleGrid>
      ) : (
        <p className={classes.none}>No assets yet. Bring in a mesh to begin.</p>
      )}
      <UnitDialog files={read} onKeep={(units) => void keep(units)} onLeave={letGo} />
    </div>
  );
}
