/** Samples per tile side, for covered and overlapping area. */
const SAMPLES = 4096;
/** Beyond so many samples in all, or so many visits of them, fewer are taken per tile. */
const BUDGET = 16 * SAMPLES ** 2;
/** Tiles beyond which a layout is no layout in tiles: it is looked at through one window. */
const MANY_TILES = 1024;

export interface Coverage {
  /** Tiles with anything in them; null for a layout too wide to count. */
  readonly tiles: number | null;
  readonly coveredArea: number;
  /** Covered area by tiles; null with no count of tiles. */
  readonly coverage: number | null;
  /** Area covered by more than one triangle by covered area. */
  readonly overlapShare: number;
}

/**
 * Covered and overlapping area of UV triangles, counted on a grid of sample points. A sample on an edge belongs to one
 * of its triangles only. A layout over many tiles (not packed yet) is sampled in one window around it all.
 *
 * @param q 6 per triangle
 */
export function coverageOf(q: Float64Array): Coverage {
  const tiles = tilesTouched(q);
  const counter = new Counter();
  let samples = SAMPLES;
  if (!tiles || tiles.length > MANY_TILES) {
    const [u0, v0, u1, v1] = boundsOf(q);
    const side = Math.max(u1 - u0, v1 - v0) || 1;
    counter.count(q, u0, v0, SAMPLES / side, SAMPLES);
    samples = SAMPLES / side;
  } else {
    // Shells that lie on one another are visited each: a hundred over a whole tile cost as much as a hundred tiles.
    const visited = Math.max(tiles.length, areaOf(q));
    while (visited * samples ** 2 > BUDGET && samples > 64) samples /= 2;
    const lists = byTile(q, tiles);
    for (const [i, [u, v]] of tiles.entries()) counter.count(lists[i]!, u, v, samples, samples);
  }
  const used = tiles ? (tiles.length > MANY_TILES ? tiles.length : counter.used) : null;
  const coveredArea = counter.covered / samples ** 2;
  return {
    tiles: used,
    coveredArea,
    coverage: used ? coveredArea / used : null,
    overlapShare: counter.covered ? counter.multiple / counter.covered : 0,
  };
}

function areaOf(q: Float64Array): number {
  let area = 0;
  for (let i = 0; i < q.length; i += 6)
    area += Math.abs((q[i + 2]! - q[i]!) * (q[i + 5]! - q[i + 1]!) - (q[i + 4]! - q[i]!) * (q[i + 3]! - q[i + 1]!)) / 2;
  return area;
}

/** The triangles that meet each tile, so that a tile does not look at all of them. */
function byTile(q: Float64Array, tiles: ReadonlyArray<[number, number]>): Float64Array[] {
  if (tiles.length === 1) return [q];
  const place = new Map(tiles.map(([u, v], i) => [`${u},${v}`, i]));
  const counts = new Uint32Array(tiles.length);
  const visit = (act: (tile: number, triangle: number) => void) => {
    for (let i = 0; i < q.length; i += 6) {
      const [u0, v0, u1, v1] = tilesOf(q, i);
      for (let u = u0; u <= u1; u++)
        for (let v = v0; v <= v1; v++) {
          const tile = place.get(`${u},${v}`);
          if (tile !== undefined) act(tile, i);
        }
    }
  };
  visit((tile) => counts[tile]!++);
  const out = Array.from(counts, (n) => new Float64Array(6 * n));
  counts.fill(0);
  visit((tile, i) => out[tile]!.set(q.subarray(i, i + 6), 6 * counts[tile]!++));
  return out;
}

/** First and last tiles that a triangle's box meets. */
function tilesOf(q: Float64Array, i: number): [number, number, number, number] {
  const u0 = Math.floor(Math.min(q[i]!, q[i + 2]!, q[i + 4]!));
  const v0 = Math.floor(Math.min(q[i + 1]!, q[i + 3]!, q[i + 5]!));
  const u1 = Math.max(u0, Math.ceil(Math.max(q[i]!, q[i + 2]!, q[i + 4]!)) - 1);
  const v1 = Math.max(v0, Math.ceil(Math.max(q[i + 1]!, q[i + 3]!, q[i + 5]!)) - 1);
  return [u0, v0, u1, v1];
}

function boundsOf(q: Float64Array): [number, number, number, number] {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < q.length; i += 2) {
    u0 = Math.min(u0, q[i]!);
    u1 = Math.max(u1, q[i]!);
    v0 = Math.min(v0, q[i + 1]!);
    v1 = Math.max(v1, q[i + 1]!);
  }
  return [u0, v0, u1, v1];
}

/** Unit squares met by the triangles' boxes; nothing where a single box is absurdly wide. */
function tilesTouched(q: Float64Array): Array<[number, number]> | null {
  const seen = new Map<string, [number, number]>();
  let last = "";
  for (let i = 0; i < q.length; i += 6) {
    const [u0, v0, u1, v1] = tilesOf(q, i);
    if ((u1 - u0 + 1) * (v1 - v0 + 1) > 4096) return null;
    // Most triangles lie in one tile, and in that of the one before.
    const key = `${u0},${v0},${u1},${v1}`;
    if (key === last) continue;
    last = key;
    for (let u = u0; u <= u1; u++) for (let v = v0; v <= v1; v++) seen.set(`${u},${v}`, [u, v]);
    if (seen.size > 100_000) return null;
  }
  return [...seen.values()];
}

class Counter {
  covered = 0;
  multiple = 0;
  used = 0;
  private grid = new Uint8Array(0);

  /** Counts the samples of one square of the plane, `size` a side, `scale` samples per UV unit. */
  count(q: Float64Array, u0: number, v0: number, scale: number, size: number): void {
    if (this.grid.length === size * size) this.grid.fill(0);
    else this.grid = new Uint8Array(size * size);
    const { grid } = this;
    let covered = 0;
    let multiple = 0;
    const limit = (x: number) => (x < 0 ? 0 : x > size ? size : x);
    for (let i = 0; i < q.length; i += 6) {
      let ax = (q[i]! - u0) * scale;
      let ay = (q[i + 1]! - v0) * scale;
      let bx = (q[i + 2]! - u0) * scale;
      let by = (q[i + 3]! - v0) * scale;
      let cx = (q[i + 4]! - u0) * scale;
      let cy = (q[i + 5]! - v0) * scale;
      // By height, then by x, so that both triangles of an edge compute its crossings alike.
      if (by < ay || (by === ay && bx < ax)) [ax, ay, bx, by] = [bx, by, ax, ay];
      if (cy < ay || (cy === ay && cx < ax)) [ax, ay, cx, cy] = [cx, cy, ax, ay];
      if (cy < by || (cy === by && cx < bx)) [bx, by, cx, cy] = [cx, cy, bx, by];
      const first = limit(Math.ceil(ay - 0.5));
      const middle = limit(Math.ceil(by - 0.5));
      const last = limit(Math.ceil(cy - 0.5));
      for (let row = first; row < last; row++) {
        const y = row + 0.5;
        const x1 = ax + (y - ay) * ((cx - ax) / (cy - ay));
        const x2 = row < middle ? ax + (y - ay) * ((bx - ax) / (by - ay)) : bx + (y - by) * ((cx - bx) / (cy - by));
        const c1 = limit(Math.ceil(x1 - 0.5));
        const c2 = limit(Math.ceil(x2 - 0.5));
        const from = row * size + Math.min(c1, c2);
        const to = row * size + Math.max(c1, c2);
        for (let at = from; at < to; at++) {
          const n = grid[at]!;
          if (n === 0) covered++;
          else if (n === 1) multiple++;
          else continue;
          grid[at] = n + 1;
        }
      }
    }
    this.covered += covered;
    this.multiple += multiple;
    if (covered) this.used++;
  }
}
