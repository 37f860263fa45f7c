/**
 * Numbers of single precision, as many as come. Room that is not written to yet takes no memory; where there is not enough of it,
 * what is there moves to twice as much.
 */
export class Series {
  private all: Float32Array;
  private filled = 0;

  /** @param room for so many at first */
  constructor(room = FIRST) {
    this.all = new Float32Array(room);
  }

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
