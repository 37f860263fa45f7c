import { describe, expect, it } from '@jest/globals';
import { babble, overNoise, tone, TONES } from '../testing/sounds';
import { ANALYSIS_HZ } from './halves';
import { Measurer, type Measures } from './measure';

type Parts = [samples: Float32Array, sec: number][];

/** Sounds one after the other, over a soft room, each as often as it is wanted. @param parts samples and how many seconds of them */
function long(...parts: Parts): Float32Array {
  const room = overNoise(new Float32Array(7 * ANALYSIS_HZ), -72, 5);
  const all = new Float32Array(parts.reduce((sum, [, sec]) => sum + sec * ANALYSIS_HZ, 0));
  let at = 0;
  for (const [samples, sec] of parts) {
    const end = at + sec * ANALYSIS_HZ;
    for (let k = 0; at < end; at++, k++) all[at] = samples[k % samples.length]! + room[at % room.length]!;
  }
  return all;
}

/** @param as what it is known to be heard as: of speech that is longer than a section, the earlier part is let go of */
function measured(samples: Float32Array, as?: 'speech', settled = () => {}) {
  const measurer = new Measurer(ANALYSIS_HZ, 1, { as, sectionSec: 30 });
  const piece = 15_001;
  for (let at = 0; at < samples.length; at += piece) {
    measurer.pushRaw([samples.subarray(at, at + piece)]);
    if (measurer.push(samples.subarray(at, at + piece))) settled();
  }
  return measurer.finish('speech');
}

const phrases = babble([5, 3, 7, 2, 6], 4, 0.6).samples;
const SILENCE = new Float32Array(ANALYSIS_HZ);

describe('speech longer than what is kept of it', () => {
  it('is measured as if all of it were kept', () => {
    const samples = long([phrases, 40], [babble([4, 9, 3], 8, 1.1).samples, 50]);
    let settled = 0;
    const whole = measured(samples, undefined, () => (settled += 1));
    expect(settled).toBe(0);
    const inSections = measured(samples, 'speech', () => (settled += 1));
    // Nine to fifteen seconds at a time, while there are thirty.
    expect(settled).toBeGreaterThanOrEqual(4);
    expect(settled).toBeLessThanOrEqual(7);
    const moments = (m: Measures) =>
      m.pauses.flatMap(p => [p.startSec, p.endSec]).map(sec => Math.round(1000 * sec));
    expect(inSections.pauses.length).toBeGreaterThan(20);
    expect(moments(inSections)).toEqual(moments(whole));
    expect(inSections.pitch.hz).toHaveLength(9_000);
    expect(inSections.pitch.confidence).toEqual(whole.pitch.confidence);
    const others = whole.pitch.hz.reduce((n, hz, i) => n + Number(hz !== inSections.pitch.hz[i]), 0);
    expect(others).toBeLessThan(10);
    expect(Math.abs(inSections.nuclei!.length / whole.nuclei!.length - 1)).toBeLessThan(0.02);
    expect(inSections.nuclei).toEqual(inSections.nuclei!.toSorted((a, b) => a - b));
    expect(inSections.speech!.speakingSec).toBeCloseTo(whole.speech!.speakingSec, 6);
  });

  it('is one stretch where nobody pauses, also where it was cut', () => {
    const { samples, spans } = babble([40], 3, 0.6);
    const { startSec, endSec } = spans[0]!;
    const on = samples.slice(
      Math.round((startSec + 0.2) * ANALYSIS_HZ),
      Math.round((endSec - 0.2) * ANALYSIS_HZ),
    );
    const { pauses, speech } = measured(long([SILENCE, 2], [on, 70], [SILENCE, 2]), 'speech');
    expect(pauses).toEqual([]);
    expect(speech!.speakingSec).toBeGreaterThan(69);
    expect(speech!.speakingSec).toBeLessThan(71);
  });

  it.each(['before', 'after'])(
    'is not the creak of a chair in a part in which nobody speaks, %s the speech',
    when => {
      const creak = babble([1], 2, 0.2).samples.map(x => x / 400);
      const silent: Parts = [
        [SILENCE, 14],
        [creak, 1],
        [SILENCE, 36],
      ];
      const parts: Parts = [[phrases, 51]];
      const samples = long(...(when === 'before' ? [...silent, ...parts] : [...parts, ...silent]));
      const [whole, inSections] = [measured(samples), measured(samples, 'speech')];
      expect(inSections.speech!.pauseCount).toBe(whole.speech!.pauseCount);
      expect(inSections.speech!.initialSilenceSec).toBeCloseTo(whole.speech!.initialSilenceSec, 2);
      const [fromSec, toSec] = when === 'before' ? [1, 50] : [52, 101];
      expect(inSections.pitch.hz.subarray(100 * fromSec, 100 * toSec).some(hz => hz > 0)).toBe(false);
      expect(inSections.nuclei!.filter(sec => sec > fromSec && sec < toSec)).toEqual([]);
    },
  );

  it('is a tone that never stops only where nothing else sounds in all of it', () => {
    const { samples: hum } = tone(200, 5, TONES.sine!, 0.05);
    const alone = measured(long([hum, 70]), 'speech');
    expect(alone.pauses).toEqual([]);
    expect(alone.speech!.speakingSec).toBeCloseTo(70, 0);
    expect(alone.pitch.hz[4_000]).toBeCloseTo(200, 0);
    // The hum of a room while nobody speaks yet is none.
    const soft = long([hum.map(x => x / 12), 50], [phrases.map((x, i) => x + hum[i % hum.length]! / 12), 30]);
    const [whole, inSections] = [measured(soft), measured(soft, 'speech')];
    expect(inSections.speech!.initialSilenceSec).toBeCloseTo(whole.speech!.initialSilenceSec, 1);
    expect(inSections.speech!.initialSilenceSec).toBeGreaterThan(49);
    expect(inSections.pitch.hz.subarray(0, 4_900).some(hz => hz > 0)).toBe(false);
  });
});
