/** A shell to be placed, as flat UV lists. */
export interface Item {
  /** 6 per triangle. */
  readonly triangles: Float64Array;
  /** 4 per border edge. */
  readonly outline: Float64Array;
  /** It is not turned, whatever may be. */
  readonly stands?: boolean;
}

/** Cells of a grid a shell touches, and cells nearer to it than the padding; both in one frame of w x h cells. */
export interface Mask {
  readonly w: number;
  readonly h: number;
  /** Cells between the frame and the shell's own box, on every side. */
  readonly pad: number;
  readonly body: Uint8Array;
  readonly grown: Uint8Array;
}

/** A margin against rounding, in cells: a shell that ends on a cell's border touches both cells. */
const TOUCH = 1e-7;

interface Bounds {
  readonly u0: number;
  readonly v0: number;
  readonly u1: number;
  readonly v1: number;
}

const bounds = new WeakMap<Item, Bounds>();

/** The box about a shell. */
export function boundsOf(item: Item): Bounds {
  let known = bounds.get(item);
  if (!known) {
    known = boxAbout(item);
    bounds.set(item, known);
  }
  return known;
}

function boxAbout(item: Item): Bounds {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  const { triangles: q } = item;
  for (let i = 0; i < q.length; i += 2) {
    if (q[i]! < u0) u0 = q[i]!;
    if (q[i]! > u1) u1 = q[i]!;
    if (q[i + 1]! < v0) v0 = q[i + 1]!;
    if (q[i + 1]! > v1) v1 = q[i + 1]!;
  }
  return { u0, v0, u1, v1 };
}

/**
 * Rasterises a shell so that no touched cell is missed: two shells whose body cells keep out of one another's grown
 * cells are at least the padding apart.
 *
 * @param scale cells per UV unit
 * @param padding in cells
 * @param shift of the shell's lower left corner within its cell, 0 to 1, for one that stays where it lies
 */
export function rasterise(item: Item, scale: number, padding: number, shift: readonly [number, number] = [0, 0]): Mask {
  const frame = frameOf(item, scale, padding, shift);
  const { w, h, pad, x, y } = frame;
  const body = new Uint8Array(w * h);
  if (isOneSided(item)) {
    fillInside(body, frame, item.outline);
    growOutline(body, frame, item.outline, 0, WHOLE);
  } else {
    const span = new Span();
    const { triangles: q } = item;
    for (let i = 0; i < q.length; i += 6)
      touchTriangle(body, w, h, span, x(q[i]!), y(q[i + 1]!), x(q[i + 2]!), y(q[i + 3]!), x(q[i + 4]!), y(q[i + 5]!));
  }
  const grown = body.slice();
  growOutline(grown, frame, item.outline, padding, WHOLE);
  return { w, h, pad, body, grown };
}

/**
 * Cells whose middles lie on a shell or nearer to it than some reach: as large as the shell grown by it, but for rounding to
 * both sides. Shells of which these keep apart may lie a little nearer than twice the reach, or farther.
 *
 * @param scale cells per UV unit @param reach in cells @param shift as for rasterise
 */
export function rasteriseMiddles(
  item: Item,
  scale: number,
  reach: number,
  shift: readonly [number, number] = [0, 0],
): Mask {
  if (!isOneSided(item)) {
    const { grown, ...frame } = rasterise(item, scale, reach, shift);
    return { ...frame, body: grown, grown };
  }
  const frame = frameOf(item, scale, reach, shift);
  const { w, h, pad } = frame;
  const cells = new Uint8Array(w * h);
  fillInside(cells, frame, item.outline);
  growOutline(cells, frame, item.outline, reach, 0);
  return { w, h, pad, body: cells, grown: cells };
}

/** The frame of cells about a shell, and where its points lie there. */
interface ShellFrame extends Pick<Mask, "w" | "h" | "pad"> {
  readonly x: (u: number) => number;
  readonly y: (v: number) => number;
}

function frameOf(item: Item, scale: number, reach: number, [right, up]: readonly [number, number]): ShellFrame {
  const { u0, v0, u1, v1 } = boundsOf(item);
  const pad = Math.ceil(reach) + 1;
  return {
    w: Math.floor((u1 - u0) * scale + right + TOUCH) + 1 + 2 * pad,
    h: Math.floor((v1 - v0) * scale + up + TOUCH) + 1 + 2 * pad,
    pad,
    x: (u) => (u - u0) * scale + pad + right,
    y: (v) => (v - v0) * scale + pad + up,
  };
}

const oneSided = new WeakMap<Item, boolean>();

/**
 * Whether all triangles of a shell show the same side, and its border runs round them all. A point is then covered as
 * often as the border winds round it, so that the border tells which cells are covered, at a fraction of the time that
 * all triangles take.
 */
function isOneSided(item: Item): boolean {
  let known = oneSided.get(item);
  if (known === undefined) {
    const { triangles: q, outline: o } = item;
    let [left, right, around] = [0, 0, 0];
    for (let i = 0; i < q.length; i += 6) {
      const twice = (q[i + 2]! - q[i]!) * (q[i + 5]! - q[i + 1]!) - (q[i + 4]! - q[i]!) * (q[i + 3]! - q[i + 1]!);
      if (twice > 0) left += twice;
      else right -= twice;
    }
    const [u, v] = [o[0] ?? 0, o[1] ?? 0];
    for (let i = 0; i < o.length; i += 4) around += (o[i]! - u) * (o[i + 3]! - v) - (o[i + 2]! - u) * (o[i + 1]! - v);
    // A border that is not as it should be, as one whose holes run the wrong way round, tells another area.
    known = (left === 0) !== (right === 0) && Math.abs(around - (left - right)) <= 1e-9 * (left + right);
    oneSided.set(item, known);
  }
  return known;
}

/** Marks the cells whose middles the border winds round. */
function fillInside(body: Uint8Array, { w, h, x, y }: ShellFrame, outline: Float64Array): void {
  // Where the border crosses the middle of a row, and whether upwards, by row.
  const start = new Uint32Array(h + 2);
  const rows = (i: number): [number, number] => {
    const [a, b] = [y(outline[i + 1]!), y(outline[i + 3]!)];
    return [Math.max(0, Math.ceil(Math.min(a, b) - 0.5)), Math.min(h, Math.ceil(Math.max(a, b) - 0.5))];
  };
  for (let i = 0; i < outline.length; i += 4) {
    const [from, to] = rows(i);
    for (let row = from; row < to; row++) start[row + 1]!++;
  }
  for (let row = 0; row < h; row++) start[row + 1]! += start[row]!;
  const crossings = new Float64Array(start[h]!);
  const ways = new Int8Array(start[h]!);
  const fill = start.slice();
  for (let i = 0; i < outline.length; i += 4) {
    const [ax, ay, bx, by] = [x(outline[i]!), y(outline[i + 1]!), x(outline[i + 2]!), y(outline[i + 3]!)];
    const [from, to] = rows(i);
    for (let row = from; row < to; row++) {
      const at = fill[row]!++;
      crossings[at] = ax + ((row + 0.5 - ay) / (by - ay)) * (bx - ax);
      ways[at] = by > ay ? 1 : -1;
    }
  }
  for (let row = 0; row < h; row++) {
    const [from, to] = [start[row]!, start[row + 1]!];
    // Few to a row: sorted as they are put in.
    for (let k = from + 1; k < to; k++)
      for (let j = k; j > from && crossings[j - 1]! > crossings[j]!; j--) {
        [crossings[j - 1], crossings[j]] = [crossings[j]!, crossings[j - 1]!];
        [ways[j - 1], ways[j]] = [ways[j]!, ways[j - 1]!];
      }
    let winding = 0;
    for (let k = from; k + 1 < to; k++) {
      winding += ways[k]!;
      if (!winding) continue;
      const first = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const end = Math.min(w, Math.ceil(crossings[k + 1]! - 0.5));
      if (end > first) body.fill(1, row * w + first, row * w + end);
    }
  }
}

/** Marks the cells that a triangle touches. */
function touchTriangle(
  body: Uint8Array,
  w: number,
  h: number,
  span: Span,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
): void {
  const first = Math.floor(Math.min(ay, by, cy) - TOUCH);
  const last = Math.floor(Math.max(ay, by, cy) + TOUCH);
  for (let row = first; row <= last; row++) {
    span.begin(row - TOUCH, row + 1 + TOUCH);
    span.edge(ax, ay, bx, by);
    span.edge(bx, by, cx, cy);
    span.edge(cx, cy, ax, ay);
    span.fill(body, row, w, h);
  }
}

/** Half the side of a square about a cell's middle that is the cell, a little more than it is. */
const WHOLE = 0.5 + TOUCH;

/** Marks the cells that meet the stadiums of radius r about all edges of an outline. */
function growOutline(cells: Uint8Array, { w, h, x, y }: ShellFrame, o: Float64Array, r: number, half: number): void {
  for (let i = 0; i < o.length; i += 4)
    growEdge(cells, w, h, x(o[i]!), y(o[i + 1]!), x(o[i + 2]!), y(o[i + 3]!), r, half);
}

/**
 * Marks the cells that meet the stadium of radius r about segment a-b.
 *
 * @param half of a cell, what has to meet it: half the side of a square about its middle
 */
function growEdge(
  cells: Uint8Array,
  w: number,
  h: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  r: number,
  half: number,
): void {
  if (ay > by || (ay === by && ax > bx)) {
    growEdge(cells, w, h, bx, by, ax, ay, r, half);
    return;
  }
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.hypot(dx, dy);
  // Where its straight sides begin: as far from a on the left as on the right, the other way.
  const [nx, ny] = length ? [(r * dy) / length, (r * dx) / length] : [r, 0];
  const slope = dy ? dx / dy : 0;
  const [leftmost, rightmost] = dx > 0 ? [ay, by] : [by, ay];
  const first = Math.max(0, Math.ceil(ay - r - 0.5 - half));
  const last = Math.min(h - 1, Math.floor(by + r - 0.5 + half));
  for (let row = first; row <= last; row++) {
    const low = Math.max(row + 0.5 - half, ay - r);
    const high = Math.min(row + 0.5 + half, by + r);
    // It is convex: in a band it reaches farthest where it does of all, or as near to there as the band goes.
    const yl = Math.max(low, Math.min(high, leftmost));
    const yr = Math.max(low, Math.min(high, rightmost));
    const left =
      yl <= ay + ny
        ? ax - halfChord(r, yl - ay)
        : yl > by + ny
          ? bx - halfChord(r, yl - by)
          : ax - nx + (yl - ay - ny) * slope;
    const right =
      yr >= by - ny
        ? bx + halfChord(r, yr - by)
        : yr <= ay - ny
          ? ax + halfChord(r, yr - ay)
          : ax + nx + (yr - ay + ny) * slope;
    const end = row * w + Math.min(w, Math.floor(right - 0.5 + half) + 1);
    for (let at = row * w + Math.max(0, Math.ceil(left - 0.5 - half)); at < end; at++) cells[at] = 1;
  }
}

/** Half of what a line cuts of a disc, at a distance from its middle. */
const halfChord = (r: number, d: number): number => Math.sqrt(Math.max(0, r * r - d * d));

/** The extent in x of a convex shape within one band of y. */
class Span {
  private low = 0;
  private high = 0;
  private y0 = 0;
  private y1 = 0;

  begin(y0: number, y1: number): void {
    this.y0 = y0;
    this.y1 = y1;
    this.low = Infinity;
    this.high = -Infinity;
  }

  private include(x: number): void {
    if (x < this.low) this.low = x;
    if (x > this.high) this.high = x;
  }

  /** The part of an edge that lies in the band. */
  edge(ax: number, ay: number, bx: number, by: number): void {
    const { y0, y1 } = this;
    if ((ay < y0 && by < y0) || (ay > y1 && by > y1)) return;
    if (ay >= y0 && ay <= y1) this.include(ax);
    if (by >= y0 && by <= y1) this.include(bx);
    if (ay < y0 !== by < y0) this.include(ax + ((y0 - ay) / (by - ay)) * (bx - ax));
    if (ay > y1 !== by > y1) this.include(ax + ((y1 - ay) / (by - ay)) * (bx - ax));
  }

  fill(mask: Uint8Array, row: number, w: number, h: number): void {
    if (this.high < this.low || row < 0 || row >= h) return;
    const from = Math.max(0, Math.floor(this.low - TOUCH));
    const to = Math.min(w, Math.floor(this.high + TOUCH) + 1);
    mask.fill(1, row * w + from, row * w + to);
  }
}
