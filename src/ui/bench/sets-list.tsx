"use client";

import { ActionIcon, Badge, Button, Group, Menu } from "@mantine/core";
import { IconDots, IconPlus } from "@tabler/icons-react";
import { useState } from "react";
import { type Asset, PURPOSES, shapesOf, type UvSetId } from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { faceCount } from "@/core/mesh/poly-mesh";
import type { AnyOperation } from "@/core/operations/operation";
import {
  addSet,
  clearSet,
  copyToSet,
  deleteSet,
  describeSet,
  duplicateSet,
  mergeSets,
  moveSet,
  packedSet,
  setAside,
  swapSets,
  textureSet,
} from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import { askText } from "./ask";
import { compareSets } from "./compare";
import lists from "./list.module.css";
import { runOrAsk } from "./operation-form";
import classes from "./sets-list.module.css";

const WRITTEN = ["0", "1", "2", "3", "not at all"] as const;

/** Shells of a set, and the share of faces it lays. */
function setFigures(asset: Asset, set: UvSetId): { shells: number; mapped: number } {
  let [shells, mapped, faces] = [0, 0, 0];
  for (const shape of shapesOf(asset)) {
    const count = faceCount(shape.mesh);
    faces += count;
    const layout = shape.layouts.get(set);
    if (!layout) continue;
    const s = structureOf(shape.mesh, layout);
    for (let k = 0; k < s.shellCount; k++) {
      const f = s.shellFaces[s.shellStart[k]!]!;
      if (!((layout.mapped[f >> 3]! >> (f & 7)) & 1)) continue;
      shells++;
      mapped += s.shellStart[k + 1]! - s.shellStart[k]!;
    }
  }
  return { shells, mapped: faces ? mapped / faces : 0 };
}

function SetMenu({ index }: { index: number }) {
  const session = useSession();
  const asset = useBench((s) => s.asset)!;
  const info = asset.sets[index]!;
  const act = (op: AnyOperation, options: Record<string, unknown> = {}) => {
    session.target(info.id);
    void runOperation(session, op, options);
  };
  const ask = (op: AnyOperation) => {
    session.target(info.id);
    runOrAsk(session, op);
  };
  const others = asset.sets.filter((_, i) => i !== index);
  return (
    <Menu position="right-start" withinPortal>
      <Menu.Target>
        <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`More for set ${info.name}`}>
          <IconDots size={14} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item
          onClick={() => askText("Rename the UV set", "Name", info.name, (name) => name && act(describeSet, { name }))}
        >
          Rename…
        </Menu.Item>
        <Menu.Item onClick={() => act(duplicateSet)}>Duplicate</Menu.Item>
        <Menu.Item onClick={() => ask(packedSet)}>New packed copy…</Menu.Item>
        <Menu.Item onClick={() => act(setAside)}>Set its layout aside</Menu.Item>
        <Menu.Item disabled={index === 0} onClick={() => act(moveSet, { by: "up" })}>
          Move up
        </Menu.Item>
        <Menu.Item disabled={index === asset.sets.length - 1} onClick={() => act(moveSet, { by: "down" })}>
          Move down
        </Menu.Item>
        <Menu.Divider />
        <Menu.Label>Purpose</Menu.Label>
        {PURPOSES.map((purpose) => (
          <Menu.Item key={purpose} onClick={() => act(describeSet, { purpose })}>
            {purpose === info.purpose ? "● " : ""}
            {purpose}
          </Menu.Item>
        ))}
        <Menu.Label>Written as</Menu.Label>
        {WRITTEN.map((written) => (
          <Menu.Item key={written} onClick={() => act(describeSet, { written })}>
            {String(info.exportAs ?? "not at all") === written ? "● " : ""}
            {written === "not at all" ? written : `coordinate set ${written}`}
          </Menu.Item>
        ))}
        {others.length > 0 && (
          <>
            <Menu.Divider />
            {others.map((o) => (
              <Menu.Item key={`c${o.id}`} onClick={() => act(copyToSet, { other: o.id })}>
                Copy picked faces to {o.name}
              </Menu.Item>
            ))}
            {others.map((o) => (
              <Menu.Item key={`m${o.id}`} onClick={() => act(mergeSets, { other: o.id })}>
                Merge {o.name} into it
              </Menu.Item>
            ))}
            {others.map((o) => (
              <Menu.Item key={`s${o.id}`} onClick={() => act(swapSets, { other: o.id })}>
                Swap with {o.name}
              </Menu.Item>
            ))}
          </>
        )}
        <Menu.Divider />
        {asset.materials.some((m) => m.texture) && (
          <Menu.Item onClick={() => ask(textureSet)}>Use for images…</Menu.Item>
        )}
        <Menu.Item onClick={() => act(clearSet)}>Clear</Menu.Item>
        <Menu.Item color="red" disabled={asset.sets.length === 1} onClick={() => act(deleteSet)}>
          Delete
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

/** The UV sets: which is the target, what each is for and is written as; dragging one on another copies into it. */
export function SetsList() {
  const session = useSession();
  const { asset, set } = useBenchOf("asset", "set");
  const [over, setOver] = useState<string | null>(null);
  if (!asset) return null;
  const drop = (from: string, to: string) => {
    setOver(null);
    if (from === to || !asset.sets.some((s) => s.id === from)) return;
    session.target(from);
    void runOperation(session, copyToSet, { other: to });
  };
  return (
    <div className={lists.list}>
      {asset.sets.map((info, i) => {
        const { shells, mapped } = setFigures(asset, info.id);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: dragging is beside the menu, which does the same by keyboard
          <div
            key={info.id}
            className={`${lists.entry} ${classes.set}`}
            data-picked={info.id === set}
            data-over={over === info.id}
            draggable
            onDragStart={(e) => e.dataTransfer.setData("text/uv-set", info.id)}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(info.id);
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(e) => drop(e.dataTransfer.getData("text/uv-set"), info.id)}
          >
            <button
              type="button"
              className={lists.label}
              aria-pressed={info.id === set}
              title={info.id === set ? "The target: edits go here" : "Make it the target"}
              onClick={() => session.target(info.id)}
            >
              <b>{info.name}</b>{" "}
              <Badge size="xs" variant="default">
                {info.purpose}
              </Badge>
              <span>
                {info.id === set && <i>target · </i>}
                {shells ? `${shells} shell${shells === 1 ? "" : "s"} · ${Math.round(100 * mapped)} % mapped` : "empty"}
              </span>
              <span>{info.exportAs === null ? "not written" : `written as coordinate set ${info.exportAs}`}</span>
            </button>
            <SetMenu index={i} />
          </div>
        );
      })}
      <Group gap={6} m={10}>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconPlus size={12} />}
          onClick={() =>
            askText(
              "Add a UV set",
              "Name",
              `UV ${asset.sets.length + 1}`,
              (name) => void runOperation(session, addSet, { name }),
            )
          }
        >
          Add
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => runOrAsk(session, packedSet)}>
          New packed copy…
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={asset.sets.length < 2}
          onClick={() => compareSets(session)}
        >
          Compare
        </Button>
      </Group>
      <p className={lists.none}>
        Edits go to the target. Drag a set on another to copy the picked faces into it, or all when none is picked.
      </p>
    </div>
  );
}
