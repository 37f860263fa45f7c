import fc from 'fast-check';
import {
  answersIn,
  conversationProblems,
  partAt,
  RUN_LEAD_MS,
  runOf,
  takeLengthMs,
  type Turn,
} from './conversation';

const turn = (fromMs: number, toMs: number, gapMs: number, recordingId = 'track'): Turn => ({
  id: `${fromMs}`,
  recordingId,
  fromMs,
  toMs,
  gapMs,
});

describe('a conversation', () => {
  const turns = [turn(0, 3_000, 20_000), turn(5_000, 9_000, 30_000), turn(12_000, 13_000, 0)];

  it('is one run of turns and gaps', () => {
    const run = runOf(turns);
    expect(run.turns.map(t => [t.startMs, t.endMs])).toEqual([
      [0, 3_000],
      [23_000, 27_000],
      [57_000, 58_000],
    ]);
    expect(run.gaps.map(g => [g.index, g.startMs, g.endMs])).toEqual([
      [0, 3_000, 23_000],
      [1, 27_000, 57_000],
    ]);
    expect([run.lengthMs, run.speakingMs, takeLengthMs(turns)]).toEqual([58_000, 50_000, 58_250]);
  });

  it('knows who speaks at each moment, without a hole', () => {
    const run = runOf(turns);
    expect(partAt(run, 2_999)).toMatchObject({ kind: 'turn', index: 0 });
    expect(partAt(run, 3_000)).toMatchObject({ kind: 'gap', index: 0 });
    expect(partAt(run, 57_999)).toMatchObject({ kind: 'turn', index: 2 });
    expect(partAt(run, 58_000)).toBeNull();
    expect(partAt(run, -1)).toBeNull();
  });

  it('finds each answer in the recording, behind the lead', () => {
    expect(answersIn(turns).map(a => [a.startMs - RUN_LEAD_MS, a.endMs - RUN_LEAD_MS])).toEqual([
      [3_000, 23_000],
      [27_000, 57_000],
    ]);
  });

  it('lays parts end to end whatever the turns', () => {
    const some = fc.array(
      fc.record({
        id: fc.uuid(),
        recordingId: fc.constant('t'),
        fromMs: fc.integer({ min: 0, max: 60_000 }),
        toMs: fc.integer({ min: 0, max: 60_000 }),
        gapMs: fc.integer({ min: 0, max: 60_000 }),
      }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(some, list => {
        const run = runOf(list);
        const parts = [...run.turns, ...run.gaps].sort((a, b) => a.startMs - b.startMs || a.endMs - b.endMs);
        let at = 0;
        for (const part of parts) {
          expect(part.startMs).toBe(at);
          at = part.endMs;
        }
        expect(at).toBe(run.lengthMs);
      }),
    );
  });

  it('says what makes it impossible', () => {
    expect(conversationProblems(turns)).toEqual([]);
    expect(conversationProblems([])[0]).toContain('no turn yet');
    expect(conversationProblems([turn(5, 5, 9)])[0]).toContain('ends before it begins');
    expect(conversationProblems([turn(0, 9, 1), turn(8, 12, 1)])[0]).toContain('Turns 1 and 2 overlap');
    expect(conversationProblems([turn(0, 9, 1), turn(8, 12, 1, 'other')])).toEqual([]);
    expect(conversationProblems([turn(0, 9, 0)])[0]).toContain('Nobody gets to answer');
  });
});
