const GAP = 0.02;

/**
 * Lays shells in rows: beside what is there, or into the first tile when nothing is. Points come in world lengths.
 *
 * @param density UV length per world length; null to fill the first tile
 * @param beside right and lower edge of what is there; null when nothing is
 */
export function parkBeside(
  shells: readonly Float64Array[],
  density: number | null,
  beside: { u1: number; v0: number } | null,
): Float64Array[] {
  const boxes = shells.map(boxOf);
  let scale = density ?? 0;
  if (!density) {
    scale = Math.sqrt(0.6 / (boxes.reduce((sum, b) => sum + b.w * b.h, 0) || 1));
    while (rows(boxes, scale, 1).height > 1 && scale > 1e-12) scale *= 0.93;
  }
  const { corners } = rows(boxes, scale, 1);
  const du = beside ? Math.ceil(beside.u1) + 0.05 : 0;
  const dv = beside ? beside.v0 : 0;
  return shells.map((uv, i) => {
    const out = new Float64Array(uv.length);
    for (let k = 0; k < uv.length; k += 2) {
      out[k] = (uv[k]! - boxes[i]!.u0) * scale + corners[i]![0] + du;
      out[k + 1] = (uv[k + 1]! - boxes[i]!.v0) * scale + corners[i]![1] + dv;
    }
    return out;
  });
}

interface BoxSize {
  u0: number;
  v0: number;
  w: number;
  h: number;
}

function boxOf(uv: Float64Array): BoxSize {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    u0 = Math.min(u0, uv[i]!);
    u1 = Math.max(u1, uv[i]!);
    v0 = Math.min(v0, uv[i + 1]!);
    v1 = Math.max(v1, uv[i + 1]!);
  }
  return { u0, v0, w: u1 - u0, h: v1 - v0 };
}

/** Shelves of a given width, the tallest shells first. */
function rows(boxes: readonly BoxSize[], scale: number, width: number) {
  const corners: Array<[number, number]> = new Array(boxes.length);
  let [u, v, tall, widest] = [GAP, GAP, 0, 0];
  for (const i of boxes.map((_, k) => k).sort((a, b) => boxes[b]!.h - boxes[a]!.h || a - b)) {
    const w = boxes[i]!.w * scale;
    if (u > GAP && u + w + GAP > width) {
      v += tall + GAP;
      u = GAP;
      tall = 0;
    }
    corners[i] = [u, v];
    u += w + GAP;
    widest = Math.max(widest, u);
    tall = Math.max(tall, boxes[i]!.h * scale);
  }
  return { corners, height: Math.max(v + tall + GAP, widest) };
}
