/** The end of a stream of samples: what is still needed of it, in one buffer that is used again and again. */
export class Tail {
  private store = new Float32Array(16_384);
  private from = 0;
  private to = 0;

  /** What is kept; valid until something is added. */
  get samples(): Float32Array {
    return this.store.subarray(this.from, this.to);
  }

  get length(): number {
    return this.to - this.from;
  }

  add(pushed: Float32Array): void {
    if (this.to + pushed.length > this.store.length) {
      const needed = this.length + pushed.length;
      const roomy = needed > this.store.length / 2 ? new Float32Array(2 * needed) : this.store;
      roomy.set(this.store.subarray(this.from, this.to));
      this.store = roomy;
      this.to -= this.from;
      this.from = 0;
    }
    this.store.set(pushed, this.to);
    this.to += pushed.length;
  }

  /** Lets go of the oldest. @param count at most `length` of them */
  drop(count: number): void {
    this.from = Math.min(this.to, this.from + Math.max(0, count));
  }
}
