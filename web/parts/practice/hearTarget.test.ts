import { timesOf } from './hearTarget';

const note = (midi: number, startQuarters: number, quarters = 1) => ({
  midi,
  startQuarters,
  quarters,
  atQuarters: 0,
  measure: '1',
});

describe('a score that is played', () => {
  it('begins with its first note, whatever rests come before it, and keeps its tempo', () => {
    const times = timesOf([note(60, 3), note(62, 4, 2), note(64, 7)], 60);
    expect(times.map(n => n.startSec)).toEqual([0, 1, 4]);
    expect(times[1]!.endSec).toBeCloseTo(2.96, 6);
    expect(timesOf([note(60, 0), note(60, 1)], 120)[1]!.startSec).toBe(0.5);
    expect(timesOf([], 90)).toEqual([]);
  });

  it('lets go of each note before the next, and holds even the shortest for a moment', () => {
    const times = timesOf([note(60, 0), note(60, 1), note(60, 2, 0.01)], 100);
    expect(times[0]!.endSec).toBeLessThan(times[1]!.startSec);
    expect(times[2]!.endSec).toBeGreaterThan(times[2]!.startSec);
  });
});
