"use client";

import { ActionIcon, TextInput, Tooltip } from "@mantine/core";
import { IconEye, IconEyeOff, IconFocusCentered, IconSearch } from "@tabler/icons-react";
import { useMemo, useState } from "react";
import type { Part } from "@/core/layout/asset";
import { toHex } from "@/core/layout/tints";
import { structureOf } from "@/core/layout/uv-set";
import { NONE } from "@/core/mesh/poly-mesh";
import { layoutOf } from "@/core/operations/scope";
import classes from "./bench.module.css";
import { isolate, itemsOfFaces, pickMany, toggleHidden } from "./selection";
import { useBench } from "./store";

function shellCount(part: Part, set: number): string {
  const n = structureOf(part.mesh, layoutOf(part, set)).shellCount;
  return String(n);
}

function pickPart(part: Part, add: boolean): void {
  const { asset, set, kind } = useBench.getState();
  const owner = part.instanceOf ?? part.id;
  const faces = Array.from({ length: part.mesh.faceStart.length - 1 }, (_, f) => f);
  pickMany(new Map([[owner, itemsOfFaces(asset!, set, owner, faces, kind)]]), add ? "add" : "replace");
}

function Row({ part }: { part: Part }) {
  const { asset, set, picked, hidden } = useBench();
  const gone = hidden.has(part.id);
  const m = part.mesh.faceMaterial[0];
  const color = m === undefined || m === NONE ? [0.5, 0.42, 0.33] : asset!.materials[m]!.color;
  const srgb = color.map((x) => x ** (1 / 2.2));
  const owner = part.instanceOf ? asset!.parts.find((p) => p.id === part.instanceOf) : undefined;
  return (
    <div className={classes.row} data-picked={picked.has(part.instanceOf ?? part.id)} data-gone={gone}>
      <span className={classes.chip} style={{ background: toHex(srgb) }} />
      <button
        type="button"
        className={classes.label}
        title={owner ? `${part.name}, the same as ${owner.name}` : part.name}
        onClick={(e) => pickPart(part, e.shiftKey)}
      >
        {part.name}
      </button>
      <span className={classes.count} title={owner ? `Shares mesh and layout with ${owner.name}` : "Shells"}>
        {owner ? "same" : shellCount(part, set)}
      </span>
      <Tooltip label="Show this part alone, or bring the others back">
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label={`Isolate ${part.name}`}
          onClick={() => isolate(new Set([part.id]))}
        >
          <IconFocusCentered size={14} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={gone ? "Show" : "Hide"}>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label={`${gone ? "Show" : "Hide"} ${part.name}`}
          onClick={() => toggleHidden(part.id)}
        >
          {gone ? <IconEyeOff size={14} /> : <IconEye size={14} />}
        </ActionIcon>
      </Tooltip>
    </div>
  );
}

/** Rows drawn at once; more are reached by searching. */
const MOST_ROWS = 300;

/** The parts of the asset: pick, show, hide, isolate, search. */
export function PartsList() {
  const asset = useBench((s) => s.asset)!;
  const [search, setSearch] = useState("");
  const found = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    const materials = new Set(asset.materials.map((m, i) => (m.name.toLowerCase().includes(wanted) ? i : -1)));
    return asset.parts.filter(
      (p) => !wanted || p.name.toLowerCase().includes(wanted) || p.mesh.faceMaterial.some((m) => materials.has(m)),
    );
  }, [asset, search]);
  return (
    <aside className={classes.parts} aria-label="Parts">
      <h2>Parts · {asset.parts.length}</h2>
      <TextInput
        mx={12}
        mb={8}
        size="xs"
        placeholder="Search parts, materials"
        aria-label="Search parts, materials"
        leftSection={<IconSearch size={13} />}
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
      />
      <div className={classes.list}>
        {found.slice(0, MOST_ROWS).map((part) => (
          <Row key={part.id} part={part} />
        ))}
        {found.length > MOST_ROWS && (
          <p style={{ padding: "4px 12px", color: "var(--quiet)" }}>
            {found.length - MOST_ROWS} more; search to reach them.
          </p>
        )}
        {!found.length && (
          <p style={{ padding: "4px 12px", color: "var(--quiet)" }}>No part or material is called that.</p>
        )}
      </div>
    </aside>
  );
}
