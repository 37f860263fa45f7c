import { BandMeter } from '../audio/bands';
import { HalfSplitter } from '../audio/halves';
import { overNoise, strokesAt } from '../testing/sounds';
import { strokesOf } from './strokes';

function heard(strokes: readonly { sec: number; loud: number }[], floorDbfs = -65) {
  const samples = overNoise(strokesAt(strokes, (strokes.at(-1)?.sec ?? 0) + 1), floorDbfs);
  const splitter = new HalfSplitter();
  const meter = new BandMeter();
  meter.push(splitter.push(samples));
  meter.push(splitter.finish());
  return strokesOf(meter.finish());
}

describe('strokes', () => {
  it('are heard where they are, to a hundredth of a second and a half, loud and soft', () => {
    const secs = [0.4, 0.9, 1.15, 1.4, 2.1, 2.3];
    const found = heard(secs.map((sec, i) => ({ sec, loud: i % 2 ? 0.12 : 0.5 })));
    expect(found).toHaveLength(secs.length);
    found.forEach((s, i) => expect(Math.abs(s.sec - secs[i]!)).toBeLessThan(0.015));
    expect(found[0]!.mostDb - found[1]!.mostDb).toBeGreaterThan(8);
  });

  it('two hands that are not quite together are one, a sixteenth later is another', () => {
    expect(
      heard([
        { sec: 0.5, loud: 0.4 },
        { sec: 0.53, loud: 0.4 },
      ]),
    ).toHaveLength(1);
    expect(
      heard([
        { sec: 0.5, loud: 0.4 },
        { sec: 0.62, loud: 0.35 },
      ]),
    ).toHaveLength(2);
  });

  it('of a room alone there are none', () => {
    expect(heard([], -50)).toEqual([]);
    expect(heard([], -30)).toEqual([]);
  });
});
