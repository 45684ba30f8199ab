"use client";

import { TextInput } from "@mantine/core";
import { IconSearch } from "@tabler/icons-react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import type { ShapeId, Unit } from "@/core/layout/asset";
import type { FindingKind } from "@/core/layout/rules";
import { count } from "@/core/operations/words";
import { frameSelection, type PickMode, pickMany, setKind } from "../session/selection";
import { useBench, useBenchOf } from "../session/store";
import bench from "./bench.module.css";
import {
  COLUMNS,
  filteredLines,
  kindsOf,
  type ShellColumn,
  type ShellLine,
  type ShellSort,
  shellLines,
  sortedLines,
} from "./shell-rows";
import classes from "./shells-list.module.css";

const LINE = 24;

/** Picks shells by their lines, in both panes. */
function pickLines(lines: readonly ShellLine[], mode: PickMode): void {
  setKind("shells");
  const items = new Map<ShapeId, Set<number>>();
  for (const { shape, face } of lines) items.set(shape, (items.get(shape) ?? new Set<number>()).add(face));
  pickMany(items, mode);
}

const pointAt = ({ shape, face }: ShellLine): void => {
  if (useBench.getState().kind === "shells") useBench.setState({ hover: { shape, face, item: face } });
};
const pointAway = (): void => useBench.setState({ hover: null });

/** Every shell with its figures: sorted by any of them, filtered by words or by what was found; rows pick shells. */
export function ShellsList() {
  const { asset, set, measures, picked, kind } = useBenchOf("asset", "set", "measures", "picked", "kind");
  const [sort, setSort] = useState<ShellSort>({ by: "name", down: false });
  const [words, setWords] = useState("");
  const [found, setFound] = useState<FindingKind | null>(null);
  const all = useMemo(() => (asset && measures ? shellLines(asset, set, measures) : []), [asset, set, measures]);
  const kinds = useMemo(() => kindsOf(all), [all]);
  // What was found and is mended is no reason for an empty list.
  const wanted = found && kinds.some(([k]) => k === found) ? found : null;
  const lines = useMemo(() => sortedLines(filteredLines(all, words, wanted), sort), [all, words, wanted, sort]);
  if (!asset || !measures) return <p className={bench.none}>Measuring the shells…</p>;
  const isPicked = (l: ShellLine) => kind === "shells" && (picked.get(l.shape)?.has(l.face) ?? false);
  return (
    <>
      <TextInput
        mx={10}
        mb={6}
        size="xs"
        placeholder={`Filter ${count(all.length, "shell")}`}
        aria-label="Filter shells"
        leftSection={<IconSearch size={13} />}
        value={words}
        onChange={(e) => setWords(e.currentTarget.value)}
      />
      {kinds.length > 0 && (
        <div className={classes.kinds}>
          {kinds.map(([k, n]) => (
            <button
              key={k}
              type="button"
              className={classes.kind}
              aria-pressed={wanted === k}
              onClick={() => setFound(wanted === k ? null : k)}
            >
              {k} {n}
            </button>
          ))}
        </div>
      )}
      <Heads sort={sort} unit={asset.unit} change={setSort} />
      <Lines lines={lines} isPicked={isPicked} />
    </>
  );
}

function Heads({ sort, unit, change }: { sort: ShellSort; unit: Unit; change: (sort: ShellSort) => void }) {
  const titles: Record<ShellColumn, string> = {
    name: "Shell",
    density: `px/${unit}`,
    stretch: "stretch",
    area: `${unit}²`,
  };
  return (
    <div className={`${classes.grid} ${classes.heads}`}>
      {COLUMNS.map((by) => {
        const own = sort.by === by;
        return (
          <button
            key={by}
            type="button"
            aria-label={`Sort by ${by}`}
            aria-pressed={own}
            // A figure is asked for to see the worst of it first.
            onClick={() => change({ by, down: own ? !sort.down : by !== "name" })}
          >
            {titles[by]}
            {own ? (sort.down ? " ↓" : " ↑") : ""}
          </button>
        );
      })}
    </div>
  );
}

const figure = (x: number | null, show: (x: number) => string): string => (x === null ? "–" : show(x));

function Lines({ lines, isPicked }: { lines: readonly ShellLine[]; isPicked: (l: ShellLine) => boolean }) {
  const scroller = useRef<HTMLDivElement>(null);
  /** The line picked last by itself: Shift picks from there, and arrow keys go on from there. */
  const anchor = useRef<string | null>(null);
  const drawn = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE,
    overscan: 12,
  });
  const pickLine = (index: number, mode: { shift: boolean; mod: boolean }) => {
    const line = lines[index];
    if (!line) return;
    const from = lines.findIndex((l) => l.key === anchor.current);
    if (mode.shift && from >= 0) {
      pickLines(lines.slice(Math.min(from, index), Math.max(from, index) + 1), "replace");
      return;
    }
    anchor.current = line.key;
    pickLines([line], mode.mod ? (isPicked(line) ? "remove" : "add") : "replace");
  };
  const step = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    const at = lines.findIndex((l) => l.key === anchor.current);
    const next = Math.min(lines.length - 1, Math.max(0, at + by));
    pickLine(next, { shift: false, mod: false });
    drawn.scrollToIndex(next);
  };
  return (
    <div
      className={bench.list}
      ref={scroller}
      role="listbox"
      aria-label="Shells"
      aria-multiselectable
      tabIndex={0}
      onKeyDown={step}
      onMouseLeave={pointAway}
    >
      <div style={{ height: drawn.getTotalSize(), position: "relative" }}>
        {drawn.getVirtualItems().map((item) => {
          const l = lines[item.index]!;
          return (
            <button
              key={l.key}
              type="button"
              role="option"
              tabIndex={-1}
              className={`${classes.grid} ${classes.line}`}
              style={{ height: LINE, transform: `translateY(${item.start}px)` }}
              aria-selected={isPicked(l)}
              data-found={l.kinds.length > 0}
              title={l.kinds.length ? `${l.name}: ${l.kinds.join(", ")}` : l.name}
              onClick={(e) => pickLine(item.index, { shift: e.shiftKey, mod: e.ctrlKey || e.metaKey })}
              onDoubleClick={frameSelection}
              onMouseEnter={() => pointAt(l)}
            >
              <span className={classes.name}>
                <span className={classes.chip} style={{ background: l.color }} />
                <span className={classes.of}>{l.of}</span> {l.place}
              </span>
              <span>{figure(l.density, (x) => x.toPrecision(3))}</span>
              <span>{figure(l.stretch, (x) => x.toFixed(3))}</span>
              <span>{figure(l.area, (x) => String(+x.toPrecision(3)))}</span>
            </button>
          );
        })}
      </div>
      {!lines.length && <p className={bench.none}>No shell is called that.</p>}
    </div>
  );
}
