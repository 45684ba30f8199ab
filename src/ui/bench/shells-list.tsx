"use client";

import { ActionIcon, Group, Menu, TextInput } from "@mantine/core";
import { IconDots, IconPinned, IconSearch } from "@tabler/icons-react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type ReactNode, useDeferredValue, useMemo, useRef, useState } from "react";
import type { Unit } from "@/core/layout/asset";
import type { FindingKind } from "@/core/layout/rules";
import { count } from "@/core/operations/words";
import { frameSelection, pickShells } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import {
  FIGURES,
  figureWords,
  filteredLines,
  kindsOf,
  type ShellColumn,
  type ShellFigure,
  type ShellLine,
  type ShellSort,
  shellLines,
  sortedLines,
} from "../session/shell-rows";
import type { Bench } from "../session/store";
import lists from "./list.module.css";
import { toggleFigure, useShellFigures } from "./shell-figures";
import classes from "./shells-list.module.css";

const LINE = 24;

const pointAt = (bench: Bench, { shape, face }: ShellLine): void => {
  if (bench.getState().kind === "shells") bench.setState({ hover: { shape, face, item: face } });
};

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
  // The table follows what is typed and asked for a moment later, so that neither waits for twenty thousand rows.
  const [wantedWords, order] = [useDeferredValue(words), useDeferredValue(sort)];
  const lines = useMemo(
    () => sortedLines(filteredLines(all, wantedWords, wanted), order),
    [all, wantedWords, wanted, order],
  );
  if (!asset || !measures) return <p className={lists.none}>Measuring the shells…</p>;
  const isPicked = (l: ShellLine) => kind === "shells" && (picked.get(l.shape)?.has(l.face) ?? false);
  return (
    <>
      <Group gap={4} ml={10} mr={6} mb={6} wrap="nowrap">
        <TextInput
          flex={1}
          size="xs"
          placeholder={`Filter ${count(all.length, "shell")}`}
          aria-label="Filter shells"
          leftSection={<IconSearch size={13} />}
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
        />
        <FigureMenu />
      </Group>
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
      <Lines lines={lines} isPicked={isPicked}>
        <Heads sort={sort} unit={asset.unit} change={setSort} />
      </Lines>
    </>
  );
}

/** Chooses the figures that the table shows. */
function FigureMenu() {
  const { shown } = useShellFigures();
  return (
    <Menu position="bottom-end" withinPortal closeOnItemClick={false}>
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray" aria-label="Which figures the table shows">
          <IconDots size={14} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {FIGURES.map((f) => (
          <Menu.CheckboxItem key={f} checked={shown.includes(f)} onChange={() => toggleFigure(f)}>
            {ABOUT[f]}
          </Menu.CheckboxItem>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

function Heads({ sort, unit, change }: { sort: ShellSort; unit: Unit; change: (sort: ShellSort) => void }) {
  const { shown } = useShellFigures();
  const titles: Record<ShellColumn, string> = {
    name: "Shell",
    density: `px/${unit}`,
    stretch: "stretch",
    area: `${unit}²`,
    turn: "turn",
    tile: "tile",
    material: "material",
  };
  return (
    <div className={`${classes.grid} ${classes.heads}`} style={columnsOf(shown)}>
      {(["name", ...shown] as const).map((by) => {
        const own = sort.by === by;
        return (
          <button
            key={by}
            type="button"
            aria-label={`${titles[by]}: sort by ${by}`}
            aria-pressed={own}
            // A figure is asked for to see the worst of it first.
            onClick={() => change({ by, down: own ? !sort.down : by !== "name" })}
          >
            {titles[by]}
            {own && <span aria-hidden>{sort.down ? " ↓" : " ↑"}</span>}
          </button>
        );
      })}
    </div>
  );
}

const ABOUT: Readonly<Record<ShellFigure, string>> = {
  density: "Density: texels to a unit",
  stretch: "Stretch: 1 is none",
  area: "Area on the model",
  turn: "Turn: degrees from upright",
  tile: "Tile",
  material: "Material",
};

/** Pixels of the columns; the name takes what is left, and no less than it needs. */
const [NAME, FIGURE, MATERIAL] = [62, 42, 72];

const columnsOf = (shown: readonly ShellFigure[]) => {
  const widths = shown.map((f) => (f === "material" ? MATERIAL : FIGURE));
  return {
    gridTemplateColumns: `minmax(${NAME}px, 1fr) ${widths.map((w) => `${w}px`).join(" ")}`,
    minWidth: widths.reduce((a, b) => a + b + 2, NAME + 18),
  };
};

function Lines(props: { lines: readonly ShellLine[]; isPicked: (l: ShellLine) => boolean; children: ReactNode }) {
  const { lines, isPicked, children } = props;
  const { shown } = useShellFigures();
  const { bench } = useSession();
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
      pickShells(bench, lines.slice(Math.min(from, index), Math.max(from, index) + 1), "replace");
      return;
    }
    anchor.current = line.key;
    pickShells(bench, [line], mode.mod ? (isPicked(line) ? "remove" : "add") : "replace");
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
    <div className={lists.list} ref={scroller}>
      {children}
      <div
        className={classes.lines}
        style={{ height: drawn.getTotalSize() }}
        role="listbox"
        aria-label="Shells"
        aria-multiselectable
        tabIndex={0}
        onKeyDown={step}
        onMouseLeave={() => bench.setState({ hover: null })}
      >
        {drawn.getVirtualItems().map((item) => {
          const l = lines[item.index]!;
          return (
            <button
              key={l.key}
              type="button"
              role="option"
              tabIndex={-1}
              className={`${classes.grid} ${classes.line}`}
              style={{ ...columnsOf(shown), height: LINE, transform: `translateY(${item.start}px)` }}
              aria-selected={isPicked(l)}
              data-found={l.kinds.length > 0}
              title={l.kinds.length ? `${l.name}: ${l.kinds.join(", ")}` : l.name}
              onClick={(e) => pickLine(item.index, { shift: e.shiftKey, mod: e.ctrlKey || e.metaKey })}
              onDoubleClick={() => frameSelection(bench)}
              onMouseEnter={() => pointAt(bench, l)}
            >
              <span className={classes.name}>
                <span className={classes.chip} style={{ background: l.color }} />
                <span className={classes.of}>{l.of}</span> {l.place}
                {l.frozen && <IconPinned size={12} className={classes.pin} aria-label="Pinned whole" />}
              </span>
              {shown.map((f) => (
                <span key={f} className={classes.figure}>
                  {figureWords(l, f)}
                </span>
              ))}
            </button>
          );
        })}
      </div>
      {!lines.length && <p className={lists.none}>No shell is called that.</p>}
    </div>
  );
}
