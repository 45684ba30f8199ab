"use client";

import { ActionIcon, Group, Menu, TextInput } from "@mantine/core";
import { IconChevronRight, IconDots, IconPinned, IconSearch } from "@tabler/icons-react";
import { useVirtualizer } from "@tanstack/react-virtual";
import {
  type CSSProperties,
  type KeyboardEvent,
  type MouseEvent,
  type ReactNode,
  useDeferredValue,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Unit } from "@/core/layout/asset";
import type { FindingKind } from "@/core/layout/rules";
import { count } from "@/core/operations/words";
import { frameSelection, pickShells } from "../session/selection";
import { useBenchOf, useSession } from "../session/session-context";
import {
  FIGURES,
  figureWords,
  filteredLines,
  foldedLines,
  kindsOf,
  type ShellColumn,
  type ShellFigure,
  type ShellLine,
  type ShellSort,
  shellLines,
  sortedLines,
  type TableLine,
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
  /** Stacks whose shells are shown, by the keys of their first lines. */
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
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
  const table = useMemo(() => (measures ? foldedLines(lines, measures, opened) : []), [lines, measures, opened]);
  const open = (key: string) =>
    setOpened((now) => (now.has(key) ? new Set([...now].filter((k) => k !== key)) : new Set(now).add(key)));
  if (!asset || !measures) return <p className={lists.none}>Measuring the shells…</p>;
  const isPicked = (l: TableLine) =>
    kind === "shells" && l.shells.every((s) => picked.get(s.shape)?.has(s.face) ?? false);
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
      <Lines lines={table} isPicked={isPicked} opened={opened} open={open}>
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

/** A stack and its first shell have lines of their own. */
const rowKey = ({ line, within }: TableLine): string => (within ? `in ${line.key}` : line.key);

const titleOf = ({ line, shells }: TableLine): string =>
  [
    shells.length > 1
      ? `${line.name} and ${count(shells.length - 1, "twin")} on it; the arrow opens the stack`
      : line.name,
    ...(line.kinds.length ? [line.kinds.join(", ")] : []),
  ].join(": ");

/** Pixels of the columns; the name takes what is left, and no less than it needs. */
const [NAME, FIGURE, MATERIAL] = [62, 42, 72];

const columnsOf = (shown: readonly ShellFigure[]) => {
  const widths = shown.map((f) => (f === "material" ? MATERIAL : FIGURE));
  return {
    gridTemplateColumns: `minmax(${NAME}px, 1fr) ${widths.map((w) => `${w}px`).join(" ")}`,
    minWidth: widths.reduce((a, b) => a + b + 2, NAME + 18),
  };
};

function Lines(props: {
  lines: readonly TableLine[];
  isPicked: (l: TableLine) => boolean;
  opened: ReadonlySet<string>;
  /** Opens a stack, or closes it. */
  open: (key: string) => void;
  children: ReactNode;
}) {
  const { lines, isPicked, opened, open, children } = props;
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
    const from = lines.findIndex((l) => rowKey(l) === anchor.current);
    if (mode.shift && from >= 0) {
      const between = lines.slice(Math.min(from, index), Math.max(from, index) + 1);
      const shells = between.flatMap((l) => l.shells);
      pickShells(bench, shells, "replace");
      return;
    }
    anchor.current = rowKey(line);
    pickShells(bench, line.shells, mode.mod ? (isPicked(line) ? "remove" : "add") : "replace");
  };
  const step = (event: KeyboardEvent) => {
    const at = lines.findIndex((l) => rowKey(l) === anchor.current);
    const own = lines[at];
    if (own && own.shells.length > 1 && event.key === (opened.has(own.line.key) ? "ArrowLeft" : "ArrowRight")) {
      event.preventDefault();
      open(own.line.key);
      return;
    }
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
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
          const row = lines[item.index]!;
          return (
            <Row
              key={rowKey(row)}
              row={row}
              style={{ ...columnsOf(shown), height: LINE, transform: `translateY(${item.start}px)` }}
              isPicked={isPicked(row)}
              isOpen={opened.has(row.line.key)}
              open={() => open(row.line.key)}
              pickIt={(e) => pickLine(item.index, { shift: e.shiftKey, mod: e.ctrlKey || e.metaKey })}
            />
          );
        })}
      </div>
      {!lines.length && <p className={lists.none}>No shell is called that.</p>}
    </div>
  );
}

/** One shell, or a stack as one. */
function Row(props: {
  row: TableLine;
  style: CSSProperties;
  isPicked: boolean;
  isOpen: boolean;
  open: () => void;
  pickIt: (e: MouseEvent) => void;
}) {
  const { row, style, isPicked, isOpen, open, pickIt } = props;
  const { bench } = useSession();
  const { shown } = useShellFigures();
  const { line, shells, within } = row;
  const stack = shells.length > 1;
  return (
    <button
      type="button"
      role="option"
      tabIndex={-1}
      className={`${classes.grid} ${classes.line}`}
      style={style}
      aria-selected={isPicked}
      data-open={stack && isOpen}
      data-within={within}
      data-found={line.kinds.length > 0}
      title={titleOf(row)}
      onClick={pickIt}
      onDoubleClick={() => frameSelection(bench)}
      onMouseEnter={() => pointAt(bench, line)}
    >
      <span className={classes.name}>
        {stack && (
          <IconChevronRight
            size={12}
            className={classes.open}
            aria-hidden
            onClick={(e) => {
              e.stopPropagation();
              open();
            }}
          />
        )}
        <span className={classes.chip} style={{ background: line.color }} />
        <span className={classes.of}>{line.of}</span> {line.place}
        {stack && <b className={classes.stack}>×{shells.length}</b>}
        {line.frozen && <IconPinned size={12} className={classes.pin} aria-label="Pinned whole" />}
      </span>
      {shown.map((f) => (
        <span key={f} className={classes.figure}>
          {figureWords(line, f)}
        </span>
      ))}
    </button>
  );
}
