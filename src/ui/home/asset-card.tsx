"use client";

import { ActionIcon, Button, Group, Menu, TextInput } from "@mantine/core";
import { modals } from "@mantine/modals";
import { IconDots } from "@tabler/icons-react";
import Link from "next/link";
import { useState } from "react";
import { Summary } from "@/core/check/summary";
import { count } from "@/core/operations/words";
import type { AssetRow } from "@/wire/answers";
import { deleteRemote, renameRemote } from "../session/remote";
import classes from "./home.module.css";

function figureWords(asset: AssetRow): string {
  const parsed = Summary.safeParse(asset.figures);
  if (!parsed.success) return count(asset.parts, "part");
  const s = parsed.data;
  const state = s.unmapped
    ? s.stretch === null
      ? "no layout yet"
      : "layout begun"
    : `stretch ${s.stretch?.toFixed(3)} · ${Math.round(100 * (s.coverage ?? 0))} % filled`;
  return `${count(asset.parts, "part")} · ${count(s.faces, "face")} · ${state}`;
}

/** One asset on Home: picture, figures, rename, delete. */
export function AssetCard({
  asset,
  onChanged,
  onRefused,
}: {
  asset: AssetRow;
  onChanged: () => void;
  onRefused: (words: string) => void;
}) {
  const [name, setName] = useState<string | null>(null);

  const attempt = async (act: () => Promise<unknown>) => {
    try {
      await act();
      onChanged();
    } catch (error) {
      onRefused(error instanceof Error ? error.message : String(error));
    }
  };

  const rename = () => {
    const wanted = name?.trim();
    setName(null);
    if (wanted && wanted !== asset.name) void attempt(() => renameRemote(asset.id, wanted));
  };

  const askDelete = () =>
    modals.openConfirmModal({
      title: `Delete ${asset.name}?`,
      children: "Its layouts and its whole history go with it. This cannot be undone.",
      labels: { confirm: "Delete", cancel: "Keep" },
      onConfirm: () => void attempt(() => deleteRemote(asset.id)),
    });

  return (
    <article className={classes.card}>
      <Link href={`/bench/${asset.id}`} aria-label={`Open ${asset.name}`}>
        <img src={`/api/assets/${asset.id}/picture`} alt={asset.name} width={360} height={270} />
      </Link>
      <div className={classes.under}>
        {name === null ? (
          <Link href={`/bench/${asset.id}`} className={classes.title}>
            {asset.name}
          </Link>
        ) : (
          <Group gap={4} wrap="nowrap">
            <TextInput
              size="xs"
              aria-label="New name"
              value={name}
              onChange={(e) => setName(e.currentTarget.value)}
              onKeyDown={(e) => e.key === "Enter" && rename()}
              data-autofocus
              autoFocus
            />
            <Button size="compact-xs" onClick={rename}>
              Rename
            </Button>
          </Group>
        )}
        <Menu position="bottom-end" returnFocus={false}>
          <Menu.Target>
            <ActionIcon variant="subtle" color="gray" aria-label={`More for ${asset.name}`}>
              <IconDots size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => setName(asset.name)}>Rename</Menu.Item>
            <Menu.Item component="a" href={`/api/backup?asset=${asset.id}`} download>
              Save with its history
            </Menu.Item>
            <Menu.Item color="red" onClick={askDelete}>
              Delete
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      <p>{figureWords(asset)}</p>
    </article>
  );
}
