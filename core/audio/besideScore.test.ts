import { scoreOf } from '../testing/scores';
import { melody, overNoise, TONES, type PlayedNote } from '../testing/sounds';
import { besideTune, lineOfModel } from './besideScore';
import { Measurer } from './measure';

const BEAT_SEC = 0.5;
const LINE = scoreOf(
  [67, 69, 71, 72, 74, 72, 71, 69, 67, 71, 74, 79].map((midi, i) => ({
    midi,
    startQuarters: i,
    quarters: 1,
  })),
  { bpm: 120 },
);
const sung = (up = 0): PlayedNote[] =>
  LINE.notes.map(n => ({ startSec: 0.5 + n.startQuarters * BEAT_SEC, sec: 0.45, midi: n.midi + up }));

/** @param beside what a piano plays meanwhile */
function measured(notes: readonly PlayedNote[], beside: readonly PlayedNote[] = []) {
  const samples = overNoise(melody(notes, TONES.sung!), -70);
  if (beside.length > 0)
    melody(beside, TONES.stiffString!).forEach((x, i) => i < samples.length && (samples[i]! += 0.7 * x));
  const measurer = new Measurer(16_000, 1, { forScore: true });
  measurer.pushRaw([samples]);
  measurer.push(samples);
  return measurer.finish('music', { score: LINE });
}

describe('a line beside its score', () => {
  it('is judged by its notes where it is one voice, whoever listens for several', () => {
    const { target, notes, remarks } = measured(sung());
    expect(target).toMatchObject({ of: 'score', followed: null, isRhythm: false });
    expect(target!.notes.every(n => n.status === 'played')).toBe(true);
    expect(notes).toHaveLength(LINE.notes.length);
    expect(remarks).toEqual([]);
  });

  it('with a piano beside it that drowns its pitch is followed all the same, and nothing is refused', () => {
    const chords: PlayedNote[] = LINE.notes
      .filter(n => n.startQuarters % 2 === 0)
      .flatMap(n =>
        [48, 55, 60, 64].map(midi => ({
          startSec: 0.5 + n.startQuarters * BEAT_SEC,
          sec: 0.95,
          midi: midi + (n.startQuarters % 4 === 0 ? 0 : -1),
        })),
      );
    const { target, notes, remarks } = measured(sung(), chords);
    expect(target!.followed!.fits).toBe(true);
    for (const { startSec, scoreQuarters } of target!.followed!.events)
      expect(Math.abs(startSec! - 0.5 - scoreQuarters * BEAT_SEC)).toBeLessThan(0.08);
    expect([notes, remarks]).toEqual([null, []]);
  });

  it('stays a line that was played badly, where nothing sounds beside it', () => {
    const { target } = measured(sung().map((n, i) => ({ ...n, midi: n.midi + [1, -2, 3, 0][i % 4]! })));
    expect(target!.followed).toBeNull();
    expect(target!.notes.some(n => n.status === 'missed')).toBe(true);
  });
});

describe('a tune after its model', () => {
  const model = sung().map(n => ({
    startSec: n.startSec,
    endSec: n.startSec + n.sec,
    midi: n.midi,
    cents: 20,
  }));
  const line = lineOfModel(model);

  it('has the model’s notes to be held against, at its own tempo', () => {
    const slower = model.map(n => ({ ...n, startSec: 1 + 1.25 * n.startSec, endSec: 1 + 1.25 * n.endSec }));
    const target = besideTune(line, slower);
    expect(target).toMatchObject({ of: 'model', extra: 0, byDegree: [], tempoCurve: [] });
    expect(target.notes.every(n => n.status === 'played' && Math.abs(n.centsOff!) < 1)).toBe(true);
    expect(target.tempoRatio).toBeCloseTo(0.8, 2);
  });

  it('shows the note that was left out, and the one that was another', () => {
    const wrong = model.flatMap((n, i) => (i === 4 ? [] : i === 9 ? [{ ...n, midi: n.midi + 2 }] : [n]));
    const target = besideTune(line, wrong);
    expect(target.notes.flatMap(n => (n.status === 'missed' ? [n.index] : []))).toEqual([4, 9]);
    expect(target.extra).toBe(1);
    expect(besideTune(lineOfModel([]), model).notes).toEqual([]);
  });
});
