import { MOMENT_MS, pinnedAt, pinnedUntil, pinProblem } from './pinned';

const moment = { id: 'a', fromMs: 5_000, toMs: null };
const stretch = { id: 'b', fromMs: 4_000, toMs: 12_000 };

describe('notes pinned to a recording', () => {
  it('are there in their time, and no longer', () => {
    const at = (ms: number) => pinnedAt([moment, stretch], ms).map(n => n.id);
    expect(at(3_999)).toEqual([]);
    expect(at(4_000)).toEqual(['b']);
    expect(at(5_000)).toEqual(['b', 'a']);
    expect(at(5_000 + MOMENT_MS)).toEqual(['b']);
    expect(at(11_999)).toEqual(['b']);
    expect(at(12_000)).toEqual([]);
    expect([pinnedUntil(moment), pinnedUntil(stretch)]).toEqual([9_000, 12_000]);
  });

  it('lie in the recording, and end after they begin', () => {
    expect(pinProblem(moment, 5_000)).toBeNull();
    expect(pinProblem(stretch, 12_000)).toBeNull();
    expect(pinProblem(moment, 4_000)).toContain('beyond the end');
    expect(pinProblem(stretch, 8_000)).toContain('beyond the end');
    expect(pinProblem({ fromMs: 5_000, toMs: 5_000 }, 9_000)).toContain('ends before it begins');
  });
});
