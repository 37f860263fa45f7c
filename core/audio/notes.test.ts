import { describe, expect, it } from '@jest/globals';
import type { ScoreNote } from '../formats/scoreNotes';
import { analysed } from '../testing/analysed';
import { notesOf, type Note } from './notes';
import { melody, randomFrom, TONES, withNoise, type PlayedNote, type ToneKind } from '../testing/sounds';
import type { Performed } from './alignNotes';
import { heldAgainst } from './target';
import { tempoOf } from './tempo';

function heard(samples: Float32Array): Note[] {
  const { bands, pitch } = analysed(samples);
  return notesOf(pitch, bands);
}

const plucked: ToneKind = { partial: n => 1 / n, decay: 1.5 };
const blown: ToneKind = { partial: n => (n % 2 ? 1 / n : 0.1 / n), attackSec: 0.04 };
const KINDS: [string, ToneKind, number][] = [
  ['plucked', plucked, 0.97],
  ['blown', blown, 0.85],
  ['sung', TONES.sung!, 0.85],
];

/** Sixteen notes: steps, leaps, repeated ones, of one, two and four eighths. */
const STEPS = [0, 2, 4, 4, 7, 5, 4, 2, 0, 7, 12, 11, 9, 7, 7, 0];
const EIGHTHS = [2, 2, 1, 1, 2, 1, 1, 2, 4, 2, 1, 1, 2, 2, 2, 4];
const SCORE: ScoreNote[] = STEPS.map((step, i) => ({
  midi: 62 + step,
  startQuarters: EIGHTHS.slice(0, i).reduce((a, b) => a + b, 0) / 2,
  quarters: EIGHTHS[i]! / 2,
  atQuarters: 0,
  measure: '1',
}));
const BPM = 96;

/** The score as somebody plays it: not quite in time, not quite in tune. */
function played(seed: number, sounding = 0.92): PlayedNote[] {
  const random = randomFrom(seed);
  return SCORE.map(n => ({
    startSec: 0.4 + (n.startQuarters * 60) / BPM + 0.016 * (random() - 0.5),
    sec: (sounding * n.quarters * 60) / BPM,
    midi: n.midi,
    cents: 8 * (random() - 0.5),
  }));
}

function onsetF1(found: readonly Note[], truth: readonly PlayedNote[]): number {
  const left = found.map(n => n.startSec);
  let hits = 0;
  for (const { startSec } of truth) {
    const at = left.findIndex(s => Math.abs(s - startSec) <= 0.05);
    if (at < 0) continue;
    left.splice(at, 1);
    hits += 1;
  }
  return (2 * hits) / (found.length + truth.length);
}

describe('notes', () => {
  it.each(KINDS)('begin when they do and have their pitch to 5 cents at 20 dB: %s', (_, kind, least) => {
    const truth = played(1);
    const found = heard(withNoise(melody(truth, kind), 20));
    expect(onsetF1(found, truth)).toBeGreaterThanOrEqual(least);
    const off = truth.flatMap(t => {
      const own = found.find(n => Math.abs(n.startSec - t.startSec) < 0.06);
      return own ? [Math.abs(100 * (own.midi - t.midi) + own.cents - t.cents!)] : [];
    });
    expect(off.length).toBeGreaterThan(12);
    // Of a wavering voice a short note holds a cycle and a half: its middle is not known better.
    const within = kind.vibratoCents ? 8 : 5;
    for (const cents of off) expect(cents).toBeLessThan(within);
  });

  it('are one where a voice only wavers', () => {
    const wide: ToneKind = { ...TONES.sung!, vibratoCents: 60 };
    const found = heard(melody([{ startSec: 0.3, sec: 2, midi: 67 }], wide));
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ midi: 67 });
    expect(Math.abs(found[0]!.cents)).toBeLessThan(5);
  });

  it.each([0.22, 0.28, 0.35, 0.6])('have the pitch that a vibrato swings about, in %d s', sec => {
    const swinging: ToneKind = { ...TONES.sung!, vibratoCents: 60 };
    for (const cents of [-20, 0, 35]) {
      const [note] = heard(melody([{ startSec: 0.3, sec, midi: 64, cents }], swinging));
      expect(note!.midi).toBe(64);
      expect(Math.abs(note!.cents - cents)).toBeLessThan(5);
    }
  });

  it('are none where nothing sounds', () => {
    expect(heard(new Float32Array(0))).toEqual([]);
    expect(heard(new Float32Array(16_000))).toEqual([]);
  });

  it('have a tempo in quarters; a few have none', () => {
    for (const bpm of [66, 84, 108, 126]) {
      const starts = SCORE.map(n => ({ startSec: (n.startQuarters * 60) / bpm }));
      expect(tempoOf(starts)!.bpm / bpm).toBeCloseTo(1, 2);
      expect(tempoOf(starts)!.stabilityPercent).toBeGreaterThan(99);
    }
    const rushed = SCORE.map(n => ({
      startSec: (n.startQuarters * 60) / BPM - 0.004 * n.startQuarters ** 2,
    }));
    expect(tempoOf(rushed)!.stabilityPercent).toBeLessThan(99);
    expect(tempoOf(SCORE.slice(0, 3).map(n => ({ startSec: n.startQuarters })))).toBeNull();
  });
});

interface Judged {
  missed: number[];
  flat: number[];
  late: number[];
  extra: number;
  tempo: number;
}

function judged(samples: Float32Array): Judged {
  const { notes, extra, tempoRatio } = heldAgainst(SCORE, heard(samples), BPM);
  const which = (test: (n: (typeof notes)[number]) => boolean) => notes.filter(test).map(n => n.index);
  return {
    missed: which(n => n.status === 'missed'),
    flat: which(n => n.centsOff !== null && Math.abs(n.centsOff) > 35),
    late: which(n => n.onsetOffSec !== null && Math.abs(n.onsetOffSec) > 0.1),
    extra,
    tempo: Math.round(100 * tempoRatio!) / 100,
  };
}

const FAULTLESS: Judged = { missed: [], flat: [], late: [], extra: 0, tempo: 1 };

describe('a performance held against its score', () => {
  it.each(KINDS)('is never accused where it is faultless: %s', (_, kind) => {
    for (const seed of [3, 4]) expect(judged(withNoise(melody(played(seed), kind), 26))).toEqual(FAULTLESS);
  });

  it.each(KINDS)('shows each planted fault and no other: %s', (_, kind) => {
    const judge = (change: (notes: PlayedNote[]) => PlayedNote[]) =>
      judged(withNoise(melody(change(played(7)), kind), 26));
    const flat = (notes: PlayedNote[]) => notes.with(5, { ...notes[5]!, cents: -60 });
    const late = (notes: PlayedNote[]) =>
      notes.with(8, { ...notes[8]!, startSec: notes[8]!.startSec + 0.18, sec: notes[8]!.sec - 0.2 });
    const slow = (notes: PlayedNote[]) =>
      notes.map(n => ({ ...n, startSec: 0.4 + (n.startSec - 0.4) / 0.92, sec: n.sec / 0.92 }));
    const missed = (notes: PlayedNote[]) => notes.toSpliced(11, 1);
    const extra = (notes: PlayedNote[]) =>
      notes
        .with(15, { ...notes[15]!, sec: 0.5 })
        .concat({ startSec: notes[15]!.startSec + 0.6, sec: 0.5, midi: 66 });
    expect(judge(flat)).toEqual({ ...FAULTLESS, flat: [5] });
    expect(judge(late)).toEqual({ ...FAULTLESS, late: [8] });
    expect(judge(slow)).toEqual({ ...FAULTLESS, tempo: 0.92 });
    expect(judge(missed)).toEqual({ ...FAULTLESS, missed: [11] });
    expect(judge(extra)).toEqual({ ...FAULTLESS, extra: 1 });
    expect(judge(notes => slow(missed(extra(flat(notes)))))).toEqual({
      missed: [11],
      flat: [5],
      late: [],
      extra: 1,
      tempo: 0.92,
    });
  });

  const asWritten: Note[] = SCORE.map(n => ({
    startSec: 1 + n.startQuarters / 2,
    endSec: 1 + (n.startQuarters + 0.9 * n.quarters) / 2,
    midi: n.midi,
    cents: 0,
  }));

  it('is not accused where each string rings on under the next, nor through noise', () => {
    const rings: ToneKind = { partial: n => 1 / n, decay: 0.9 };
    for (const seed of [3, 4, 5])
      for (const snr of [Infinity, 20]) {
        const clean = melody(played(seed, 2.5), rings);
        const target = heldAgainst(SCORE, heard(snr === Infinity ? clean : withNoise(clean, snr, seed)), BPM);
        expect(target.notes.filter(n => n.status === 'missed').map(n => n.index)).toEqual([]);
        expect(target.extra).toBe(0);
      }
  });

  it('names a note that was really played an octave too low, however the strings ring', () => {
    const rings: ToneKind = { partial: n => 1 / n, decay: 0.9 };
    for (const at of [4, 10]) {
      const notes = played(7, 1.3);
      notes[at] = { ...notes[at]!, midi: notes[at]!.midi - 12 };
      const target = heldAgainst(SCORE, heard(melody(notes, rings)), BPM);
      expect(target.notes.filter(n => n.status === 'missed').map(n => n.index)).toEqual([at]);
    }
  });

  it('takes a pitch in common for the note that the score expects only where the partials say so', () => {
    const score: ScoreNote[] = [64, 69, 71].map((midi, i) => ({
      midi,
      startQuarters: i,
      quarters: 1,
      atQuarters: 0,
      measure: '1',
    }));
    // 45 is what 64 (three times it) and 69 (four times) have in common.
    const performance = (partials: number[]): Performed[] => [
      { startSec: 0, endSec: 0.5, midi: 64, cents: 0, partials: [1, 0, 0, 0, 0, 0], beganDb: 8, mostDb: -20 },
      { startSec: 0.5, endSec: 1, midi: 45, cents: 0, partials, beganDb: 8, mostDb: -20 },
      { startSec: 1, endSec: 1.5, midi: 71, cents: 0, partials: [1, 0, 0, 0, 0, 0], beganDb: 8, mostDb: -20 },
    ];
    const held = (partials: number[]) => heldAgainst(score, performance(partials), 120);
    const right = held([0, 0, 0.3, 0.6, 0, 0.1]);
    expect(right.notes[1]).toMatchObject({ status: 'played', startSec: 0.5 });
    expect(Math.abs(right.notes[1]!.centsOff!)).toBeLessThan(3);
    expect(right.extra).toBe(0);
    // A 45 with its own first and second partials is another note; so is one without the partials of 69.
    for (const partials of [
      [0.4, 0.2, 0.1, 0.2, 0.1, 0],
      [0, 0, 0.95, 0, 0, 0.05],
    ])
      expect(held(partials).notes[1]!.status).toBe('missed');
    expect(held([0.4, 0.2, 0.1, 0.2, 0.1, 0]).extra).toBe(1);
  });

  it('counts as put in what began and lasted, not a piece beside a note nor what dies away', () => {
    const score: ScoreNote[] = [60, 62].map((midi, i) => ({
      midi,
      startQuarters: i,
      quarters: 1,
      atQuarters: 0,
      measure: '1',
    }));
    const note = (startSec: number, endSec: number, midi: number, beganDb: number, mostDb = -20) => ({
      ...{ startSec, endSec, midi, beganDb, mostDb },
      cents: 0,
      partials: [0.8, 0.2, 0, 0, 0, 0],
    });
    const extras = (between: Performed) =>
      heldAgainst(score, [note(0, 0.5, 60, 9), between, note(1, 1.5, 62, 9)], 60).extra;
    expect(extras(note(0.5, 0.8, 66, 8))).toBe(1);
    expect(extras(note(0.5, 0.8, 66, 0))).toBe(1);
    expect(extras(note(0.5, 0.59, 66, 8))).toBe(0);
    expect(extras(note(0.7, 0.79, 66, 8))).toBe(1);
    expect(extras(note(0.5, 0.8, 66, 0, -40))).toBe(0);
  });

  it('has a tuning of its own, taken out of each note, and may be in another octave', () => {
    const low = asWritten.map(n => ({ ...n, midi: n.midi - 12, cents: -22 }));
    const target = heldAgainst(SCORE, low, 120);
    expect(target.tuningCents).toBeCloseTo(-1_222);
    for (const n of target.notes) expect(n.centsOff).toBeCloseTo(0);
    expect(target.tempoRatio).toBeCloseTo(1);
    expect(target.notes[0]!.durationRatio).toBeCloseTo(0.9);
    expect(target.notes[0]).toMatchObject({ startSec: 1, status: 'played' });
  });

  it('is told from nothing and from something else', () => {
    const silent = heldAgainst(SCORE, [], null);
    expect(silent).toMatchObject({ extra: 0, tempoRatio: null, tuningCents: null });
    expect(silent.notes.every(n => n.status === 'missed')).toBe(true);
    const one = heldAgainst(SCORE.slice(0, 1), asWritten.slice(0, 1), null);
    expect(one).toMatchObject({ tempoRatio: null, notes: [{ status: 'played', onsetOffSec: null }] });
  });

  it('counts a repeated note that was heard as one with the last, but not one that had ended', () => {
    // Notes 2 and 3 are the same.
    const joined = asWritten.toSpliced(3, 1).with(2, { ...asWritten[2]!, endSec: asWritten[3]!.endSec });
    expect(heldAgainst(SCORE, joined, 120).notes[3]).toMatchObject({ status: 'played', onsetOffSec: null });
    const left = asWritten.toSpliced(3, 1);
    const missed = heldAgainst(SCORE, left, 120).notes.filter(n => n.status === 'missed');
    expect(missed).toHaveLength(1);
  });
});
