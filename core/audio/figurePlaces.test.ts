import type { Evidence } from './evidence';
import { placeOf } from './figurePlaces';

const NOTHING: Evidence = {
  as: 'speech',
  fromSec: 2,
  durationSec: 20,
  level: { peakDbfs: -6, rmsDbfs: -20, loudnessLufs: null, clippedSamples: 0, noiseFloorDbfs: null },
  pitch: { fromSec: 2, hopSec: 0.01, cents: [], range: null },
  pauses: [],
  speech: null,
  turns: null,
  notes: null,
  tempo: null,
  target: null,
  line: null,
  beats: null,
  heardBeatsSec: null,
  reading: null,
  words: null,
  beside: null,
  remarks: [],
};
const target = (over: Partial<NonNullable<Evidence['target']>>): NonNullable<Evidence['target']> => ({
  ...{ notes: [], extra: 0, tempoRatio: 1, bpm: 100, tuningCents: 0, byDegree: [], byRegister: [] },
  ...{ tempoCurve: [], driftPercent: 0, of: 'score', followed: null, isRhythm: false, steadyPercent: null },
  ...over,
});
const note = (startSec: number | null, centsOff: number | null = 0, onsetOffSec: number | null = 0) => ({
  index: 0,
  status: startSec === null ? ('missed' as const) : ('played' as const),
  ...{ startSec, centsOff, onsetOffSec, durationRatio: 1 },
});

describe('the place at which a figure is heard', () => {
  it('is a second before the longest pause, and the beginning of the longest run', () => {
    const spoken: Evidence = {
      ...NOTHING,
      pauses: [
        { startSec: 5, endSec: 5.5 },
        { startSec: 12, endSec: 14 },
      ],
    };
    expect(placeOf('longestPauseSec', spoken)).toBe(11);
    expect(placeOf('articulationRate', spoken)).toBe(5.5);
    expect(placeOf('initialSilenceSec', spoken)).toBe(2);
  });

  it('is the note that is furthest off, either way, in pitch or in time', () => {
    const played: Evidence = {
      ...NOTHING,
      target: target({ notes: [note(3, 10, 0.02), note(4, -40), note(5, 0, -0.2)] }),
    };
    expect(placeOf('offCents', played)).toBe(3.5);
    expect(placeOf('offMs', played)).toBe(4);
    // A note that was missed lies behind the one before it.
    expect(
      placeOf('playedPercent', {
        ...NOTHING,
        target: target({ notes: [note(3), note(null, null, null), note(5)] }),
      }),
    ).toBe(2.5);
  });

  it('is where it was broken off, and where the tempo strays most', () => {
    const followed = {
      ...{
        fits: true,
        events: [],
        waits: [],
        leftOut: [],
        tempoCurve: [],
        bpm: 100,
        steadyPercent: 90,
        semitones: 0,
      },
      restarts: [{ atSec: 9, stoppedSec: 8, backToIndex: 0, fromIndex: 4 }],
    };
    const curve = [100, 104, 70, 101].map((bpm, index) => ({ index, atSec: 4 + 2 * index, bpm }));
    const played: Evidence = { ...NOTHING, target: target({ followed, tempoCurve: curve }) };
    expect(placeOf('restarts', played)).toBe(6);
    expect(placeOf('steadyPercent', played)).toBe(7);
    expect(placeOf('waits', played)).toBeNull();
  });

  it('is none where nothing shows it, and never before the recording', () => {
    for (const figure of [
      'longestPauseSec',
      'offCents',
      'offMs',
      'beatMs',
      'rangeSemitones',
      'insidePauses',
    ] as const)
      expect(placeOf(figure, NOTHING)).toBeNull();
    expect(placeOf('longestPauseSec', { ...NOTHING, pauses: [{ startSec: 0.2, endSec: 0.6 }] })).toBe(0);
  });
});
