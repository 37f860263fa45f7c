/** Numbers of single precision, as many as come. */
export class Series {
  private data = new Float32Array(1_024);
  length = 0;

  push(value: number): void {
    if (this.length === this.data.length) {
      const larger = new Float32Array(2 * this.length);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
  }

  take(): Float32Array {
    return this.data.slice(0, this.length);
  }
}
