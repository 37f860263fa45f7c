import { describe, expect, it } from '@jest/globals';
import { besideScore } from '../audio/besideScore';
import { Measurer } from '../audio/measure';
import { scoreOf } from '../testing/scores';
import { melody, overNoise, TONES, type PlayedNote } from '../testing/sounds';
import { barsPlayed } from './barsPlayed';
import { eventPath, MOST_CELLS } from './eventPath';
import { isTooLongToFollow } from './followed';
import { eventsOf } from './scoreEvents';

const RATE = 16_000;
const BEAT_SEC = 0.5;
const BARS = 6;

/** Two hands: a bass note and a chord over it, a melody above. Each bar is four quarters. */
const CHORDS = [
  [0, 4, 7],
  [5, 9, 12],
  [7, 11, 14],
  [9, 12, 16],
  [2, 5, 9],
  [7, 11, 14],
];
const TUNE = [72, 76, 79, 76, 77, 81, 79, 77, 79, 74, 71, 74, 76, 72, 69, 72, 74, 77, 81, 77, 79, 74, 71, 67];
const PIECE = scoreOf(
  CHORDS.slice(0, BARS)
    .flatMap((chord, bar) => [
      { midi: 48 + chord[0]!, startQuarters: 4 * bar, quarters: 2 },
      ...chord.map(c => ({ midi: 48 + c, startQuarters: 4 * bar + 2, quarters: 2 })),
      ...[0, 1, 2, 3].map(q => ({ midi: TUNE[4 * bar + q]!, startQuarters: 4 * bar + q, quarters: 1 })),
    ])
    .sort((a, b) => a.startQuarters - b.startQuarters || a.midi - b.midi),
  { bpm: 120 },
);

/** A stretch of the piece as it is played from some second on. */
function played(fromQuarters: number, toQuarters: number, atSec: number, up = 0): PlayedNote[] {
  return PIECE.all
    .filter(n => n.startQuarters >= fromQuarters && n.startQuarters < toQuarters)
    .map(n => ({
      startSec: atSec + (n.startQuarters - fromQuarters) * BEAT_SEC,
      sec: Math.min(n.quarters, toQuarters - n.startQuarters) * BEAT_SEC * 0.9,
      midi: n.midi + up,
    }));
}

function measured(notes: readonly PlayedNote[], score = PIECE) {
  const samples = overNoise(
    notes.length > 0 ? melody(notes, TONES.stiffString!) : new Float32Array(3 * RATE),
    -75,
  );
  const measurer = new Measurer(RATE, 1, { forScore: true });
  measurer.pushRaw([samples]);
  measurer.push(samples);
  return measurer.finish('music', { score });
}
const followed = (notes: readonly PlayedNote[]) => measured(notes).target!.followed!;
const measureOf = (index: number) => eventsOf(PIECE)[index]!.measure;

describe('several notes at once beside their score', () => {
  it('are told moment by moment, with the tempo as it went; single notes are not judged', () => {
    const { target, notes, tempo, onsets, remarks } = measured(played(0, 24, 1));
    const { fits, events, restarts, waits, leftOut } = target!.followed!;
    expect(fits).toBe(true);
    expect(events).toHaveLength(24);
    for (const { startSec, scoreQuarters } of events)
      expect(Math.abs(startSec! - 1 - scoreQuarters * BEAT_SEC)).toBeLessThan(0.04);
    expect([restarts, waits, leftOut]).toEqual([[], [], []]);
    expect(target!.notes).toEqual([]);
    expect(notes).toBeNull();
    expect(onsets).toHaveLength(24);
    expect(tempo!.bpm).toBeCloseTo(120, -1);
    expect(target!.tempoRatio).toBeCloseTo(1, 1);
    expect(remarks).toEqual([]);
  });

  it('show where somebody stopped and went back, and in which bars they were then', () => {
    // Stopped in bar 3, back to bar 2.
    const { target } = measured([...played(0, 10, 0.5), ...played(4, 24, 6.8)]);
    const { restarts, events } = target!.followed!;
    expect(restarts).toHaveLength(1);
    const [restart] = restarts;
    expect(measureOf(restart!.backToIndex)).toBe('2');
    expect(measureOf(restart!.fromIndex)).toBe('3');
    expect(Math.abs(restart!.atSec - 6.8)).toBeLessThan(0.06);
    expect(restart!.stoppedSec).toBeLessThan(6.8);
    // What was played twice has the time of the first.
    expect(Math.abs(events[4]!.startSec! - 0.5 - 4 * BEAT_SEC)).toBeLessThan(0.05);
    const bars = barsPlayed(target!.followed!, target!.tempoCurve);
    expect(bars.map(b => 'measure' in b && [b.measure, b.isAgain])).toEqual([
      ['1', false],
      ['2', false],
      ['3', false],
      ['2', true],
      ['3', false],
      ['4', false],
      ['5', false],
      ['6', false],
    ]);
  });

  it('show a wait where the playing goes on after it, and no stop there', () => {
    const { restarts, waits } = followed([...played(0, 9, 0.5), ...played(9, 24, 0.5 + 9 * BEAT_SEC + 1.2)]);
    expect(restarts).toEqual([]);
    expect(waits).toHaveLength(1);
    expect(measureOf(waits[0]!.index)).toBe('3');
    expect(waits[0]!.lateSec).toBeCloseTo(1.2, 0);
  });

  it('show which bars were left out; what begins in the middle has no time before', () => {
    const way = measured([...played(0, 8, 0.5), ...played(16, 24, 0.5 + 8 * BEAT_SEC)]).target!;
    expect(way.followed!.leftOut.map(l => [measureOf(l.fromIndex), measureOf(l.toIndex)])).toEqual([
      ['3', '4'],
    ]);
    expect(way.followed!.events.slice(8, 16).every(e => e.startSec === null)).toBe(true);
    expect(barsPlayed(way.followed!, way.tempoCurve)).toContainEqual({ leftOut: { from: '3', to: '4' } });
    const middle = followed(played(8, 24, 0.4));
    expect(middle.events.map(e => e.startSec !== null)).toEqual(Array.from({ length: 24 }, (_, i) => i >= 8));
    expect(middle.restarts).toEqual([]);
  });

  it('are followed where only the beginning was played, or at another tempo than all of it would fill', () => {
    const early = followed(played(0, 9, 0.5));
    expect(early.events.map(e => e.startSec !== null)).toEqual(Array.from({ length: 24 }, (_, i) => i < 9));
    expect([early.restarts, early.leftOut]).toEqual([[], []]);
    const twice = followed([...played(0, 24, 0.5), ...played(0, 24, 13.5)]);
    expect(twice.restarts.map(r => [r.backToIndex, Math.round(r.atSec)])).toEqual([[0, 14]]);
  });

  it('may be in another key, which is said; another piece is said to be another, and silence is nothing', () => {
    const capo = measured(played(0, 24, 0.5, 3));
    expect(capo.target!.followed).toMatchObject({ fits: true, semitones: 3 });
    expect(capo.remarks.join()).toContain('another key');
    const other = played(0, 24, 0.5).map((n, i) => ({ ...n, midi: 50 + ((i * 11) % 30) }));
    const misfit = measured(other);
    expect(misfit.target!.followed!.fits).toBe(false);
    expect(misfit.target!.followed!.events.every(e => e.startSec === null)).toBe(true);
    expect(misfit.remarks.join()).toContain('does not sound like the score');
    expect(misfit.tempo).toBeNull();
    const silence = measured([]);
    expect(silence.target!.followed!.fits).toBe(false);
    expect(silence.target!.followed!.events.map(e => e.startSec)).toEqual(
      Array.from({ length: 24 }, () => null),
    );
    expect(silence.remarks.join()).not.toContain('does not sound like');
  });

  it('a chord that was not played is told, and one note less in a chord is nobody’s fault', () => {
    const isChord = (n: PlayedNote) => Math.abs(n.startSec - 0.5 - 14 * BEAT_SEC) < 0.01;
    const without = followed(played(0, 24, 0.5).filter(n => !isChord(n)));
    expect(without.events.flatMap(e => (e.startSec === null ? [e.scoreQuarters] : []))).toEqual([14]);
    const thinner = followed(played(0, 24, 0.5).filter(n => !isChord(n) || n.midi % 2 === 0));
    expect(thinner.events.every(e => e.startSec !== null)).toBe(true);
  });

  it('one line of several parts that somebody plays alone is judged by its notes', () => {
    const line = PIECE.all.filter(n => n.midi >= 67 && n.quarters === 1);
    const score = { ...PIECE, notes: line };
    const { target, notes } = measured(
      line.map(n => ({ startSec: 0.5 + n.startQuarters * BEAT_SEC, sec: 0.4, midi: n.midi })),
      score,
    );
    expect(target!.followed).toBeNull();
    expect(target!.notes.filter(n => n.status === 'played')).toHaveLength(line.length);
    expect(notes).not.toBeNull();
  });
});

describe('what is too long', () => {
  it('is said to be, and nothing of it is claimed', () => {
    expect([isTooLongToFollow(PIECE, 39 * 60), isTooLongToFollow(PIECE, 41 * 60)]).toEqual([false, true]);
    const nothing = { db: () => -110, count: 0, tuning: 0 };
    const bands = { count: 0, levels: new Uint8Array(), total: new Float32Array(), rise: new Float32Array() };
    const { target, remarks } = besideScore(PIECE, {
      ...{ notes: [], bands, semitones: nothing, isSilent: false, isOneVoice: false },
      durationSec: 41 * 60,
    });
    expect(target.followed).toMatchObject({ fits: false, restarts: [] });
    expect(target.followed!.events).toHaveLength(24);
    expect(remarks.join()).toContain('too long');
  });
});

describe('the lattice', () => {
  it('refuses what would take too much room, and has no way through nothing', () => {
    const events = eventsOf(PIECE);
    const nothing = {
      kindOf: new Uint16Array(events.length),
      kinds: 0,
      unlike: new Float32Array(),
      onset: new Float32Array(),
    };
    const long = new Uint8Array(Math.ceil(MOST_CELLS / events.length) + 1);
    expect(() => eventPath(nothing, long, events, 0.5)).toThrow(RangeError);
    expect(() => eventPath(nothing, new Uint8Array(70_000), events.slice(0, 1), 0.5)).toThrow(RangeError);
    expect(eventPath(nothing, new Uint8Array(100), [], 0.5).places).toEqual([]);
  });
});
