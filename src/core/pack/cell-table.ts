/** Scatter cells over a table. */
const [ACROSS, UP] = [73856093, 19349663];

/** In which cells of a plane without end segments lie: lists of segments, in a table over which the cells are scattered. */
export class CellTable {
  private readonly lists: Int32Array;
  private readonly starts: Int32Array;
  private readonly mask: number;
  /** By segment, for which other it was last told: two have many cells in common. */
  private readonly told: Int32Array;
  private turn = 0;

  /** @param ends 4 numbers a segment @param cell the side of a cell */
  constructor(
    private readonly ends: Float64Array,
    private readonly cell: number,
  ) {
    const size = 2 ** Math.ceil(Math.log2(ends.length + 2));
    this.mask = size - 1;
    this.told = new Int32Array(ends.length / 4);
    this.starts = new Int32Array(size + 1);
    this.eachEntry((row) => this.starts[row + 1]!++);
    for (let k = 0; k < size; k++) this.starts[k + 1]! += this.starts[k]!;
    this.lists = new Int32Array(this.starts[size]!);
    const fill = this.starts.slice();
    this.eachEntry((row, segment) => {
      this.lists[fill[row]!++] = segment;
    });
  }

  private eachEntry(act: (row: number, segment: number) => void): void {
    const { ends, cell } = this;
    for (let i = 0; i < ends.length; i += 4) {
      const x1 = Math.floor(Math.max(ends[i]!, ends[i + 2]!) / cell);
      const y1 = Math.floor(Math.max(ends[i + 1]!, ends[i + 3]!) / cell);
      for (let x = Math.floor(Math.min(ends[i]!, ends[i + 2]!) / cell); x <= x1; x++)
        for (let y = Math.floor(Math.min(ends[i + 1]!, ends[i + 3]!) / cell); y <= y1; y++)
          act(this.rowOf(x, y), i / 4);
    }
  }

  private rowOf = (x: number, y: number): number => (Math.imul(x, ACROSS) ^ Math.imul(y, UP)) & this.mask;

  /** Calls `act` once with every segment whose box lies nearer than some reach to that of one. @param i where that one's numbers begin */
  eachNear(i: number, reach: number, act: (segment: number) => void): void {
    const { ends, cell, lists, starts, told } = this;
    const turn = ++this.turn;
    const x0 = Math.min(ends[i]!, ends[i + 2]!) - reach;
    const x1 = Math.max(ends[i]!, ends[i + 2]!) + reach;
    const y0 = Math.min(ends[i + 1]!, ends[i + 3]!) - reach;
    const y1 = Math.max(ends[i + 1]!, ends[i + 3]!) + reach;
    const [right, upper] = [Math.floor(x1 / cell), Math.floor(y1 / cell)];
    for (let x = Math.floor(x0 / cell); x <= right; x++)
      for (let y = Math.floor(y0 / cell); y <= upper; y++) {
        const row = this.rowOf(x, y);
        for (let k = starts[row]!; k < starts[row + 1]!; k++) {
          const t = lists[k]!;
          if (told[t] === turn) continue;
          told[t] = turn;
          const [a, b, c, d] = [ends[4 * t]!, ends[4 * t + 1]!, ends[4 * t + 2]!, ends[4 * t + 3]!];
          if ((a > x1 && c > x1) || (a < x0 && c < x0) || (b > y1 && d > y1) || (b < y0 && d < y0)) continue;
          act(t);
        }
      }
  }
}
