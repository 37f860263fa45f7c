import fc from 'fast-check';
import {
  answerFromMs,
  beatMs,
  beatsIn,
  countInMs,
  heardAtMs,
  knownBeats,
  type PlacedTake,
  type TakeClock,
} from './takeClock';

const clock = (over: Partial<TakeClock> = {}): TakeClock => ({
  gated: true,
  soundFromMs: null,
  answerFromMs: 0,
  loopMs: 40,
  loopMeasured: true,
  beat: null,
  ...over,
});

describe('where things lie in a take', () => {
  it('begins an answer at the gate, and at the beginning where there is none', () => {
    expect(answerFromMs({ clock: clock(), gateMs: 212 })).toBe(212);
    expect(answerFromMs({ clock: clock({ gated: false }), gateMs: null })).toBe(0);
    expect(answerFromMs({ clock: null, gateMs: null })).toBe(0);
  });

  it('begins an answer after the count-in as it was heard', () => {
    const beat = { bpm: 120, beats: 4, countIn: 4 };
    expect([beatMs(beat), countInMs(beat), countInMs(null)]).toEqual([500, 2_000, 0]);
    const take = { clock: clock({ beat, soundFromMs: 100, answerFromMs: 2_100 }), gateMs: 200 };
    expect(answerFromMs(take)).toBe(200 + 2_100 + 40);
    // The first beat that counts is the window's beginning.
    expect(beatsIn(take, 0, 2_400).at(-1)).toEqual({ atMs: 2_340, number: 0, isFirst: true });
  });

  it('places what sounded along where it was heard, and by the fallback in takes of old', () => {
    expect(heardAtMs({ clock: clock({ soundFromMs: 30 }), gateMs: 200 }, 1_000)).toBe(1_270);
    expect(heardAtMs({ clock: null, gateMs: null }, 1_000, 250)).toBe(1_250);
  });

  it('gives the beats of a stretch in order, one step apart, with the first of each bar', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 30, max: 240 }),
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 0, max: 5_000 }),
        (bpm, beats, countIn, fromMs) => {
          const take: PlacedTake = {
            clock: clock({ soundFromMs: 100, beat: { bpm, beats, countIn } }),
            gateMs: 150,
          };
          const found = beatsIn(take, fromMs, fromMs + 8_000);
          for (const b of found) {
            expect(b.atMs).toBeGreaterThanOrEqual(fromMs - 1e-6);
            expect(b.atMs).toBeLessThanOrEqual(fromMs + 8_000);
            expect(b.number).toBeGreaterThanOrEqual(-countIn);
          }
          found.slice(1).forEach((b, i) => {
            expect(b.atMs - found[i]!.atMs).toBeCloseTo(60_000 / bpm, 6);
            expect(b.number).toBe(found[i]!.number + 1);
          });
          const firsts = found.filter(b => b.isFirst);
          firsts.slice(1).forEach((b, i) => expect(b.number - firsts[i]!.number).toBe(beats));
          expect(beatsIn({ ...take, clock: clock() }, 0, 9_000)).toEqual([]);
        },
      ),
    );
  });
});

describe('beats that something may be said against', () => {
  const beat = { bpm: 120, beats: 4, countIn: 4 };
  const take = (over: Partial<TakeClock> = {}): PlacedTake => ({
    clock: clock({ beat, soundFromMs: 100, answerFromMs: 2_100, ...over }),
    gateMs: 200,
  });

  it('are all of them where the way of the sound was measured', () => {
    const { atMs, unknown } = knownBeats(take(), 6_000, null);
    expect(unknown).toBeNull();
    expect(atMs).toEqual(beatsIn(take(), 0, 6_000).map(b => b.atMs));
  });

  it('are none where it was not', () => {
    expect(knownBeats(take({ loopMeasured: false }), 6_000, null)).toEqual({
      atMs: [],
      unknown: 'loopNotMeasured',
    });
  });

  it('are those before the first pause', () => {
    const { atMs, unknown } = knownBeats(take(), 60_000, 1_000);
    expect(unknown).toBe('paused');
    // 200 + 2100 + 40 + 1000
    expect(Math.max(...atMs)).toBeLessThanOrEqual(3_340);
    expect(Math.max(...atMs)).toBeGreaterThan(2_800);
  });

  it('are none, and nothing is missed, where none ran', () => {
    expect(knownBeats({ clock: clock(), gateMs: 0 }, 6_000, null)).toEqual({ atMs: [], unknown: null });
    expect(knownBeats({ clock: null, gateMs: null }, 6_000, null)).toEqual({ atMs: [], unknown: null });
  });
});
