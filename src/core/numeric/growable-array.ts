/** A list of numbers that grows in place, doubling its room. */
export class GrowableArray {
  data = new Float64Array(1024);
  length = 0;

  /** Makes room for so many more. */
  reserve(count: number): void {
    let size = this.data.length;
    while (size < this.length + count) size *= 2;
    if (size === this.data.length) return;
    const larger = new Float64Array(size);
    larger.set(this.data);
    this.data = larger;
  }

  add(value: number): this {
    if (this.length === this.data.length) this.reserve(1);
    this.data[this.length++] = value;
    return this;
  }
}
