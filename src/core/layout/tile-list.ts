import { UserError } from "./user-error";

/** Tiles across a row, and the most that a list may name. */
const ACROSS = 10;
const FIRST = 1001;
export const LAST_TILE = 1400;

/** Some tiles by their numbers; `more` are taken from the last on where those do not hold all. */
export interface TileList {
  readonly tiles: readonly number[];
  readonly more: boolean;
}

/**
 * Reads a list of tiles: "1001", "1001-1004 1011", "1001+" for that and as many after it as are needed.
 *
 * @throws UserError for what is no tile
 */
export function readTiles(text: string): TileList {
  const tiles: number[] = [];
  let more = false;
  for (const part of text.split(/[\s,;]+/).filter(Boolean)) {
    const found = /^(\d{4})(?:-(\d{4})|(\+))?$/.exec(part);
    const [from, to] = [Number(found?.[1]), Number(found?.[2] ?? found?.[1])];
    if (!found || from < FIRST || to < from || to > LAST_TILE)
      throw new UserError(
        `Tiles are written as 1001, 1001-1004 or 1001+, from ${FIRST} to ${LAST_TILE}; "${part}" is not.`,
      );
    for (let tile = from; tile <= to; tile++) if (!tiles.includes(tile)) tiles.push(tile);
    more ||= found[3] !== undefined;
  }
  if (!tiles.length) throw new UserError("Name at least one tile, as 1001.");
  return { tiles, more };
}

/** All tiles of a list, with those that it takes where more are needed. */
export const withMore = ({ tiles, more }: TileList): number[] => [
  ...tiles,
  ...(more ? Array.from({ length: LAST_TILE - tiles.at(-1)! }, (_, k) => tiles.at(-1)! + 1 + k) : []),
];

/** Lower left corner of a tile. */
export const cornerOfTile = (tile: number): readonly [u: number, v: number] => [
  (tile - FIRST) % ACROSS,
  Math.floor((tile - FIRST) / ACROSS),
];

/** The number of the tile that a point lies in, where there is one. */
export function tileAt(u: number, v: number): number | null {
  const [column, row] = [Math.floor(u), Math.floor(v)];
  return column >= 0 && column < ACROSS && row >= 0 ? FIRST + column + ACROSS * row : null;
}
