import { HalfSplitter } from '../audio/halves';
import { melody, TONES } from '../testing/sounds';
import { LOWEST_MIDI, SEMITONE_HOP_SEC, SEMITONES, SemitoneMeter } from './semitones';

function levelsOf(samples: Float32Array, pieces = 1) {
  const splitter = new HalfSplitter();
  const meter = new SemitoneMeter();
  const size = Math.ceil(samples.length / pieces);
  for (let from = 0; from < samples.length; from += size)
    meter.push(splitter.push(samples.subarray(from, from + size)).low);
  meter.push(splitter.finish().low);
  return meter.finish();
}
const sine = (midi: number, sec = 1, cents = 0) => melody([{ startSec: 0, sec, midi, cents }], TONES.sine!);
const at = (sec: number) => Math.round(sec / SEMITONE_HOP_SEC);

describe('half tones', () => {
  it.each([45, 55, 64, 76, 88, 98])('a tone is loudest where it lies on the keyboard: %s', midi => {
    const { db } = levelsOf(sine(midi));
    const all = Array.from({ length: SEMITONES }, (_, s) => db(at(0.5), s));
    expect(all.indexOf(Math.max(...all)) + LOWEST_MIDI).toBe(midi);
    // dBFS of a sine of an amplitude of 0.2.
    expect(Math.abs(Math.max(...all) + 14)).toBeLessThan(2);
    // An octave away nothing of it is left.
    const octave = all[(midi < 80 ? midi + 12 : midi - 12) - LOWEST_MIDI]!;
    expect(octave).toBeLessThan(-60);
  });

  it.each([
    [0, 0],
    [-33, -1 / 3],
    [33, 1 / 3],
    [10, 0],
  ])(
    'an instrument that is tuned %s cents away is found to be, and is as loud as another',
    (cents, tuning) => {
      const levels = levelsOf(sine(69, 1, cents));
      expect(levels.tuning).toBeCloseTo(tuning, 6);
      expect(levels.db(at(0.5), 69 - LOWEST_MIDI)).toBeGreaterThan(-16);
    },
  );

  it('are the same in pieces as in one, begin at the first sample, and are as many as the sound is long', () => {
    const tone = sine(60, 0.6);
    const [whole, pieces] = [levelsOf(tone), levelsOf(tone, 37)];
    expect(pieces.count).toBe(whole.count);
    for (let f = 0; f < whole.count; f += 5)
      for (let s = 0; s < SEMITONES; s += 4) expect(pieces.db(f, s)).toBe(whole.db(f, s));
    expect(Math.abs(whole.count * SEMITONE_HOP_SEC - tone.length / 16_000)).toBeLessThan(0.05);
    // It begins with the sound: half of the window lies before it.
    expect(whole.db(0, 60 - LOWEST_MIDI)).toBeGreaterThan(-24);
  });

  it('of silence are all at the floor, and of nothing there are none to speak of', () => {
    const silent = levelsOf(new Float32Array(16_000));
    expect(silent.db(at(0.5), 30)).toBeLessThan(-105);
    expect(silent.tuning).toBeCloseTo(0, 6);
    expect(levelsOf(new Float32Array(0)).count).toBeLessThan(3);
  });
});
