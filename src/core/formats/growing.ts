/** A list of numbers that grows in place, doubling its room. */
export class Growing {
  data = new Float64Array(1024);
  length = 0;

  add(value: number): this {
    if (this.length === this.data.length) {
      const larger = new Float64Array(2 * this.data.length);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
    return this;
  }
}
