import { describe, expect, it } from '@jest/globals';
import { Series } from './series';
import { Tail } from './tail';

describe('numbers that come one by one', () => {
  it('are all there in the end, however many', () => {
    const series = Series.floats();
    for (let i = 0; i < 20_000; i++) series.push(i);
    expect(series).toHaveLength(20_000);
    const all = series.take();
    expect(all).toHaveLength(20_000);
    expect(all.every((v, i) => v === i)).toBe(true);
    expect(series.take(8_193)).toHaveLength(8_193);
    expect(series.take(99_999)).toHaveLength(20_000);
    expect(Series.floats().take()).toHaveLength(0);
    const bytes = Series.bytes(3);
    for (let i = 0; i < 1_000; i++) bytes.push(i % 256);
    expect(bytes.take()).toEqual(Uint8Array.from({ length: 1_000 }, (_, i) => i));
  });
});

describe('the end of a stream', () => {
  it('is what was added less what was let go of, in pieces of any size', () => {
    const tail = new Tail();
    const truth: number[] = [];
    let next = 0;
    for (let round = 0; round < 400; round++) {
      const piece = Float32Array.from({ length: (round * 37) % 911 }, () => next++);
      tail.add(piece);
      truth.push(...piece);
      const gone = (round * 53) % (truth.length + 1);
      tail.drop(gone);
      truth.splice(0, gone);
      expect(tail).toHaveLength(truth.length);
      expect(Array.from(tail.samples)).toEqual(truth);
    }
    // One piece larger than everything before it.
    tail.add(new Float32Array(100_000).fill(7));
    expect(tail.samples.at(-1)).toBe(7);
    tail.drop(1e9);
    expect(tail).toHaveLength(0);
    tail.drop(-5);
    expect(tail).toHaveLength(0);
  });
});
