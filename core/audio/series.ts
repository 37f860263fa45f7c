/**
 * Numbers of one kind, as many as come. Room that is not written to yet takes no memory; where there is not enough of it, what is
 * there moves to twice as much.
 * @example
 * const series = Series.floats(); series.push(0.5); series.take()
 */
export class Series<A extends Float32Array | Uint8Array> {
  private filled = 0;

  private constructor(
    private readonly make: (length: number) => A,
    private all: A,
  ) {}

  /** Of single precision. @param room for so many at first */
  static floats(room = FIRST): Series<Float32Array> {
    return new Series(length => new Float32Array(length), new Float32Array(room));
  }

  /** Whole numbers, 0 … 255. @param room for so many at first */
  static bytes(room = FIRST): Series<Uint8Array> {
    return new Series(length => new Uint8Array(length), new Uint8Array(room));
  }

  get length(): number {
    return this.filled;
  }

  push(value: number): void {
    if (this.filled === this.all.length) {
      const larger = this.make(2 * this.filled);
      larger.set(this.all);
      this.all = larger;
    }
    this.all[this.filled++] = value;
  }

  /** Lets go of the oldest; the others move to where those were. @param count at most `length` of them */
  drop(count: number): void {
    this.all.copyWithin(0, count, this.filled);
    this.filled -= count;
  }

  /** All of them, or the first so many, where they lie: no copy of an hour. */
  take(count = this.filled): A {
    return this.all.subarray(0, Math.min(count, this.filled)) as A;
  }
}

const FIRST = 8_192;
