/** Numbers of single precision, as many as come; half of their room at most is free, and takes no memory before it is written to. */
export class Series {
  private all = new Float32Array(FIRST);
  private filled = 0;

  get length(): number {
    return this.filled;
  }

  push(value: number): void {
    if (this.filled === this.all.length) {
      const larger = new Float32Array(2 * this.filled);
      larger.set(this.all);
      this.all = larger;
    }
    this.all[this.filled++] = value;
  }

  /** All of them, or the first so many, where they lie: no copy of an hour. */
  take(count = this.filled): Float32Array {
    return this.all.subarray(0, Math.min(count, this.filled));
  }
}

const FIRST = 8_192;
