/** A region of a pane, in pixels from its top left. */
export interface Region {
  /** Left, top, right and bottom of the box about it. */
  readonly box: readonly [number, number, number, number];
  /** Faces that it touches are meant, however little: as under a brush. Else those that lie in it with more than half. */
  readonly touching?: true;
  has(x: number, y: number): boolean;
}

export const boxRegion = (ax: number, ay: number, bx: number, by: number): Region => {
  const box = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)] as const;
  return { box, has: (x, y) => x >= box[0] && x <= box[2] && y >= box[1] && y <= box[3] };
};

export const discRegion = (cx: number, cy: number, radius: number): Region => ({
  box: [cx - radius, cy - radius, cx + radius, cy + radius],
  touching: true,
  has: (x, y) => (x - cx) * (x - cx) + (y - cy) * (y - cy) <= radius * radius,
});

/**
 * What a closed line runs around, by pixels: filled once, so that asking costs the same however long the line is. Where it
 * crosses itself, what it runs around an even number of times is outside.
 *
 * @param line points, x and y of each
 */
export function lassoRegion(line: ReadonlyArray<readonly [number, number]>): Region {
  const xs = line.map((p) => p[0]);
  const ys = line.map((p) => p[1]);
  const left = Math.floor(Math.min(...xs));
  const top = Math.floor(Math.min(...ys));
  const width = Math.max(1, Math.ceil(Math.max(...xs)) - left + 1);
  const height = Math.max(1, Math.ceil(Math.max(...ys)) - top + 1);
  const inside = new Uint8Array(width * height);
  const crossings: number[] = [];
  for (let row = 0; row < height; row++) {
    const y = top + row + 0.5;
    crossings.length = 0;
    for (let k = 0; k < line.length; k++) {
      const [ax, ay] = line[k]!;
      const [bx, by] = line[(k + 1) % line.length]!;
      if (ay <= y !== by <= y) crossings.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! - left - 0.5));
      const to = Math.min(width, Math.ceil(crossings[k + 1]! - left - 0.5));
      inside.fill(1, row * width + from, row * width + Math.max(from, to));
    }
  }
  return {
    box: [left, top, left + width, top + height],
    has(x, y) {
      const [column, row] = [Math.floor(x) - left, Math.floor(y) - top];
      return column >= 0 && row >= 0 && column < width && row < height && inside[row * width + column] === 1;
    },
  };
}
