/** Words of a page: 2048 elements, so that a copy of one costs nothing worth telling. */
const WORDS = 64;
const SHIFT = 11;
const PER_PAGE = 32 * WORDS;

type Page = Uint32Array | null;
/** The page of a stretch that is picked whole; shared by all sets, never written. */
const FULL: Uint32Array = new Uint32Array(WORDS).fill(0xffffffff);

function bitsOf(word: number): number {
  let x = word - ((word >>> 1) & 0x55555555);
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
  return (((x + (x >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}

function countOf(page: Uint32Array): number {
  if (page === FULL) return PER_PAGE;
  let sum = 0;
  for (let w = 0; w < WORDS; w++) sum += bitsOf(page[w]!);
  return sum;
}

/**
 * Some of the elements 0 .. `universe` - 1 as an immutable value: one bit each, in pages that sets share as long as they
 * do not differ. Adding one element to a million copies a page of 256 bytes, a set that is kept to be stepped back to
 * costs what differs, and what differs between two sets is found by comparing pages.
 *
 * Source: J. R. Driscoll et al., Making data structures persistent (1989), copying along the path.
 */
export class ElementSet implements Iterable<number> {
  private constructor(
    /** How many elements there are to pick from. */
    readonly universe: number,
    /** How many are in the set. */
    readonly size: number,
    private readonly pages: readonly Page[],
  ) {}

  static none(universe: number): ElementSet {
    return new ElementSet(universe, 0, new Array<Page>(Math.ceil(universe / PER_PAGE)).fill(null));
  }

  static all(universe: number): ElementSet {
    const pages = new Array<Page>(Math.ceil(universe / PER_PAGE)).fill(FULL);
    const rest = universe % PER_PAGE;
    if (rest) {
      const last = new Uint32Array(WORDS);
      last.fill(0xffffffff, 0, rest >> 5);
      if (rest & 31) last[rest >> 5] = 2 ** (rest & 31) - 1;
      pages[pages.length - 1] = last;
    }
    return new ElementSet(universe, universe, pages);
  }

  /** @throws RangeError for an element that there is not */
  static of(universe: number, items: Iterable<number>): ElementSet {
    return ElementSet.none(universe).with(items);
  }

  /** Elements that are flagged, one flag each. In linear time. */
  static flagged(flags: Uint8Array): ElementSet {
    const pages: Page[] = new Array<Page>(Math.ceil(flags.length / PER_PAGE)).fill(null);
    let size = 0;
    for (let p = 0; p < pages.length; p++) {
      const end = Math.min(flags.length, (p + 1) * PER_PAGE);
      let page: Page = null;
      for (let i = p * PER_PAGE; i < end; i++) {
        if (flags[i] === 0) continue;
        page ??= new Uint32Array(WORDS);
        page[(i & (PER_PAGE - 1)) >>> 5]! |= 1 << (i & 31);
        size++;
      }
      pages[p] = page;
    }
    return new ElementSet(flags.length, size, pages);
  }

  has(i: number): boolean {
    const page = this.pages[i >>> SHIFT];
    return page ? ((page[(i & (PER_PAGE - 1)) >>> 5]! >>> (i & 31)) & 1) === 1 : false;
  }

  /** The set with some elements more. In the time of the elements and of the pages' list. */
  with(items: Iterable<number>): ElementSet {
    return this.changed(items, true);
  }

  without(items: Iterable<number>): ElementSet {
    return this.changed(items, false);
  }

  private changed(items: Iterable<number>, on: boolean): ElementSet {
    const pages = this.pages.slice();
    const own = new Uint8Array(pages.length);
    let { size } = this;
    for (const i of items) {
      if (!(i >= 0 && i < this.universe)) throw new RangeError(`There is no element ${i} of ${this.universe}.`);
      if (this.holds(pages, i) === on) continue;
      const p = i >>> SHIFT;
      if (!own[p]) {
        pages[p] = pages[p]?.slice() ?? new Uint32Array(WORDS);
        own[p] = 1;
      }
      pages[p]![(i & (PER_PAGE - 1)) >>> 5]! ^= 1 << (i & 31);
      size += on ? 1 : -1;
    }
    return size === this.size && !own.includes(1) ? this : new ElementSet(this.universe, size, pages);
  }

  private holds(pages: readonly Page[], i: number): boolean {
    const page = pages[i >>> SHIFT];
    return page ? ((page[(i & (PER_PAGE - 1)) >>> 5]! >>> (i & 31)) & 1) === 1 : false;
  }

  /** What is in either set. */
  union(other: ElementSet): ElementSet {
    return this.combined(other, (a, b) => a | b);
  }

  /** What is in this set and not in the other. */
  minus(other: ElementSet): ElementSet {
    return this.combined(other, (a, b) => a & ~b);
  }

  private combined(other: ElementSet, of: (a: number, b: number) => number): ElementSet {
    if (other.universe !== this.universe) throw new RangeError("The sets are of different elements.");
    let size = 0;
    const pages = this.pages.map((page, p) => {
      const with_ = other.pages[p] ?? null;
      if (!page && !with_) return null;
      const out = new Uint32Array(WORDS);
      for (let w = 0; w < WORDS; w++) out[w] = of(page ? page[w]! : 0, with_ ? with_[w]! : 0);
      const count = countOf(out);
      size += count;
      if (!count) return null;
      // A page that did not change stays the one that others share.
      return page && out.every((word, w) => word === page[w]) ? page : out;
    });
    return new ElementSet(this.universe, size, pages);
  }

  /** Calls `act` with every element, ascending. */
  each(act: (i: number) => void): void {
    this.pages.forEach((page, p) => {
      if (!page) return;
      for (let w = 0; w < WORDS; w++)
        for (let word = page[w]!; word; word &= word - 1) act(p * PER_PAGE + 32 * w + (31 - Math.clz32(word & -word)));
    });
  }

  /** All elements, ascending. */
  items(): Uint32Array {
    const out = new Uint32Array(this.size);
    let at = 0;
    this.each((i) => {
      out[at++] = i;
    });
    return out;
  }

  *[Symbol.iterator](): Generator<number> {
    yield* this.items();
  }

  /** Calls `act` with the stretches, from and up to, outside of which two sets of the same elements are alike. */
  eachChange(before: ElementSet, act: (from: number, to: number) => void): void {
    let from = -1;
    for (let p = 0; p <= this.pages.length; p++) {
      const differs = p < this.pages.length && this.pages[p] !== before.pages[p];
      if (differs && from < 0) from = p;
      if (differs || from < 0) continue;
      act(from * PER_PAGE, Math.min(p * PER_PAGE, this.universe));
      from = -1;
    }
  }

  same(other: ElementSet): boolean {
    if (this.universe !== other.universe || this.size !== other.size) return false;
    return this.pages.every((page, p) => {
      const its = other.pages[p];
      if (page === its) return true;
      for (let w = 0; w < WORDS; w++) if ((page ? page[w] : 0) !== (its ? its[w] : 0)) return false;
      return true;
    });
  }
}
