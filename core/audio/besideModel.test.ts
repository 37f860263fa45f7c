import { melody, TONES } from '../testing/sounds';
import { soundsOfWord } from '../words/ipa';
import { SOUNDS } from '../words/speechSounds';
import { USUAL } from '../words/network';
import { besideModel, isFollowing, mayFollow, type Follows } from './besideModel';
import { Measurer } from './measure';

const RATE = 16_000;
function played(midis: readonly number[], sec: number): Follows {
  const notes = midis.map((midi, i) => ({ midi, startSec: 0.3 + i * sec, sec: 0.9 * sec }));
  const samples = melody(notes as never, TONES.flute ?? Object.values(TONES)[0]!);
  const measurer = new Measurer(RATE, 1);
  measurer.pushRaw([samples]);
  measurer.push(samples);
  return { measures: measurer.finish('music'), heard: null };
}

/** Speech whose sounds and whose pitch are known: each phoneme lasts so many hundredths, the pitch goes by a rule. */
function said(ipa: string, frames: number, hzAt: (share: number) => number): Follows {
  const kinds = [...soundsOfWord(ipa)].map(s => s.kinds[0]!);
  const order = [...new Array<number>(30).fill(0), ...kinds.flatMap(k => new Array<number>(frames).fill(k))];
  order.push(...new Array<number>(30).fill(0));
  const heard = Float32Array.from(
    order.flatMap(k => SOUNDS.map((_, s) => Math.log(s === k ? 0.9 : 0.1 / 28) - USUAL[s]!)),
  );
  const hz = Float32Array.from(order, (k, i) => (k === 0 ? 0 : hzAt((i - 30) / (order.length - 60))));
  const pitch = { hopSec: 0.01, hz, confidence: hz.map(() => 1), range: null };
  return { measures: { pitch, durationSec: order.length / 100, speech: null }, heard };
}

const SPEECH = {
  speakingSec: 0,
  initialSilenceSec: 0,
  pauseCount: 0,
  pauseSec: 0,
  longestPauseSec: 0,
  meanRunSec: 0,
  syllables: 0,
  speechRate: null,
  articulationRate: null,
};
const PHRASE = 'ˈhɑːbəˈiːvnɪŋˈfɛriˈwɔːtə';
const flat = () => 200;

describe('speech beside a model', () => {
  it('is listened to where it is about as long as the model, pauses aside', () => {
    const long = (speakingSec: number, pauseSec = 0) => ({
      durationSec: 60,
      notes: null,
      speech: { ...SPEECH, speakingSec, pauseSec },
    });
    expect(mayFollow(long(5, 2), long(6))).toBe(true);
    expect(mayFollow(long(12), long(5))).toBe(true);
    expect(mayFollow(long(20), long(5))).toBe(false);
    expect(mayFollow(long(2), long(6))).toBe(false);
  });

  it('is laid on it at the same sounds, however fast, and rises', () => {
    const found = besideModel(said(PHRASE, 12, flat), said(PHRASE, 8, flat))!;
    expect(isFollowing(found, 'speech')).toBe(true);
    expect(found.lengthRatio).toBeCloseTo(1.5, 1);
    for (const [sec, modelSec] of found.path) expect(modelSec).toBeCloseTo(0.3 + (sec - 0.3) / 1.5, 1);
    found.path.slice(1).forEach(([sec, modelSec], i) => {
      expect(sec - found.path[i]![0]).toBeCloseTo(0.1);
      expect(modelSec).toBeGreaterThanOrEqual(found.path[i]![1]);
    });
  });

  it('has its melody about its own middle: another voice is not another melody, a question is', () => {
    const model = said(PHRASE, 8, x => 200 * 2 ** -x);
    const same = besideModel(
      said(PHRASE, 9, x => 110 * 2 ** -x),
      model,
    )!;
    expect(same.melodySemitones).toBeLessThan(0.5);
    expect(same.placesApart).toBe(0);
    expect(same.places).toBeGreaterThan(3);
    const asked = besideModel(
      said(PHRASE, 9, x => 110 * 2 ** x),
      model,
    )!;
    expect(asked.melodySemitones).toBeGreaterThan(1.5);
    expect(asked.placesApart).toBe(asked.places);
  });

  it('is not laid on what says something else, and not on silence', () => {
    const other = besideModel(said('ʃuːspoʊkizzmɔːnɪŋlaɪthaʊs', 8, flat), said(PHRASE, 8, flat))!;
    expect(isFollowing(other, 'speech')).toBe(false);
    // Nor on what took much longer than any repetition does.
    expect(isFollowing(besideModel(said(PHRASE, 20, flat), said(PHRASE, 8, flat))!, 'speech')).toBe(false);
    expect(besideModel(said('', 8, flat), said(PHRASE, 8, flat))).toBeNull();
    expect(besideModel(said(PHRASE, 8, flat), said('', 8, flat))).toBeNull();
  });
});

describe('a tune played after a model', () => {
  const TUNE = [60, 64, 67, 65, 62, 59, 60];

  it('is laid on it by its pitch, in any tempo and octave', () => {
    const found = besideModel(
      played(
        TUNE.map(m => m + 12),
        0.6,
      ),
      played(TUNE, 0.4),
    )!;
    expect(found.unlike).toBeLessThan(0.2);
    expect(found.melodySemitones).toBeLessThan(0.3);
    expect(found.lengthRatio).toBeCloseTo(1.5, 1);
    for (const [sec, modelSec] of found.path.slice(2, -2))
      expect(Math.abs(modelSec - (0.3 + (sec - 0.3) / 1.5))).toBeLessThan(0.15);
  });

  it('goes the other way where it does', () => {
    const turned = besideModel(played([60, 64, 67, 71, 62, 59, 60], 0.4), played(TUNE, 0.4))!;
    expect(isFollowing(turned, 'music')).toBe(true);
    expect(
      isFollowing(besideModel(played([72, 60, 71, 59, 73, 61, 72], 0.4), played(TUNE, 0.4))!, 'music'),
    ).toBe(false);
    expect(
      besideModel(
        played(
          TUNE.map(m => 126 - m - 3),
          0.4,
        ),
        played(TUNE, 0.4),
      )!.melodySemitones,
    ).toBeGreaterThan(1);
  });
});
