"use client";

import { Button, Group, Menu, Progress, SimpleGrid, Text } from "@mantine/core";
import { Dropzone } from "@mantine/dropzone";
import { IconArchive, IconFileImport } from "@tabler/icons-react";
import { useRouter } from "next/navigation";
import { useReducer, useRef, useState } from "react";
import type { ReadFile } from "@/compute/describe-read";
import { READABLE } from "@/core/formats/read-asset";
import type { Unit } from "@/core/layout/asset";
import { Stopped } from "@/core/operations/operation";
import { count } from "@/core/operations/words";
import type { AssetRow } from "@/wire/answers";
import { AssetCard } from "./asset-card";
import { Bringing } from "./bring-in";
import classes from "./home.module.css";
import { UnitDialog } from "./unit-dialog";

const NO_FILES: readonly ReadFile[] = [];

/** All assets, and the way in for new ones. */
export function HomeScreen({ assets }: { assets: AssetRow[] }) {
  const router = useRouter();
  const bringing = useRef<Bringing | null>(null);
  const openDialog = useRef<() => void>(null);
  const [reading, setReading] = useState<{ what: string; share: number } | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [read, setRead] = useState<readonly ReadFile[]>(NO_FILES);
  // The zone over the whole page counts what a drag enters and leaves, and may miscount: it is made anew after a drop,
  // and when the pointer moves over it, which it does not do during a drag. Left standing, nothing could be clicked.
  const [zone, renewZone] = useReducer((n: number) => n + 1, 0);

  const attempt = async (what: string, act: (bring: Bringing) => Promise<void>) => {
    setRefusal(null);
    setSaid(null);
    setReading({ what, share: 0 });
    bringing.current ??= new Bringing();
    try {
      await act(bringing.current);
    } catch (error) {
      if (!(error instanceof Stopped)) setRefusal(error instanceof Error ? error.message : String(error));
    } finally {
      setReading(null);
    }
  };

  const letGo = () => {
    bringing.current?.stop();
    bringing.current = null;
    setRead(NO_FILES);
  };

  const bring = (files: File[]) => {
    renewZone();
    const what = files.length === 1 ? files[0]!.name : count(files.length, "file");
    return attempt(what, async (b) => {
      const found = await b.read(files, (share) => setReading({ what, share }));
      if (found.restored) {
        setSaid(`${count(found.restored, "asset")} put back from the backup.`);
        router.refresh();
      }
      setRead(found.read);
    });
  };

  const keep = (units: readonly Unit[]) => {
    const files = read;
    setRead(NO_FILES);
    return attempt(files.length === 1 ? files[0]!.name : count(files.length, "asset"), async (b) => {
      let id = "";
      for (let i = 0; i < files.length; i++) {
        id = await b.keep(i, units[i]!);
        setReading({ what: files[i]!.name, share: (i + 1) / files.length });
      }
      letGo();
      if (files.length === 1) router.push(`/bench/${id}`);
      else {
        setSaid(`${count(files.length, "asset")} brought in.`);
        router.refresh();
      }
    });
  };

  return (
    <div className={classes.home}>
      <header className={classes.top}>
        <h1>Tavlin</h1>
        <span>A cutting table for UV layouts</span>
        <Group ml="auto" gap="xs">
          <Menu position="bottom-end">
            <Menu.Target>
              <Button variant="default" leftSection={<IconArchive size={16} />}>
                Backup
              </Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item component="a" href="/api/backup" download disabled={!assets.length}>
                Save everything as one file
              </Menu.Item>
              <Menu.Item onClick={() => openDialog.current?.()}>Put a backup back…</Menu.Item>
            </Menu.Dropdown>
          </Menu>
          <Button
            leftSection={<IconFileImport size={16} />}
            onClick={() => openDialog.current?.()}
            disabled={reading !== null}
          >
            Bring in a mesh
          </Button>
        </Group>
      </header>
      <Dropzone.FullScreen
        key={zone}
        active={reading === null && read.length === 0}
        onDrop={(f) => void bring(f)}
        onPointerMove={renewZone}
      >
        <Group justify="center" mih={240}>
          <Text size="xl">Drop the mesh here</Text>
        </Group>
      </Dropzone.FullScreen>
      <Dropzone
        className={classes.drop}
        openRef={openDialog}
        onDrop={(f) => void bring(f)}
        disabled={reading !== null}
        activateOnClick
        multiple
        aria-label="Drop a mesh or choose one"
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
            <AssetCard key={a.id} asset={a} onChanged={() => router.refresh()} onRefused={setRefusal} />
          ))}
        </SimpleGrid>
      ) : (
        <p className={classes.none}>No assets yet. Bring in a mesh to begin.</p>
      )}
      <UnitDialog files={read} onKeep={(units) => void keep(units)} onLeave={letGo} />
    </div>
  );
}
