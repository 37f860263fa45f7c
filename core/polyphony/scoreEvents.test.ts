import { scoreOf } from '../testing/scores';
import { eventsOf } from './scoreEvents';

const note = (midi: number, startQuarters: number, quarters = 1) => ({ midi, startQuarters, quarters });

describe('the moments of a score', () => {
  it('hold what begins together, and know what sounds on', () => {
    const events = eventsOf(scoreOf([note(48, 0, 4), note(60, 0), note(64, 0), note(62, 1), note(65, 2, 2)]));
    expect(events.map(e => [e.startQuarters, e.quarters, e.begins, e.holds])).toEqual([
      [0, 1, [48, 60, 64], []],
      [1, 1, [62], [48]],
      [2, 2, [65], [48]],
    ]);
  });

  it('say where measures begin, also where something is held over the bar line or nothing begins on it', () => {
    const events = eventsOf(
      scoreOf([note(60, 0, 3), note(62, 3, 2), note(64, 5), note(65, 6, 2), note(67, 8)]),
    );
    expect(events.map(e => [e.measure, e.isBarStart])).toEqual([
      ['1', true],
      ['1', false],
      // The first that begins in bar 2 is its second quarter.
      ['2', true],
      ['2', false],
      ['3', true],
    ]);
  });

  it('take as one what a rolled chord or rounding puts a hair apart, and a doubled note once', () => {
    const events = eventsOf(scoreOf([note(60, 0), note(64, 0.01), note(60, 0.01), note(67, 1)]));
    expect(events.map(e => e.begins)).toEqual([[60, 64], [67]]);
    expect(eventsOf(scoreOf([]))).toEqual([]);
  });

  it('a note that is struck again is not held from before', () => {
    const events = eventsOf(scoreOf([note(60, 0, 2), note(60, 1), note(64, 1)]));
    expect(events[1]).toMatchObject({ begins: [60, 64], holds: [] });
  });
});
