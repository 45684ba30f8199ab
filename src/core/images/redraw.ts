import type { Pixels } from "./pixels";

/** How an image is drawn for another layout. */
export interface Redraw {
  /** 12 a triangle: its three points (u, v) in the layout that the image was painted for, then in the new one. In tiles. */
  readonly triangles: Float64Array;
  /** The image holds directions in the surface (a normal map, green up): they turn with their shells. */
  readonly directions: boolean;
  /** Texels that are drawn on beyond the shells. */
  readonly bleed: number;
  /** Told the share done, often. @throws what ends the work */
  readonly report: (share: number) => void;
}

/** Rings beyond a shell that still take what the image had there; farther ones repeat their neighbours. */
const TAKEN_ON = 2;
/** Samples a side within one texel, at most: a shell that shrinks to less than a quarter loses some. */
const MOST_SAMPLES = 4;
/** Texels between the places that two triangles show at their common border, at most. */
const SAME_PLACE = 2;
/** Square texels: a triangle of less is none. */
const LEAST_AREA = 1e-9;
/** In place of the triangle that drew a texel: it is drawn with the next ring. */
const WAITING = -1;
/** Of a texel: by so little a triangle's border may be missed by rounding. */
const EDGE = 1e-6;

/**
 * Draws an image for a new layout: every texel whose centre lies in a triangle there takes what the image showed at the
 * same place of that triangle before, by bilinear interpolation, and the mean of several places where the shell became
 * smaller. Where texels are moved as a whole they stay what they were to the last bit. Shells are drawn on beyond their
 * borders; what is left has the mean colour of what is drawn, see-through where the image was see-through anywhere.
 *
 * Texture space and its texel centres: Heckbert, Fundamentals of Texture Mapping and Image Warping, 1989.
 *
 * @returns the image, of the same size and bits; and how many texels lie in more than one triangle that shows another place
 */
export function redrawn(image: Pixels, how: Redraw): { pixels: Pixels; contested: number } {
  const canvas = new Canvas(image, how);
  const count = how.triangles.length / 12;
  for (let t = 0; t < count; t++) {
    if (t % 64 === 0) how.report((0.7 * t) / count);
    canvas.draw(t);
  }
  canvas.drawOn();
  how.report(1);
  return { pixels: { width: image.width, height: image.height, data: canvas.out }, contested: canvas.contested };
}

class Canvas {
  readonly out: Pixels["data"];
  contested = 0;
  private readonly width: number;
  private readonly height: number;
  /** The triangle that drew a texel, counted from 1; 0 where none did. */
  private readonly owner: Int32Array;
  private readonly full: number;
  /** Of the triangle at hand: where in the image the texel (x, y) is taken from, m0 x + m1 y + m2 and m3 x + m4 y + m5. */
  private readonly map = new Float64Array(6);
  /** The turn of directions in it: cosine, sine, and -1 where it is mirrored. */
  private readonly turn = new Float64Array(3);
  private samples = 1;
  private prepared = -1;
  private hasArea = false;
  /** Its corners in texels. */
  private readonly xs = new Float64Array(3);
  private readonly ys = new Float64Array(3);
  private readonly source: Uint8Array | Uint16Array;
  // Where the image is looked at: the first of four texels, the ways to the others, and the place between them.
  private at = 0;
  private beside = 0;
  private below = 0;
  private fx = 0;
  private fy = 0;
  /** Texels that wait to be drawn beyond the shells, and a drawn one beside each. */
  private queue = new Int32Array(0);
  private near = new Int32Array(0);
  private queued = 0;
  private readonly colour = new Float64Array(4);

  constructor(
    image: Pixels,
    private readonly how: Redraw,
  ) {
    this.width = image.width;
    this.height = image.height;
    const length = image.data.length;
    const { data } = image;
    this.source = data instanceof Uint16Array ? data : new Uint8Array(data.buffer, data.byteOffset, data.length);
    this.full = image.data instanceof Uint16Array ? 65535 : 255;
    this.out = image.data instanceof Uint16Array ? new Uint16Array(length) : new Uint8Array(length);
    this.owner = new Int32Array(this.width * this.height);
  }

  /** Draws the texels whose centres lie in a triangle. */
  draw(t: number): void {
    if (!this.prepare(t)) return;
    const { triangles: p } = this.how;
    const { width: w, height: h, xs, ys } = this;
    for (let k = 0; k < 3; k++) {
      xs[k] = p[12 * t + 6 + 2 * k]! * w - 0.5;
      ys[k] = (1 - p[12 * t + 7 + 2 * k]!) * h - 0.5;
    }
    const top = Math.min(ys[0]!, ys[1]!, ys[2]!);
    const foot = Math.max(ys[0]!, ys[1]!, ys[2]!);
    const last = Math.min(h - 1, Math.floor(foot + EDGE));
    for (let row = Math.max(0, Math.ceil(top - EDGE)); row <= last; row++)
      this.drawRow(t, row, Math.min(Math.max(row, top), foot));
  }

  /** Draws a row of it. @param level the row, or the border of the triangle where it misses that by rounding */
  private drawRow(t: number, row: number, level: number): void {
    const { owner, xs, ys } = this;
    let least = Infinity;
    let most = -Infinity;
    for (let k = 0; k < 3; k++) {
      const j = (k + 1) % 3;
      const a = ys[k]!;
      const b = ys[j]!;
      if ((a > level && b > level) || (a < level && b < level)) continue;
      const x = a === b ? xs[k]! : xs[k]! + ((level - a) / (b - a)) * (xs[j]! - xs[k]!);
      const end = a === b ? xs[j]! : x;
      least = Math.min(least, x, end);
      most = Math.max(most, x, end);
    }
    const from = Math.max(0, Math.ceil(least - EDGE));
    const to = Math.min(this.width - 1, Math.floor(most + EDGE));
    const isPlain = this.samples === 1 && !this.how.directions;
    for (let x = from, i = row * this.width + from; x <= to; x++, i++) {
      if (owner[i]) this.compare(t, i, x, row);
      else {
        owner[i] = t + 1;
        if (isPlain) this.take(i, x, row);
        else this.mix(i, x, row);
      }
    }
  }

  /** A texel that is drawn already: the border of two triangles of one shell shows the same place, shells that lie on each other do not. */
  private compare(t: number, i: number, x: number, y: number): void {
    const m = this.map;
    const u = m[0]! * x + m[1]! * y + m[2]!;
    const v = m[3]! * x + m[4]! * y + m[5]!;
    this.prepare(this.owner[i]! - 1);
    const apart = Math.hypot(m[0]! * x + m[1]! * y + m[2]! - u, m[3]! * x + m[4]! * y + m[5]! - v);
    this.prepare(t);
    if (apart > SAME_PLACE) this.contested++;
  }

  /** Finds where texels of a triangle are taken from. @returns false for one without area */
  private prepare(t: number): boolean {
    if (t === this.prepared) return this.hasArea;
    this.prepared = t;
    const { triangles: p } = this.how;
    const { width: w, height: h, map } = this;
    const at = 12 * t;
    const ax = p[at + 6]! * w;
    const ay = -p[at + 7]! * h;
    const abx = p[at + 8]! * w - ax;
    const aby = -p[at + 9]! * h - ay;
    const acx = p[at + 10]! * w - ax;
    const acy = -p[at + 11]! * h - ay;
    const area = abx * acy - acx * aby;
    this.hasArea = Math.abs(area) >= LEAST_AREA;
    if (!this.hasArea) return false;
    for (let d = 0; d < 2; d++) {
      const size = d ? -h : w;
      const along = (p[at + 2 + d]! - p[at + d]!) * size;
      const across = (p[at + 4 + d]! - p[at + d]!) * size;
      const mx = (along * acy - across * aby) / area;
      const my = (across * abx - along * acx) / area;
      map[3 * d] = mx;
      map[3 * d + 1] = my;
      // From and to the middles of texels.
      const start = (d ? (1 - p[at + 1]!) * h : p[at]! * w) - 0.5;
      map[3 * d + 2] = start - mx * (ax - 0.5) - my * (ay + h - 0.5);
    }
    const shrinks = Math.max(Math.hypot(map[0]!, map[3]!), Math.hypot(map[1]!, map[4]!));
    this.samples = Math.min(MOST_SAMPLES, Math.max(1, Math.ceil(shrinks - 0.5)));
    if (this.how.directions) this.prepareTurn(map[0]!, map[1]!, map[3]!, map[4]!);
    return true;
  }

  /** The turn nearest to the map, the other way round: from the image as painted to the new one. */
  private prepareTurn(m0: number, m1: number, m3: number, m4: number): void {
    const mirrored = m0 * m4 - m1 * m3 < 0 ? -1 : 1;
    // Mirrored ones are turned after x is mirrored. Rows go down, v goes up.
    const [cos, sin] = [mirrored * m0 + m4, m3 - mirrored * m1];
    const length = Math.hypot(cos, sin) || 1;
    this.turn[0] = cos / length;
    this.turn[1] = sin / length;
    this.turn[2] = mirrored;
  }

  /** Draws a texel of the triangle at hand: what the image shows there, between its texels. */
  private take(i: number, x: number, y: number): void {
    this.look(this.map[0]! * x + this.map[1]! * y + this.map[2]!, this.map[3]! * x + this.map[4]! * y + this.map[5]!);
    const { out, source, at, beside, below, fx, fy } = this;
    for (let c = 0; c < 4; c++) {
      const first = source[at + c]!;
      const top = first + fx * (source[at + beside + c]! - first);
      const second = source[at + below + c]!;
      const low = second + fx * (source[at + below + beside + c]! - second);
      // Between numbers of the image it is within their range.
      out[4 * i + c] = top + fy * (low - top) + 0.5;
    }
  }

  /** The same where it is the mean of several places, or holds directions. */
  private mix(i: number, x: number, y: number): void {
    const { samples: n, colour, map: m, source } = this;
    colour.fill(0);
    for (let k = 0; k < n * n; k++) {
      const px = x + ((k % n) + 0.5) / n - 0.5;
      const py = y + (Math.floor(k / n) + 0.5) / n - 0.5;
      this.look(m[0]! * px + m[1]! * py + m[2]!, m[3]! * px + m[4]! * py + m[5]!);
      const { at, beside, below, fx, fy } = this;
      for (let c = 0; c < 4; c++) {
        const first = source[at + c]!;
        const top = first + fx * (source[at + beside + c]! - first);
        const second = source[at + below + c]!;
        const low = second + fx * (source[at + below + beside + c]! - second);
        colour[c]! += (top + fy * (low - top)) / (n * n);
      }
    }
    if (this.how.directions) this.turnDirection();
    for (let c = 0; c < 4; c++) this.out[4 * i + c] = Math.min(this.full, Math.max(0, colour[c]! + 0.5));
  }

  /** Finds the four texels of the image about a place, and where between them it lies; beyond its borders they repeat. */
  private look(x: number, y: number): void {
    const w = this.width;
    const h = this.height;
    const cx = x < 0 ? 0 : x > w - 1 ? w - 1 : x;
    const cy = y < 0 ? 0 : y > h - 1 ? h - 1 : y;
    const x0 = Math.floor(cx);
    const y0 = Math.floor(cy);
    this.at = 4 * (y0 * w + x0);
    this.beside = x0 + 1 < w ? 4 : 0;
    this.below = y0 + 1 < h ? 4 * w : 0;
    this.fx = cx - x0;
    this.fy = cy - y0;
  }

  private turnDirection(): void {
    const { colour, full, turn } = this;
    const half = full / 2;
    const [x, y] = [turn[2]! * (colour[0]! - half), colour[1]! - half];
    colour[0] = half + turn[0]! * x - turn[1]! * y;
    colour[1] = half + turn[1]! * x + turn[0]! * y;
  }

  /** Draws on beyond the shells ring by ring, each texel from one of the ring before, then fills what is left. */
  drawOn(): void {
    const { width: w, owner } = this;
    let left = 0;
    for (let i = 0; i < owner.length; i++) if (owner[i] === 0) left++;
    this.queue = new Int32Array(left);
    this.near = new Int32Array(left);
    for (let i = 0; i < owner.length; i++) if (owner[i]! > 0) this.reach(i);
    let first = 0;
    for (let ring = 0; ring < this.how.bleed && first < this.queued; ring++) {
      this.how.report(0.7 + (0.25 * ring) / this.how.bleed);
      const last = this.queued;
      for (let k = first; k < last; k++) {
        const i = this.queue[k]!;
        this.drawFrom(i, this.near[k]!, ring < TAKEN_ON, i % w);
        this.reach(i);
      }
      first = last;
    }
    this.fillRest();
  }

  /** Lets the texels beside a drawn one that are not drawn yet wait for the next ring. */
  private reach(i: number): void {
    const { width: w, owner } = this;
    const x = i % w;
    if (x > 0 && owner[i - 1] === 0) this.wait(i - 1, i);
    if (x + 1 < w && owner[i + 1] === 0) this.wait(i + 1, i);
    if (i >= w && owner[i - w] === 0) this.wait(i - w, i);
    if (i + w < owner.length && owner[i + w] === 0) this.wait(i + w, i);
  }

  private wait(i: number, near: number): void {
    this.owner[i] = WAITING;
    this.queue[this.queued] = i;
    this.near[this.queued++] = near;
  }

  /** Draws a texel beyond a shell: what the image shows there, or what its neighbour has. */
  private drawFrom(i: number, near: number, taken: boolean, x: number): void {
    const { owner, out } = this;
    owner[i] = owner[near]!;
    if (taken) {
      this.prepare(owner[i]! - 1);
      this.mix(i, x, (i - x) / this.width);
    } else for (let c = 0; c < 4; c++) out[4 * i + c] = out[4 * near + c]!;
  }

  private fillRest(): void {
    const { owner, out, full } = this;
    const sum = new Float64Array(3);
    let [drawn, clear] = [0, false];
    for (let i = 0; i < owner.length; i++) {
      if (this.source[4 * i + 3]! < full) clear = true;
      if (owner[i]! <= 0) continue;
      drawn++;
      for (let c = 0; c < 3; c++) sum[c]! += out[4 * i + c]!;
    }
    const mean = Array.from(sum, (x) => (drawn ? Math.round(x / drawn) : 0));
    const rest = this.how.directions ? [(full + 1) / 2, (full + 1) / 2, full, full] : [...mean, clear ? 0 : full];
    for (let i = 0; i < owner.length; i++) if (owner[i]! <= 0) for (let c = 0; c < 4; c++) out[4 * i + c] = rest[c]!;
  }
}
