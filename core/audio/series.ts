/** Numbers of single precision, as many as come. Held in pieces, so that growing never copies what is there. */
export class Series {
  private readonly full: Float32Array[] = [];
  private piece = new Float32Array(PIECE);
  private filled = 0;

  get length(): number {
    return this.full.length * PIECE + this.filled;
  }

  push(value: number): void {
    if (this.filled === PIECE) {
      this.full.push(this.piece);
      this.piece = new Float32Array(PIECE);
      this.filled = 0;
    }
    this.piece[this.filled++] = value;
  }

  /** All of them, or the first so many. */
  take(count = this.length): Float32Array {
    const all = new Float32Array(Math.min(count, this.length));
    [...this.full, this.piece.subarray(0, this.filled)].forEach((piece, i) => {
      const room = all.length - i * PIECE;
      if (room > 0) all.set(piece.subarray(0, room), i * PIECE);
    });
    return all;
  }
}

const PIECE = 8_192;
