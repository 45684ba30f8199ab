"use client";

import { ActionIcon, UnstyledButton } from "@mantine/core";
import { IconChevronDown, IconChevronRight, IconEye, IconEyeOff } from "@tabler/icons-react";
import { useMemo, useState } from "react";
import { srgbOf } from "@/core/numeric/srgb";
import { pickByMaterial } from "@/core/operations/registry";
import { runOperation } from "../session/actions";
import { materialLines, toggleMaterial } from "../session/materials";
import { useBench, useSession } from "../session/session-context";
import lists from "./list.module.css";
import classes from "./materials-list.module.css";
import { useMeshes } from "./use-meshes";

const cssOf = (linear: readonly number[]): string => `rgb(${linear.map((x) => Math.round(255 * srgbOf(x))).join(" ")})`;

/** The materials of the asset: a press picks the faces of one, and each can be hidden. */
export function MaterialsList() {
  const session = useSession();
  const asset = useBench((s) => s.asset)!;
  const hidden = useBench((s) => s.hiddenMaterials);
  const [opened, setOpened] = useState(false);
  // Layouts change all the time, materials and meshes hardly ever.
  const meshes = useMeshes(asset);
  const lines = useMemo(() => materialLines(asset), [asset.materials, meshes]);
  if (!lines.length) return null;
  const Chevron = opened ? IconChevronDown : IconChevronRight;
  return (
    <section className={classes.materials} aria-label="Materials">
      <UnstyledButton className={classes.head} aria-expanded={opened} onClick={() => setOpened(!opened)}>
        <Chevron size={14} />
        <b>Materials</b>
        <span>{hidden.size ? `${hidden.size} of ${lines.length} hidden` : lines.length}</span>
      </UnstyledButton>
      {opened && (
        <div className={classes.lines}>
          {lines.map(({ name, color, faces }) => (
            <div key={name} className={classes.line} data-gone={hidden.has(name)}>
              <i style={{ background: cssOf(color) }} />
              <button
                type="button"
                className={lists.label}
                title={`Pick the faces of ${name}`}
                onClick={() => void runOperation(session, pickByMaterial, { material: name })}
              >
                {name}
              </button>
              <small>{faces}</small>
              <ActionIcon
                size="sm"
                variant="subtle"
                color="gray"
                aria-label={`${hidden.has(name) ? "Show" : "Hide"} the faces of ${name}`}
                onClick={() => toggleMaterial(session.bench, name)}
              >
                {hidden.has(name) ? <IconEyeOff size={14} /> : <IconEye size={14} />}
              </ActionIcon>
            </div>
          ))}
        </div>
      )}
    </section>
  );
}
