import { roomFor } from './room';

const MB = 1_048_576;

describe('room for a recording', () => {
  it('is enough on an ordinary device, for half an hour of sound and for a film', () => {
    expect(roomFor(2_000 * MB, 1_800_000, false).enough).toBe(true);
    expect(roomFor(2_000 * MB, 1_800_000, true).enough).toBe(true);
  });

  it('is foreseen to run out, with what still fits', () => {
    const { enough, fitsMs } = roomFor(20 * MB, 1_800_000, false);
    expect(enough).toBe(false);
    expect(fitsMs).toBeGreaterThan(600_000);
    expect(fitsMs).toBeLessThan(1_800_000);
    // The same space holds far less of a film.
    expect(roomFor(20 * MB, 1_800_000, true).fitsMs).toBeLessThan(fitsMs / 5);
    expect(roomFor(-5, 1_000, false)).toEqual({ enough: false, fitsMs: 0 });
  });

  it('is taken for enough where the browser does not say', () => {
    expect(roomFor(null, 1_800_000, true)).toEqual({ enough: true, fitsMs: Infinity });
  });
});
