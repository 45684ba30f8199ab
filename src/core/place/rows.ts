import type { SheetBox } from "./box";

/** By how much something is moved, u and v. */
export type Shift = readonly [du: number, dv: number];

export const EDGES = ["left", "middle across", "right", "bottom", "middle upright", "top"] as const;
export type AlignedBy = (typeof EDGES)[number];

/** Moves by which boxes come to have one edge or middle in common with a box about them. */
export function aligned(boxes: readonly SheetBox[], by: AlignedBy, to: SheetBox): Shift[] {
  const place: Record<AlignedBy, (b: SheetBox) => number> = {
    left: (b) => b.u0,
    "middle across": (b) => (b.u0 + b.u1) / 2,
    right: (b) => b.u1,
    bottom: (b) => b.v0,
    "middle upright": (b) => (b.v0 + b.v1) / 2,
    top: (b) => b.v1,
  };
  const isAcross = by === "left" || by === "middle across" || by === "right";
  return boxes.map((box) => {
    const move = place[by](to) - place[by](box);
    return isAcross ? [move, 0] : [0, move];
  });
}

/**
 * Moves by which boxes come to lie in a row with gaps all alike, in the order in which they lie: between the first and the
 * last where no gap is given, else from the first on.
 */
export function spacedOut(boxes: readonly SheetBox[], along: "across" | "upright", gap: number | null): Shift[] {
  const d = along === "across" ? (["u0", "u1"] as const) : (["v0", "v1"] as const);
  const low = (b: SheetBox) => b[d[0]];
  const size = (b: SheetBox) => b[d[1]] - b[d[0]];
  const order = boxes.map((_, i) => i).sort((a, b) => low(boxes[a]!) - low(boxes[b]!) || a - b);
  const [first, last] = [boxes[order[0]!]!, boxes[order.at(-1)!]!];
  const sizes = order.reduce((sum, i) => sum + size(boxes[i]!), 0);
  const step = gap ?? (boxes.length > 1 ? (last[d[1]] - first[d[0]] - sizes) / (boxes.length - 1) : 0);
  const out: Shift[] = new Array(boxes.length);
  let at = first[d[0]];
  for (const i of order) {
    const move = at - low(boxes[i]!);
    out[i] = along === "across" ? [move, 0] : [0, move];
    at += size(boxes[i]!) + step;
  }
  return out;
}

/**
 * Moves by which boxes come to lie in rows from the upper left of where they are together, the tallest first; as wide as
 * that is, or as one tile.
 *
 * @param width of the rows @param gap between boxes
 */
export function inRows(boxes: readonly SheetBox[], from: SheetBox, width: number, gap: number): Shift[] {
  const tall = (b: SheetBox) => b.v1 - b.v0;
  const order = boxes.map((_, i) => i).sort((a, b) => tall(boxes[b]!) - tall(boxes[a]!) || a - b);
  const out: Shift[] = new Array(boxes.length);
  let [u, v, row] = [from.u0, from.v1, 0];
  for (const i of order) {
    const box = boxes[i]!;
    const wide = box.u1 - box.u0;
    if (u > from.u0 && u + wide > from.u0 + width * (1 + 1e-9)) {
      v -= row + gap;
      u = from.u0;
      row = 0;
    }
    out[i] = [u - box.u0, v - box.v1];
    u += wide + gap;
    row = Math.max(row, tall(box));
  }
  return out;
}

/** Where something stands on the model, as it is looked at: across and up. */
export type Stand = readonly [across: number, up: number];

/**
 * Moves by which boxes come to lie in rows as their shells stand on the model: the topmost in the first row, and in each
 * row from left to right. Rows are filled from the top, so that what is near on the model is near on the sheet.
 */
export function asOnModel(
  boxes: readonly SheetBox[],
  stands: readonly Stand[],
  from: SheetBox,
  width: number,
  gap: number,
): Shift[] {
  const order = boxes.map((_, i) => i).sort((a, b) => stands[b]![1] - stands[a]![1] || a - b);
  const out: Shift[] = new Array(boxes.length);
  let v = from.v1;
  for (let first = 0; first < order.length; ) {
    const row: number[] = [];
    let wide = -gap;
    for (let k = first; k < order.length; k++) {
      const own = boxes[order[k]!]!;
      const more = own.u1 - own.u0 + gap;
      if (row.length && wide + more > width * (1 + 1e-9)) break;
      row.push(order[k]!);
      wide += more;
    }
    first += row.length;
    row.sort((a, b) => stands[a]![0] - stands[b]![0] || a - b);
    let [u, tall] = [from.u0, 0];
    for (const i of row) {
      const box = boxes[i]!;
      out[i] = [u - box.u0, v - box.v1];
      u += box.u1 - box.u0 + gap;
      tall = Math.max(tall, box.v1 - box.v0);
    }
    v -= tall + gap;
  }
  return out;
}
