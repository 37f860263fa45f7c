import { describe, expect, it } from '@jest/globals';
import { soundingStretches } from './activity';
import { ANALYSIS_HZ } from './halves';
import { analysed } from '../testing/analysed';
import { babble, overNoise } from '../testing/sounds';
import { Measurer } from './measure';
import { pausesBetween, speechFigures, withinGaps } from './speech';
import { syllableNuclei } from './syllables';

function heard(samples: Float32Array) {
  const { bands, pitch } = analysed(samples);
  const stretches = soundingStretches(bands);
  return { stretches, nuclei: syllableNuclei(bands, pitch, stretches) };
}

describe('speech', () => {
  it('is measured alike where nothing else was listened for, and is then no music', () => {
    const { samples } = babble([5, 3, 7], 4, 0.6);
    const measured = (as?: 'speech' | 'music') => {
      const measurer = new Measurer(ANALYSIS_HZ, 1, { as });
      measurer.pushRaw([samples]);
      measurer.push(samples);
      return measurer;
    };
    const known = measured('speech').finish('speech');
    expect(known.nuclei!.length).toBeGreaterThan(10);
    expect(known).toEqual(measured().finish('speech'));
    expect(() => measured('speech').finish('music')).toThrow('listened to as speech');
    expect(measured('music').finish('music')).toEqual(measured().finish('music'));
  });

  it.each([-60, -45, -35])('lies between pauses whose edges are found over a room of %i dBFS', floor => {
    const off: number[] = [];
    for (let seed = 1; seed <= 4; seed++) {
      const { samples, spans } = babble([5, 3, 7, 2, 4], seed, 0.3 + 0.1 * seed);
      const { stretches } = heard(overNoise(samples, floor, seed));
      expect(stretches).toHaveLength(spans.length);
      // Phrases begin with a third of a syllable of near silence, where no edge can be told; their ends can.
      spans.forEach((span, i) => off.push(Math.abs(stretches[i]!.endSec - span.endSec)));
    }
    off.sort((a, b) => a - b);
    expect(off[off.length >> 1]).toBeLessThan(0.015);
  });

  it('has its edges where they are, wherever in a long recording: also at 20.48 s, where what is looked at together meets the next', () => {
    const { samples, spans } = babble([5, 3, 7], 3, 0.5);
    const edgesAfter = (leadSec: number) => {
      const all = new Float32Array(26 * ANALYSIS_HZ);
      all.set(samples, ANALYSIS_HZ);
      all.set(samples, leadSec * ANALYSIS_HZ);
      const { stretches } = heard(overNoise(all, -50));
      // The same was said at the beginning: nothing of that is found again later.
      expect(stretches).toHaveLength(2 * spans.length);
      return stretches.slice(spans.length).flatMap(s => [s.startSec - leadSec, s.endSec - leadSec]);
    };
    const early = edgesAfter(12);
    // In the middle of each phrase, and at each end.
    for (const { startSec, endSec } of spans)
      for (const sec of [startSec, (startSec + endSec) / 2, endSec]) {
        const late = edgesAfter(Math.round((20.48 - sec) * 200) / 200);
        late.forEach((edge, i) => expect(Math.abs(edge - early[i]!)).toBeLessThan(0.03));
      }
  });

  it('is told from a room that gets louder and softer', () => {
    const off: number[] = [];
    for (let seed = 1; seed <= 4; seed++) {
      const { samples, spans } = babble([5, 3, 7, 2, 4, 6], seed, 0.7);
      const { stretches } = heard(overNoise(samples, -50, seed, 0.4));
      expect(stretches).toHaveLength(spans.length);
      spans.forEach((span, i) => off.push(Math.abs(stretches[i]!.endSec - span.endSec)));
    }
    off.sort((a, b) => a - b);
    expect(off[off.length >> 1]).toBeLessThan(0.02);
  });

  it('is found over a hum, which is no voice', () => {
    const { samples, spans } = babble([4, 6, 3], 9, 0.8);
    const hum = samples.map((x, i) => {
      const mains = (2 * Math.PI * 50 * i) / ANALYSIS_HZ;
      return x + 0.004 * Math.sin(mains) + 0.002 * Math.sin(3 * mains);
    });
    expect(heard(overNoise(hum, -65)).stretches).toHaveLength(spans.length);
  });

  it('has as many syllables as vowels, whatever lies between them', () => {
    let counted = 0;
    let made = 0;
    for (let seed = 11; seed <= 14; seed++)
      for (const syllableSec of [0.16, 0.24]) {
        const { samples, syllables } = babble([6, 4, 9], seed, 0.5, syllableSec);
        counted += heard(overNoise(samples, -60, seed)).nuclei.length;
        made += syllables;
      }
    expect(Math.abs(counted / made - 1)).toBeLessThan(0.07);
  });

  it('is nowhere in silence, in noise and in nothing', () => {
    for (const samples of [
      new Float32Array(0),
      new Float32Array(ANALYSIS_HZ),
      overNoise(new Float32Array(3 * ANALYSIS_HZ), -20),
    ])
      expect(heard(samples)).toEqual({ stretches: [], nuclei: [] });
  });

  it('is not a click, nor interrupted by a silence shorter than a quarter of a second', () => {
    const { samples } = babble([4, 4], 3, 0.2);
    samples[200] = 0.4;
    expect(heard(overNoise(samples, -60)).stretches).toHaveLength(1);
  });

  it('gives figures that add up', () => {
    const stretches = [
      { startSec: 1, endSec: 3 },
      { startSec: 4, endSec: 6.5 },
      { startSec: 7, endSec: 8 },
    ];
    expect(pausesBetween(stretches)).toEqual([
      { startSec: 3, endSec: 4 },
      { startSec: 6.5, endSec: 7 },
    ]);
    expect(speechFigures([stretches], 22, 10)).toEqual({
      speakingSec: 5.5,
      pauseSec: 1.5,
      pauseCount: 2,
      longestPauseSec: 1,
      initialSilenceSec: 1,
      syllables: 22,
      speechRate: 22 / 7,
      articulationRate: 4,
      meanRunSec: 5.5 / 3,
    });
    expect(speechFigures([[]], 0, 5)).toMatchObject({
      speakingSec: 0,
      initialSilenceSec: 5,
      speechRate: null,
    });
  });

  it('counts no silence between two answers as a pause, and nothing that sounds outside of them', () => {
    const stretches = [
      { startSec: 0, endSec: 2.1 },
      { startSec: 3, endSec: 4 },
      { startSec: 4.5, endSec: 6 },
      { startSec: 9, endSec: 12 },
    ];
    const gaps = [
      { startSec: 2, endSec: 7 },
      { startSec: 8, endSec: 11 },
      { startSec: 14, endSec: 16 },
    ];
    const answers = withinGaps(stretches, gaps);
    // The tail of the turn before the first gap is no answer; what goes on after a gap is cut off.
    expect(answers).toEqual([stretches.slice(1, 3), [{ startSec: 9, endSec: 11 }], []]);
    expect(speechFigures(answers, 18, 16, 2)).toEqual({
      speakingSec: 4.5,
      pauseSec: 0.5,
      pauseCount: 1,
      longestPauseSec: 0.5,
      initialSilenceSec: 1,
      syllables: 18,
      speechRate: 18 / 5,
      articulationRate: 4,
      meanRunSec: 1.5,
    });
  });
});
