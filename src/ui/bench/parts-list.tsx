"use client";

import { ActionIcon, Menu, TextInput } from "@mantine/core";
import {
  IconChevronDown,
  IconChevronRight,
  IconDots,
  IconEye,
  IconEyeOff,
  IconFocusCentered,
  IconLock,
  IconSearch,
} from "@tabler/icons-react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import {
  LABELS,
  type Part,
  type PartId,
  type PlacedShape,
  placedShape,
  STATUSES,
  type UvSetId,
} from "@/core/layout/asset";
import { structureOf } from "@/core/layout/layout";
import { toHex } from "@/core/layout/tints";
import { NONE } from "@/core/mesh/poly-mesh";
import type { AnyOperation } from "@/core/operations/operation";
import {
  groupParts,
  labelParts,
  lockParts,
  ownMesh,
  pickSimilar,
  renamePart,
  separate,
  setStatus,
  takeOut,
  ungroupParts,
  unite,
  unlockParts,
} from "@/core/operations/registry";
import { layoutOf } from "@/core/operations/scope";
import { count } from "@/core/operations/words";
import { refreshLikeness, runOperation } from "../session/actions";
import { isolate, selectParts, setHidden } from "../session/selection";
import { useBench, useBenchOf, useSession } from "../session/session-context";
import type { Bench } from "../session/store";
import { askText } from "./ask";
import lists from "./list.module.css";
import { type PartRow, partRows, rowsBetween } from "./part-rows";
import classes from "./parts-list.module.css";
import { useMeshes } from "./use-meshes";

/** Colours of labels, by number. */
const LABEL_COLORS = ["transparent", "#8e2449", "#c98a1b", "#55794a", "#1e7f86", "#2e3a87", "#6b4a35"];

/** Picks rows: the parts as such, and what they hold in the kind that is being picked. */
function pickRows(bench: Bench, ids: readonly PartId[], mode: "replace" | "add" | "remove"): void {
  const { rows } = bench.getState();
  const next = new Set(mode === "replace" ? [] : rows);
  for (const id of ids) {
    if (mode === "remove") next.delete(id);
    else next.add(id);
  }
  selectParts(bench, next);
}

function RowMenu({ part }: { part: Part }) {
  const session = useSession();
  const asset = useBench((s) => s.asset)!;
  const shape = placedShape(asset, part.shape);
  // The menu of a picked row means all picked rows; that of another means that row.
  const act = (op: AnyOperation, options: Record<string, unknown> = {}) => {
    if (!session.bench.getState().rows.has(part.id)) pickRows(session.bench, [part.id], "replace");
    void runOperation(session, op, options);
  };
  return (
    <Menu position="right-start" withinPortal>
      <Menu.Target>
        <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`More for ${part.name}`}>
          <IconDots size={14} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => askText("Rename", "Name", part.name, (name) => name && act(renamePart, { name }))}>
          Rename…
        </Menu.Item>
        <Menu.Item
          onClick={() =>
            askText("Group", "Group, with its outer groups before it", part.path.join(" / "), (name) =>
              name ? act(groupParts, { name }) : act(ungroupParts),
            )
          }
        >
          Group…
        </Menu.Item>
        {part.path.length > 0 && <Menu.Item onClick={() => act(ungroupParts)}>Ungroup</Menu.Item>}
        {part.locked === undefined ? (
          <Menu.Item onClick={() => askText("Lock", "Why", "", (why) => act(lockParts, { why }))}>Lock…</Menu.Item>
        ) : (
          <Menu.Item onClick={() => act(unlockParts)}>Unlock</Menu.Item>
        )}
        <Menu.Divider />
        {STATUSES.map((status) => (
          <Menu.Item key={status} onClick={() => act(setStatus, { status })}>
            <span className={classes.state} data-status={status} /> {status}
          </Menu.Item>
        ))}
        <Menu.Divider />
        <div className={classes.swatches}>
          {LABELS.map((color, i) => (
            <button
              key={color}
              type="button"
              aria-label={`Colour ${color}`}
              title={color}
              style={{ background: LABEL_COLORS[i] }}
              onClick={() => act(labelParts, { color })}
            />
          ))}
        </div>
        <Menu.Divider />
        <Menu.Item onClick={() => act(pickSimilar)}>Pick identical parts</Menu.Item>
        {shape.merged && <Menu.Item onClick={() => act(separate)}>Separate</Menu.Item>}
        {shape.split && <Menu.Item onClick={() => act(unite)}>Unite with its pieces</Menu.Item>}
        {shape.parts.length > 1 && <Menu.Item onClick={() => act(ownMesh)}>Make unique</Menu.Item>}
        <Menu.Item color="red" onClick={() => act(takeOut)}>
          Take out
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

/** What is worth knowing of a part at its row's end. */
function noteOf(part: Part, shape: PlacedShape, set: UvSetId, alike: number): [string, string] {
  if (shape.parts[0] !== part) return ["same", `Shares mesh and layout with ${shape.name}`];
  if (shape.merged) return [`${shape.merged.length} in 1`, "Merged; separated at export"];
  if (shape.split) return ["piece", `A piece of ${shape.split.whole.part.name}; whole again at export`];
  const shells = structureOf(shape.mesh, layoutOf(shape, set)).shellCount;
  if (alike > 1) return [`${shells} ·${alike}×`, `${shells} shells; ${alike} parts of this shape`];
  return [String(shells), "Shells"];
}

interface PartLineProps {
  readonly part: Part;
  readonly depth: number;
  readonly alike: number;
  readonly rows: readonly PartRow[];
}

const PartLine = memo(function PartLine({ part, depth, alike, rows }: PartLineProps) {
  const session = useSession();
  const { bench } = session;
  const { asset, set } = useBenchOf("asset", "set");
  // Only those rows render again that are picked, let go, hidden or shown.
  const gone = useBench((s) => s.hidden.has(part.id));
  const isPicked = useBench((s) => (s.rows.size ? s.rows.has(part.id) : s.picked.has(part.shape)));
  const shape = placedShape(asset!, part.shape);
  const m = shape.mesh.faceMaterial[0];
  const color = m === undefined || m === NONE ? [0.5, 0.42, 0.33] : asset!.materials[m]!.color;
  const [note, hint] = noteOf(part, shape, set, alike);
  const click = (e: React.MouseEvent) => {
    const pickedRows = bench.getState().rows;
    const last = [...pickedRows].at(-1);
    if (e.shiftKey && last) pickRows(bench, rowsBetween(rows, last, part.id), "add");
    else if (e.ctrlKey || e.metaKey) pickRows(bench, [part.id], pickedRows.has(part.id) ? "remove" : "add");
    else pickRows(bench, [part.id], e.shiftKey ? "add" : "replace");
  };
  return (
    <div className={classes.row} data-picked={isPicked} data-gone={gone} style={{ paddingLeft: 10 + 12 * depth }}>
      <span
        className={classes.chip}
        style={{
          background: toHex(color.map((x) => x ** (1 / 2.2))),
          boxShadow: part.label ? `0 0 0 2px var(--card), 0 0 0 4px ${LABEL_COLORS[part.label]}` : undefined,
        }}
      />
      <button
        type="button"
        className={lists.label}
        title={part.locked !== undefined ? `${part.name}, locked${part.locked ? `: ${part.locked}` : ""}` : part.name}
        onClick={click}
        onDoubleClick={() =>
          askText("Rename", "Name", part.name, (name) => {
            if (!name || name === part.name) return;
            pickRows(bench, [part.id], "replace");
            void runOperation(session, renamePart, { name });
          })
        }
      >
        {part.name}
      </button>
      {part.status && <span className={classes.state} data-status={part.status} title={part.status} />}
      {part.locked !== undefined && <IconLock size={12} aria-label="Locked" />}
      <span className={classes.count} title={hint}>
        {note}
      </span>
      <span className={classes.tools}>
        <RowMenu part={part} />
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label={`Isolate ${part.name}`}
          title="Show this part alone, or show all again"
          onClick={() => isolate(bench, new Set([part.id]))}
        >
          <IconFocusCentered size={14} />
        </ActionIcon>
        <ActionIcon
          size="sm"
          variant="subtle"
          color="gray"
          aria-label={`${gone ? "Show" : "Hide"} ${part.name}`}
          title={gone ? "Show" : "Hide"}
          onClick={() => setHidden(bench, [part.id], !gone)}
        >
          {gone ? <IconEyeOff size={14} /> : <IconEye size={14} />}
        </ActionIcon>
      </span>
    </div>
  );
});

function GroupLine({
  row,
  folded,
  fold,
}: {
  row: Extract<PartRow, { type: "group" }>;
  folded: boolean;
  fold: () => void;
}) {
  const { bench } = useSession();
  const ids = row.parts.map((p) => p.id);
  const gone = useBench((s) => ids.every((id) => s.hidden.has(id)));
  return (
    <div className={classes.row} data-group style={{ paddingLeft: 4 + 12 * row.depth }}>
      <ActionIcon
        size="sm"
        variant="subtle"
        color="gray"
        aria-label={`${folded ? "Unfold" : "Fold"} ${row.name}`}
        aria-expanded={!folded}
        onClick={fold}
      >
        {folded ? <IconChevronRight size={14} /> : <IconChevronDown size={14} />}
      </ActionIcon>
      <button
        type="button"
        className={lists.label}
        onClick={(e) => pickRows(bench, ids, e.shiftKey || e.ctrlKey ? "add" : "replace")}
      >
        <b>{row.name}</b>
      </button>
      <span className={classes.count}>{row.parts.length}</span>
      <ActionIcon
        size="sm"
        variant="subtle"
        color="gray"
        aria-label={`${gone ? "Show" : "Hide"} group ${row.name}`}
        onClick={() => setHidden(bench, ids, !gone)}
      >
        {gone ? <IconEyeOff size={14} /> : <IconEye size={14} />}
      </ActionIcon>
    </div>
  );
}

const ROW = 28;

/** The parts of the asset as a tree: pick, show, hide, isolate, lock, name, group, search. Only what shows is drawn. */
export function PartsList() {
  const session = useSession();
  const asset = useBench((s) => s.asset)!;
  const [search, setSearch] = useState("");
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const scroller = useRef<HTMLDivElement>(null);
  // The list follows what is typed a moment later, so that typing never waits for it.
  const wanted = useDeferredValue(search);
  const rows = useMemo(() => partRows(asset, folded, wanted), [asset, folded, wanted]);
  const alike = useBench((s) => s.alike);
  const meshes = useMeshes(asset);
  // Dependencies on purpose: moving points or changing names makes no part like another
  useEffect(() => void refreshLikeness(session), [meshes]);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const fold = (key: string) => {
    const next = new Set(folded);
    if (!next.delete(key)) next.add(key);
    setFolded(next);
  };
  return (
    <>
      <TextInput
        mx={10}
        mb={6}
        size="xs"
        placeholder={`Search ${count(asset.parts.length, "part")}, materials`}
        aria-label="Search parts, materials"
        leftSection={<IconSearch size={13} />}
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
      />
      <div className={lists.list} ref={scroller}>
        <div style={{ height: list.getTotalSize(), position: "relative" }}>
          {list.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            return (
              <div
                key={row.key}
                className={classes.placed}
                style={{ height: ROW, transform: `translateY(${item.start}px)` }}
              >
                {row.type === "group" ? (
                  <GroupLine row={row} folded={folded.has(row.key)} fold={() => fold(row.key)} />
                ) : (
                  <PartLine part={row.part} depth={row.depth} alike={alike.get(row.part.id) ?? 1} rows={rows} />
                )}
              </div>
            );
          })}
        </div>
        {!rows.length && <p className={lists.none}>No part or material is called that.</p>}
      </div>
    </>
  );
}
