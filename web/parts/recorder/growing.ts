/** Bytes that still come: a reader can wait for more. Read by the uploader while the recorder writes. */
export class GrowingSound {
  private readonly pieces: Blob[] = [];
  private bytes = 0;
  private finished = false;
  private waiting: (() => void)[] = [];

  push(piece: Blob | ArrayBuffer): void {
    const blob = piece instanceof Blob ? piece : new Blob([piece]);
    if (blob.size === 0) return;
    this.pieces.push(blob);
    this.bytes += blob.size;
    this.wake();
  }

  end(): void {
    this.finished = true;
    this.wake();
  }

  get size(): number {
    return this.bytes;
  }

  get ended(): boolean {
    return this.finished;
  }

  /** Everything so far. */
  whole(): Blob {
    return new Blob(this.pieces);
  }

  /**
   * Waits until there is something from `start` on, or nothing more will come.
   * @param start,end offsets in bytes
   * @returns the bytes there are, and whether they are the last
   */
  async read(start: number, end: number): Promise<{ value: Blob; done: boolean }> {
    while (this.bytes <= start && !this.finished)
      await new Promise<void>(resolve => this.waiting.push(resolve));
    const value = this.whole().slice(start, Math.min(end, this.bytes));
    return { value, done: this.finished && start + value.size >= this.bytes };
  }

  private wake(): void {
    for (const resolve of this.waiting.splice(0)) resolve();
  }
}
