import fc from 'fast-check';
import {
  beatAt,
  hzOf,
  layoutOf,
  leadInMs,
  noteName,
  SOUND_LEAD_MS,
  type Accompaniment,
  type Metronome,
} from './accompaniment';

const metronome = (over: Partial<Metronome> = {}): Metronome => ({
  bpm: 90,
  beats: 3,
  countInBars: 2,
  heard: true,
  ...over,
});
const along = (over: Partial<Accompaniment> = {}): Accompaniment => ({
  metronome: null,
  startingNote: null,
  drone: null,
  backingMs: null,
  ...over,
});

describe('what sounds along with an answer', () => {
  it('is nothing where nothing is asked for; a starting note alone sounds before the take', () => {
    const nothing = { soundFromMs: null, answerFromMs: 0, backingFromMs: null, beat: null };
    expect(layoutOf(along())).toEqual(nothing);
    expect(layoutOf(along({ startingNote: 62 }))).toEqual(nothing);
  });

  it('counts whole bars in, then the answer begins on a first beat', () => {
    const layout = layoutOf(along({ metronome: metronome(), backingMs: 30_000 }));
    expect(layout.answerFromMs).toBe(SOUND_LEAD_MS + 6 * (60_000 / 90));
    expect(layout.backingFromMs).toBe(layout.answerFromMs);
    const { number, inBar } = beatAt(layout.beat!, layout.answerFromMs - SOUND_LEAD_MS + 0.001);
    expect([number, inBar]).toEqual([6, 0]);
    expect(leadInMs({ metronome: metronome() })).toBe(layout.answerFromMs);
    expect([leadInMs(null), leadInMs({ metronome: metronome({ countInBars: 0 }) })]).toEqual([0, 0]);
  });

  it('lets a drone or a track begin with the take', () => {
    expect(layoutOf(along({ drone: 50 }))).toMatchObject({ soundFromMs: SOUND_LEAD_MS, answerFromMs: 0 });
    expect(layoutOf(along({ backingMs: 9_000 })).backingFromMs).toBe(SOUND_LEAD_MS);
  });

  it('knows at any moment which beat of its bar sounds', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 30, max: 240 }),
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 0, max: 3 }),
        fc.double({ min: 0, max: 60_000, noNaN: true }),
        (bpm, beats, bars, ms) => {
          const { beat } = layoutOf(along({ metronome: metronome({ bpm, beats, countInBars: bars }) }));
          const at = beatAt(beat!, ms);
          expect(at.inBar).toBeGreaterThanOrEqual(0);
          expect(at.inBar).toBeLessThan(beats);
          expect(at.phase).toBeGreaterThanOrEqual(0);
          expect(at.phase).toBeLessThan(1 + 1e-9);
          expect(Math.abs((at.number - beat!.countIn - at.inBar) % beats)).toBe(0);
        },
      ),
    );
  });

  it('names notes and knows their pitch', () => {
    expect([69, 60, 61, 21, 108].map(noteName)).toEqual(['A4', 'C4', 'C♯4', 'A0', 'C8']);
    expect(hzOf(69)).toBe(440);
    expect(hzOf(60)).toBeCloseTo(261.626, 3);
  });
});
