import { findingsOf } from "@/core/check/findings";
import type { Measures, ShellRow, Side } from "@/core/check/measure";
import { type Asset, placedShape, type ShapeId, shapeById, shapesOf, type UvSetId } from "@/core/layout/asset";
import { type ShellRef, shellName, shellNamed, structureOf } from "@/core/layout/layout";
import type { FindingKind } from "@/core/layout/rules";
import { isFrozen } from "@/core/layout/shell-points";
import { shellTint, toHex } from "@/core/layout/tints";
import type { Shell } from "@/core/mesh/indices";
import { layoutOf } from "@/core/operations/scope";

/** One shell as the table shows it. */
export interface ShellLine extends ShellRef {
  readonly key: string;
  /** Its shape's name, its place among the shells of that, and both. */
  readonly of: string;
  readonly place: number;
  readonly name: string;
  readonly color: string;
  /** Texels per unit, stretch and area; none where it has no coordinates. */
  readonly density: number | null;
  readonly stretch: number | null;
  readonly area: number | null;
  /** How dense it is to be, by what is common. */
  readonly ratio: number;
  /** Degrees by which up on the model is turned away from v, and the number of its tile. */
  readonly turn: number | null;
  readonly side: Side | null;
  readonly tile: number | null;
  /** Of its least face. */
  readonly material: string | null;
  /** Whether all of it is pinned. */
  readonly frozen: boolean;
  /** What was found of it. */
  readonly kinds: readonly FindingKind[];
}

type Figures = Pick<ShellLine, "density" | "stretch" | "area" | "ratio" | "turn" | "side" | "tile">;

const keyOf = ({ shape, face }: ShellRef): string => `${shape}/${face}`;

/** Every shell of a UV set with its figures, in the order of the shapes; time linear in shells. */
export function shellLines(asset: Asset, set: UvSetId, m: Measures): ShellLine[] {
  const kinds = new Map<string, FindingKind[]>();
  for (const finding of findingsOf(m, asset.rules, set))
    for (const shell of finding.shells) {
      const key = keyOf(shell);
      kinds.set(key, [...(kinds.get(key) ?? []), finding.kind]);
    }
  const line = (ref: ShellRef, figures: Figures): ShellLine[] => {
    const own = shellLine(asset, set, ref, figures);
    return own ? [{ ...own, kinds: kinds.get(own.key) ?? [] }] : [];
  };
  return [...m.perShell.flatMap((s) => line(s, figuresOf(s))), ...m.unmapped.flatMap((s) => line(s, NO_FIGURES))];
}

const NO_FIGURES: Figures = { density: null, stretch: null, area: null, ratio: 1, turn: null, side: null, tile: null };
const figuresOf = (s: ShellRow): Figures => ({
  density: s.density,
  stretch: s.energy,
  area: s.area,
  ratio: s.ratio,
  turn: s.turn,
  side: s.side,
  tile: s.tile,
});

/** A shell with its names and some figures, without findings; null where it is no longer there. */
function shellLine(asset: Asset, set: UvSetId, ref: ShellRef, figures: Figures): ShellLine | null {
  const shape = asset.shapes.get(ref.shape);
  // Figures come a moment after the edit: what was cut up meanwhile is on its way.
  const layout = shape && layoutOf(shape, set);
  const place = layout && shellNamed(structureOf(shape.mesh, layout), ref.face);
  if (!layout || place === undefined || place === null) return null;
  const frozen = isFrozen(shape.mesh, layout, place);
  const { shape: id, face } = ref;
  const of = placedShape(asset, id).name;
  const material = asset.materials[shape!.mesh.faceMaterial[face]!]?.name ?? null;
  const color = toHex(shellTint(placeOf(asset, id), place));
  const names = { key: keyOf(ref), of, place: place + 1, name: `${of} ${place + 1}` };
  return { shape: id, face, ...names, material, color, frozen, kinds: [], ...figures };
}

/** By asset: the place of every shape among them, which its shells' colours go by. */
const places = new WeakMap<Asset, Map<ShapeId, number>>();
function placeOf(asset: Asset, id: ShapeId): number {
  let known = places.get(asset);
  if (!known) {
    known = new Map(shapesOf(asset).map((s, i) => [s.id, i]));
    places.set(asset, known);
  }
  return known.get(id)!;
}

/** By figures: those of every shell, by its key. */
const rowsByKey = new WeakMap<Measures, Map<string, ShellRow>>();

/** The shell that a face is of. */
export function shellOfFace(asset: Asset, set: UvSetId, { shape: id, face }: ShellRef): ShellRef {
  const { mesh, layouts } = shapeById(asset, id);
  const s = structureOf(mesh, layoutOf({ mesh, layouts }, set));
  return { shape: id, face: shellName(s, s.faceShell[face] as Shell) };
}

/** One shell with its figures; null where it is no longer there. */
export function lineOfShell(asset: Asset, set: UvSetId, m: Measures, ref: ShellRef): ShellLine | null {
  let rows = rowsByKey.get(m);
  if (!rows) {
    rows = new Map(m.perShell.map((s) => [keyOf(s), s]));
    rowsByKey.set(m, rows);
  }
  const row = rows.get(keyOf(ref));
  return shellLine(asset, set, ref, row ? figuresOf(row) : NO_FIGURES);
}

/** By figures: the stack that each shell lies in, by its key. */
const stacksByKey = new WeakMap<Measures, Map<string, readonly ShellRef[]>>();

/** The shells that lie right on one another with a shell, itself among them; null where it lies alone. */
export function stackOf(m: Measures | null, shell: ShellRef): readonly ShellRef[] | null {
  if (!m) return null;
  let known = stacksByKey.get(m);
  if (!known) {
    known = new Map(m.stacks?.flatMap((list) => list.map((s) => [keyOf(s), list] as const)));
    stacksByKey.set(m, known);
  }
  return known.get(keyOf(shell)) ?? null;
}

/** A line of the table: of one shell, of a stack as one, or of a shell of a stack that is opened. */
export interface TableLine {
  readonly line: ShellLine;
  /** All that it stands for. */
  readonly shells: readonly ShellRef[];
  readonly within: boolean;
}

/** Lines with every stack as one, at the place of its first; the shells of those that are opened follow it. */
export function foldedLines(lines: readonly ShellLine[], m: Measures, opened: ReadonlySet<string>): TableLine[] {
  const members = new Map<readonly ShellRef[], ShellLine[]>();
  for (const line of lines) {
    const stack = stackOf(m, line);
    if (!stack) continue;
    const own = members.get(stack);
    if (own) own.push(line);
    else members.set(stack, [line]);
  }
  return lines.flatMap((line): TableLine[] => {
    const stack = stackOf(m, line);
    const own = stack && members.get(stack)!;
    if (!own || own.length < 2) return [{ line, shells: [line], within: false }];
    if (own[0] !== line) return [];
    const one = { line, shells: own, within: false };
    return opened.has(line.key) ? [one, ...own.map((l) => ({ line: l, shells: [l], within: true }))] : [one];
  });
}

export const FIGURES = ["density", "stretch", "area", "turn", "tile", "material"] as const;
export type ShellFigure = (typeof FIGURES)[number];
export type ShellColumn = "name" | ShellFigure;
export interface ShellSort {
  readonly by: ShellColumn;
  readonly down: boolean;
}

const order = new Intl.Collator("en", { numeric: true });

/** Lines sorted by a column; shells without the figure come last either way. */
export function sortedLines(lines: readonly ShellLine[], { by, down }: ShellSort): ShellLine[] {
  const turn = down ? -1 : 1;
  return [...lines].sort((a, b) => {
    const [x, y] = [a[by], b[by]];
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    return turn * (typeof x === "number" ? x - (y as number) : order.compare(x, y as string));
  });
}

/** Lines whose name holds all of some words, and of which something of a kind was found. */
export function filteredLines(lines: readonly ShellLine[], words: string, kind: FindingKind | null): ShellLine[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return lines.filter((l) => {
    const name = l.name.toLowerCase();
    return (kind === null || l.kinds.includes(kind)) && wanted.every((w) => name.includes(w));
  });
}

/** How many lines each kind of finding has, the most first. */
export function kindsOf(lines: readonly ShellLine[]): ReadonlyArray<readonly [FindingKind, number]> {
  const counts = new Map<FindingKind, number>();
  for (const l of lines) for (const k of l.kinds) counts.set(k, (counts.get(k) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]);
}

/** How a shell's figure is written; what it does not have is a dash. */
export function figureWords(line: ShellLine, figure: ShellFigure): string {
  const value = line[figure];
  if (value === null) return "–";
  if (typeof value === "string") return value;
  if (figure === "stretch") return value.toFixed(3);
  if (figure === "turn") return `${Math.round(value)}°`;
  if (figure === "density")
    return `${+value.toPrecision(3)}${line.ratio === 1 ? "" : ` ×${+line.ratio.toPrecision(3)}`}`;
  // What is small is told shorter: its zeros take room.
  if (value > 0 && value < 0.001) return value.toExponential(1);
  return String(+value.toPrecision(figure === "tile" ? 6 : value < 0.01 ? 2 : 3));
}
