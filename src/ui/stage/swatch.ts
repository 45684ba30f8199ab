import { CanvasTexture, RepeatWrapping, type Texture } from "three";
import { CELLS_OF_SWATCH, type OwnSwatch, pictureOfSwatch, type SwatchId } from "../session/swatches";
import { TILES_ACROSS } from "./shaders";

/** Texels a side of a swatch, and cells across it. */
const SIDE = 1024;
const CELLS = CELLS_OF_SWATCH;
const CELL = SIDE / CELLS;
const PAPER = "#f6f0e2";
const LINEN = "#d9c9a6";
const INK = "#22252e";
const INDIGO = "#2e3a87";
const SUMAC = "#8e2449";

type Pen = CanvasRenderingContext2D;
/** Draws a swatch, v up. @param weight how heavy its lines are; 1 is fine */
type Draw = (pen: Pen, weight: number) => void;

/** Calls `draw` for every cell: its left and top in texels, its column and its row counted from the bottom. */
function eachCell(draw: (x: number, y: number, column: number, row: number) => void): void {
  for (let row = 0; row < CELLS; row++)
    for (let column = 0; column < CELLS; column++) draw(column * CELL, SIDE - (row + 1) * CELL, column, row);
}

const checks = (pen: Pen, light = PAPER, dark = LINEN): void =>
  eachCell((x, y, column, row) => {
    pen.fillStyle = (row + column) % 2 ? dark : light;
    pen.fillRect(x, y, CELL, CELL);
  });

/** Letters across and numbers up, with an angle in the corner where a cell begins. */
const letters: Draw = (pen, weight) => {
  checks(pen);
  pen.textAlign = "center";
  pen.textBaseline = "middle";
  pen.font = `600 ${CELL * 0.36}px "Figtree Variable", sans-serif`;
  eachCell((x, y, column, row) => {
    pen.strokeStyle = `${INK}33`;
    pen.lineWidth = 2 * weight;
    pen.strokeRect(x + weight, y + weight, CELL - 2 * weight, CELL - 2 * weight);
    pen.fillStyle = (row + column) % 2 ? INDIGO : SUMAC;
    pen.fillText(`${String.fromCharCode(65 + column)}${row + 1}`, x + CELL / 2, y + CELL / 2 + 2);
    pen.fillStyle = `${INK}88`;
    pen.fillRect(x + CELL * 0.08, y + CELL * 0.88, CELL * 0.18, CELL * 0.04);
    pen.fillRect(x + CELL * 0.08, y + CELL * 0.74, CELL * 0.04, CELL * 0.18);
  });
};

/** Rings in every cell, two of them: stretch and shear make ellipses of them. */
const circles: Draw = (pen, weight) => {
  checks(pen);
  pen.strokeStyle = INDIGO;
  pen.lineWidth = 4 * weight;
  eachCell((x, y) => {
    for (const radius of [0.42, 0.2]) {
      pen.beginPath();
      pen.arc(x + CELL / 2, y + CELL / 2, radius * CELL, 0, 2 * Math.PI);
      pen.stroke();
    }
  });
};

/** Lines four to a cell, every fourth of them heavier. */
const grid: Draw = (pen, weight) => {
  pen.fillStyle = PAPER;
  pen.fillRect(0, 0, SIDE, SIDE);
  for (let k = 0; k <= 4 * CELLS; k++) {
    pen.fillStyle = k % 4 ? `${INK}66` : INDIGO;
    const width = (k % 4 ? 1.5 : 4) * weight;
    pen.fillRect((k * CELL) / 4 - width / 2, 0, width, SIDE);
    pen.fillRect(0, (k * CELL) / 4 - width / 2, SIDE, width);
  }
};

/** An arrow up in every cell: which way the nap of the cloth lies. */
const arrows: Draw = (pen, weight) => {
  checks(pen);
  pen.strokeStyle = SUMAC;
  pen.lineWidth = 7 * weight;
  pen.lineCap = "round";
  eachCell((x, y) => {
    const middle = x + CELL / 2;
    pen.beginPath();
    pen.moveTo(middle, y + 0.82 * CELL);
    pen.lineTo(middle, y + 0.2 * CELL);
    pen.moveTo(middle - 0.2 * CELL, y + 0.42 * CELL);
    pen.lineTo(middle, y + 0.2 * CELL);
    pen.lineTo(middle + 0.2 * CELL, y + 0.42 * CELL);
    pen.stroke();
  });
};

/** From dark at the foot of the tile to light at its head. */
const gradient: Draw = (pen) => {
  const ramp = pen.createLinearGradient(0, SIDE, 0, 0);
  ramp.addColorStop(0, INDIGO);
  ramp.addColorStop(1, PAPER);
  pen.fillStyle = ramp;
  pen.fillRect(0, 0, SIDE, SIDE);
};

/** Numbers from 0 to 1 that are the same every time. */
function scattered(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

/** Specks: seams show where they do not go on. */
const noise: Draw = (pen, weight) => {
  const next = scattered(7);
  pen.fillStyle = LINEN;
  pen.fillRect(0, 0, SIDE, SIDE);
  for (let k = 0; k < 5000; k++) {
    pen.fillStyle = next() < 0.5 ? `${PAPER}cc` : `${INK}55`;
    const size = (2 + 8 * next()) * weight;
    pen.fillRect(next() * SIDE, next() * SIDE, size, size);
  }
};

/** Stripes up the tile, two to a cell. */
const stripes: Draw = (pen, weight) => {
  pen.fillStyle = PAPER;
  pen.fillRect(0, 0, SIDE, SIDE);
  pen.fillStyle = INDIGO;
  const width = (0.16 + 0.06 * weight) * CELL;
  for (let k = 0; k < 2 * CELLS; k++) pen.fillRect((k * CELL) / 2, 0, width, SIDE);
};

/** Strokes of a brush along v. */
const strokes: Draw = (pen, weight) => {
  const next = scattered(11);
  pen.fillStyle = "#c9b98f";
  pen.fillRect(0, 0, SIDE, SIDE);
  for (let k = 0; k < 2600; k++) {
    pen.fillStyle = next() < 0.5 ? `${PAPER}77` : `${INK}2e`;
    const [x, y, length] = [next() * SIDE, next() * SIDE, (0.4 + next()) * CELL];
    const width = (1 + 3 * next()) * weight;
    pen.fillRect(x, y, width, length);
    // What leaves the tile at its foot comes in again at its head.
    pen.fillRect(x, y - SIDE, width, length);
  }
};

/** The number of every tile of ten by ten, each in a field of its own; the shader takes the field of the tile. */
const tiles: Draw = (pen, weight) => {
  const field = (2 * SIDE) / TILES_ACROSS;
  pen.textAlign = "center";
  pen.textBaseline = "middle";
  pen.font = `600 ${field * 0.3}px "Figtree Variable", sans-serif`;
  for (let row = 0; row < TILES_ACROSS; row++)
    for (let column = 0; column < TILES_ACROSS; column++) {
      const [x, y] = [column * field, 2 * SIDE - (row + 1) * field];
      pen.fillStyle = (row + column) % 2 ? LINEN : PAPER;
      pen.fillRect(x, y, field, field);
      pen.strokeStyle = `${INK}55`;
      pen.lineWidth = 2 * weight;
      pen.strokeRect(x + weight, y + weight, field - 2 * weight, field - 2 * weight);
      pen.fillStyle = (row + column) % 2 ? INDIGO : SUMAC;
      pen.fillText(String(1001 + column + 10 * row), x + field / 2, y + field / 2);
    }
};

/** How every pattern is drawn. */
export const PATTERNS: Readonly<Record<SwatchId, Draw>> = {
  letters,
  checks: (pen) => checks(pen, PAPER, INK),
  circles,
  grid,
  arrows,
  stripes,
  gradient,
  noise,
  strokes,
  tiles,
};

/** A texture of a canvas that stands again and again, in all tiles. */
function repeated(canvas: HTMLCanvasElement): Texture {
  const texture = new CanvasTexture(canvas);
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.anisotropy = 8;
  texture.generateMipmaps = true;
  return texture;
}

function canvasOf(side: number): HTMLCanvasElement {
  const canvas = document.createElement("canvas");
  canvas.width = side;
  canvas.height = side;
  return canvas;
}

/** A picture of the library, drawn into a square of texels; fails where it cannot be shown. */
export async function drawPicture(id: string, pen: Pen, side: number): Promise<void> {
  const response = await fetch(`/api/pictures/${encodeURIComponent(id)}`);
  if (!response.ok) throw new Error("The picture is not there.");
  const bitmap = await createImageBitmap(await response.blob());
  pen.drawImage(bitmap, 0, 0, side, side);
  bitmap.close();
}

/**
 * A swatch as a texture.
 *
 * @param weight how heavy its lines are; 1 is fine
 * @param changed called when a picture has arrived; until then it is plain
 */
export function swatchTexture(id: SwatchId | OwnSwatch, weight: number, changed: () => void): Texture {
  const picture = pictureOfSwatch(id);
  const canvas = canvasOf(id === "tiles" ? 2 * SIDE : SIDE);
  const pen = canvas.getContext("2d")!;
  const texture = repeated(canvas);
  if (picture === null) {
    PATTERNS[id as SwatchId](pen, weight);
    return texture;
  }
  pen.fillStyle = PAPER;
  pen.fillRect(0, 0, SIDE, SIDE);
  drawPicture(picture, pen, SIDE).then(
    () => {
      texture.needsUpdate = true;
      changed();
    },
    // One that was deleted meanwhile stays plain.
    () => {},
  );
  return texture;
}
